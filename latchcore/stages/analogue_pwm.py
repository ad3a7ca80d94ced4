"""Filtered pulse-width modulation through a coupler in the place of somebody else's knob."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.preferred import between
from latchcore.figures.quantity import resistor_code, show
from latchcore.figures.resistance import Resistor, resistor_words
from latchcore.pieces import lines
from latchcore.pieces.coupler_driver import COUPLER_SETTINGS, coupler
from latchcore.pieces.frame import Traits, add_part, model_only, pwm_measure

kind = "analogue_pwm"
title = "Filtered PWM through a coupler"
summary = (
    "A coupler chops the knob's own voltage, a resistor and a capacitor smooth it; slow, but few"
    " parts."
)
settings = (
    *COUPLER_SETTINGS,
    Setting("filter_resistor", "Filter resistor", "ohms"),
    Setting("resistor_watts", "Resistor rating", "watts"),
)
traits = Traits(isolates=True, cost=3, fails="open or shorted: one end of the range")
suits = model_only("analogue")
missing = lines.no_rail_needed
#: Pull-up at the coupler's collector [Ω], steps the smoothed level should resolve, frequency while
#: none is given [Hz].
PULL_UP, STEPS, USUAL_PWM = Resistor(2.2e3, 0.05), 64, 200.0
STOCK_CAPACITORS = (1e-6, 2.2e-6, 4.7e-6, 10e-6, 22e-6, 47e-6, 100e-6)


def size(context: ChannelContext) -> StageResult:
    """Size filter and coupler for the knob's volts."""
    result = StageResult(kind, title)
    w, load, add = result.working, context.load, result.measures.append
    current = w.calc(
        "I_pull",
        "V_track_max/(R_up*(1 - tol))",
        "A",
        "highest",
        V_track_max=(load.rated * 1.1, "V"),
        R_up=(PULL_UP, "Ω"),
        tol=(PULL_UP.tolerance, ""),
    )
    prefix = context.channel.id
    top, bottom, chopped, out = (f"{prefix}.{n}" for n in ("LINE+", "LINE-", "CHOP", "WIPER"))
    driver = coupler(context, result, current, chopped, bottom)
    fastest = pwm_measure(context, result, driver.turn_on, driver.turn_off)
    frequency = context.frequency or min(USUAL_PWM, fastest)
    w.note("f", "as given, or the usual", "Hz", frequency, {}, {})
    # The input behind the knob loads the filter: a tenth of the track's resistance keeps the level
    # true.
    wanted = max(load.resistance.typ / 10, 1e3)
    yours = context.ohms("filter_resistor")
    resistor = yours or context.resistor(between("E12", 1.0, wanted)[-1])
    least = w.calc(
        "C_min",
        "n/(4*f*R*(1 - tol))",
        "F",
        "half duty is the worst",
        "ripple under one step of the range",
        n=(STEPS, ""),
        f=(frequency, "Hz"),
        R=(resistor, "Ω"),
        tol=(resistor.tolerance, ""),
    )
    capacitor = next((c for c in STOCK_CAPACITORS if 0.8 * c >= least), STOCK_CAPACITORS[-1])
    ripple = w.calc(
        "V_ripple",
        "V_track/(4*f*R*0.8*C)",
        "V",
        "half duty, capacitor at its least",
        V_track=(load.rated, "V"),
        f=(frequency, "Hz"),
        R=(resistor, "Ω"),
        C=(capacitor, "F"),
    )
    add(
        Measure(
            "ripple",
            "D11",
            "Ripple on the level",
            "V",
            ripple,
            "max",
            "half duty, capacitor at its least",
            "V_ripple",
            "More ripple than a step and the other device sees the level tremble.",
            fix=load.rated / STEPS,
            fix_name=f"one of {STEPS} steps",
        )
    )
    settle = w.calc(
        "t_settle", "5*R*C", "s", "five time constants", R=(resistor, "Ω"), C=(capacitor, "F")
    )
    result.pulses.settle = settle
    result.values += [
        Sized(
            "filter_resistor",
            "Filter resistor",
            "R_f",
            "Ω",
            resistor,
            resistor_words(resistor, context.tolerance),
            yours is not None,
        ),
        Sized(
            "filter_capacitor",
            "Filter capacitor",
            "C_f",
            "F",
            capacitor,
            show(capacitor, "F"),
            False,
            detail=f"settles in {show(settle, 's')}",
        ),
        Sized(
            "collector_resistor",
            "Collector resistor",
            "R_c",
            "Ω",
            PULL_UP,
            resistor_code(PULL_UP),
            False,
        ),
    ]
    add_part(
        context,
        result,
        "R3",
        "resistor",
        resistor_code(PULL_UP),
        domain="low",
        **{"1": top, "2": chopped},
    )
    add_part(
        context,
        result,
        "R4",
        "resistor",
        resistor_words(resistor, context.tolerance),
        domain="low",
        **{"1": chopped, "2": out},
    )
    add_part(
        context,
        result,
        "C1",
        "capacitor",
        show(capacitor, "F"),
        domain="low",
        **{"1": out, "2": bottom},
    )
    add_part(
        context,
        result,
        "LOAD",
        "load",
        f"{context.channel.load.voltage}, {context.channel.load.figure}",
        "somebody else's knob",
        domain="low",
        **{"+": top, "-": bottom, "wiper": out},
    )
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "load": f"settles in {show(settle, 's')}",
        "switch": "",
        "volts": context.channel.load.voltage,
    }
    return result
