"""A P-channel MOSFET above the load, its gate hung on the rail and pulled by a driver below."""

from __future__ import annotations

from collections.abc import Callable

from latchcore.catalogue.switch_records import Mosfet
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of, likely, resistor_measures, sized_resistor
from latchcore.figures import preferred
from latchcore.figures.quantity import resistor_code, show
from latchcore.figures.resistance import resistor_words
from latchcore.pieces import clamps, gate_zener, load_join, low_side
from latchcore.pieces.coupler_driver import dark_measure
from latchcore.pieces.drivers import Driver
from latchcore.pieces.fets import fet_heat
from latchcore.pieces.frame import add_part, pwm_measure, return_node
from latchcore.sums import couplers, gates

SETTINGS = (
    Setting("transistor", "MOSFET", "part", family="pmos"),
    Setting("up_resistor", "Gate to rail", "ohms"),
    Setting("series_resistor", "Gate series resistor", "ohms"),
    gate_zener.SETTING,
    *clamps.SETTINGS,
    Setting("resistor_watts", "Resistor rating", "watts"),
)
#: The customary resistor from gate to rail, and the least one that is used to make a stage quick
#: [Ω].
CUSTOMARY_PULL, LEAST_PULL = 10e3, 1e3


def size(
    context: ChannelContext,
    kind: str,
    title: str,
    make_driver: Callable[..., Driver],
    dark: float = 0.0,
) -> StageResult:
    """Size the stage with the user's MOSFET, or the smallest class that holds."""
    fixed = context.around.part(context.setting("transistor"))
    if isinstance(fixed, Mosfet) and fixed.family == "pmos":
        return _with(context, fixed, False, kind, title, make_driver, dark)
    current, share = low_side.rough_current(context), context.limits["current_share"]
    parts = likely(
        context.around.family("pmos"),
        lambda p: (
            share * p.i_d >= current
            and p.v_ds >= low_side.rough_blocking(context)
            and p.on_voltage <= context.volts.min
        ),
    )
    return best_of(parts, lambda part: _with(context, part, True, kind, title, make_driver, dark))


def pull_up(context: ChannelContext, part: Mosfet, dark: float) -> float:
    """
    Resistor from gate to rail: customary, unless the speed or a coupler's dark current wants less
    [Ω].
    """
    limits = context.limits
    value = CUSTOMARY_PULL
    if dark:
        value = min(
            value,
            couplers.largest_bleed(
                dark, limits["dark_gate_share"] * part.v_gs_th.min, context.tolerance
            )
            or value,
        )
    if context.frequency:
        on = min(context.volts.max, limits["gate_max_share"] * part.v_gs_max)
        unit = gates.bleed_turn_off(
            on, part.v_plateau.min, part.v_gs_th.min, 1.0, part.c_iss, part.q_gd
        )
        quick = limits["pwm_edge_share"] / 2 / context.frequency / unit / (1 + context.tolerance)
        value = min(
            value, max(LEAST_PULL, preferred.largest_below(context.series, quick) or LEAST_PULL)
        )
    return value


