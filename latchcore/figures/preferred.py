"""Preferred values: which resistors can be bought."""

from __future__ import annotations

from functools import lru_cache

import eseries
import numpy as np

SERIES = {"E12": eseries.E12, "E24": eseries.E24, "E96": eseries.E96}
#: Tolerance that goes with a series on the hobbyist's shelf.
TOLERANCE = {"E12": 0.05, "E24": 0.05, "E96": 0.01}
LEAST, MOST = 1.0, 10e6


#: Sizes in which supplies are sold [A].
STOCK_SOURCES = (
    0.25,
    0.5,
    0.75,
    1.0,
    1.25,
    1.5,
    2.0,
    2.5,
    3.0,
    4.0,
    5.0,
    6.0,
    8.0,
    10.0,
    12.5,
    15.0,
    20.0,
    30.0,
)


@lru_cache
def values(series: str) -> np.ndarray:
    """
    Every preferred value from 1 Ω to 10 MΩ, rising.

    Examples
    --------
    >>> values("E12")[:4].tolist()
    [1.0, 1.2, 1.5, 1.8]
    """
    found = sorted({float(f"{v:.6g}") for v in eseries.erange(SERIES[series], LEAST, MOST)})
    return np.array(found)


def between(series: str, low: float, high: float) -> list[float]:
    """
    Preferred values in a closed range.

    Examples
    --------
    >>> between("E12", 240, 460)
    [270.0, 330.0, 390.0]
    """
    shelf = values(series)
    return shelf[
        np.searchsorted(shelf, low, "left") : np.searchsorted(shelf, high, "right")
    ].tolist()


def largest_below(series: str, limit: float) -> float | None:
    """
    The largest preferred value that is not above a limit, or ``None``.

    Examples
    --------
    >>> largest_below("E12", 11839)
    10000.0
    """
    shelf = values(series)
    index = int(np.searchsorted(shelf, limit, "right")) - 1
    return float(shelf[index]) if index >= 0 else None


def step(series: str, value: float, direction: int) -> float:
    """
    The next preferred value up (+1) or down (-1) from any value.

    Examples
    --------
    >>> step("E12", 560, 1), step("E12", 600, -1)
    (680.0, 560.0)
    """
    shelf = values(series)
    if direction > 0:
        index = int(np.searchsorted(shelf, value, "right"))
    else:
        index = int(np.searchsorted(shelf, value, "left")) - 1
    return float(shelf[min(max(index, 0), len(shelf) - 1)])
