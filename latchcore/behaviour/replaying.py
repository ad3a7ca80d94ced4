"""A way found in a walk, run with real times."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any

from latchcore.behaviour.choices import Choice, Choices
from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.moment import Given
from latchcore.behaviour.rehearsal import DAY
from latchcore.behaviour.seeing import Contact
from latchcore.behaviour.spaces import Move
from latchcore.behaviour.step import Program, do_step
from latchcore.behaviour.waking import NEVER, next_step


@dataclass
class Replay:
    """
    A run of the real program along a way.

    Attributes
    ----------
    happenings : list of Happening
        What came in; what stands at power-up is in ``start``
    start : dict
        Readings at power-up, by input
    now : int
        The step it stands at
    """

    program: Program
    choices: Choices
    slots: list[Any] = field(default_factory=list)
    choice: Choice = ()
    now: int = 0
    start: dict[str, Any] = field(default_factory=dict)
    happenings: list[Happening] = field(default_factory=list)
    _set_at: int = 0

    @classmethod
    def along(cls, program: Program, choices: Choices, way: list[Move]) -> Replay:
        """Run a way from its power-up."""
        run = cls(program, choices)
        run.begin(way[0].choice)
        for move in way[1:]:
            run.go(move)
        return run

    def begin(self, choice: Choice) -> None:
        """Power up."""
        self.slots = self.program.layout.powered(None, 0)
        self.choice = choice
        for dimension, value in zip(self.choices.dimensions, choice, strict=True):
            if dimension.kind == "input":
                self.start[dimension.of] = value
            elif dimension.kind == "clock" and value is not None:
                self.happenings.append(self._clock(value, 0))
        given = self.choices.given(choice, self.slots)
        do_step(self.program, self.slots, 0, True, given)

    def go(self, move: Move) -> None:
        """The next step, or the one in which the timers of a move fall due."""
        target = self.now + move.passed
        dues = [d for place in move.due for d in _times(self.slots[place]) if d > self.now]
        if dues:
            target = max(target, min(dues))
        bounce = 0 if move.exact else self._bounce(move.choice)
        self.wait(max(target - 1 - bounce, self.now))
        self._take(move.choice)
        if bounce:
            self.wait(self.now + bounce)

    def _bounce(self, choice: Choice) -> int:
        """Steps until what changes is taken, where a walk counted no debounce."""
        waits = {c.place: c.steps for c in self.program.seeing if isinstance(c, Contact)}
        places = self.program.inputs
        return max(
            (
                waits.get(places.index(d.of), 0)
                for d, old, new in zip(self.choices.dimensions, self.choice, choice, strict=True)
                if d.kind == "input" and old != new
            ),
            default=0,
        )

    def wait(self, until: int) -> bool:
        """Let time pass without anything coming in; whether anything could still change."""
        while self.now < until:
            before = list(self.slots)
            self._step(self.now + 1, quiet=True)
            if self.slots == before:
                wakes = next_step(self.program, self.slots, self.now, self._given(self.now).clock)
                if wakes >= NEVER:
                    self.now = max(self.now, until)
                    return False
                self.now = max(self.now, min(wakes - 1, until))
        return True

    def _take(self, choice: Choice) -> None:
        now, step = self.now + 1, self.program.step
        for dimension, old, new in zip(self.choices.dimensions, self.choice, choice, strict=True):
            if dimension.kind == "alive":
                if new:
                    self.happenings.append(Happening(now * step, "alive", value=1))
            elif old != new and dimension.kind == "clock":
                self.happenings.append(self._clock(new, now))
                self._set_at = now
            elif old != new:
                self.happenings.append(Happening(now * step, dimension.kind, dimension.of, new))
        self.choice = choice
        self._step(now)

    def _step(self, now: int, quiet: bool = False) -> None:
        do_step(self.program, self.slots, now, False, self._given(now, quiet))
        self.now = now

    def _given(self, now: int, quiet: bool = False) -> Given:
        """What stands, the clock run on; without the signs of life of one step where quiet."""
        given = self.choices.given(self.choice, self.slots)
        if given.clock is not None:
            day = round(DAY / self.program.step)
            time, weekday = given.clock
            given = replace(given, clock=((time + now - self._set_at) % day, weekday))
        return replace(given, alive=False) if quiet else given

    def _clock(self, value: Any, now: int) -> Happening:
        set_to = None if value is None else (value[0] * self.program.step, value[1])
        return Happening(now * self.program.step, "clock", value=set_to)


def replayed(
    program: Program,
    choices: Choices,
    way: list[Move],
    holds: Callable[[list[Any]], bool],
) -> Replay | None:
    """A way run with real times, where what was found at its end is there then too."""
    run = Replay.along(program, choices, way)
    return run if holds(run.slots) else None


def _times(value: Any) -> tuple[int, ...]:
    if isinstance(value, tuple):
        return value[:1]
    return () if value is None else (value,)
