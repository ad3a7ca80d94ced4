"""Where a behaviour keeps what it remembers from one step to the next."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from enum import Enum
from functools import cached_property
from typing import Any

#: How far a time may miss a whole step by the way numbers are kept.
FUZZ = 1e-6


class Kind(Enum):
    """
    What stands in a slot: a plain value; a step at which something is due; several of them;
    stretches of time; or a place in a row of those who wait.
    """

    PLAIN = "plain"
    DUE = "due"
    DUES = "dues"
    SPANS = "spans"
    TURN = "turn"


@dataclass
class Layout:
    """
    The slots of one behaviour.

    ``first`` is what stands in each at power-up, a due one counted from the power-up itself;
    ``kept`` are those that outlive a power cut.
    """

    kinds: list[Kind] = field(default_factory=list)
    first: list[Any] = field(default_factory=list)
    kept: set[int] = field(default_factory=set)

    def slot(self, kind: Kind = Kind.PLAIN, first: Any = None, kept: bool = False) -> int:
        """A new slot; returns its place."""
        self.kinds.append(kind)
        self.first.append(first)
        if kept:
            self.kept.add(len(self.kinds) - 1)
        return len(self.kinds) - 1

    def due(self, first: int | None = None) -> int:
        """A slot for a step at which something is due, ``first`` steps after power-up."""
        return self.slot(Kind.DUE, first)

    def powered(self, before: list[Any] | None, now: int) -> list[Any]:
        """What is remembered in the step of a power-up, after what was remembered before it."""
        slots = [
            now + value if kind is Kind.DUE and value is not None else value
            for kind, value in zip(self.kinds, self.first, strict=True)
        ]
        if before is not None:
            for place in self.kept:
                slots[place] = before[place]
        return slots

    @cached_property
    def places(self) -> dict[Kind, list[int]]:
        """Places of each kind; asked once a program is whole."""
        return {kind: [n for n, other in enumerate(self.kinds) if other is kind] for kind in Kind}

    def key(self, slots: list[Any], now: int) -> tuple[Any, ...]:
        """
        What is remembered, as counted from now; equal keys go on equally under equal inputs.
        """
        key, places = list(slots), self.places
        for n in places[Kind.DUE]:
            due = key[n]
            if due is not None:
                # What is overdue is due, however long ago.
                key[n] = due - now if due > now else 0
        for n in places[Kind.DUES]:
            if key[n]:
                key[n] = tuple(due - now for due in key[n])
        for n in places[Kind.SPANS]:
            if key[n]:
                key[n] = tuple((a - now, None if b is None else b - now) for a, b in key[n])
        turns = [n for n in places[Kind.TURN] if key[n] is not None]
        order = sorted({key[n] for n in turns})
        for n in turns:
            key[n] = order.index(key[n])
        return tuple(key)


def steps_of(seconds: float, step: float) -> int:
    """
    A time in whole steps, rounded up.

    Examples
    --------
    >>> steps_of(0.025, 0.01), steps_of(0.3, 0.01), steps_of(0, 0.01)
    (3, 30, 0)
    """
    return max(math.ceil(seconds / step - FUZZ), 0)


def steps_within(seconds: float, step: float) -> int:
    """
    The whole steps that fit into a time, rounded down.

    Examples
    --------
    >>> steps_within(0.025, 0.01), steps_within(0.3, 0.01)
    (2, 30)
    """
    return math.floor(seconds / step + FUZZ)
