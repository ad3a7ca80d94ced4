"""Ways to walk a behaviour: in whole steps, in leaps, or with its timers reduced."""

from __future__ import annotations

from collections.abc import Iterator
from copy import copy
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Any

from latchcore.behaviour.choices import Choice, Choices
from latchcore.behaviour.layout import Kind
from latchcore.behaviour.moment import Given, Moment
from latchcore.behaviour.seeing import Contact
from latchcore.behaviour.step import Program, do_step
from latchcore.behaviour.waking import NEVER, next_step

#: In a walk with reduced timers: what runs is due at some time, nobody says when.
RUNNING = 1 << 40
#: What fell due in an earlier step.
PAST = -1
#: Every set of running timers may fall due in one step, up to so many ways on from a state; of
#: more, one timer, or all.
MOST_WAYS = 1024


@dataclass(frozen=True, slots=True)
class Move:
    """
    How one state is reached from another.

    Attributes
    ----------
    choice : tuple
        What came in
    due : tuple of int
        Slots of the timers that fell due, in a walk with reduced timers
    again : frozenset of int
        Slots of the timers that were started, anew or for the first time
    passed : int
        Steps that pass up to it
    exact : bool
        Whether its times are the real ones
    """

    choice: Choice
    due: tuple[int, ...] = ()
    again: frozenset[int] = frozenset()
    passed: int = 1
    exact: bool = True

    @property
    def renewed(self) -> frozenset[int]:
        """Timers that fell due or were started."""
        return self.again | set(self.due)


@dataclass(slots=True)
class Node:
    """One state: what is remembered at a step, and what came in in it."""

    slots: list[Any]
    now: int
    choice: Choice


class WholeSteps:
    """Every step by itself, with the real times."""

    exact = True
    #: Whether what is not reached cannot be.
    complete = True

    def __init__(self, program: Program, choices: Choices) -> None:
        self.program, self.choices = program, choices
        #: Requests that had their channel on, by channel and place.
        self.granted: set[tuple[int, int]] = set()

    def key(self, node: Node) -> tuple[Any, ...]:
        """Equal keys go on equally."""
        key = self.program.layout.key(node.slots, node.now)
        return key if self.choices.together else (*key, node.choice)

    def cost(self, node: Node, move: Move) -> int:
        """Every move is as far as any other."""
        return 1

    def starts(self) -> Iterator[tuple[Move, Node]]:
        """Every way to power up."""
        for choice in self.choices.starts():
            slots = self.program.layout.powered(None, 0)
            m = do_step(self.program, slots, 0, True, self.choices.given(choice, slots))
            note_granted(self.program, m, self.granted)
            yield Move(choice), Node(slots, 0, choice)

    def after(self, node: Node) -> Iterator[tuple[Move, Node]]:
        """Every next step."""
        for choice in self.choices.after(node.choice):
            slots, now = list(node.slots), node.now + 1
            m = do_step(self.program, slots, now, False, self.choices.given(choice, slots))
            note_granted(self.program, m, self.granted)
            yield Move(choice), Node(slots, now, choice)

    def running(self, node: Node) -> frozenset[int]:
        """No timer needs minding: they run by themselves."""
        return frozenset()


class Leaps(WholeSteps):
    """
    With the real times too, but where nothing comes in and nothing changes time passes up to what
    is due next; so what lies hours away is found, and not all that lies between. One input changes
    at a time, and few changes are tried before many.
    """

    complete = False

    def __init__(self, program: Program, choices: Choices) -> None:
        super().__init__(program, copy(choices))
        self.choices.together = False

    def cost(self, node: Node, move: Move) -> int:
        """Waiting costs nothing."""
        return int(move.choice != node.choice)

    def after(self, node: Node) -> Iterator[tuple[Move, Node]]:
        """The next step with another input, and the next in which anything is due."""
        for choice in self.choices.after(node.choice):
            given = self.choices.given(choice, node.slots)
            if choice != node.choice:
                yield self._step(node, list(node.slots), node.now + 1, choice, given)
                continue
            slots, given = list(node.slots), replace(given, alive=False)
            move, later = self._step(node, slots, node.now + 1, choice, given)
            if slots != node.slots:
                yield move, later
                continue
            wakes = next_step(self.program, slots, node.now + 1, None)
            if wakes < NEVER - 1:
                yield self._step(node, slots, wakes, choice, given)

    def _step(
        self, node: Node, slots: list[Any], now: int, choice: Choice, given: Given
    ) -> tuple[Move, Node]:
        m = do_step(self.program, slots, now, False, given)
        note_granted(self.program, m, self.granted)
        return Move(choice, passed=now - node.now), Node(slots, now, choice)


