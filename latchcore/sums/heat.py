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


def surge_limit(pulse, steady, lasts, pulse_time, steady_time, working: Working | None = None):
    """
    Current a semiconductor bears for as long as a surge lasts [A].

    Parameters
    ----------
    pulse, steady : float
        Its pulse rating and its continuous rating, both peak or both steady [A]
    lasts : float
        How long the surge lasts [s]
    pulse_time, steady_time : float
        Up to when the pulse rating holds, and from when nothing is averaged any more [s]

    Notes
    -----
    The pulse rating up to its own time, the continuous one once the junction has caught up with its
    case, straight on
    logarithms between.

    Examples
    --------
    >>> [round(surge_limit(70.0, 11.3, t, 0.01, 1.0), 1) for t in (0.001, 0.01, 0.1, 1.0, 5.0)]
    [70.0, 70.0, 28.1, 11.3, 11.3]
    """
    w = working or Working()
    at = min(max(lasts, pulse_time), steady_time)
    power = math.log(at / pulse_time) / math.log(steady_time / pulse_time)
    return w.calc(
        "I_bears",
        "I_pulse_rated*(I_steady_rated/I_pulse_rated)**k_t",
        "A",
        f"for {lasts:g} s",
        "the pulse rating falls to the continuous one, straight on logarithms",
        I_pulse_rated=(pulse, "A"),
        I_steady_rated=(steady, "A"),
        k_t=(power, ""),
    )
