"""A behaviour run against what happens, step by step on its own clock."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.layout import steps_of
from latchcore.behaviour.moment import Change, Given, Moment
from latchcore.behaviour.step import Program, do_step
from latchcore.behaviour.waking import next_step

DAY = 86400


@dataclass(frozen=True, slots=True)
class Written:
    """One change of a channel: the step, the channel's place, its level in percent, and why."""

    step: int
    channel: int
    level: int
    reason: str


@dataclass(frozen=True, slots=True)
class Alarm:
    """One alarm: the step, its word, and the id of what it is about."""

    step: int
    alarm: str
    of: str


@dataclass(frozen=True, slots=True)
class StateChange:
    """A confirmed state that changed from the end of one step to the next."""

    step: int
    channel: int
    state: str


@dataclass
class Rehearsal:
    """
    What came of a run.

    Attributes
    ----------
    step : float
        Length of one step [s]
    last : int
        Number of the last step
    changes, alarms, states : list
        In order of time
    inputs : list of (int, int, object)
        Step, place and value of every reading that changed
    conditions : list of (int, int, bool or None)
        Step, place and value of every condition that changed
    done : int
        Steps that were worked out; in the others nothing could change
    """

    step: float
    last: int
    changes: list[Written] = field(default_factory=list)
    alarms: list[Alarm] = field(default_factory=list)
    states: list[StateChange] = field(default_factory=list)
    inputs: list[tuple[int, int, Any]] = field(default_factory=list)
    conditions: list[tuple[int, int, bool | None]] = field(default_factory=list)
    done: int = 0


@dataclass
class _Heard:
    """What whoever commands said since the last step."""

    commands: dict[int, bool | None] = field(default_factory=dict)
    asked: dict[int, int] = field(default_factory=dict)
    cleared: list[int] = field(default_factory=list)
    alive: bool = False
    all_off: bool = False

    def take(self, program: Program, h: Happening) -> None:
        """One more word."""
        if h.what == "command":
            self.commands[program.commands.index(h.of)] = h.value
        elif h.what == "clear":
            self.cleared.append(program.place(h.of))
        elif h.what == "line":
            self.asked[program.place(h.of)] = h.value
        self.alive |= h.what == "alive"
        self.all_off |= h.what == "all_off"

    def given(self, readings: tuple[Any, ...], clock: tuple[int, int | None] | None) -> Given:
        """What a step is given."""
        return Given(
            readings,
            tuple(self.commands.items()),
            self.alive,
            tuple(self.cleared),
            clock,
            tuple(self.asked.items()),
            self.all_off,
        )


