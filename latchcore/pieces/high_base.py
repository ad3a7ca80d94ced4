"""A PNP transistor above the load, single or Darlington, its base pulled by a driver below."""

from __future__ import annotations

from collections.abc import Callable

from latchcore.catalogue.switch_records import Bipolar
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of, likely, resistor_measures, sized_resistor
from latchcore.figures.quantity import show
from latchcore.figures.resistance import resistor_words
from latchcore.figures.windows import Bound, resistor_window
from latchcore.pieces import bipolar_low, clamps, load_join, low_side
from latchcore.pieces.coupler_driver import dark_measure
from latchcore.pieces.drivers import Driver
from latchcore.pieces.frame import add_part, junction_measure, pwm_measure, return_node
from latchcore.sums import bipolar, heat, pulls

#: The customary resistor from base to emitter of a high-side transistor [Ω].
CUSTOMARY_PULL = 4.7e3


def settings_for(family: str) -> tuple[Setting, ...]:
    """Settings of a high-side bipolar of one family."""
    return (
        Setting("transistor", "Transistor", "part", family=family),
        Setting("series_resistor", "Base series resistor", "ohms"),
        Setting("up_resistor", "Base to rail", "ohms"),
        *clamps.SETTINGS,
        Setting("resistor_watts", "Resistor rating", "watts"),
    )


def size(
    context: ChannelContext,
    family: str,
    kind: str,
    title: str,
    make_driver: Callable[..., Driver],
    assumed_drop: float,
) -> StageResult:
    """Size the stage with the user's transistor, or the smallest class of the family that holds."""
    fixed = context.around.part(context.setting("transistor"))
    if isinstance(fixed, Bipolar) and fixed.family == family:
        return _with(context, fixed, False, kind, title, make_driver, assumed_drop)
    current, share = low_side.rough_current(context), context.limits["current_share"]
    parts = likely(
        context.around.family(family),
        lambda p: share * p.i_c >= current and p.v_ceo >= low_side.rough_blocking(context),
    )
    return best_of(
        parts, lambda part: _with(context, part, True, kind, title, make_driver, assumed_drop)
    )


