"""
Triacs driven by a coupler: the gate's resistor between two bounds, the driver's LED, the heat that
must leave.
"""

from __future__ import annotations

import math

from latchcore.figures.windows import Bound, Window, resistor_window
from latchcore.figures.working import Working

#: The driver's LED gets so many times its trigger current; the triac must have fired so long after
#: the zero [s].
TRIGGER_FACTOR, TRIGGER_BY = 1.3, 0.5e-3
#: Junction is kept so far under its limit [K]; up to this current a bare board sheds the heat [A].
MARGIN, BARE_BOARD = 25.0, 2.0


def gate_resistor(
    line_min: float,
    line_max: float,
    slowest: float,
    surge: float,
    trigger: float,
    v_gt: float,
    v_tm: float,
    series: str,
    tolerance: float,
    by: float = TRIGGER_BY,
    load: float = 0.0,
    working: Working | None = None,
) -> Window:
    """
    Window of the resistor between driver and gate.

    Parameters
    ----------
    line_min, line_max : float
        [V rms]
    slowest : float
        Lowest line frequency [Hz]
    surge : float
        What the driver survives once a half-cycle [A]
    trigger, v_gt, v_tm : float
        Trigger current of the cold triac [A], gate voltage and the driver's own drop [V]
    by : float
        When it must have fired after the zero, or the shortest firing delay if later [s]
    load : float
        Highest resistance of the load, which lies in the gate's path [Ω]

    Notes
    -----
    Least: the highest peak over the driver's surge. Most: its drop, with load, gate and driver, not
    above what the lowest line has reached by then. The least preferred value that passes is taken:
    less heat, sooner fired.

    Examples
    --------
    >>> gate_resistor(207, 253, 47, 1.0, 15e-3, 1.4, 2.5, "E12", 0.05, 0.8e-3).admissible[0]
    390.0
    >>> gate_resistor(207, 253, 47, 1.0, 50e-3, 1.5, 2.5, "E12", 0.05, load=926).chosen is None
    True
    """
    w = working or Working()
    peak = w.calc(
        "V_peak_max", "V_line_max*sqrt(2)", "V", "highest line", V_line_max=(line_max, "V")
    )
    least = w.calc(
        "R_gate_least",
        "V_peak_max/I_driver",
        "Ω",
        "highest peak",
        "fired at the peak the driver sees it all",
        V_peak_max=(peak, "V"),
        I_driver=(surge, "A"),
    )
    reached = w.calc(
        "V_by",
        "V_line_min*sqrt(2)*s_by",
        "V",
        "lowest line, lowest frequency",
        "what the line has reached when it must have fired",
        V_line_min=(line_min, "V"),
        s_by=(math.sin(2 * math.pi * slowest * by), ""),
    )
    left = w.calc(
        "V_left",
        "V_by - V_GT - V_TM",
        "V",
        "lowest line, lowest frequency",
        V_by=(reached, "V"),
        V_GT=(v_gt, "V"),
        V_TM=(v_tm, "V"),
    )
    most = (
        w.calc(
            "R_gate_most",
            "V_left/I_GT" + (" - R_load" if load else ""),
            "Ω",
            "cold triac" + (", highest load resistance" if load else ""),
            "the gate's current flows through the load" if load else "",
            V_left=(left, "V"),
            I_GT=(trigger, "A"),
            **({"R_load": (load, "Ω")} if load else {}),
        )
        if left > 0
        else None
    )
    if most is not None and most <= 0:
        most = None
    return resistor_window(
        series,
        tolerance,
        [Bound("driver_surge", least)],
        [Bound("trigger_voltage", most)],
        prefer="least",
    )


def fires_at(
    resistor: float,
    tolerance: float,
    trigger: float,
    v_gt: float,
    v_tm: float,
    line_min: float,
    slowest: float,
    load: float = 0.0,
) -> tuple[float, float | None]:
    """
    Voltage at which the triac has fired [V], and when the lowest line reaches it [s]; ``None``
    where it never does. ``load`` is the resistance of the load in the gate's path [Ω].

    Examples
    --------
    >>> volts, at = fires_at(390.0, 0.05, 15e-3, 1.4, 2.5, 207.0, 47.0)
    >>> round(volts, 4), round(at * 1e6, 1)
    (10.0425, 116.2)
    """
    volts = trigger * (resistor * (1 + tolerance) + load) + v_gt + v_tm
    share = volts / (line_min * math.sqrt(2))
    return volts, math.asin(share) / (2 * math.pi * slowest) if share <= 1 else None