class Runner:
    """
    A program with its surroundings: readings that stay until they change, power, clock, hangs.

    ``every`` works out every step, also those in which nothing can change.
    """

    def __init__(self, program: Program, readings: dict[str, Any], every: bool = False) -> None:
        self.program, self.every = program, every
        self.readings = [
            readings.get(key, 0.0 if scaled else False)
            for key, scaled in zip(program.inputs, program.scaled, strict=True)
        ]
        self.stuck: set[int] = set()
        self.slots: list[Any] | None = None
        self.powered = True
        self.first = True
        self.hung: int | None = None
        self.clock: tuple[int, int, int | None] | None = None
        self.on_since: list[int | None] = [None] * len(program.channels)
        self.seen: list[Any] = [None] * len(program.inputs)
        self.held: list[Any] = [False] * len(program.looks)
        self.states = ["unknown"] * len(program.channels)
        #: The last step that is over, and the next in which anything can change.
        self.last, self.wakes = -1, 0

    def run(
        self, happenings: Iterable[Happening], seconds: float, to_change: bool = False
    ) -> Rehearsal:
        """
        Run until a time [s], from power-up or from where it stands; the last step is the one at
        that time.

        Happenings need not be in order of time; of one time they count in the order given. With
        ``to_change`` it ends with the first step in which an output changes, and knows nothing of
        what happens after that.
        """
        out = Rehearsal(self.program.step, steps_of(seconds, self.program.step))
        waiting = sorted(happenings, key=lambda h: h.t)
        place, now = 0, self.wakes
        if waiting:
            now = min(now, max(steps_of(waiting[0].t, out.step), self.last + 1))
        while now <= out.last:
            batch = []
            while place < len(waiting) and steps_of(waiting[place].t, out.step) <= now:
                batch.append(waiting[place])
                place += 1
            wakes = self._one(out, now, batch)
            if self.every or batch:
                wakes = now + 1
            if place < len(waiting):
                wakes = min(wakes, max(steps_of(waiting[place].t, out.step), now + 1))
            if to_change and out.changes:
                out.last, now = now, wakes
                break
            now = wakes
        self.last, self.wakes = max(self.last, out.last), now
        return out

    def _one(self, out: Rehearsal, now: int, batch: list[Happening]) -> int:
        """One step with what happened up to it; returns the next in which anything can change."""
        out.done += 1
        heard, off = _Heard(), ""
        for h in batch:
            if h.what in ("power", "reset"):
                off = self._power(h, off)
            elif h.what == "hang":
                self.hung = now if self.powered and self.hung is None else self.hung
            elif h.what == "clock":
                self.clock = None if h.value is None else (now, *_clock(h.value, out.step))
            elif h.what in ("input", "stuck", "freed"):
                self._reading(h)
            elif self.powered and self.hung is None:
                heard.take(self.program, h)
        if off:
            self._all_off(out, now, off)
            heard = _Heard()
        return self._go_on(out, now, heard.given(tuple(self.readings), self._time(now)))

    def _power(self, h: Happening, off: str) -> str:
        """Power going or coming, or a reset; says by what everything goes off."""
        if h.what == "power":
            was, self.powered = self.powered, bool(h.value)
            self.first = self.first or not self.powered
            self.hung = None
            return "power" if was and not self.powered else off
        if not self.powered:
            return off
        self.first, self.hung = True, None
        return "reset"

    def _reading(self, h: Happening) -> None:
        place = self.program.inputs.index(h.of)
        if h.what == "stuck":
            self.stuck.add(place)
        elif h.what == "freed":
            self.stuck.discard(place)
        if h.what != "freed" and h.value is not None or h.what == "input":
            if place in self.stuck and h.what == "input":
                return
            scaled = self.program.scaled[place]
            self.readings[place] = h.value if scaled else bool(h.value)

    def _all_off(self, out: Rehearsal, now: int, reason: str) -> None:
        if self.slots is None:
            return
        for part in self.program.channels:
            if self.slots[part.written]:
                out.changes.append(Written(now, part.place, 0, reason))
                self.slots[part.written] = 0
            self.on_since[part.place] = None

    def _go_on(self, out: Rehearsal, now: int, given: Given) -> int:
        if not self.powered:
            return out.last + 1
        if self.hung is not None and not self._hang(out, now):
            return now + 1 if self._watched() else out.last + 1
        before = None if self.slots is None or self.first else list(self.slots)
        if self.first:
            self.slots = self.program.layout.powered(self.slots, now)
        slots = self.slots
        assert slots is not None
        m = do_step(self.program, slots, now, self.first, given)
        self.first = False
        self._keep(out, m)
        if slots != before:
            return now + 1
        return next_step(self.program, slots, now, given.clock)

    def _watched(self) -> bool:
        limits = any(part.hardware is not None for part in self.program.channels)
        return limits or self.program.watchdog is not None

    def _hang(self, out: Rehearsal, now: int) -> bool:
        """A hung program: outputs stand, hardware ends what it limits; whether it is reset now."""
        slots, watchdog = self.slots, self.program.watchdog
        assert slots is not None and self.hung is not None
        if watchdog is not None and now >= self.hung + watchdog:
            self.hung, self.first = None, True
            self._all_off(out, now, "reset")
            return True
        for part in self.program.channels:
            since, limit = self.on_since[part.place], part.hardware
            if slots[part.written] and since is not None and limit and now >= since + limit:
                slots[part.written] = 0
                out.changes.append(Written(now, part.place, 0, "hardware_limit"))
        return False

    def _keep(self, out: Rehearsal, m: Moment) -> None:
        """Write down what changed."""
        now, program = m.now, self.program
        for change in m.changes:
            out.changes.append(Written(now, change.channel, change.level, change.reason))
        self._since(m.changes, now)
        out.alarms += [Alarm(now, alarm, of) for alarm, of in m.alarms]
        for part in program.channels:
            if part.confirm is not None:
                state = m.slots[part.confirm.state]
                if state != self.states[part.place]:
                    self.states[part.place] = state
                    out.states.append(StateChange(now, part.place, state))
        for place, reading in enumerate(m.taken):
            if reading != self.seen[place]:
                self.seen[place] = reading
                out.inputs.append((now, place, reading))
        for place, value in enumerate(m.counted):
            if value != self.held[place]:
                self.held[place] = value
                out.conditions.append((now, place, value))

    def _since(self, changes: list[Change], now: int) -> None:
        for change in changes:
            if change.level and self.on_since[change.channel] is None:
                self.on_since[change.channel] = now
            elif not change.level:
                self.on_since[change.channel] = None

    def _time(self, now: int) -> tuple[int, int | None] | None:
        if self.clock is None:
            return None
        since, time, weekday = self.clock
        day = steps_of(DAY, self.program.step)
        days, rest = divmod(time + now - since, day)
        return rest, None if weekday is None else (weekday + days) % 7


def _clock(value: tuple[float, int | None], step: float) -> tuple[int, int | None]:
    seconds, weekday = value
    return round(seconds / step), weekday
