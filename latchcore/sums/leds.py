"""Which series resistor an LED on a pin wants."""

from __future__ import annotations

from latchcore.figures.windows import Bound, Window, resistor_window
from latchcore.figures.working import Working


def led_resistor(
    *,
    level_min,
    level_max,
    droop,
    vf_min,
    vf_max,
    least_current,
    pin_current,
    led_current,
    series,
    tolerance,
    working: Working | None = None,
) -> Window:
    """
    Window for the series resistor of an LED driven straight from a pin.

    Parameters
    ----------
    level_min, level_max : float
        Corners of the voltage across resistor and LED, pin unloaded at the low one [V]
    droop : float
        Fall of the low corner with current [Ω]
    vf_min, vf_max : float
        Forward voltage [V]
    least_current, pin_current, led_current : float
        Wanted at the dim corner; recommended for the pin; allowed for the LED [A]

    Returns
    -------
    Window

    Examples
    --------
    >>> led_resistor(level_min=2.68, level_max=3.465, droop=0, vf_min=1.8, vf_max=2.02,
    ...     least_current=0.0025,
    ...     pin_current=0.02, led_current=0.02, series="E12", tolerance=0.05).chosen
    150.0
    """
    w = working or Working()
    high = w.calc(
        "R_max",
        "(V_min - r_pin*I_want - V_F_max)/I_want",
        "Ω",
        "low pin, high V_F",
        "bright enough at the dim corner",
        V_min=(level_min, "V"),
        r_pin=(droop, "Ω"),
        V_F_max=(vf_max, "V"),
        I_want=(least_current, "A"),
    )
    low_pin = w.calc(
        "R_min_pin",
        "(V_max - V_F_min)/I_pin_rec",
        "Ω",
        "stiff high pin, low V_F",
        V_max=(level_max, "V"),
        V_F_min=(vf_min, "V"),
        I_pin_rec=(pin_current, "A"),
    )
    low_led = w.calc(
        "R_min_LED",
        "(V_max - V_F_min)/I_LED_max",
        "Ω",
        "stiff high pin, low V_F",
        V_max=(level_max, "V"),
        V_F_min=(vf_min, "V"),
        I_LED_max=(led_current, "A"),
    )
    return resistor_window(
        series,
        tolerance,
        [Bound("pin_current", low_pin), Bound("led_maximum_current", low_led)],
        [Bound("led_least_current", high if high > 0 else None)],
    )
