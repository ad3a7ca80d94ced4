"""A rehearsal and an exploration as data, and as a value change dump."""

from __future__ import annotations

import io
from typing import Any

from vcd import VCDWriter

from latchcore.advice.asked import Asked
from latchcore.advice.rehearsed import Rehearsed
from latchcore.behaviour.happenings import Happening
from latchcore.document.models import Build


def rehearsal_data(build: Build, found: Rehearsed) -> dict[str, Any]:
    """
    A rehearsal as plain data: ``step_s``, ``changes``, ``alarms``, ``states``, ``rails``; a channel
    that is switched has the values 0 and 1, one with levels whole percent.
    """
    parts = found.program.channels
    return {
        "step_s": found.run.step,
        "seconds": found.time(found.run.last),
        "changes": [
            {
                "t": found.time(w.step),
                "channel": parts[w.channel].id,
                "name": parts[w.channel].name,
                "value": w.level if parts[w.channel].scaled else int(w.level > 0),
                "reason": w.reason,
            }
            for w in found.run.changes
        ],
        "alarms": [
            {"t": found.time(a.step), "alarm": a.alarm, "of": a.of} for a in found.run.alarms
        ],
        "states": [
            {"t": found.time(s.step), "channel": parts[s.channel].id, "state": s.state}
            for s in found.run.states
        ],
        "breaches": [{"t": round(b.t, 9), "what": b.words} for b in found.breaches],
        "rails": [
            {
                "rail": lane.id,
                "name": lane.name,
                "most_a": round(lane.most, 6),
                "at_s": lane.most_at,
                "rating_a": lane.rating,
                "breaches": [{"t": t, "amps": round(amps, 6)} for t, amps in lane.breaches],
                "points": [[t, round(amps, 6)] for t, amps in lane.points],
            }
            for lane in found.rails
        ],
        "channels": [
            {
                "channel": c.id,
                "on_s": round(c.on, 6),
                "starts": c.starts,
                "longest_on_s": round(c.longest, 6),
                "energy_j": None if c.energy is None else round(c.energy, 6),
            }
            for c in found.channels
        ],
    }


def exploration_data(asked: Asked) -> dict[str, Any]:
    """An exploration as plain data: ``finished``, ``states``, ``found`` with ways to each."""
    found = asked.exploration
    return {
        "finished": found.finished,
        "states": found.states,
        "exact": found.exact,
        "one_at_a_time": found.one_at_a_time,
        "seconds": round(found.seconds, 3),
        "found": [
            {
                "id": item.id,
                "what": item.what,
                "at_s": item.answer.at,
                "start": item.answer.start,
                "trace": [happening_data(h) for h in item.answer.trace],
            }
            for item in asked.found
        ],
        "excluded": [item.what for item in asked.excluded],
        "not_excluded": [item.what for item in asked.open],
    }


def happening_data(happening: Happening) -> dict[str, Any]:
    """One thing that happens, as plain data."""
    data = {"t": round(happening.t, 9), "what": happening.what, "value": happening.value}
    return data | ({"of": happening.of} if happening.of else {})


def rehearsal_dump(build: Build, found: Rehearsed) -> str:
    """A rehearsal as a value change dump: inputs and channels, by name."""
    text = io.StringIO()
    names = {i.id: i.name for i in build.inputs}
    moves = [(step, 0, place, value) for step, place, value in found.run.inputs]
    moves += [(w.step, 1, w.channel, w.level) for w in found.run.changes]
    with VCDWriter(text, timescale="1 ms", comment="rehearsal") as writer:
        inputs = [
            writer.register_var("inputs", _plain(names.get(key, key), key), "real", init=0.0)
            if scaled
            else writer.register_var("inputs", _plain(names.get(key, key), key), "wire", 1, init=0)
            for key, scaled in zip(found.program.inputs, found.program.scaled, strict=True)
        ]
        channels = [
            writer.register_var("channels", _plain(p.name, p.id), "integer", 8, init=0)
            if p.scaled
            else writer.register_var("channels", _plain(p.name, p.id), "wire", 1, init=0)
            for p in found.program.channels
        ]
        for step, kind, place, value in sorted(moves, key=lambda m: (m[0], m[1])):
            t = round(step * found.run.step * 1e3)
            if kind == 0:
                scaled = found.program.scaled[place]
                number = float("nan") if value is None else float(value)
                writer.change(inputs[place], t, number if scaled else int(bool(value)))
            else:
                scaled = found.program.channels[place].scaled
                writer.change(channels[place], t, value if scaled else int(value > 0))
        writer.close(round(found.run.last * found.run.step * 1e3))
    return text.getvalue()


def _plain(name: str, key: str) -> str:
    """A name as a dump can hold it: no blank in it, and its id behind, for two may be alike."""
    return f"{'_'.join(name.split())}.{key}".replace(".", "_")
