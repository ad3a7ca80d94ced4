"""Optocoupler whose emitter feeds the base of an NPN Darlington, below the load or above it."""

from __future__ import annotations

from latchcore.catalogue.switch_records import Bipolar
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of, likely, resistor_measures, sized_resistor
from latchcore.figures.quantity import show
from latchcore.figures.resistance import resistor_words
from latchcore.figures.windows import Bound, resistor_window
from latchcore.pieces import bipolar_low, clamps, load_join, low_side
from latchcore.pieces.coupler_driver import COUPLER_SETTINGS, choose_coupler, coupler, dark_measure
from latchcore.pieces.frame import (
    Traits,
    add_part,
    junction_measure,
    power_only,
    pwm_measure,
    return_node,
)
from latchcore.sums import bipolar, heat, pulls

kind = "coupler_darlington"
title = "Coupler and Darlington"
summary = (
    "A barrier and amperes from few parts; a volt or two is lost below the load, up to three"
    " above it."
)
settings = (
    *COUPLER_SETTINGS,
    Setting(
        "side",
        "Darlington stands",
        "choice",
        choices=(("low", "below the load"), ("high", "above the load")),
    ),
    Setting("transistor", "Transistor", "part", family="npn_darlington"),
    Setting("series_resistor", "From rail to coupler", "ohms"),
    Setting("up_resistor", "Base-emitter resistor", "ohms"),
    *clamps.SETTINGS,
    Setting("resistor_watts", "Resistor rating", "watts"),
)
traits = Traits(isolates=True, cost=4)
suits = power_only
#: Resistor from base to emitter, so that the coupler's leakage does not turn it on [Ω].
CUSTOMARY_PULL = 10e3
#: What the series resistor may take above the load, where every volt is one less for the load [V].
RESISTOR_VOLTS = 0.25


def size(context: ChannelContext) -> StageResult:
    """Size the stage with the user's transistor, or the smallest class that holds."""
    fixed = context.around.part(context.setting("transistor"))
    if isinstance(fixed, Bipolar) and fixed.family == "npn_darlington":
        return _with(context, fixed, False)
    current, share = low_side.rough_current(context), context.limits["current_share"]
    parts = likely(
        context.around.family("npn_darlington"),
        lambda p: share * p.i_c >= current and p.v_ceo >= low_side.rough_blocking(context),
    )
    return best_of(parts, lambda part: _with(context, part, True))


