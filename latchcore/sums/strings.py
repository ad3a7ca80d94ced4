"""How single LEDs are put into strings."""

from __future__ import annotations

import math
from dataclasses import dataclass

from latchcore.figures import preferred
from latchcore.figures.slack import falls_short
from latchcore.figures.working import Working


@dataclass(frozen=True, slots=True)
class Strings:
    """
    Outcome of :func:`led_strings`; ``resistor`` is ``None`` where not even one LED leaves the
    headroom.
    """

    headroom: float
    per_string: int
    count: int
    real_min: float | None
    nominal_min: float | None
    resistor: float | None
    string_most: float | None
    total_most: float | None
    constant_current: bool


def led_strings(
    *,
    supply_min,
    supply_max,
    vf_min,
    vf_max,
    headroom_share,
    constant_over,
    current_max,
    count,
    series,
    tolerance,
    working: Working | None = None,
) -> Strings:
    """
    Most LEDs a string, how many strings, and the smallest resistor that keeps the current.

    Parameters
    ----------
    supply_min, supply_max, vf_min, vf_max : float
        Corners of supply and forward voltage [V]
    headroom_share, constant_over : float
        Share of the lowest supply left to the resistor; share above which constant current is
        advised
    current_max, count : float, int
        Most a string may have [A]; LEDs altogether

    Returns
    -------
    Strings

    Examples
    --------
    >>> found = led_strings(supply_min=11.4, supply_max=12.6, vf_min=1.82, vf_max=2.23,
    ...     headroom_share=0.1,
    ...     constant_over=0.85, current_max=0.02, count=24, series="E12", tolerance=0.05)
    >>> found.per_string, found.count, found.resistor
    (4, 6, 330.0)
    """
    w = working or Working()
    headroom = w.calc(
        "V_head",
        "share*V_min",
        "V",
        "lowest supply",
        share=(headroom_share, ""),
        V_min=(supply_min, "V"),
    )
    fit = w.calc(
        "n_fit",
        "(V_min - V_head)/V_F_max",
        "",
        "lowest supply, highest V_F",
        V_min=(supply_min, "V"),
        V_head=(headroom, "V"),
        V_F_max=(vf_max, "V"),
    )
    per_string = min(math.floor(fit + 1e-9), count)
    if per_string < 1:
        return Strings(headroom, 0, 0, None, None, None, None, None, True)
    strings = math.ceil(count / per_string)
    w.note("n", "whole LEDs in a string", "", per_string, {}, {})
    real = w.calc(
        "R_min",
        "(V_max - n*V_F_min)/I_max",
        "Ω",
        "highest supply, least V_F",
        V_max=(supply_max, "V"),
        n=(per_string, ""),
        V_F_min=(vf_min, "V"),
        I_max=(current_max, "A"),
    )
    nominal = real / (1 - tolerance)
    resistor = float(
        next((v for v in preferred.values(series) if not falls_short(v, nominal)), preferred.MOST)
    )
    most = w.calc(
        "I_string",
        "(V_max - n*V_F_min)/(R*(1 - tol))",
        "A",
        "highest supply, least V_F and R",
        V_max=(supply_max, "V"),
        n=(per_string, ""),
        V_F_min=(vf_min, "V"),
        R=(resistor, "Ω"),
        tol=(tolerance, ""),
    )
    return Strings(
        headroom,
        per_string,
        strings,
        real,
        nominal,
        resistor,
        most,
        most * strings,
        per_string * vf_max > constant_over * supply_min,
    )
