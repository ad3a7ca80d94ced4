"""What a knob means along its travel, and the plain figures of its scale."""

from __future__ import annotations

from latchcore.figures.quantity import QuantityError, plain_number
from latchcore.figures.typed import quoted

#: A scale of a knob goes no further than this either way.
MOST_SCALE = 1e9


def scaled(share: float, low: float, high: float, dead: float) -> float:
    """
    What a knob means at a share of its travel, its dead ends left out.

    Examples
    --------
    >>> scaled(0.5, 0, 100, 0.02), scaled(0.01, 0, 100, 0.02), scaled(1.0, 30, 10, 0.02)
    (50.0, 0.0, 10.0)
    """
    inside = min(max((share - dead) / (1 - 2 * dead), 0.0), 1.0)
    return low + (high - low) * inside


def number(text: str) -> float:
    """A plain figure of a knob's scale."""
    value = plain_number(text)
    if value is None or abs(value) > MOST_SCALE:
        raise QuantityError(
            f"{quoted(text)} is no plain number; expected one such as “0” or “180”."
        )
    return value
