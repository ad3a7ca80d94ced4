"""The next step in which anything can change, so that a day is run in a moment."""

from __future__ import annotations

from typing import Any

from latchcore.behaviour.layout import Kind
from latchcore.behaviour.step import Program

#: Further away than any run is long.
NEVER = 1 << 60


def next_step(
    program: Program, slots: list[Any], now: int, clock: tuple[int, int | None] | None
) -> int:
    """
    The next step in which anything can change while nothing happens, or an earlier one; asked
    after a step in which nothing changed.
    """
    best = NEVER
    for kind, value in zip(program.layout.kinds, slots, strict=True):
        if kind is Kind.DUE and value is not None and now < value < best:
            best = value
        elif kind is Kind.DUES:
            best = min([best, *(due for due in value if due > now)])
    for part in program.channels:
        due = part.limits.cut_at_the_earliest(slots, now, slots[part.written] > 0)
        if due is not None:
            best = min(best, due)
    if clock is not None and program.windows:
        time, _ = clock
        day = round(86400 / program.step)
        best = min(best, now + min((mark - time - 1) % day + 1 for mark in program.windows))
        best = min(best, now + day - time)
    return best
