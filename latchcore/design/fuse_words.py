"""A fuse in words, as it stands on a shopping list."""

from __future__ import annotations

from latchcore.document.models import Channel, Rail
from latchcore.figures.quantity import parse, show


def as_stated(of: Rail | Channel) -> str:
    """
    The fuse of a rail or of a channel in the words of a shopping list; empty without one.

    Examples
    --------
    >>> as_stated(Rail(id="rail1", name="line", voltage="230 V", fuse="1.6 A", fuse_volts="250 V",
    ...     fuse_breaking="high"))
    'slow 1.6 A, 250 V, high breaking capacity'
    """
    if not of.fuse:
        return ""
    current = {
        "alternating": "alternating current",
        "direct": "direct current",
        "both": "either current",
    }.get(of.fuse_for, "")
    words = [
        f"slow {show(parse(of.fuse, 'A'), 'A')}",
        " ".join(filter(None, [of.fuse_volts, current])),
        f"{of.fuse_breaking} breaking capacity" if of.fuse_breaking != "unknown" else "",
    ]
    return ", ".join(filter(None, words))
