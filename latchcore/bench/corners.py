"""Corners of a circuit: supplies, resistances, junction drops; and what has no law here."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import product

from latchcore.figures.spread import Spread


class NotModelled(Exception):
    """A circuit the solver does not take; the text says what of it."""


@dataclass(frozen=True, slots=True)
class Corner:
    """Supplies, resistances and junction drops each from their least (0) to their most (1)."""

    supply: float
    ohms: float
    drops: float

    def of(self, spread: Spread, share: float) -> float:
        """So far from the least of a spread to its most."""
        return between(spread.min, spread.max, share)


def between(least: float, most: float, share: float) -> float:
    """
    So far from one figure to another.

    Examples
    --------
    >>> between(10.0, 20.0, 0.25)
    12.5
    """
    return least + (most - least) * share


CORNERS = tuple(Corner(*ends) for ends in product((0.0, 1.0), repeat=3))
MIDDLE = Corner(0.5, 0.5, 0.5)
