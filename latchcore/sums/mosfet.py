"""How a MOSFET gate is driven from a pin, with what it heats."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.figures.windows import Bound, Window, resistor_window
from latchcore.figures.working import Working

#: Rise of on-resistance with temperature per kelvin, to the 100 V class and above it.
ON_RESISTANCE_RISE_LOW, ON_RESISTANCE_RISE_HIGH, RISE_CLASS = 0.008, 0.012, 100.0
#: The pin's own resistance that the gate current also flows through [Ω].
PIN_RESISTANCE_MIN, PIN_RESISTANCE_MAX = 25.0, 100.0


def gate_voltage(
    side,
    voh_noload,
    droop,
    gate_resistor,
    pull_down,
    working: Working | None = None,
    symbol="V_GS_on",
    corner="least",
):
    """
    Static gate voltage of a pin that drives a gate with a pull-down.

    Parameters
    ----------
    side : str
        ``pin``: pull-down on the pin side of the gate resistor, no divider; ``gate``: it divides;
        ``none``
    voh_noload, droop : float or array
        High level of the unloaded pin [V] and its fall with current [Ω]
    gate_resistor, pull_down : float or array
        Resistances at their corner [Ω]

    Returns
    -------
    float or array
        Gate voltage [V]

    Notes
    -----
    V_OH·R_pd/(r_pin + R_pd) on the pin side, V_OH·R_pd/(r_pin + R_g + R_pd) on the gate side.

    Examples
    --------
    >>> round(gate_voltage("gate", 3.15, 30.5, 2310, 4465), 3), round(gate_voltage("pin", 3.15,
    ...     30.5, 330, 4465), 3)
    (2.067, 3.129)
    """
    w = working or Working()
    if side == "none":
        return w.calc(
            symbol, "V_OH", "V", corner, "no pull-down: the whole level", V_OH=(voh_noload, "V")
        )
    if side == "pin":
        return w.calc(
            symbol,
            "V_OH*R_pd/(r_pin + R_pd)",
            "V",
            corner,
            "pull-down on the pin side: no divider, a little droop",
            V_OH=(voh_noload, "V"),
            R_pd=(pull_down, "Ω"),
            r_pin=(droop, "Ω"),
        )
    return w.calc(
        symbol,
        "V_OH*R_pd/(r_pin + R_g + R_pd)",
        "V",
        corner,
        "pull-down on the gate side divides the level",
        V_OH=(voh_noload, "V"),
        R_pd=(pull_down, "Ω"),
        R_g=(gate_resistor, "Ω"),
        r_pin=(droop, "Ω"),
    )


def plateau_time(
    charge, gate_resistor, pin_resistance, headroom, working: Working | None = None, symbol="t_on"
):
    """
    Time the gate stays on its plateau [s].

    Notes
    -----
    t = Q_GD·(R_g + R_pin)/(V_OH − V_plateau) on the way up, over (V_plateau − V_OL) on the way
    down.

    Examples
    --------
    >>> round(plateau_time(4.57e-9, 493.5, 100, 1.58) * 1e6, 3)
    1.717
    """
    w = working or Working()
    return w.calc(
        symbol,
        "Q_GD*(R_g + R_pin)/V_left",
        "s",
        "high R_g and pin resistance, least volts left at the plateau",
        Q_GD=(charge, "C"),
        R_g=(gate_resistor, "Ω"),
        R_pin=(pin_resistance, "Ω"),
        V_left=(headroom, "V"),
    )


def gate_resistor(
    *,
    voh_min,
    voh_max,
    vol_max,
    plateau_min,
    plateau_max,
    charge,
    pin_absolute,
    least_value,
    time_limit,
    series,
    tolerance,
    pin_resistance_max=PIN_RESISTANCE_MAX,
    working: Working | None = None,
) -> Window:
    """
    Window for the series gate resistor of a MOSFET on a pin.

    Parameters
    ----------
    voh_min, voh_max, vol_max : float
        Corners of the pin's levels [V]
    plateau_min, plateau_max : float
        Gate plateau voltage [V]
    charge : float
        Gate-drain charge, with the second part of the gate-source charge where it is given [C]
    pin_absolute : float
        Absolute limit of the pin's current [A]
    least_value : float
        Least printed value, itself allowed [Ω]
    time_limit : float
        Longest time either plateau may take [s]

    Returns
    -------
    Window

    Examples
    --------
    >>> gate_resistor(voh_min=4.28, voh_max=5.25, vol_max=0.15, plateau_min=1.74, plateau_max=2.7,
    ...     charge=4.57e-9,
    ...     pin_absolute=0.04, least_value=220, time_limit=3.14e-6, series="E12",
    ...     tolerance=0.05).chosen
    470.0
    """
    w = working or Working()
    low = w.calc(
        "R_g_min",
        "V_OH_max/I_pin_abs",
        "Ω",
        "high pin, empty gate",
        "at the first instant the gate is a short; the pin's own resistance is not counted on",
        V_OH_max=(voh_max, "V"),
        I_pin_abs=(pin_absolute, "A"),
    )
    tops = []
    for symbol, left, why in (
        ("R_g_on", voh_min - plateau_max, "rising through the plateau in time"),
        ("R_g_off", plateau_min - vol_max, "falling through the plateau in time"),
    ):
        if left <= 0:
            tops.append(Bound("switch_time", None, why))
            continue
        top = w.calc(
            symbol,
            "t_limit*V_left/Q_GD - R_pin",
            "Ω",
            "least volts left at the plateau",
            why,
            t_limit=(time_limit, "s"),
            V_left=(left, "V"),
            Q_GD=(charge, "C"),
            R_pin=(pin_resistance_max, "Ω"),
        )
        tops.append(Bound("switch_time", top, why))
    floor = Bound("least_value", least_value)
    return resistor_window(series, tolerance, [Bound("pin_absolute_current", low)], tops, floor)


@dataclass(frozen=True, slots=True)
class SelfHeating:
    """Outcome of :func:`self_heating`; ``None`` where the temperature runs away."""

    runaway: bool
    junction: float | None
    on_resistance: float | None
    power: float | None


def rise_of(voltage_class: float) -> float:
    """Temperature coefficient of on-resistance for a voltage class [1/K]."""
    return ON_RESISTANCE_RISE_LOW if voltage_class <= RISE_CLASS else ON_RESISTANCE_RISE_HIGH


def effective_duty(duty, on_time, continuous_over):
    """
    Duty that may be used for heat: an on-time over the limit counts as continuous.

    Examples
    --------
    >>> effective_duty(0.5, 0.4, 0.1), effective_duty(0.5, 0.004, 0.1)
    (1.0, 0.5)
    """
    return 1.0 if on_time > continuous_over else duty


def self_heating(
    *,
    current,
    on_resistance_25,
    rise,
    switching_loss,
    theta,
    ambient,
    duty,
    working: Working | None = None,
) -> SelfHeating:
    """
    Junction temperature where the loss and the on-resistance it raises agree.

    Parameters
    ----------
    current : float
        Highest current, all loads on the stage together [A]
    on_resistance_25 : float
        Highest on-resistance at 25 °C at the gate voltage available [Ω]
    rise : float
        Temperature coefficient [1/K]
    switching_loss, theta, ambient, duty : float
        [W], [K/W], [°C], share of time

    Returns
    -------
    SelfHeating

    Notes
    -----
    T_J = (T_A + θ·(P_sw + I²·R_25·(1 − 25a)·D))/(1 − θ·I²·R_25·a·D); a denominator of zero or less
    is runaway.

    Examples
    --------
    >>> round(self_heating(current=2.36, on_resistance_25=0.0328, rise=0.008, switching_loss=0.11,
    ...     theta=50,
    ...     ambient=50, duty=0.75).junction, 2)
    64.52
    """
    w = working or Working()
    common = dict(
        theta=(theta, "K/W"),
        I=(current, "A"),
        R_25=(on_resistance_25, "Ω"),
        a=(rise, "1/K"),
        D=(duty, ""),
    )
    margin = w.calc(
        "d",
        "1 - theta*I**2*R_25*a*D",
        "",
        "highest current and on-resistance",
        "zero or less would be thermal runaway",
        **common,
    )
    if margin <= 0:
        return SelfHeating(True, None, None, None)
    junction = w.calc(
        "T_J",
        "(T_A + theta*(P_sw + I**2*R_25*(1 - 25*a)*D))/d",
        "°C",
        "highest current, on-resistance and ambient",
        T_A=(ambient, "°C"),
        P_sw=(switching_loss, "W"),
        d=(margin, ""),
        **common,  # type: ignore[arg-type]
    )
    hot = w.calc(
        "R_hot",
        "R_25*(1 + a*(T_J - 25))",
        "Ω",
        "at that junction temperature",
        R_25=(on_resistance_25, "Ω"),
        a=(rise, "1/K"),
        T_J=(junction, "°C"),
    )
    power = w.calc(
        "P",
        "P_sw + I**2*R_hot*D",
        "W",
        "at that junction temperature",
        P_sw=(switching_loss, "W"),
        I=(current, "A"),
        R_hot=(hot, "Ω"),
        D=(duty, ""),
    )
    return SelfHeating(False, junction, hot, power)


def switching_loss(
    switched_voltage, current, turn_on, turn_off, frequency, working: Working | None = None
):
    """
    Average loss in the edges [W].

    Notes
    -----
    ½·V·I·(t_on + t_off)·f with V the clamped voltage for an inductive load.

    Examples
    --------
    >>> round(switching_loss(26.3, 2.4, 4.52e-7, 1.31e-7, 500) * 1e3, 2)
    9.2
    """
    w = working or Working()
    return w.calc(
        "P_sw",
        "0.5*V*I*(t_on + t_off)*f",
        "W",
        "highest supply with the clamp on top",
        V=(switched_voltage, "V"),
        I=(current, "A"),
        t_on=(turn_on, "s"),
        t_off=(turn_off, "s"),
        f=(frequency, "Hz"),
    )