def _with(context, part, auto, kind, title, make_driver, dark) -> StageResult:
    result = StageResult(kind, title, {"transistor": part}, auto_part=auto)
    limits, tol, w, volts = context.limits, context.tolerance, result.working, context.volts
    running = low_side.running_current(context, result)
    clamp = clamps.choose_clamp(context, running)
    result.values.append(Sized("transistor", "MOSFET", "Q1", "", None, part.title, not auto))
    yours = context.ohms("up_resistor")
    up = yours or context.resistor(pull_up(context, part, dark))
    up_sized = Sized(
        "up_resistor",
        "Gate to rail",
        "R_pu",
        "Ω",
        up,
        resistor_words(up, context.tolerance),
        yours is not None,
        corner="off, and fast enough",
        detail="turns it off when the driver lets go",
    )
    control = f"{context.channel.id}.DRV"
    most = w.calc(
        "I_drive",
        "V_rail_max/(R_pu*(1 - tol))",
        "A",
        "high rail, least resistor",
        "what the driver sinks at the most",
        V_rail_max=(volts.max, "V"),
        R_pu=(up, "Ω"),
        tol=(up.tolerance, ""),
    )
    driver = make_driver(context, result, most, control)
    window = gates.rail_gate_series(
        rail_min=volts.min,
        rail_max=volts.max,
        vgs_specified=part.on_voltage,
        vgs_max=part.v_gs_max,
        share=limits["gate_max_share"],
        pull_min=up.low,
        pull_max=up.high,
        series=context.series,
        tolerance=tol,
        drop_max=driver.drop_max,
        floor=limits["gate_least"],
        prefer="least",
        working=w,
    )
    series = sized_resistor(
        context,
        "series_resistor",
        "Gate series resistor",
        "R_s",
        window,
        "low rail on, high rail at the maximum",
    )
    result.values += [up_sized, series]
    on_least = _gate_measures(context, result, part, driver, up, series)
    if driver.dark:
        dark_measure(
            context,
            result,
            driver.dark,
            up,
            limits["dark_gate_share"] * part.v_gs_th.min,
            "up_resistor",
        )
    low_side.switch_current_measures(
        context, result, part.i_d, part.i_d_pulse, "Drain", "pulse_mosfet", part.pulse_time
    )
    on_most = min(volts.max * up.high / (up.high + series.low), volts.max)
    turn_off = gates.bleed_turn_off(
        on_most, part.v_plateau.min, part.v_gs_th.min, up.high, part.c_iss, part.q_gd, w
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
        "the resistor to the rail alone turns it off",
        "up_resistor",
    )
    drop = fet_heat(
        context, result, part, on_least, clamp.switch_voltage(volts.max), turn_on, turn_off
    )
    low_side.load_measures(context, result, 0.0, drop / 2, drop)
    _join(context, result, part, clamp, driver, series, up_sized, control)
    if clamp.kind != "none" or not context.load.kind.inductive:
        low_side.blocking_measure(context, result, clamp.switch_voltage(volts.max), part.v_ds)
    clamps.switching_off(context, result, clamp)
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": f"≥ {show(on_least, 'V')}",
        "load": show(running, "A"),
        "switch": f"on ≤ {show(drop, 'V')}",
        "volts": result.shown_volts,
    }
    return result


def _code(value: float) -> str:
    return resistor_code(value)


def _gate_measures(context, result, part, driver, up, series) -> float:
    volts, limits, w, add = (
        context.volts,
        context.limits,
        result.working,
        result.measures.append,
    )
    least = gates.divided_gate(
        volts.min,
        driver.drop_max,
        up.low,
        series.high,
        w,
        "V_GS_on",
        "low rail",
    )
    least = gate_zener.bound(context, least, "min")
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
    most = gates.divided_gate(
        volts.max,
        driver.drop_min,
        up.high,
        series.low,
        w,
        "V_GS_most",
        "high rail",
    )
    most = gate_zener.bound(context, most, "max")
    gate_zener.fit(
        context,
        result,
        f"{context.channel.id}.GATE",
        context.feed.id,
        volts.max - driver.drop_min,
        series.low,
        "low",
    )
    share = limits["gate_max_share"]
    add(
        Measure(
            "gate_most",
            "D5",
            "Highest gate voltage",
            "V",
            most,
            "max",
            "high rail, resistors at their worst",
            "V_GS_most",
            limits.reasons["gate_max_share"],
            stop=part.v_gs_max,
            fix=share * part.v_gs_max,
            stop_name="absolute maximum",
            fix_name="four fifths of its maximum",
            setting="series_resistor",
        )
    )
    resistor_measures(context, result, result.value("up_resistor"), most, "P_Rpu")
    return least


def _join(context, result, part, clamp, driver, series, up, control) -> None:
    ground, prefix = return_node(context), context.channel.id
    rail, switch = load_join.join_high_load(context, result, ground)
    gate = f"{prefix}.GATE"
    add_part(
        context, result, "R3", "resistor", series.text, domain="low", **{"1": control, "2": gate}
    )
    add_part(context, result, "R4", "resistor", up.text, domain="low", **{"1": gate, "2": rail})
    add_part(context, result, "Q1", "pmos", part.title, domain="low", G=gate, D=switch, S=rail)
    result.netlist.domains[control] = "low"
    clamps.join_clamp(context, result, clamp, rail, switch, prefix, ground, high=True)
