"""
Copper wire and what protects it: cross-section, drop, the current it may carry, the fuse that fits.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from latchcore.figures.quantity import gauge_area
from latchcore.figures.slack import exceeds, falls_short
from latchcore.figures.working import Working

#: Resistivity of copper at 20 °C [Ω·m].
COPPER = 1.724e-8
#: Low-voltage single wires in free air: cross-section [m²] and current [A].
SINGLE = {
    0.14e-6: 1.5,
    0.22e-6: 2.5,
    0.34e-6: 4.0,
    0.5e-6: 6.0,
    0.75e-6: 9.0,
    1.0e-6: 11.0,
    1.5e-6: 15.0,
    2.5e-6: 21.0,
}
#: Mains flexes, the same.
FLEX = {0.5e-6: 3.0, 0.75e-6: 6.0, 1.0e-6: 10.0, 1.5e-6: 16.0, 2.5e-6: 25.0}
#: Flexes by gauge number, as they are sold in North America.
GAUGE_FLEX = {gauge_area(18): 10.0, gauge_area(16): 13.0, gauge_area(14): 15.0}
#: A jumper lead of a breadboard [A].
JUMPER = 1.0
LAYING = {"free": 1.0, "bundled": 0.7, "enclosed": 0.7, "coiled": 0.5}
#: A cross-section is printed to two digits.
PRINTED = 1.006
#: Slow fuses: least melting time at multiples of the rating.
SLOW_MULTIPLES, SLOW_TIMES, SLOW_ABOVE = (2.75, 4.0, 10.0), (0.6, 0.15, 0.02), -2.0
FUSES = (
    0.1,
    0.125,
    0.16,
    0.2,
    0.25,
    0.315,
    0.4,
    0.5,
    0.63,
    0.8,
    1.0,
    1.25,
    1.6,
    2.0,
    2.5,
    3.15,
    4.0,
    5.0,
    6.3,
    8.0,
    10.0,
    12.5,
    16.0,
    20.0,
    25.0,
)


def area_words(area: float, table: dict[float, float]) -> str:
    """
    A cross-section in the words of its table: square millimetres, or a gauge number.

    Examples
    --------
    >>> area_words(0.75e-6, FLEX), area_words(gauge_area(16), GAUGE_FLEX)
    ('0.75 mm²', 'AWG 16')
    """
    if table is GAUGE_FLEX:
        return f"AWG {round(36 - 19.5 * math.log(area / 0.012668e-6, 92))}"
    return f"{area * 1e6:g} mm²"


def wire_resistance(length: float, area: float) -> float:
    """
    Resistance of a wire out and back [Ω], length one way [m], cross-section [m²], at 20 °C.

    Examples
    --------
    >>> round(wire_resistance(10.0, 0.22e-6), 3)
    1.567
    """
    return 2 * COPPER * length / area


def wire_drop(length, area, current, supply, working: Working | None = None):
    """
    Drop of a wire out and back [V], length one way [m], cross-section [m²], as recorded with its
    share of the supply.

    Examples
    --------
    >>> round(wire_drop(4.5, 1e-6, 7.1, 24.0), 4)
    1.1016
    """
    w = working or Working()
    resistance = w.calc(
        "R_wire",
        "2*rho*l/A",
        "Ω",
        "20 °C, out and back",
        rho=(COPPER, ""),
        l=(length, ""),
        A=(area, ""),
    )
    drop = w.calc(
        "V_wire",
        "I_load*R_wire",
        "V",
        "running current",
        I_load=(current, "A"),
        R_wire=(resistance, "Ω"),
    )
    w.calc(
        "d_wire",
        "V_wire/V_supply",
        "",
        "of the typical rail",
        V_wire=(drop, "V"),
        V_supply=(supply, "V"),
    )
    return drop


def ampacity(
    area: float, table: dict[float, float], laying: str | float = "free", plug: float | None = None
) -> float | None:
    """
    Current a wire may carry [A]; ``None`` where it is thinner than the table's first.

    Notes
    -----
    The figure of the next smaller size, above the largest that of the largest, times how it lies,
    never above the plug.

    Examples
    --------
    >>> ampacity(0.6e-6, SINGLE), ampacity(0.1e-6, SINGLE), ampacity(4e-6, FLEX, "coiled", 10.0)
    (6.0, None, 10.0)
    """
    # A gauge is printed rounded: 0.82 mm² is AWG 18.
    sizes = [a for a in table if a <= area * PRINTED]
    if not sizes:
        return None
    carried = table[max(sizes)] * (LAYING[laying] if isinstance(laying, str) else laying)
    return min(carried, plug) if plug is not None else carried


def least_area(current: float, table: dict[float, float], laying: str = "free") -> float | None:
    """
    The thinnest wire of a table that carries a current [m²]; ``None`` above the last.

    Examples
    --------
    >>> least_area(2.0, SINGLE), least_area(60.0, SINGLE) is None
    (2.2e-07, True)
    """
    return next(
        (area for area, most in table.items() if not falls_short(most * LAYING[laying], current)),
        None,
    )


def melting_time(multiple, multiples=SLOW_MULTIPLES, times=SLOW_TIMES, above=SLOW_ABOVE) -> float:
    """
    Least time a slow fuse bears so many times its rating [s].

    Examples
    --------
    >>> round(melting_time(2.0), 3), round(melting_time(20.0), 4)
    (0.6, 0.005)
    """
    if multiple >= multiples[-1]:
        return times[-1] * (multiple / multiples[-1]) ** above
    return float(np.exp(np.interp(math.log(multiple), np.log(multiples), np.log(times))))


@dataclass(frozen=True, slots=True)
class FuseChoice:
    """
    Outcome of :func:`choose_fuse`: ratings that pass with their melting times, or the limits that
    alone stand in the way.
    """

    admissible: tuple[float, ...]
    melting: tuple[float, ...]
    cures: tuple[str, ...]


def choose_fuse(
    *,
    running,
    surge,
    surge_time,
    wire,
    plug=None,
    contact=None,
    low=1.25,
    high=1.6,
    stock=FUSES,
    multiples=SLOW_MULTIPLES,
    times=SLOW_TIMES,
    above=SLOW_ABOVE,
) -> FuseChoice:
    """
    Slow fuses that fit a running current, stand its surge, and melt before wire, plug and contact
    suffer.

    Parameters
    ----------
    running, surge : float
        [A]
    surge_time : float
        How long the surge lasts [s]
    wire, plug, contact : float, optional
        What each may carry [A]
    low, high : float
        Window in multiples of the running current

    Examples
    --------
    >>> choose_fuse(running=2.1, surge=16.0, surge_time=0.067, wire=4.0, plug=10.0,
    ...     contact=5.0).admissible
    (3.15,)
    """

    def passes(rating: float) -> dict[str, bool]:
        return {
            "running_low": not falls_short(rating, low * running),
            "running_high": not exceeds(rating, high * running),
            "wire": wire is None or not exceeds(rating, wire),
            "plug": plug is None or not exceeds(rating, plug),
            "contact": contact is None or not exceeds(rating, contact),
            "surge": (
                surge <= 0 or melting_time(surge / rating, multiples, times, above) > surge_time
            ),
        }

    tried = {rating: passes(rating) for rating in stock}
    fits = tuple(r for r, p in tried.items() if all(p.values()))
    if fits:
        return FuseChoice(
            fits, tuple(melting_time(surge / r, multiples, times, above) for r in fits), ()
        )
    failing = [[name for name, good in p.items() if not good] for p in tried.values()]
    names = ("running_low", "running_high", "wire", "plug", "contact", "surge")
    return FuseChoice((), (), tuple(n for n in names if any(f == [n] for f in failing)))
