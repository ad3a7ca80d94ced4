"""
What a resistor in series with a coil leaves it, and the capacitor across the resistor that lets it
pull in first.
"""

from __future__ import annotations

from latchcore.figures.working import Working

#: Capacitors as sold [F], and how far one may be off.
SIZES = (10e-6, 22e-6, 47e-6, 100e-6, 220e-6, 470e-6, 1e-3, 2.2e-3, 4.7e-3)
CAPACITOR_TOLERANCE = 0.2


def held_volts(supply, coil, resistor, working: Working | None = None):
    """
    Volts a coil is left with behind a resistor, once the capacitor is full [V].

    Examples
    --------
    >>> held_volts(12.0, 90.0, 60.0)
    7.2
    """
    w = working or Working()
    return w.calc(
        "V_hold",
        "V_left*R_coil/(R_coil + R_hold)",
        "V",
        "low supply, cold coil, resistor at its top",
        V_left=(supply, "V"),
        R_coil=(coil, "Ω"),
        R_hold=(resistor, "Ω"),
    )


def _constant(coil, resistor, capacitor):
    return capacitor / (1 / coil + 1 / resistor)


def seat_capacitor(
    supply, held, pull_in, coil, resistor, seat, working: Working | None = None
) -> float | None:
    """
    Least capacitor that still leaves the pull-in volts when the armature should be seated [F];
    ``None`` where none does.

    Notes
    -----
    v(t) = V_hold + (V − V_hold)·e^(−t/τ), τ = C·(R_hold ∥ R_coil): the inductance, which slows the
    current, is left out
    of the voltage and is in the time to seat.

    Examples
    --------
    >>> c = seat_capacitor(12.0, 7.2, 9.6, 90.0, 60.0, 0.05)
    >>> round(c * 1e6), round(seated_volts(12.0, 7.2, 90.0, 60.0, c, 0.05), 6)
    (2004, 9.6)
    >>> seat_capacitor(9.0, 5.0, 9.6, 90.0, 60.0, 0.05) is None
    True
    """
    if supply <= pull_in:
        return None
    if held >= pull_in:
        return 0.0
    w = working or Working()
    return w.calc(
        "C_least",
        "t_seat*(1/R_hold + 1/R_coil)/log((V_left - V_hold)/(V_pi_hot - V_hold))",
        "F",
        "low supply, hot coil",
        t_seat=(seat, "s"),
        R_hold=(resistor, "Ω"),
        R_coil=(coil, "Ω"),
        V_left=(supply, "V"),
        V_hold=(held, "V"),
        V_pi_hot=(pull_in, "V"),
    )


def seated_volts(supply, held, coil, resistor, capacitor, seat, working: Working | None = None):
    """Volts at the coil a time after switching on [V]; see :func:`seat_capacitor`."""
    w = working or Working()
    return w.calc(
        "V_seat",
        "V_hold + (V_left - V_hold)*exp(-t_seat/tau)",
        "V",
        "low supply, capacitor at its bottom",
        V_hold=(held, "V"),
        V_left=(supply, "V"),
        t_seat=(seat, "s"),
        tau=(_constant(coil, resistor, capacitor), "s"),
    )


def recovery(resistor, capacitor, working: Working | None = None):
    """
    Off-time before the next pull-in gets full volts again [s]: five times R·C.

    Examples
    --------
    >>> round(recovery(63.0, 0.00264), 3)
    0.832
    """
    w = working or Working()
    return w.calc(
        "t_pause",
        "5*R_hold*C_hold",
        "s",
        "resistor and capacitor at their top",
        R_hold=(resistor, "Ω"),
        C_hold=(capacitor, "F"),
    )