def _with(context: ChannelContext, part: Bipolar, auto: bool) -> StageResult:
    result = StageResult(kind, title, {"transistor": part}, auto_part=auto)
    tol, w, volts, high = (
        context.tolerance,
        result.working,
        context.volts,
        context.setting("side") == "high",
    )
    running = low_side.running_current(context, result, part.v_ce_sat.max)
    clamp = clamps.choose_clamp(context, running)
    result.values.append(Sized("transistor", "Transistor", "Q1", "", None, part.title, not auto))
    planned, _ = choose_coupler(context, 1e-3)
    yours = context.ohms("up_resistor")
    pull = yours or context.resistor(CUSTOMARY_PULL)
    paths = [pull.low, *([part.base_emitter] if part.base_emitter else [])]
    pull_min = 1 / sum(1 / r for r in paths)
    collector = w.calc(
        "I_C_max",
        "larger(I_load_max, I_surge)",
        "A",
        "highest of running and surge",
        I_load_max=(running, "A"),
        I_surge=(result.surge, "A"),
    )
    rules = bipolar_low.gains(context, part, collector)
    needed = bipolar.base_current_needed(
        "forced_gain",
        collector,
        rules["forced_gain"],
        rules["gain_min"],
        rules["overdrive"],
        rules["gain_limit"],
        w,
    )
    total = w.calc(
        "I_Rs",
        "I_B_need + V_BE_max/R_BE_min",
        "A",
        "high V_BE, low R_BE",
        I_B_need=(needed, "A"),
        V_BE_max=(part.v_be.max, "V"),
        R_BE_min=(pull_min, "Ω"),
    )
    # Above the load the emitter rides up to the rail: the base is fed from what the transistor
    # itself leaves.
    least_volts = planned.v_ce_sat.max + RESISTOR_VOLTS if high else volts.min
    top = w.calc(
        "R_s_max",
        "(V_feed - V_BE_max - V_drv)/I_Rs",
        "Ω",
        "least feed, high V_BE",
        V_feed=(least_volts, "V"),
        V_BE_max=(part.v_be.max if not high else 0.0, "V"),
        V_drv=(planned.v_ce_sat.max, "V"),
        I_Rs=(total, "A"),
    )
    window = resistor_window(
        context.series, tol, [], [Bound("base_current", top if top > 0 else None)]
    )
    series = sized_resistor(
        context,
        "series_resistor",
        "From rail to coupler",
        "R_s",
        window,
        "least feed, high V_BE",
        prefer=max(window.admissible, default=None),
    )
    most_volts = volts.max - part.v_be.min
    sunk = w.calc(
        "I_drive",
        "V_most/(R_s*(1 - tol))",
        "A",
        "high rail, least resistor; above the load only while it starts",
        V_most=(most_volts if not high else least_volts, "V"),
        R_s=(series.value, "Ω"),
        tol=(series.tolerance, ""),
    )
    prefix, ground = context.channel.id, return_node(context)
    feed, base = f"{prefix}.FEED", f"{prefix}.GATE"
    driver = coupler(context, result, total, feed, base)
    watts = resistor_measures(
        context, result, series, most_volts if not high else least_volts, "P_Rs", any_watts=True
    )
    pull_sized = Sized(
        "up_resistor",
        "Base-emitter resistor",
        "R_BE",
        "Ω",
        pull,
        resistor_words(pull, context.tolerance),
        yours is not None,
        detail="keeps the coupler's leakage out of the base",
    )
    result.values += [
        Sized(
            series.key,
            series.label,
            series.symbol,
            "Ω",
            series.value,
            series.text,
            series.yours,
            series.window,
            series.failing,
            series.corner,
            f"{watts:g} W",
        ),
        pull_sized,
    ]
    got = w.calc(
        "I_B_high",
        "(V_feed - V_BE_max - V_drv)/(R_s*(1 + tol)) - V_BE2/R_BE_min",
        "A",
        "least feed, high V_BE, resistor at its top",
        V_feed=(least_volts, "V"),
        V_BE_max=(part.v_be.max if not high else 0.0, "V"),
        V_drv=(driver.drop_max, "V"),
        R_s=(series.value, "Ω"),
        tol=(series.tolerance, ""),
        V_BE2=(part.v_be.max, "V"),
        R_BE_min=(pull_min, "Ω"),
    )
    result.measures.append(
        Measure(
            "power_base_current",
            "D1",
            "Base current of the power transistor",
            "A",
            got,
            "min",
            "least feed, high V_BE, resistor at its top",
            "I_B_high",
            "Short of it the transistor is not saturated and runs hot.",
            stop=needed / 2,
            fix=needed,
            stop_name="half of what is needed",
            fix_name="need",
            setting="series_resistor",
        )
    )
    dark_measure(context, result, driver.dark, pull, pulls.BASE_LIMIT, "up_resistor")
    low_side.switch_current_measures(
        context, result, part.i_c, part.i_c_pulse, "Collector", "pulse_bipolar", part.pulse_time
    )
    drop = part.v_ce_sat
    lost_max, lost_min, lost_typ = drop.max, drop.min, drop.typ
    if high:
        lost_max = w.calc(
            "V_lost",
            "V_BE_max + V_CE_coupler + I_Rs*R_s*(1 + tol)",
            "V",
            "high V_BE",
            "the emitter follows the base, which needs its own volts",
            V_BE_max=(part.v_be.max, "V"),
            V_CE_coupler=(driver.drop_max, "V"),
            I_Rs=(total, "A"),
            R_s=(series.value, "Ω"),
            tol=(series.tolerance, ""),
        )
        lost_min, lost_typ = part.v_be.min, part.v_be.typ + driver.drop_min
    power = heat.saturated_loss(lost_max, running, part.v_be.max, sunk, context.heat_duty, w)
    result.power = power
    junction_measure(
        context,
        result,
        heat.junction(power, part.theta_ja, context.around.ambient, w),
        part.t_j_max,
    )
    pwm_measure(context, result, part.t_on + driver.turn_on, part.t_off + driver.turn_off)
    low_side.load_measures(context, result, lost_min, lost_typ, lost_max)
    rail, switch = (
        load_join.join_high_load(context, result, ground)
        if high
        else load_join.join_low_load(context, result)
    )
    emitter = switch if high else ground
    add_part(context, result, "R3", "resistor", series.text, domain="low", **{"1": rail, "2": feed})
    add_part(
        context,
        result,
        "R4",
        "resistor",
        pull_sized.text,
        domain="low",
        **{"1": base, "2": emitter},
    )
    add_part(
        context,
        result,
        "Q1",
        "npn_darlington",
        part.title,
        domain="low",
        B=base,
        C=rail if high else switch,
        E=emitter,
    )
    clamps.join_clamp(context, result, clamp, rail, switch, prefix, ground, high=high)
    if clamp.kind != "none" or not context.load.kind.inductive:
        low_side.blocking_measure(context, result, clamp.switch_voltage(volts.max), part.v_ceo)
    clamps.switching_off(context, result, clamp)
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": f"≤ {show(part.v_be.max, 'V')}",
        "load": show(running, "A"),
        "switch": f"on ≤ {show(lost_max, 'V')}",
        "volts": result.shown_volts,
    }
    return result
