"""What a rehearsal gave each of its steps, and what it made of it, as lines of text."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from latchcore.behaviour import rehearsal
from latchcore.behaviour.compiling import compiled
from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.moment import Given, Moment
from latchcore.behaviour.step import Program
from latchcore.document.models import Build
from latchcore.program.cplusplus import cplusplus
from latchcore.program.language import name_of
from latchcore.program.micropython import micropython
from latchcore.program.plan import ProgramPlan


@dataclass
class Feed:
    """Steps of one run: what each is given, and what is said and written in it."""

    name: str
    build: Build
    given: list[str] = field(default_factory=list)
    expected: list[list[str]] = field(default_factory=list)

    def named(self) -> Build:
        """The build under the name its files are to have."""
        return self.build.model_copy(update={"name": self.name})

    @property
    def module(self) -> str:
        return micropython(ProgramPlan(self.named()))[f"{self.name}.py"]

    @property
    def header(self) -> str:
        return cplusplus(ProgramPlan(self.named()))[f"{self.name}.h"]

    @property
    def setting(self) -> str:
        """How the stand-in in C++ sets what each input reads and what commands say."""
        program = compiled(self.build)
        cases = []
        for n, (key, scaled) in enumerate(zip(program.inputs, program.scaled, strict=True)):
            sense = name_of(key)
            does = (
                f"{sense}.has = !none, {sense}.reading = value"
                if scaled
                else (f"{sense}.reading = value != 0")
            )
            cases.append(f"    case {n}: {does}; break;")
        heard = [
            f"    case {n}: {c}.heard = value ? value : -1; break;"
            for n, c in enumerate(map(name_of, program.commands))
        ]
        return "\n".join([
            "inline void give(int place, bool none, double value) {",
            "  (void)none, (void)value;", "  switch (place) {", *cases, "  }", "}",
            "inline void hears(int place, int value) {", "  (void)value;", "  switch (place) {",
            *heard, "  }", "}",
        ])  # fmt: skip


def fed(
    name: str,
    build: Build,
    start: dict[str, Any],
    happenings: list[Happening],
    seconds: float,
    monkeypatch,
) -> Feed:
    """Rehearse a build, every step of it, and keep what each step was given."""
    feed, program = Feed(name, build), compiled(build, by_line=True)
    inner = rehearsal.do_step

    def recorded(p: Program, slots: list[Any], now: int, first: bool, given: Given) -> Moment:
        m = inner(p, slots, now, first, given)
        feed.given.append(given_line(now, first, given))
        feed.expected.append(said_in(p, m))
        return m

    monkeypatch.setattr(rehearsal, "do_step", recorded)
    rehearsal.Runner(program, start, every=True).run(happenings, seconds)
    monkeypatch.setattr(rehearsal, "do_step", inner)
    return feed


def _token(value: Any) -> str:
    if value is None:
        return "-"
    return str(int(value)) if isinstance(value, bool) else repr(value)


def given_line(now: int, first: bool, given: Given) -> str:
    """One step's line: time, what is alive, clock, readings, commands, asked, cleared."""
    clock = given.clock or (None, None)
    tokens = [now, int(first), int(given.speaks), int(given.all_off), *clock, *given.readings]
    tokens += [len(given.commands)]
    for place, value in given.commands:
        tokens += [place, 2 if value is None else int(value)]
    tokens += [len(given.asked), *(n for pair in given.asked for n in pair)]
    tokens += [len(given.cleared), *given.cleared]
    return " ".join(map(_token, tokens))


def said_in(program: Program, m: Moment) -> list[str]:
    """What is said in a step: changes in order, alarms, then what is written and confirmed."""
    t = f"{m.now * program.step:.3f}"
    lines = []
    for change in m.changes:
        part = program.channels[change.channel]
        on = f"{change.level} %" if part.scaled else "on"
        words = [t, part.id, on if change.level else "off", change.reason]
        lines.append(" ".join(words).strip())
    lines += sorted(f"{t} alarm {word} {of}" for word, of in m.alarms)
    states = [
        f"{m.slots[p.written]}/{m.slots[p.confirm.state] if p.confirm else '-'}"
        for p in program.channels
    ]
    return [*lines, " ".join(["#", *states])]
