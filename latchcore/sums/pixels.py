"""Addressable strips: current of all pixels, volts at the last, where to feed again, the data."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.figures.slack import falls_short


@dataclass(frozen=True, slots=True)
class Strip:
    """
    What a strip takes and where its volts end.

    ``current`` at what its program allows and ``unlimited`` when it does not [A]; ``last`` volts at
    the farthest pixel [V]; ``serves`` pixels to one side of a feed, ``inject`` how far apart feeds
    may stand [m].
    """

    each: float
    current: float
    unlimited: float
    drop: float
    last: float
    serves: int
    inject: float
    data_needed: float
    data_reaches: bool
    chain_reaches: bool


def run_drop(pixels: int, each: float, pitch: float, ohms: float) -> float:
    """
    Volts lost to the last of so many pixels fed at one end, the first at the feed [V].

    Examples
    --------
    >>> round(run_drop(60, 0.06, 1 / 60, 0.2), 3)
    0.354
    """
    return each * pitch * ohms * pixels * (pixels - 1) / 2


def _far_drop(pixels: int, each: float, pitch: float, ohms: float, both: bool) -> float:
    """The largest drop of a run fed at one end or at both."""
    if not both:
        return run_drop(pixels, each, pitch, ohms)
    # Fed at both ends alike the currents part in the middle: half of the pixels to each side.
    step, gaps = each * pitch * ohms, pixels - 1
    if gaps == 0:
        return 0.0
    # Both feeds stand at the same volts: what flows in at the near one follows from that.
    near = sum((gaps - n) / gaps for n in range(1, pixels))
    drop = lowest = 0.0
    flowing = near
    for _ in range(gaps):
        drop += flowing * step
        flowing -= 1
        lowest = max(lowest, drop)
    return lowest


def strip(
    *,
    pixels: int,
    white: float,
    share: float,
    pitch: float,
    ohms: float,
    supply_min: float,
    supply_max: float,
    least: float,
    both_ends: bool,
    data_high: float,
    data_share: float = 0.7,
    diode_min: float = 0.0,
    diode_max: float = 0.0,
) -> Strip:
    """
    A strip at full white within the limit its program keeps.

    Parameters
    ----------
    white : float
        A pixel at full white [A]
    share : float
        Of it that brightness and colours let through, a limit only as long as the program holds it
    pitch, ohms : float
        From pixel to pixel [m]; both rails together [Ω/m]
    least : float
        Volts a pixel works at [V]
    data_high : float
        Least high level of the data line [V]
    diode_min, diode_max : float
        A diode before the first pixel's supply [V]
    """
    each = white * share
    drop = _far_drop(pixels, each, pitch, ohms, both_ends)
    serves = 1
    while serves < 4 * pixels + 1000 and not falls_short(
        supply_min - run_drop(serves + 1, each, pitch, ohms), least
    ):
        serves += 1
    serves = min(serves, pixels) if not both_ends else serves
    needed = data_share * (supply_max - diode_min)
    return Strip(
        each,
        each * pixels,
        white * pixels,
        drop,
        supply_min - drop,
        serves,
        (2 * serves - 1) * pitch,
        needed,
        not falls_short(data_high, needed),
        not falls_short(supply_min - diode_max, data_share * supply_min),
    )
