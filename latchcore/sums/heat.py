"""What gets hot: resistors and junctions."""

from __future__ import annotations

import math

from latchcore.figures.working import Working


def resistor_power(voltage, resistance, tolerance, working: Working | None = None, symbol="P_R"):
    """
    Most heat in a resistor with a steady voltage on it [W].

    Notes
    -----
    V²/(R·(1 − tol)): the least resistance takes the most.

    Examples
    --------
    >>> round(resistor_power(12.6, 630, 0.05), 4)
    0.2653
    """
    w = working or Working()
    return w.calc(
        symbol,
        "V**2/(R*(1 - tol))",
        "W",
        "highest voltage, least resistance",
        V=(voltage, "V"),
        R=(resistance, "Ω"),
        tol=(tolerance, ""),
    )


def saturated_loss(vce, collector_current, vbe, base_current, duty, working: Working | None = None):
    """
    Loss of a saturated bipolar switch [W].

    Notes
    -----
    (V_CE(sat)·I_C + V_BE·I_B)·D, all of the same corner.

    Examples
    --------
    >>> round(saturated_loss(1.3, 0.39, 1.6, 0.019, 0.5), 4)
    0.2687
    """
    w = working or Working()
    return w.calc(
        "P",
        "(V_CE_sat*I_C + V_BE*I_B)*D",
        "W",
        "highest current and drop",
        V_CE_sat=(vce, "V"),
        I_C=(collector_current, "A"),
        V_BE=(vbe, "V"),
        I_B=(base_current, "A"),
        D=(duty, ""),
    )


def junction(power, theta, ambient, working: Working | None = None):
    """
    Junction temperature [°C].

    Examples
    --------
    >>> round(junction(0.2687, 250, 50), 1)
    117.2
    """
    w = working or Working()
    return w.calc(
        "T_J",
        "T_A + P*theta_JA",
        "°C",
        "highest ambient",
        T_A=(ambient, "°C"),
        P=(power, "W"),
        theta_JA=(theta, "K/W"),
    )


def pulse_knots(pulse, steady, holds, share, half_cycle, steady_time) -> list[tuple[float, float]]:
    """
    What a semiconductor bears for how long, as (seconds, amperes).

    Parameters
    ----------
    pulse, steady : float
        Its pulse rating and its continuous rating, both peak or both steady [A]
    holds : float
        How long a pulse the rating is printed for [s]
    share : float
        What is left at a half-cycle, times the continuous rating, where the print is for less
    half_cycle, steady_time : float
        A half-cycle of the line, and when nothing is averaged any more [s]

    Examples
    --------
    >>> pulse_knots(70.0, 11.3, 0.01, 2.0, 0.01, 1.0)
    [(0.01, 70.0), (1.0, 11.3)]
    >>> pulse_knots(24.0, 6.0, 0.0003, 2.0, 0.01, 1.0)
    [(0.0003, 24.0), (0.01, 12.0), (1.0, 6.0)]
    """
    between = [(half_cycle, min(pulse, share * steady))] if holds < half_cycle else []
    return [(holds, pulse), *between, (steady_time, min(steady, pulse))]


def surge_limit(
    knots: list[tuple[float, float]], lasts: float, working: Working | None = None
) -> float:
    """
    Current a semiconductor bears for as long as a surge lasts [A].

    Parameters
    ----------
    knots : list of (seconds, amperes)
        What it bears for how long, shortest first
    lasts : float
        How long the surge lasts [s]

    Notes
    -----
    The pulse rating for as long as it is printed for, the continuous one once the junction has
    caught up with its case; straight on logarithms between.

    Examples
    --------
    >>> triac = [(0.01, 70.0), (1.0, 11.3)]
    >>> [round(surge_limit(triac, t), 1) for t in (0.001, 0.01, 0.1, 1.0, 5.0)]
    [70.0, 70.0, 28.1, 11.3, 11.3]
    >>> mosfet = [(0.0003, 24.0), (0.01, 12.0), (1.0, 6.0)]
    >>> [round(surge_limit(mosfet, t), 1) for t in (0.0003, 0.003, 0.01, 0.1)]
    [24.0, 15.2, 12.0, 8.5]
    """
    w = working or Working()
    if lasts <= knots[0][0]:
        return knots[0][1]
    at = min(lasts, knots[-1][0])
    (t0, high), (t1, low) = next(
        (a, b) for a, b in zip(knots, knots[1:], strict=False) if at <= b[0]
    )
    return w.calc(
        "I_bears",
        "I_shorter*(I_longer/I_shorter)**k_t",
        "A",
        f"for {lasts:g} s",
        "what it bears falls with time, straight on logarithms",
        I_shorter=(high, "A"),
        I_longer=(low, "A"),
        k_t=(math.log(at / t0) / math.log(t1 / t0), ""),
    )