def latched_after(latching: float, load: float, line_min: float, slowest: float) -> float | None:
    """
    When a resistive load lets through what keeps a triac on without its gate [s after the zero];
    ``None`` where it never does.

    Parameters
    ----------
    latching : float
        Latching current of the triac [A]
    load : float
        Highest resistance of the load [Ω]
    line_min, slowest : float
        Lowest line [V rms] and line frequency [Hz]

    Examples
    --------
    >>> round(latched_after(50e-3, 926, 207, 47) * 1e6), latched_after(50e-3, 6000, 207, 47)
    (538, None)
    """
    share = latching * load / (line_min * math.sqrt(2))
    return math.asin(share) / (2 * math.pi * slowest) if share <= 1 else None


def driver_led(
    high_min: float,
    high_max: float,
    forward,
    trigger: float,
    pin: float,
    series: str,
    tolerance: float,
    factor: float = TRIGGER_FACTOR,
    working: Working | None = None,
) -> Window:
    """
    Window of the LED resistor of a triac driver on a pin.

    Parameters
    ----------
    high_min, high_max : float
        High level of the pin at its corners [V]
    forward : Spread
        Of the LED [V]
    trigger, pin : float
        Highest trigger current of the driver, recommended current of the pin [A]

    Examples
    --------
    >>> from latchcore.figures.spread import Spread
    >>> driver_led(4.37, 5.25, Spread(1.03, 1.2, 1.36), 5e-3, 20e-3, "E12", 0.05).chosen
    330.0
    """
    w = working or Working()
    wanted = w.calc(
        "I_FT_want", "k*I_FT_max", "A", "weakest driver", k=(factor, ""), I_FT_max=(trigger, "A")
    )
    room = w.calc(
        "V_LED_room",
        "V_OH_min - V_F_max",
        "V",
        "low pin, high V_F",
        V_OH_min=(high_min, "V"),
        V_F_max=(forward.max, "V"),
    )
    most = (
        w.calc(
            "R_LED_most",
            "V_LED_room/I_FT_want",
            "Ω",
            "low pin, high V_F",
            V_LED_room=(room, "V"),
            I_FT_want=(wanted, "A"),
        )
        if room > 0
        else None
    )
    least = w.calc(
        "R_LED_least",
        "(V_OH_max - V_F_min)/I_pin",
        "Ω",
        "high pin, low V_F",
        V_OH_max=(high_max, "V"),
        V_F_min=(forward.min, "V"),
        I_pin=(pin, "A"),
    )
    return resistor_window(
        series, tolerance, [Bound("pin_current", least)], [Bound("led_least_current", most)]
    )


def heat_sink(
    junction: float,
    ambient: float,
    theta_jc: float,
    theta_cs: float,
    drop: float,
    current: float,
    margin: float = MARGIN,
    working: Working | None = None,
) -> tuple[float, bool, float | None]:
    """
    Heat [W], whether any sink can do, and the most its thermal resistance may be [K/W]; ``None``
    where none is needed or none can.

    Examples
    --------
    >>> power, possible, sink = heat_sink(125, 45, 1.0, 0.28, 1.2, 3.2)
    >>> round(power, 2), possible, round(sink, 3)
    (3.84, True, 13.043)
    """
    w = working or Working()
    power = w.calc(
        "P_switch",
        "V_T*I_rms",
        "W",
        "highest drop and current",
        "an upper bound: the drop is taken as constant",
        V_T=(drop, "V"),
        I_rms=(current, "A"),
    )
    if power <= 0:
        return 0.0, True, None
    budget = w.calc(
        "theta_SA",
        "(T_J_max - m - T_A)/P_switch - theta_JC - theta_CS",
        "K/W",
        "highest ambient",
        T_J_max=(junction, "°C"),
        m=(margin, "K"),
        T_A=(ambient, "°C"),
        P_switch=(power, "W"),
        theta_JC=(theta_jc, "K/W"),
        theta_CS=(theta_cs, "K/W"),
    )
    return power, budget > 0, budget if budget > 0 else None
