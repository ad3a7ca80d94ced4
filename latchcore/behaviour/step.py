"""The step that everything runs: inputs and time in, outputs and alarms out."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from latchcore.behaviour.asking import Quiet
from latchcore.behaviour.channel import ChannelPart, InterlockPart, StaggerPart
from latchcore.behaviour.layout import Layout
from latchcore.behaviour.looking import EventPlan, Happens, Look, LookPlan, Waiting
from latchcore.behaviour.moment import Change, Given, Moment
from latchcore.behaviour.running import Running, RunningMacro, advance
from latchcore.behaviour.seeing import Contact, Level, Line, Link


@dataclass(frozen=True, slots=True)
class _Busy:
    """Requests that look at events, those that wait for outputs, macros, what is confirmed."""

    advancing: list[Callable[[Moment], None]]
    settling: list[tuple[int, Callable[[Moment, bool], None]]]
    macros: list[RunningMacro]
    confirmed: list[ChannelPart]
    locks: list[list[InterlockPart]]


@dataclass
class Program:
    """
    A behaviour, compiled.

    Attributes
    ----------
    step : float
        Length of one step [s]
    layout : Layout
        What it remembers
    inputs, commands : list of str
        Their ids, in the order of their places
    scaled : list of bool
        Of each input: whether it is read as a level
    channels, interlocks, staggers, runners
        In the order in which they are looked at
    watchdog : int, optional
        Steps after which a hung program is reset
    """

    step: float
    layout: Layout = field(default_factory=Layout)
    inputs: list[str] = field(default_factory=list)
    scaled: list[bool] = field(default_factory=list)
    seeing: list[Contact | Level] = field(default_factory=list)
    commands: list[str] = field(default_factory=list)
    standing: list[int] = field(default_factory=list)
    link: Link | None = None
    #: Whoever asks by hand; only where a program is to be commanded so.
    line: Line | None = None
    looks: list[Look] = field(default_factory=list)
    happens: list[Happens] = field(default_factory=list)
    #: The same in words and figures.
    look_plans: list[LookPlan] = field(default_factory=list)
    event_plans: list[EventPlan] = field(default_factory=list)
    queues: list[Waiting] = field(default_factory=list)
    #: Conditions and events in the order in which they are worked out.
    order: list[tuple[str, int]] = field(default_factory=list)
    runners: list[Running] = field(default_factory=list)
    channels: list[ChannelPart] = field(default_factory=list)
    interlocks: list[InterlockPart] = field(default_factory=list)
    staggers: list[StaggerPart] = field(default_factory=list)
    windows: list[int] = field(default_factory=list)
    watchdog: int | None = None
    #: The longest time of it, in steps.
    longest: int = 0

    @cached_property
    def busy(self) -> _Busy:
        """What has anything to do at each turn of a step; asked once the program is whole."""
        pairs = [(part.place, r) for part in self.channels for r in part.requests]
        return _Busy(
            [r.advance for _, r in pairs if type(r).advance is not Quiet.advance],
            [(n, r.settle) for n, r in pairs if type(r).settle is not Quiet.settle],
            [r for r in self.runners if isinstance(r, RunningMacro)],
            [part for part in self.channels if part.confirm is not None],
            [
                [lock for lock in self.interlocks if part.place in lock.due]
                for part in self.channels
            ],
        )

    def place(self, channel: str) -> int:
        """The place of a channel by its id."""
        return next(part.place for part in self.channels if part.id == channel)

    def levels(self, slots: list[Any]) -> list[int]:
        """What is written to each channel."""
        return [slots[part.written] for part in self.channels]


def do_step(program: Program, slots: list[Any], now: int, first: bool, given: Given) -> Moment:
    """
    Do one step; the slots are changed as it goes on.

    Parameters
    ----------
    program : Program
    slots : list
        What was remembered; of a power-up what :meth:`Layout.powered` gives
    now : int
        Number of the step
    first : bool
        Whether it is the step of a power-up
    given : Given
        What came in

    Returns
    -------
    Moment
        With its changes, offs before ons and each in the order of the channels, and its alarms
    """
    m = Moment(
        slots,
        now,
        first,
        given,
        [None] * len(program.looks),
        [None] * len(program.looks),
        [False] * len(program.happens),
        [None] * len(program.inputs),
        [False] * len(program.inputs),
    )
    _see(program, m)
    counted, bare = m.counted, m.bare
    for kind, index in program.order:
        if kind == "condition":
            counted[index], bare[index] = program.looks[index](m)
        elif kind == "event":
            m.fired[index] = program.happens[index](m)
        else:
            program.queues[index].run(m)
    if program.runners:
        advance(program.runners, m)
    for look_at_events in program.busy.advancing:
        look_at_events(m)
    _decide(program, m)
    return m


def _see(program: Program, m: Moment) -> None:
    """Read inputs, commands, the link; a person may clear a channel."""
    for sense in program.seeing:
        sense.read(m)
    for place, value in m.given.commands:
        if value is not None:
            m.slots[program.standing[place]] = value
    if m.given.all_off:
        for slot in program.standing:
            m.slots[slot] = False
    if program.link is not None:
        program.link.watch(m)
    if program.line is not None:
        program.line.watch(m)
    for place in m.given.cleared:
        confirm = program.channels[place].confirm
        if confirm is not None:
            confirm.clear(m)


@dataclass(slots=True)
class _Outputs:
    """Levels on their way from asked for to written, with why each is on or off."""

    before: list[int]
    levels: list[int]
    why: list[str]
    off: list[str]


def _decide(program: Program, m: Moment) -> None:
    """From what is asked for to what is written."""
    count = len(program.channels)
    before = program.levels(m.slots)
    out = _Outputs(before, [0] * count, ["ended"] * count, [""] * count)
    for n, part in enumerate(program.channels):
        if m.first and part.returns == "anew":
            part.use_up(m)
        _ask(m, n, part, out)
        stop = part.stopped(m)
        if stop:
            part.put_off(m, stop)
            out.levels[n], out.off[n] = 0, stop
    lives = _part_them(program, m, out)
    wanted = _limit(program, m, out, lives)
    _take_turns(program, m, out, wanted)
    _write(program, m, out)


def _ask(m: Moment, n: int, part: ChannelPart, out: _Outputs) -> None:
    """What is asked of a channel, and what least on keeps of what it was."""
    out.levels[n], out.why[n] = part.asked(m)
    if out.levels[n] or not out.before[n]:
        return
    if n in m.aborted:
        out.off[n] = "abort"
    elif part.limits.keeps_on(m):
        # What holds it on counts as asked for, at the level it has.
        out.levels[n], out.why[n] = out.before[n], ""


def _limit(program: Program, m: Moment, out: _Outputs, lives: list[bool]) -> list[int]:
    """
    Make wait what may not go on yet, and cut what was on too long; what is wanted after the cuts.
    """
    wanted = list(out.levels)
    for n, part in enumerate(program.channels):
        if out.levels[n] and not out.before[n]:
            locks = program.busy.locks[n]
            held = any(not lock.may_go_on(m, n, wanted, lives) for lock in locks)
            if part.limits.must_wait(m) or held:
                out.levels[n] = 0
        is_on = bool(out.levels[n] and out.before[n])
        cut = part.limits.cut(m, is_on) if is_on or part.limits.idle is not None else None
        if cut:
            part.use_up(m)
            part.end(m)
            out.levels[n], wanted[n], out.off[n] = 0, 0, cut
    return wanted


def _part_them(program: Program, m: Moment, out: _Outputs) -> list[bool]:
    """
    Which channels live, commanded or seen, before anything new goes on; one that is on while
    another of its interlock is seen on without being commanded goes off.
    """
    parts = program.channels
    stays = [bool(a and b) for a, b in zip(out.levels, out.before, strict=True)]
    seen = [False] * len(parts)
    for part in program.busy.confirmed:
        seen[part.place] = part.seen_on(m)
    for lock in program.interlocks:
        for n in lock.channels:
            foreign = any(seen[o] and not stays[o] for o in lock.channels if o != n)
            if stays[n] and foreign:
                parts[n].end(m)
                out.levels[n], out.off[n], stays[n] = 0, "interlock", False
    return [a or b for a, b in zip(stays, seen, strict=True)]


def _take_turns(program: Program, m: Moment, out: _Outputs, wanted: list[int]) -> None:
    """
    One switch-on at a time on a rail: who has waited longest, of equals the first in the list.
    """
    slots, parts = m.slots, program.channels
    ready: list[tuple[int, int]] = []
    for n, part in enumerate(parts):
        if part.waits is None:
            continue
        if not wanted[n] or out.before[n]:
            slots[part.waits] = None
            continue
        if slots[part.waits] is None:
            slots[part.waits] = m.now
        if out.levels[n]:
            ready.append((slots[part.waits], n))
    for _, n in sorted(ready):
        groups = [group for group in program.staggers if n in group.channels]
        if all(group.free(m) for group in groups):
            for group in groups:
                slots[group.due] = m.now + group.steps
        else:
            out.levels[n] = 0


def _write(program: Program, m: Moment, out: _Outputs) -> None:
    """Write what changed, off before on; then let everything know."""
    before, levels = out.before, out.levels
    offs = [n for n in range(len(levels)) if before[n] and not levels[n]]
    rises = [n for n in range(len(levels)) if levels[n] and levels[n] != before[n]]
    m.changes += [Change(n, 0, out.off[n] or "ended") for n in offs]
    m.changes += [Change(n, levels[n], out.why[n]) for n in rises]
    for n, part in enumerate(program.channels):
        m.slots[part.written] = levels[n]
        if levels[n] and not before[n]:
            part.limits.went_on(m)
            if part.waits is not None:
                m.slots[part.waits] = None
        elif before[n] and not levels[n]:
            part.limits.went_off(m)
    for n, settle in program.busy.settling:
        settle(m, levels[n] > 0)
    _tell(program, m, out)


def _tell(program: Program, m: Moment, out: _Outputs) -> None:
    """Let macros, interlocks and confirmations know what was written."""
    for macro in program.busy.macros:
        macro.settle(m, out.levels)
    if program.interlocks:
        lives = [level > 0 for level in out.levels]
        for part in program.busy.confirmed:
            lives[part.place] |= part.seen_on(m)
        for lock in program.interlocks:
            lock.settle(m, lives)
    for part in program.busy.confirmed:
        assert part.confirm is not None
        m.slots[part.confirm.overdue_next] = False
        part.confirm.watch(m, out.levels[part.place], out.before[part.place])
