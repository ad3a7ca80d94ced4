"""Sequences and macros: phases and presses in a row."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.behaviour.layout import Layout
from latchcore.behaviour.moment import Moment


@dataclass(frozen=True, slots=True)
class PhasePlan:
    """
    One phase, compiled: how long it lasts or what ends it, the longest it may take, and what
    then: the phase that follows, ``None`` to stop, or ``"abort"``.
    """

    lasts: int | None
    until: int | None
    until_true: int | None
    longest: int | None
    then: int | str | None
    on: frozenset[int]


class RunningSequence:
    """
    A sequence; ``channels`` are all it names and holds, ``after`` the slots and levels of the
    state after an abort.
    """

    __slots__ = ("abort", "after", "channels", "due", "name", "phase", "phases",
                 "repeat", "runs", "start")  # fmt: skip

    def __init__(self, layout: Layout, name: str, phases: list[PhasePlan], repeat: int) -> None:
        self.name, self.phases, self.repeat = name, phases, repeat
        self.start: int | None = None
        self.abort: int | None = None
        self.channels: frozenset[int] = frozenset()
        self.after: list[tuple[int, int, int]] = []
        self.phase, self.runs = layout.slot(), layout.slot(first=0)
        self.due = layout.due()

    def runs_now(self, m: Moment) -> bool:
        """Whether it holds its channels."""
        return m.slots[self.phase] is not None

    def stopped(self, m: Moment) -> bool:
        """Whether it is aborted in this step, running or not."""
        return self.abort is not None and m.fired[self.abort]

    def move(self, m: Moment) -> None:
        """One phase a step at the most; an abort beats all else."""
        if not self.runs_now(m):
            return
        if self.stopped(m):
            self._abort(m)
            return
        phase = self.phases[m.slots[self.phase]]
        due = m.slots[self.due] is not None and m.now >= m.slots[self.due]
        ends = (due and phase.lasts is not None) or (
            phase.until_true is not None and m.counted[phase.until_true] is True
        )
        # An event and the longest time in one step: the event counts.
        if ends or (phase.until is not None and m.fired[phase.until]):
            self._next(m)
        elif due:
            m.alarms.append(("phase_time_out", self.name))
            if phase.then == "abort":
                self._abort(m)
            elif phase.then == "next":
                self._next(m)
            elif isinstance(phase.then, int):
                self._enter(m, phase.then)
            else:
                self._stop(m)

    def halt(self, m: Moment) -> None:
        """Put off by hand: it stops, and nothing stands after it."""
        self._stop(m)
        for _, slot, _ in self.after:
            m.slots[slot] = 0

    def begin(self, m: Moment) -> None:
        """Its first phase."""
        m.slots[self.runs] = 0
        self._enter(m, 0)

    def _enter(self, m: Moment, index: int) -> None:
        phase = self.phases[index]
        steps = phase.longest if phase.lasts is None else phase.lasts
        m.slots[self.phase] = index
        m.slots[self.due] = None if steps is None else m.now + max(steps, 1)

    def _next(self, m: Moment) -> None:
        index = m.slots[self.phase] + 1
        if index < len(self.phases):
            self._enter(m, index)
            return
        if self.repeat == 0:
            self._enter(m, 0)
            return
        m.slots[self.runs] += 1
        if m.slots[self.runs] < self.repeat:
            self._enter(m, 0)
        else:
            self._stop(m)

    def _stop(self, m: Moment) -> None:
        m.slots[self.phase] = m.slots[self.due] = None
        m.slots[self.runs] = 0

    def _abort(self, m: Moment) -> None:
        m.aborted |= self.phases[m.slots[self.phase]].on
        self._stop(m)
        for _, slot, level in self.after:
            m.slots[slot] = level


class RunningMacro:
    """Presses in a row; each counts its hold from when its channel is on."""

    __slots__ = ("channels", "due", "mode", "name", "press", "presses", "start", "wait")

    def __init__(
        self, layout: Layout, name: str, presses: list[tuple[int, int, int]], wait: int
    ) -> None:
        #: Channel, hold and gap of each press, in steps.
        self.presses = [(c, max(hold, 1), max(gap, 1)) for c, hold, gap in presses]
        self.name, self.wait = name, wait
        self.start: int | None = None
        self.channels = frozenset(c for c, _, _ in presses)
        #: Which press; whether it waits to go down, is down, or is let go.
        self.press, self.mode = layout.slot(), layout.slot()
        self.due = layout.due()

    def runs_now(self, m: Moment) -> bool:
        """Whether it holds its channels."""
        return m.slots[self.press] is not None

    def stopped(self, m: Moment) -> bool:
        """Never: a macro has no abort."""
        return False

    def move(self, m: Moment) -> None:
        """Let go what is due, and go on after the gap."""
        slots = m.slots
        if slots[self.press] is None or slots[self.mode] == "waits" or m.now < slots[self.due]:
            return
        if slots[self.mode] == "down":
            slots[self.mode] = "gap"
            slots[self.due] = m.now + self.presses[slots[self.press]][2]
        elif slots[self.press] + 1 < len(self.presses):
            self._enter(m, slots[self.press] + 1)
        else:
            self._stop(m)

    def halt(self, m: Moment) -> None:
        """Put off by hand."""
        self._stop(m)

    def begin(self, m: Moment) -> None:
        """Its first press."""
        self._enter(m, 0)

    def asks_for(self, channel: int, m: Moment) -> bool:
        """Whether its key of that channel is to be down."""
        press = m.slots[self.press]
        if press is None or m.slots[self.mode] == "gap":
            return False
        return self.presses[press][0] == channel

    def settle(self, m: Moment, levels: list[int]) -> None:
        """Down as soon as its channel is on; half a code is worse than none."""
        slots = m.slots
        if slots[self.press] is None or slots[self.mode] == "gap":
            return
        channel, hold, _ = self.presses[slots[self.press]]
        if levels[channel]:
            if slots[self.mode] == "waits":
                slots[self.mode], slots[self.due] = "down", m.now + hold
        elif slots[self.mode] == "down" or m.now >= slots[self.due]:
            m.alarms.append(("macro_stopped", self.name))
            self._stop(m)

    def _enter(self, m: Moment, index: int) -> None:
        m.slots[self.press], m.slots[self.mode] = index, "waits"
        m.slots[self.due] = m.now + self.wait

    def _stop(self, m: Moment) -> None:
        m.slots[self.press] = m.slots[self.mode] = m.slots[self.due] = None


Running = RunningSequence | RunningMacro


def advance(runners: list[Running], m: Moment) -> None:
    """
    Running ones move first, then starts are looked at in the order of the list: what is let go in
    a step can be taken in it; one that finds a channel held is lost.
    """
    if m.given.all_off:
        for runner in runners:
            runner.halt(m)
        return
    for runner in runners:
        runner.move(m)
    for runner in runners:
        wanted = runner.start is not None and m.fired[runner.start]
        if not wanted or runner.runs_now(m) or runner.stopped(m):
            continue
        held = any(o.channels & runner.channels for o in runners if o.runs_now(m))
        if held:
            m.alarms.append(("start_refused", runner.name))
            continue
        if isinstance(runner, RunningSequence):
            _end_states(runners, runner.channels, m)
        runner.begin(m)


def _end_states(runners: list[Running], channels: frozenset[int], m: Moment) -> None:
    """What stands after an abort ends where a sequence that names its channel starts."""
    for runner in runners:
        if isinstance(runner, RunningSequence):
            for channel, slot, _ in runner.after:
                if channel in channels:
                    m.slots[slot] = 0
