"""A line over time: levels with the moments they begin at."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass

#: A level, or ``None`` while nobody drives the line.
Level = int | None


@dataclass(frozen=True, slots=True)
class Trace:
    """
    One line.

    Attributes
    ----------
    line : str
        Its name on the board
    name : str
        What hangs on it
    points : tuple of (float, int or None)
        When each level begins [s], in order of time
    off : int
        The level that is off
    on_for : tuple of str
        Why each stretch it is on was begun, in order
    """

    line: str
    name: str
    points: tuple[tuple[float, Level], ...]
    off: int = 0
    on_for: tuple[str, ...] = ()

    def at(self, t: float) -> Level:
        """
        The level at a time; before the first point that of the first.

        Examples
        --------
        >>> Trace("P1", "Lamp", ((0.0, 0), (2.0, 1))).at(1.9)
        0
        """
        if not self.points:
            return None
        place = bisect_right(self.points, t, key=lambda p: p[0])
        return self.points[max(place - 1, 0)][1]

    def stretches(self, until: float) -> list[tuple[float, float]]:
        """
        Where it is not off, from and to [s].

        Examples
        --------
        >>> Trace("P1", "Lamp", ((0.0, 0), (2.0, 1), (3.0, 0))).stretches(5)
        [(2.0, 3.0)]
        """
        found: list[tuple[float, float]] = []
        begun: float | None = None
        for t, level in self.points:
            on = level is not None and level != self.off
            if on and begun is None:
                begun = t
            elif not on and begun is not None:
                found.append((begun, t))
                begun = None
        return found if begun is None else [*found, (begun, max(until, begun))]

    def edges(self) -> list[float]:
        """When its level changed [s]."""
        pairs = zip(self.points, self.points[1:], strict=False)
        return [b[0] for a, b in pairs if a[1] != b[1]]
