"""``zinc-latch rehearse`` and ``explore``: what the loads of a build do."""

from __future__ import annotations

import json
from dataclasses import asdict
from pathlib import Path

from console.asking import FALLS_SHORT, SOUND, refuse
from latchcore.advice.asked import ask
from latchcore.advice.rehearsed import Rehearsed, rehearse
from latchcore.behaviour.faults import BehaviourError
from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.script import script_of
from latchcore.document.models import Build
from latchcore.document.texts import LONGEST
from latchcore.figures.trace import Trace
from latchcore.formats.capturefile import CaptureFileError, read_capture
from latchcore.formats.inputsfile import MOST_BYTES, InputsFileError, read_inputs
from latchcore.formats.rehearsalfile import exploration_data, rehearsal_data, rehearsal_dump
from latchcore.formats.tracefile import traces_csv, traces_dump
from latchcore.program.compared import Difference, compare
from latchcore.program.plan import ProgramPlan
from latchcore.program.traces import called, planned_traces

#: A rehearsal without recorded inputs is so long unless stated [s].
USUAL_LENGTH = 60.0


def print_rehearsal(
    build: Build,
    inputs: str | None,
    seconds: float | None,
    dump: str | None,
    as_json: bool,
    lines: str | None = None,
    capture: str | None = None,
    begins: float = 0.0,
) -> int:
    """
    Run a build's behaviour; returns the exit status: 1 where an alarm was raised, a rail
    overloaded or a capture differs, 2 where it could not be run.
    """
    differences: list[Difference] = []
    try:
        happenings = _inputs(build, inputs) if inputs else []
        length = seconds if seconds is not None else _length(happenings)
        if not 0 < length <= LONGEST:
            return refuse(f"{length:g} s is no length of a rehearsal; expected up to 31 days.")
        found = rehearse(build, happenings, length)
        if dump:
            Path(dump).write_text(rehearsal_dump(build, found), encoding="ascii")
        if lines or capture:
            planned = planned_traces(ProgramPlan(build), found)
            if lines:
                write = traces_csv if lines.endswith(".csv") else _lines_dump
                Path(lines).write_text(write(planned), encoding="utf-8", newline="")
            if capture:
                differences = _held(build, planned, capture, begins)
    except OSError as error:
        return refuse(f"{error.filename}: {error.strerror}")
    except (BehaviourError, InputsFileError, CaptureFileError) as error:
        return refuse(" ".join(str(error).split()))
    if as_json:
        data = rehearsal_data(build, found) | {"differences": [asdict(d) for d in differences]}
        print(json.dumps(data, indent=2, ensure_ascii=False))
    else:
        _print(build, found)
        for difference in differences:
            print(f"{difference.t:12.3f} s  {difference.what}: {difference.words}")
    return FALLS_SHORT if found.run.alarms or found.breaches or differences else SOUND


def _lines_dump(traces: list[Trace]) -> str:
    return traces_dump(traces, "lines of a rehearsal")


def _held(build: Build, planned: list[Trace], name: str, begins: float) -> list[Difference]:
    """What differs between a capture and the plan."""
    with Path(name).open("rb") as file:
        found = read_capture(name, file.read(MOST_BYTES + 1), called(ProgramPlan(build)))
    captured = [
        Trace(line, "", tuple((t - begins, level) for t, level in points))
        for line, points in found.items()
    ]
    return compare(planned, captured, max(points[-1][0] for points in found.values()) - begins)


def _inputs(build: Build, name: str) -> list[Happening]:
    with Path(name).open("rb") as file:
        return read_inputs(build, name, file.read(MOST_BYTES + 1))


def _length(happenings: list[Happening]) -> float:
    return max((h.t for h in happenings), default=0.0) + USUAL_LENGTH


def _print(build: Build, found: Rehearsed) -> None:
    parts = found.program.channels
    rows = [
        (found.time(w.step), f"{parts[w.channel].name}: {_said(w.level, parts[w.channel].scaled)}"
         f" ({w.reason.replace('_', ' ')})")
        for w in found.run.changes
    ]  # fmt: skip
    named = {part.id: part.name for part in parts}
    rows += [
        (found.time(a.step), f"alarm: {a.alarm.replace('_', ' ')}, {named.get(a.of, a.of)}")
        for a in found.run.alarms
    ]
    for t, words in sorted(rows, key=lambda row: row[0]):
        print(f"{t:12.3f} s  {words}")
    if not rows:
        print("Nothing went on.")
    for lane in found.rails:
        print(f"{lane.name}: up to {lane.most:.3g} A at {lane.most_at:g} s")
    for breach in found.breaches:
        print(f"{breach.t:12.3f} s  {breach.words}")


def _said(level: int, scaled: bool) -> str:
    return f"{level} %" if scaled else "on" if level else "off"


def print_exploration(build: Build, as_json: bool, seconds: float) -> int:
    """
    Walk a build's behaviour; returns the exit status: 1 where a stop or a fix was found, 2 where
    it could not be run.
    """
    try:
        asked = ask(build, seconds)
    except BehaviourError as error:
        return refuse(" ".join(str(error).split()))
    if as_json:
        print(json.dumps(exploration_data(asked), indent=2, ensure_ascii=False))
        return FALLS_SHORT if asked.found else SOUND
    walked = asked.exploration
    print(
        f"{walked.states} states walked in {walked.seconds:.1f} s,"
        f" {'all there are' if walked.finished else 'there are more'};"
        f" {'with real times' if walked.exact else 'timers reduced to idle, running, due'}"
        f"{'; inputs taken to change one at a time' if walked.one_at_a_time else ''}."
    )
    for item in asked.found:
        print(f"{item.severity.upper():5} {item.id}  {item.what}")
        for line in script_of(build, item.answer.start, item.answer.trace).splitlines():
            t, what = line.split(" ", 1)
            print(f"{float(t):12.3f} s  {what}")
    for item in asked.open:
        print(f"open  {item.id}  {item.what}")
    for item in asked.excluded:
        print(f"no    {item.id}  {item.what}")
    return FALLS_SHORT if asked.found else SOUND