def _with(context, part, auto, kind, title, make_driver, assumed_drop) -> StageResult:
    result = StageResult(kind, title, {"transistor": part}, auto_part=auto)
    tol, w, volts = context.tolerance, result.working, context.volts
    running = low_side.running_current(context, result, part.v_ce_sat.max)
    clamp = clamps.choose_clamp(context, running)
    result.values.append(Sized("transistor", "Transistor", "Q1", "", None, part.title, not auto))
    yours = context.ohms("up_resistor")
    up = yours or context.resistor(CUSTOMARY_PULL)
    paths = [up.low, *([part.base_emitter] if part.base_emitter else [])]
    up_min = 1 / sum(1 / r for r in paths)
    collector = w.calc(
        "I_C_max",
        "larger(I_load_max, I_surge)",
        "A",
        "highest of running and surge",
        I_load_max=(running, "A"),
        I_surge=(result.surge, "A"),
    )
    rules = bipolar_low.gains(context, part, collector)
    # A Darlington knows one school only; the driver below spares no current, so neither does this.
    overdriven = context.around.build.school == "overdrive" and not part.darlington
    needed = bipolar.base_current_needed(
        "overdrive" if overdriven else "forced_gain",
        collector,
        rules["forced_gain"],
        rules["gain_min"],
        rules["overdrive"],
        rules["gain_limit"],
        w,
    )
    total = w.calc(
        "I_Rs",
        "I_B_need + V_EB_max/R_BE_min",
        "A",
        "high V_EB, low R_BE",
        I_B_need=(needed, "A"),
        V_EB_max=(part.v_be.max, "V"),
        R_BE_min=(up_min, "Ω"),
    )
    high = w.calc(
        "R_s_max",
        "(V_rail_min - V_EB_max - V_drv)/I_Rs",
        "Ω",
        "low rail, high V_EB",
        V_rail_min=(volts.min, "V"),
        V_EB_max=(part.v_be.max, "V"),
        V_drv=(assumed_drop, "V"),
        I_Rs=(total, "A"),
    )
    window = resistor_window(
        context.series, tol, [], [Bound("base_current", high if high > 0 else None)]
    )
    # The largest that saturates it: every milliampere more is only heat in the resistor and load on
    # the driver.
    series = sized_resistor(
        context,
        "series_resistor",
        "Base series resistor",
        "R_s",
        window,
        "low rail, high V_EB",
        prefer=max(window.admissible, default=None),
    )
    sunk = w.calc(
        "I_drive",
        "(V_rail_max - V_EB_min)/(R_s*(1 - tol))",
        "A",
        "high rail, least resistor",
        V_rail_max=(volts.max, "V"),
        V_EB_min=(part.v_be.min, "V"),
        R_s=(series.value, "Ω"),
        tol=(series.tolerance, ""),
    )
    control = f"{context.channel.id}.DRV"
    driver = make_driver(context, result, sunk, control)
    up_sized = Sized(
        "up_resistor",
        "Base to rail",
        "R_BE",
        "Ω",
        up,
        resistor_words(up, context.tolerance),
        yours is not None,
        detail="holds it off when the driver lets go",
    )
    watts = resistor_measures(
        context, result, series, volts.max - part.v_be.min, "P_Rs", any_watts=True
    )
    series = Sized(
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
    )
    result.values += [series, up_sized]
    base = w.calc(
        "I_B_high",
        "(V_rail_min - V_EB_max - V_drv)/(R_s*(1 + tol)) - V_EB_max/R_BE_min",
        "A",
        "low rail, high V_EB, resistor at its top",
        V_rail_min=(volts.min, "V"),
        V_EB_max=(part.v_be.max, "V"),
        V_drv=(driver.drop_max, "V"),
        R_s=(series.value, "Ω"),
        tol=(series.tolerance, ""),
        R_BE_min=(up_min, "Ω"),
    )
    result.measures.append(
        Measure(
            "power_base_current",
            "D1",
            "Base current of the power transistor",
            "A",
            base,
            "min",
            "low rail, high V_EB, resistor at its top",
            "I_B_high",
            "Short of it the transistor is not saturated and runs hot.",
            stop=needed / 2,
            fix=needed,
            stop_name="half of what is needed",
            fix_name="need",
            setting="series_resistor",
        )
    )
    if driver.dark:
        dark_measure(context, result, driver.dark, up, pulls.BASE_LIMIT, "up_resistor")
    low_side.switch_current_measures(
        context, result, part.i_c, part.i_c_pulse, "Collector", "pulse_bipolar", part.pulse_time
    )
    power = heat.saturated_loss(
        part.v_ce_sat.max, running, part.v_be.max, sunk, context.heat_duty, w
    )
    result.power = power
    junction_measure(
        context,
        result,
        heat.junction(power, part.theta_ja, context.around.ambient, w),
        part.t_j_max,
    )
    pwm_measure(context, result, part.t_on + driver.turn_on, part.t_off + driver.turn_off)
    low_side.load_measures(context, result, part.v_ce_sat.min, part.v_ce_sat.typ, part.v_ce_sat.max)
    _join(context, result, part, clamp, series, up_sized, control)
    if clamp.kind != "none" or not context.load.kind.inductive:
        low_side.blocking_measure(context, result, clamp.switch_voltage(volts.max), part.v_ceo)
    clamps.switching_off(context, result, clamp)
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": f"≤ {show(part.v_be.max, 'V')}",
        "load": show(running, "A"),
        "switch": f"on {part.v_ce_sat.shown('V')}",
        "volts": result.shown_volts,
    }
    return result


def _join(context, result, part, clamp, series, up, control) -> None:
    ground, prefix = return_node(context), context.channel.id
    rail, switch = load_join.join_high_load(context, result, ground)
    base = f"{prefix}.GATE"
    add_part(
        context, result, "R3", "resistor", series.text, domain="low", **{"1": control, "2": base}
    )
    add_part(context, result, "R4", "resistor", up.text, domain="low", **{"1": base, "2": rail})
    add_part(context, result, "Q1", part.family, part.title, domain="low", B=base, C=switch, E=rail)
    result.netlist.domains[control] = "low"
    clamps.join_clamp(context, result, clamp, rail, switch, prefix, ground, high=True)