class Reduced:
    """
    Timers are idle, running or due; one that runs may fall due in any step, but not never.

    More can happen here than with the real times, never less: what cannot happen here cannot
    happen at all.
    """

    exact = False

    def __init__(self, program: Program, choices: Choices) -> None:
        self.program, self.choices = program, choices
        layout = program.layout
        places = layout.places
        self.single, self.several = places[Kind.DUE], places[Kind.DUES]
        self.turns = places[Kind.TURN]
        for part in program.channels:
            part.limits.reduced = True
        for sense in program.seeing:
            if isinstance(sense, Contact):
                # Whatever is taken after a debounce may be taken without one.
                sense.steps = 0
        self.granted: set[tuple[int, int]] = set()
        #: Whether every set of timers was tried in every step.
        self.complete = True

    def key(self, node: Node) -> tuple[Any, ...]:
        """Equal keys go on equally."""
        key = self.program.layout.key(node.slots, 0)
        return key if self.choices.together else (*key, node.choice)

    def cost(self, node: Node, move: Move) -> int:
        """Every move is as far as any other."""
        return 1

    def starts(self) -> Iterator[tuple[Move, Node]]:
        """Every way to power up."""
        for choice in self.choices.starts():
            slots = self.program.layout.powered(None, 0)
            again = self._step(slots, choice, True)
            yield Move(choice, (), again, exact=False), Node(slots, 0, choice)

    def after(self, node: Node) -> Iterator[tuple[Move, Node]]:
        """Every next step, whatever falls due in it."""
        for due in self._sets(node):
            for choice in self.choices.after(node.choice):
                slots = list(node.slots)
                for place in due:
                    value = slots[place]
                    slots[place] = (0, *value[1:]) if isinstance(value, tuple) else 0
                again = self._step(slots, choice, False)
                yield Move(choice, due, again, exact=False), Node(slots, 0, choice)

    def running(self, node: Node) -> frozenset[int]:
        """Timers that run, and must fall due sooner or later."""
        slots = node.slots
        runs = [n for n in self.single if slots[n] == RUNNING]
        runs += [n for n in self.several if slots[n] and slots[n][0] == RUNNING]
        return frozenset(runs)

    def _sets(self, node: Node) -> list[tuple[int, ...]]:
        runs = sorted(self.running(node))
        if len(self.choices.after(node.choice)) << len(runs) <= MOST_WAYS:
            return [s for n in range(len(runs) + 1) for s in combinations(runs, n)]
        self.complete = False
        return [(), *((n,) for n in runs), tuple(runs)]

    def _step(self, slots: list[Any], choice: Choice, first: bool) -> frozenset[int]:
        m: Moment = do_step(self.program, slots, 0, first, self.choices.given(choice, slots))
        note_granted(self.program, m, self.granted)
        again = []
        for place in self.single:
            value = slots[place]
            if value is not None and value != RUNNING:
                if value > 0:
                    again.append(place)
                    slots[place] = RUNNING
                else:
                    slots[place] = PAST
        for place in self.several:
            if slots[place]:
                if any(0 < due < RUNNING for due in slots[place]):
                    again.append(place)
                slots[place] = tuple(RUNNING if due > 0 else PAST for due in slots[place])
        if self.turns:
            self._take_places(slots)
        return frozenset(again)

    def _take_places(self, slots: list[Any]) -> None:
        """Who waits keeps its place in the row, whatever the time."""
        order = sorted({slots[n] for n in self.turns if slots[n] is not None})
        for place in self.turns:
            if slots[place] is not None:
                slots[place] = order.index(slots[place]) - len(order)


def note_granted(program: Program, m: Moment, granted: set[tuple[int, int]]) -> None:
    """Write down which requests ask while their channel is on."""
    for part in program.channels:
        if m.slots[part.written]:
            for n, request in enumerate(part.requests):
                if (part.place, n) not in granted and request.level(m):
                    granted.add((part.place, n))
