"""Causes ranked by what has been read, and the reading that tells most for its effort."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

#: A value read: a number, or a word for a look; ``OL`` for over range.
Value = float | str
OL = "OL"
#: Likelihood of a reading inside the window of a cause, and of one outside; the prior of none of
#: these; the least fall a reading is worth [bit].
INSIDE, OUTSIDE, NONE_PRIOR, LEAST_FALL = 0.95, 0.05, 0.05, 0.02
NONE = "none"


@dataclass(frozen=True, slots=True)
class Window:
    """
    What a reading shows under one cause: from ``least`` to ``most``, ends included; ``over`` where
    OL belongs to it; ``words`` for a look.
    """

    least: float | None = None
    most: float | None = None
    over: bool = False
    words: frozenset[str] = frozenset()

    def holds(self, value: Value) -> bool:
        """
        Whether a reading lies in it.

        Examples
        --------
        >>> Window(0.0, 1.0).holds(1.0), Window(over=True).holds("OL")
        (True, True)
        """
        if isinstance(value, str):
            return self.over if value == OL else value in self.words
        if self.least is None:
            return False
        return self.least <= value and (self.most is None or value <= self.most)


@dataclass(frozen=True)
class Reading:
    """
    One reading that can be taken.

    Attributes
    ----------
    id : str
    effort : float
        A look 1, volts 2, ohms or milliamperes 4, unsoldering 10
    hazard : bool
        Whether it is one in the present stage; then it is never proposed
    windows : dict
        By cause; ``None`` where the cause says nothing about it
    least, most : float, optional
        What a number can show
    over : bool
        Whether it can show OL, which is as wide as the whole range
    words : tuple of str
        What a look can show, each as wide as the next
    unit : str
        Of a number
    """

    id: str
    effort: float
    hazard: bool
    windows: Mapping[str, Window | None]
    least: float | None = None
    most: float | None = None
    over: bool = False
    words: tuple[str, ...] = ()
    unit: str = "V"

    @property
    def width(self) -> float:
        """Of all it can show."""
        if self.least is None or self.most is None:
            return float(len(self.words))
        return (self.most - self.least) * (2 if self.over else 1)

    def width_of(self, window: Window) -> float:
        """Of a window, as far as it can be shown."""
        if self.least is None or self.most is None:
            return float(len(window.words & set(self.words)))
        span = self.most - self.least
        wide = span if window.over and self.over else 0.0
        if window.least is not None:
            high = self.most if window.most is None else min(window.most, self.most)
            wide += max(high - max(window.least, self.least), 0.0)
        return wide

    def likelihood(self, cause: str, value: Value) -> float:
        """How likely a value is under a cause, for each unit of width."""
        window = self.windows.get(cause)
        if window is None:
            return 1.0 / self.width
        wide = self.width_of(window)
        if wide >= self.width:
            return 1.0 / self.width
        if window.holds(value):
            return INSIDE / wide if wide > 0 else math.inf
        return OUTSIDE / (self.width - wide)

    def pieces(self) -> list[tuple[Value, float]]:
        """Values between the ends of all windows, one for each piece, with its width."""
        if self.least is None or self.most is None:
            return [(word, 1.0) for word in self.words]
        ends = {self.least, self.most}
        for window in self.windows.values():
            if window is not None:
                ends |= {e for e in (window.least, window.most) if e is not None}
        inside = sorted(e for e in ends if self.least <= e <= self.most)
        found: list[tuple[Value, float]] = [
            ((a + b) / 2, b - a) for a, b in zip(inside, inside[1:], strict=False) if b > a
        ]
        return [*found, (OL, self.most - self.least)] if self.over else found


@dataclass
class Ranking:
    """
    How likely each cause is, ``none`` of these among them; what each reading not yet taken would
    tell [bit], for each unit of effort too; the one proposed.
    """

    posterior: dict[str, float]
    entropy: float
    fall: dict[str, float] = field(default_factory=dict)
    per_effort: dict[str, float] = field(default_factory=dict)
    next: str | None = None


def entropy(shares: Sequence[float]) -> float:
    """
    Of shares that sum to one [bit].

    Examples
    --------
    >>> entropy([0.5, 0.5]), entropy([1.0, 0.0])
    (1.0, 0.0)
    """
    return sum(p * math.log2(1 / p) for p in shares if p > 0)


def rank(
    weights: Mapping[str, float],
    readings: Sequence[Reading],
    taken: Sequence[tuple[str, Value]] = (),
) -> Ranking:
    """
    Rank causes by what was read.

    Parameters
    ----------
    weights : mapping
        Prior of each cause as a plain weight, history included
    readings : sequence of Reading
    taken : sequence of (str, value)
        In any order; of one reading taken twice the last counts

    Examples
    --------
    >>> x = Reading("x", 2, False, {"a": Window(0, 1), "b": Window(10, 12)}, -20, 20)
    >>> round(rank({"a": 1, "b": 1}, [x], [("x", 0.5)]).posterior["a"], 5)
    0.99586
    """
    known, last = {r.id: r for r in readings}, dict(taken)
    total = sum(weights.values())
    shares = {c: (1 - NONE_PRIOR) * w / total for c, w in weights.items()} | {NONE: NONE_PRIOR}
    for reading, value in last.items():
        shares = _after(shares, known[reading], value)
    now = entropy(list(shares.values()))
    found = Ranking(shares, now)
    for reading in readings:
        if reading.id not in last:
            fall = now - _expected(shares, reading)
            found.fall[reading.id] = fall
            found.per_effort[reading.id] = fall / reading.effort
    worth = [r.id for r in readings
             if r.id in found.fall and not r.hazard and found.fall[r.id] >= LEAST_FALL]  # fmt: skip
    found.next = max(worth, key=lambda r: found.per_effort[r], default=None)
    return found


def _after(shares: Mapping[str, float], reading: Reading, value: Value) -> dict[str, float]:
    """Shares after a reading, to a sum of one."""
    found = {c: p * _likely(reading, c, value) for c, p in shares.items()}
    total = sum(found.values())
    return {c: p / total for c, p in found.items()}


def _likely(reading: Reading, cause: str, value: Value) -> float:
    # None of these expects every reading anywhere.
    return 1.0 / reading.width if cause == NONE else reading.likelihood(cause, value)


def _expected(shares: Mapping[str, float], reading: Reading) -> float:
    """Entropy expected after a reading: over each piece between the ends of all windows."""
    found = 0.0
    for value, wide in reading.pieces():
        likely = {c: p * _likely(reading, c, value) for c, p in shares.items()}
        total = sum(likely.values())
        if total > 0:
            found += total * wide * entropy([p / total for p in likely.values()])
    return found
