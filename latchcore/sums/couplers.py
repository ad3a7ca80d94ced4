"""What an optocoupler's LED wants from a pin, with what its transistor then gives."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.figures import preferred
from latchcore.figures.windows import Bound, Window, resistor_window
from latchcore.figures.working import Working


@dataclass(frozen=True, slots=True)
class CouplerLed:
    """Outcome of :func:`coupler_led`."""

    window: Window
    asked: float
    wanted: float
    raised: bool


def coupler_led(
    *,
    voh_min,
    droop,
    voh_max,
    vf_min,
    vf_max,
    collector_needed,
    ratio_min,
    derating,
    factor,
    default_current,
    pin_current,
    series,
    tolerance,
    working: Working | None = None,
) -> CouplerLed:
    """
    Window for the LED resistor of a transistor coupler on a pin.

    Parameters
    ----------
    voh_min, droop, voh_max : float
        Low level unloaded [V], its fall with current [Ω], stiff high level [V]
    vf_min, vf_max : float
        Forward voltage of the LED [V]
    collector_needed : float
        Current the coupler's transistor must carry saturated [A]
    ratio_min, derating, factor : float
        Least transfer ratio; share left after age and heat; saturation factor
    default_current : float
        LED current to raise to where that still leaves a value [A]
    pin_current : float
        Recommended current of the pin [A]

    Returns
    -------
    CouplerLed

    Notes
    -----
    I_F = factor·I_C/(derating·CTR_min). The default is taken whole or not at all.

    Examples
    --------
    >>> found = coupler_led(voh_min=2.91, droop=0, voh_max=3.465, vf_min=1.12, vf_max=1.43,
    ...     collector_needed=0.00063,
    ...     ratio_min=0.8, derating=0.5, factor=1.2, default_current=0.005, pin_current=0.012,
    ...     series="E24", tolerance=0.05)
    >>> found.raised, found.window.chosen
    (True, 240.0)
    """
    w = working or Working()
    asked = w.calc(
        "I_F_ask",
        "k*I_C_need/(d*CTR_min)",
        "A",
        "least ratio, old and hot",
        "a fifth more than needed, through half the least ratio",
        k=(factor, ""),
        I_C_need=(collector_needed, "A"),
        d=(derating, ""),
        CTR_min=(ratio_min, ""),
    )
    low = w.calc(
        "R_LED_min",
        "(V_OH_max - V_F_min)/I_pin_rec",
        "Ω",
        "stiff high pin, low V_F",
        V_OH_max=(voh_max, "V"),
        V_F_min=(vf_min, "V"),
        I_pin_rec=(pin_current, "A"),
    )

    def window(current) -> Window:
        high = (voh_min - droop * current - vf_max) / current
        return resistor_window(
            series,
            tolerance,
            [Bound("pin_current", low)],
            [Bound("led_least_current", high if high > 0 else None)],
        )

    needed = window(asked)
    if asked < default_current and not needed.empty:
        raised = window(default_current)
        if not raised.empty:
            w.note(
                "I_F",
                "raised to the customary current",
                "A",
                default_current,
                {},
                {},
                "where the window allows",
            )
            return CouplerLed(raised, asked, default_current, True)
    w.note("I_F", "as asked", "A", asked, {}, {})
    return CouplerLed(needed, asked, asked, False)


def led_current(
    voh_min, droop, vf_max, resistance, working: Working | None = None, symbol="I_F_min"
):
    """
    Least LED current through a resistor at the top of its tolerance [A]; 0 where the level is under
    the LED's.

    Examples
    --------
    >>> round(led_current(2.79, 0.0, 1.3, 714.0) * 1e3, 3)
    2.087
    """
    w = working or Working()
    return w.calc(
        symbol,
        "larger(0, (V_OH_min - V_F_max)/(R_LED_max + r_pin))",
        "A",
        "low pin, high V_F, high R",
        V_OH_min=(voh_min, "V"),
        V_F_max=(vf_max, "V"),
        R_LED_max=(resistance, "Ω"),
        r_pin=(droop, "Ω"),
    )


def collector_available(led, ratio_min, derating, working: Working | None = None):
    """
    Collector current a coupler still gives when old and hot [A].

    Examples
    --------
    >>> round(collector_available(0.00208683, 1.3, 0.5) * 1e3, 3)
    1.356
    """
    w = working or Working()
    return w.calc(
        "I_C_avail",
        "I_F_min*CTR_min*d",
        "A",
        "least LED current and ratio, old and hot",
        I_F_min=(led, "A"),
        CTR_min=(ratio_min, ""),
        d=(derating, ""),
    )


def dark_voltage(dark, bleed, tolerance, working: Working | None = None):
    """
    Voltage the hot dark current leaves on a bleeder [V].

    Examples
    --------
    >>> dark_voltage(5e-5, 1e4, 0.05)
    0.525
    """
    w = working or Working()
    return w.calc(
        "V_dark",
        "I_dark*R*(1 + tol)",
        "V",
        "hot, highest dark current",
        I_dark=(dark, "A"),
        R=(bleed, "Ω"),
        tol=(tolerance, ""),
    )


def largest_bleed(dark, limit, tolerance, series="E12"):
    """
    The largest preferred bleeder the dark current cannot lift over a limit [Ω].

    Examples
    --------
    >>> largest_bleed(5e-5, 0.249, 0.05)
    4700.0
    """
    return preferred.largest_below(series, limit / dark / (1 + tolerance))
