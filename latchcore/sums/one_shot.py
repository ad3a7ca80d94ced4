"""How long a capacitor that charges towards a supply takes to reach a share of it."""

from __future__ import annotations

import math

from latchcore.figures.windows import Bound, Window, resistor_window
from latchcore.figures.working import Working


def charge_time(ohms, farads, share, working: Working | None = None, symbol="t", corner=""):
    """
    Time from empty to a share of what charges it [s]; that supply itself does not matter.

    Examples
    --------
    >>> round(charge_time(95e3, 0.9e-6, 0.6), 4)
    0.0783
    """
    w = working or Working()
    return w.calc(
        symbol,
        "R*C*log(1/(1 - k))",
        "s",
        corner,
        "a share of the supply that charges it",
        R=(ohms, "Ω"),
        C=(farads, "F"),
        k=(share, ""),
    )


def one_shot_resistor(
    *,
    capacitance: float,
    capacitor_tolerance: float,
    tolerance: float,
    share_min: float,
    share_max: float,
    pulse: float,
    most: float | None,
    series: str = "E12",
) -> Window:
    """
    Resistors of a one-shot that outlasts the program's pulse and ends before the coil burns.

    Parameters
    ----------
    capacitance, capacitor_tolerance : float
        [F], share
    tolerance : float
        Of the resistor
    share_min, share_max : float
        Where the threshold lies, as shares of the supply that charges it
    pulse, most : float
        The program's pulse and what the coil survives [s]; ``None`` where nobody knows

    Examples
    --------
    >>> found = one_shot_resistor(capacitance=1e-6, capacitor_tolerance=0.1, tolerance=0.05,
    ...     share_min=0.3, share_max=0.7, pulse=0.03, most=0.26)
    >>> found.admissible, found.chosen
    ([100000.0, 120000.0, 150000.0, 180000.0], 150000.0)
    """
    least = pulse / (capacitance * (1 - capacitor_tolerance) * math.log(1 / (1 - share_min)))
    upper = []
    if most is not None:
        end = most / (capacitance * (1 + capacitor_tolerance) * math.log(1 / (1 - share_max)))
        upper = [Bound("coil_survives", end, "it must end before the coil burns")]
    lower = [Bound("program_pulse", least, "it must outlast the program's pulse")]
    return resistor_window(series, tolerance, lower, upper)
