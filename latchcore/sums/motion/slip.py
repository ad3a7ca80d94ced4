"""A pattern shifted by one place on its way through a chain."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from latchcore.sums.motion.power import Power


@dataclass(frozen=True, slots=True)
class Slip:
    """
    What a pattern becomes: ``way`` farther or nearer, ``moves_in`` the level the data line rested
    at (``rest``) or ``0``.
    """

    way: str
    moves_in: str
    becomes: str


def shifted(contents: str, before: str | None, way: str, moves_in: str) -> str:
    """
    Contents of a chain, nearest first, shifted by one place.

    Farther: each bit one place on, and in the nearest comes the level at which the line then rests,
    the last bit sent. Nearer: each one place short, and in the farthest comes the level at which it
    rested before: the nearest of the old contents, unknown before the first load.

    Examples
    --------
    >>> shifted("1100", "0000", "farther", "rest"), shifted("1100", "0000", "nearer", "rest")
    ('1110', '1000')
    >>> shifted("0000", None, "nearer", "rest")
    '000x'
    """
    if way == "farther":
        return (contents[0] if moves_in == "rest" else "0") + contents[:-1]
    old = "0" if moves_in == "0" else "x" if before is None else before[0]
    return contents[1:] + old


def slipped(power: Power, before: str | None, wanted: str) -> Iterator[Slip]:
    """
    Every slip of a pattern of lines over what stood in the chain before, ``None`` for its first
    load.
    """
    places = [power.index[name] for name in power.chain]
    if not places:
        return
    new = "".join(wanted[n] for n in places)
    old = None if before is None else "".join(before[n] for n in places)
    for way in ("farther", "nearer"):
        for moves_in in ("rest", "0"):
            moved = shifted(new, old, way, moves_in)
            lines = list(wanted)
            for place, bit in zip(places, moved, strict=True):
                lines[place] = bit
            yield Slip(way, moves_in, "".join(lines))
