"""How much base resistor a saturated bipolar switch wants."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.figures.windows import Bound, Window, resistor_window
from latchcore.figures.working import Working


@dataclass(frozen=True, slots=True)
class BaseResistor:
    """Outcome of :func:`base_resistor`."""

    window: Window
    school: str
    collector_current: float
    base_current_needed: float


def pin_droop(voh_noload, voh_rated, rated_current):
    """
    Slope of a pin's high level against the current it sources [Ω]; 0 for a stiff pin.

    Examples
    --------
    >>> round(pin_droop(3.15, 2.64, 0.020), 1)
    25.5
    """
    return (voh_noload - voh_rated) / rated_current


def base_current(
    voh_noload, droop, base_resistor, vbe, base_emitter_resistor, working: Working | None = None
):
    """
    Base current left after the base-emitter resistor has taken its share.

    Parameters
    ----------
    voh_noload : float or array
        High level of the pin without load [V]
    droop : float or array
        Fall of that level with current [Ω]
    base_resistor, base_emitter_resistor : float or array
        Resistances as they are, tolerance applied [Ω]
    vbe : float or array
        Base-emitter voltage in saturation [V]

    Returns
    -------
    float or array
        Base current [A]; negative where the base-emitter resistor takes more than arrives

    Notes
    -----
    (V_OH − V_BE)/(R_B + r_pin) − V_BE/R_BE. Source: Kirchhoff's laws at the base.

    Examples
    --------
    >>> round(base_current(3.15, 25.5, 346.5, 0.9, 4465) * 1e3, 2)
    5.85
    """
    w = working or Working()
    return w.calc(
        "I_B",
        "(V_OH_min - V_BE_max)/(R_B_max + r_pin) - V_BE_max/R_BE_min",
        "A",
        "least: low pin, high V_BE, high R_B, low R_BE",
        V_OH_min=(voh_noload, "V"),
        V_BE_max=(vbe, "V"),
        R_B_max=(base_resistor, "Ω"),
        r_pin=(droop, "Ω"),
        R_BE_min=(base_emitter_resistor, "Ω"),
    )


def base_current_needed(
    school, collector_current, forced_gain, gain_min, overdrive, gain_limit, w: Working
):
    """Base current by one of the two schools; see :func:`base_resistor`."""
    if school == "forced_gain":
        return w.calc(
            "I_B_need",
            "I_C_max/G",
            "A",
            "highest collector current",
            "forced gain: saturated whatever the part's own gain",
            I_C_max=(collector_current, "A"),
            G=(forced_gain, ""),
        )
    return w.calc(
        "I_B_need",
        "larger(k*I_C_max/hFE_min, I_C_max/G_max)",
        "A",
        "highest collector current, least gain",
        "overdrive: so many times the current the least gain asks for, the forced gain never over"
        " its limit",
        k=(overdrive, ""),
        I_C_max=(collector_current, "A"),
        hFE_min=(gain_min, ""),
        G_max=(gain_limit, ""),
    )


def base_resistor(
    *,
    school,
    collector_current,
    forced_gain,
    gain_min,
    overdrive,
    gain_limit,
    vbe_min,
    vbe_max,
    base_emitter_min,
    voh_noload_min,
    voh_rated_min,
    rated_current,
    voh_max,
    pin_current,
    series,
    tolerance,
    working: Working | None = None,
) -> BaseResistor:
    """
    Window for the base resistor of a low-side bipolar switch.

    Parameters
    ----------
    school : str
        ``forced_gain``, ``overdrive`` or ``auto`` (the first, and where no value passes, the
        second)
    collector_current : float
        Highest of running and surge current [A]
    forced_gain, gain_min, overdrive, gain_limit : float
        Gain of the first school; least gain, overdrive and limit of the second
    vbe_min, vbe_max : float
        Base-emitter voltage in saturation [V]
    base_emitter_min : float or None
        Least base-emitter resistance [Ω]; ``None`` where there is none
    voh_noload_min, voh_rated_min, rated_current : float
        Low corner of the pin's high level: unloaded, at its rated point [V], and that point [A]
    voh_max, pin_current : float
        High corner of the pin, taken stiff [V], and its recommended current [A]
    series, tolerance : str, float
        Preferred series and tolerance of the resistor

    Returns
    -------
    BaseResistor

    Notes
    -----
    R_B,max = (V_OH,min − V_BE,max)/(I_B + V_BE,max/R_BE), R_B,min = (V_OH,max − V_BE,min)/I_pin.
    The low level
    of the pin is taken at the very current the resistor then carries.

    Examples
    --------
    >>> r = base_resistor(school="auto", collector_current=0.076, forced_gain=10, gain_min=100,
    ...     overdrive=3,
    ...     gain_limit=25, vbe_min=0.65, vbe_max=0.9, base_emitter_min=4465, voh_noload_min=3.1,
    ...     voh_rated_min=2.64, rated_current=0.020, voh_max=3.465, pin_current=0.012,
    ...     series="E12", tolerance=0.05)
    >>> r.school, r.window.admissible
    ('overdrive', [270.0, 330.0, 390.0, 470.0, 560.0])
    """
    w = working or Working()
    droop = pin_droop(voh_noload_min, voh_rated_min, rated_current)
    for attempt in ("forced_gain", "overdrive") if school == "auto" else (school,):
        needed = base_current_needed(
            attempt, collector_current, forced_gain, gain_min, overdrive, gain_limit, w
        )
        if base_emitter_min:
            total = w.calc(
                "I_RB",
                "I_B_need + V_BE_max/R_BE_min",
                "A",
                "high V_BE, low R_BE",
                "the base-emitter resistor takes its share first",
                I_B_need=(needed, "A"),
                V_BE_max=(vbe_max, "V"),
                R_BE_min=(base_emitter_min, "Ω"),
            )
        else:
            total = needed
        high = w.calc(
            "R_B_max",
            "(V_OH_min - r_pin*I_RB - V_BE_max)/I_RB",
            "Ω",
            "low pin at that current, high V_BE",
            V_OH_min=(voh_noload_min, "V"),
            r_pin=(droop, "Ω"),
            I_RB=(total, "A"),
            V_BE_max=(vbe_max, "V"),
        )
        low = w.calc(
            "R_B_min",
            "(V_OH_max - V_BE_min)/I_pin_rec",
            "Ω",
            "stiff high pin, low V_BE",
            "never more than the pin's recommended current",
            V_OH_max=(voh_max, "V"),
            V_BE_min=(vbe_min, "V"),
            I_pin_rec=(pin_current, "A"),
        )
        window = resistor_window(
            series,
            tolerance,
            [Bound("pin_current", low)],
            [Bound("base_current", high if high > 0 else None)],
        )
        if not window.empty:
            break
    return BaseResistor(window, attempt, collector_current, needed)
