"""Filtered pulse-width modulation through a coupler in the place of somebody else's knob."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.preferred import between
from latchcore.figures.quantity import resistor_code, show
from latchcore.figures.resistance import Resistor, resistor_words
from latchcore.pieces import lines, low_pass
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
    *low_pass.SETTINGS,
    Setting("resistor_watts", "Resistor rating", "watts"),
)
traits = Traits(isolates=True, cost=3, fails="open or shorted: one end of the range")
suits = model_only("analogue")
missing = lines.no_rail_needed
#: Pull-up at the coupler's collector [Ω], frequency while none is given [Hz].
PULL_UP, USUAL_PWM = Resistor(2.2e3, 0.05), 200.0


def size(context: ChannelContext) -> StageResult:
    """Size filter and coupler for the knob's volts."""
    result = StageResult(kind, title)
    w, load = result.working, context.load
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
    capacitor = low_pass.smooth(context, result, resistor, frequency, load.rated, load.rated)
    result.values.append(
        Sized(
            "collector_resistor",
            "Collector resistor",
            "R_c",
            "Ω",
            PULL_UP,
            resistor_code(PULL_UP),
            False,
        )
    )
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
    result.live["pin"] = show(result.pin_current, "A")
    return result
