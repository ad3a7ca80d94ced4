"""
Optocoupler that lifts the gate of an N-channel MOSFET below the load from the load's own rail.
"""

from __future__ import annotations

from latchcore.catalogue.switch_records import Mosfet
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of, likely, resistor_measures, sized_resistor
from latchcore.figures.quantity import show
from latchcore.figures.resistance import resistor_words
from latchcore.pieces import clamps, high_gate, load_join, low_side
from latchcore.pieces.coupler_driver import COUPLER_SETTINGS, choose_coupler, coupler, dark_measure
from latchcore.pieces.fets import fet_heat
from latchcore.pieces.frame import Traits, add_part, power_only, pwm_measure, return_node
from latchcore.sums import gates

kind = "coupler_nmos"
title = "Coupler and N-channel, low side"
summary = (
    "A barrier between board and load; the gate gets its volts from the load's rail, a bleeder"
    " turns it off."
)
settings = (
    *COUPLER_SETTINGS,
    Setting("transistor", "MOSFET", "part", family="nmos"),
    Setting("series_resistor", "From rail to coupler", "ohms"),
    Setting("up_resistor", "Gate bleeder", "ohms"),
    *clamps.SETTINGS,
    Setting("resistor_watts", "Resistor rating", "watts"),
)
traits = Traits(isolates=True, cost=4)
suits = power_only


def size(context: ChannelContext) -> StageResult:
    """Size the stage with the user's MOSFET, or the smallest class that holds."""
    fixed = context.around.part(context.setting("transistor"))
    if isinstance(fixed, Mosfet) and fixed.family == "nmos":
        return _with(context, fixed, False)
    current, share = low_side.rough_current(context), context.limits["current_share"]
    parts = likely(
        context.around.family("nmos"),
        lambda p: (
            share * p.i_d >= current
            and p.v_ds >= low_side.rough_blocking(context)
            and p.on_voltage <= context.volts.min
        ),
    )
    return best_of(parts, lambda part: _with(context, part, True))


def _with(context: ChannelContext, part: Mosfet, auto: bool) -> StageResult:
    result = StageResult(kind, title, {"transistor": part}, auto_part=auto)
    limits, tol, w, volts, add = (
        context.limits,
        context.tolerance,
        result.working,
        context.volts,
        result.measures.append,
    )
    running = low_side.running_current(context, result)
    clamp = clamps.choose_clamp(context, running)
    result.values.append(Sized("transistor", "MOSFET", "Q1", "", None, part.title, not auto))
    planned, _ = choose_coupler(context, 1e-3)
    yours = context.ohms("up_resistor")
    bleed = yours or context.resistor(high_gate.pull_up(context, part, planned.dark))
    window = gates.rail_gate_series(
        rail_min=volts.min,
        rail_max=volts.max,
        vgs_specified=part.on_voltage,
        vgs_max=part.v_gs_max,
        share=limits["gate_max_share"],
        pull_min=bleed.low,
        pull_max=bleed.high,
        series=context.series,
        tolerance=tol,
        drop_max=planned.v_ce_sat.max,
        floor=limits["gate_least"],
        prefer="least",
        working=w,
    )
    series = sized_resistor(
        context,
        "series_resistor",
        "From rail to coupler",
        "R_s",
        window,
        "low rail on, high rail at the maximum",
    )
    most = w.calc(
        "I_drive",
        "V_rail_max/(R_s_min + R_bl_min)",
        "A",
        "high rail, least resistors",
        V_rail_max=(volts.max, "V"),
        R_s_min=(series.low, "Ω"),
        R_bl_min=(bleed.low, "Ω"),
    )
    prefix, ground = context.channel.id, return_node(context)
    feed, gate = f"{prefix}.FEED", f"{prefix}.GATE"
    driver = coupler(context, result, most, feed, gate)
    bleed_sized = Sized(
        "up_resistor",
        "Gate bleeder",
        "R_bl",
        "Ω",
        bleed,
        resistor_words(bleed, context.tolerance),
        yours is not None,
        detail="turns it off when the coupler lets go",
    )
    result.values += [series, bleed_sized]
    least = gates.divided_gate(
        volts.min,
        driver.drop_max,
        bleed.low,
        series.high,
        w,
        "V_GS_on",
        "low rail",
    )
    add(
        Measure(
            "gate_on",
            "D4",
            "Gate voltage available",
            "V",
            least,
            "min",
            "low rail, resistors at their worst",
            "V_GS_on",
            "Only the voltage at which the on-resistance is specified counts.",
            stop=part.on_voltage,
            stop_name="lowest voltage with a specified on-resistance",
            setting="series_resistor",
        )
    )
    highest = gates.divided_gate(
        volts.max,
        driver.drop_min,
        bleed.high,
        series.low,
        w,
        "V_GS_most",
        "high rail",
    )
    add(
        Measure(
            "gate_most",
            "D5",
            "Highest gate voltage",
            "V",
            highest,
            "max",
            "high rail, resistors at their worst",
            "V_GS_most",
            limits.reasons["gate_max_share"],
            stop=part.v_gs_max,
            fix=limits["gate_max_share"] * part.v_gs_max,
            stop_name="absolute maximum",
            fix_name="four fifths of its maximum",
            setting="series_resistor",
        )
    )
    dark_measure(
        context,
        result,
        driver.dark,
        bleed,
        limits["dark_gate_share"] * part.v_gs_th.min,
        "up_resistor",
    )
    resistor_measures(context, result, bleed_sized, highest, "P_Rbl")
    low_side.switch_current_measures(
        context, result, part.i_d, part.i_d_pulse, "Drain", "pulse_mosfet", part.pulse_time
    )
    turn_off = gates.bleed_turn_off(
        highest, part.v_plateau.min, part.v_gs_th.min, bleed.high, part.c_iss, part.q_gd, w
    )
    headroom = max(volts.min - driver.drop_max - part.v_plateau.max, 0.05)
    turn_on = w.calc(
        "t_on",
        "Q_GD*R_s_max/V_left + t_drv",
        "s",
        "through the series resistor",
        Q_GD=(part.q_gd, "C"),
        R_s_max=(series.high, "Ω"),
        V_left=(headroom, "V"),
        t_drv=(driver.turn_on, "s"),
    )
    pwm_measure(
        context,
        result,
        turn_on,
        turn_off + driver.turn_off,
        "the bleeder alone turns it off",
        "up_resistor",
    )
    drop = fet_heat(
        context, result, part, least, clamp.switch_voltage(volts.max), turn_on, turn_off
    )
    low_side.load_measures(context, result, 0.0, drop / 2, drop)

    rail, switch = load_join.join_low_load(context, result)
    add_part(context, result, "R3", "resistor", series.text, domain="low", **{"1": rail, "2": feed})
    add_part(
        context,
        result,
        "R4",
        "resistor",
        bleed_sized.text,
        domain="low",
        **{"1": gate, "2": ground},
    )
    add_part(context, result, "Q1", "nmos", part.title, domain="low", G=gate, D=switch, S=ground)
    clamps.join_clamp(context, result, clamp, rail, switch, prefix, ground)
    if clamp.kind != "none" or not context.load.kind.inductive:
        low_side.blocking_measure(context, result, clamp.switch_voltage(volts.max), part.v_ds)
    clamps.switching_off(context, result, clamp)
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": f"≥ {show(least, 'V')}",
        "load": show(running, "A"),
        "switch": f"on ≤ {show(drop, 'V')}",
        "volts": result.shown_volts,
    }
    return result
