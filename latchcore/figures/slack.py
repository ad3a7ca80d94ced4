"""
Whether one figure lies beyond another: a limit just met is met, whatever the last bit of a sum
says.
"""

from __future__ import annotations

#: Share of a limit that is rounding and no excess.
SLACK = 1e-9


def exceeds(value: float, limit: float) -> bool:
    """
    Whether a value lies above a limit by more than rounding.

    >>> exceeds(0.1 + 0.2, 0.3), exceeds(0.31, 0.3)
    (False, True)
    """
    return value > limit + SLACK * abs(limit)


def falls_short(value: float, limit: float) -> bool:
    """
    Whether a value lies below a limit by more than rounding.

    >>> falls_short(0.3, 0.1 + 0.2), falls_short(0.29, 0.3)
    (False, True)
    """
    return value < limit - SLACK * abs(limit)


def within(low: float, value: float, high: float) -> bool:
    """
    Whether a value lies between two limits, each of them met where it is just met.

    >>> within(0.3, 0.1 + 0.2, 1), within(0.3, 1.1, 1)
    (True, False)
    """
    return not falls_short(value, low) and not exceeds(value, high)
