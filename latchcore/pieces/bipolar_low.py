"""A bipolar transistor below the load, single or Darlington: one sizing for both."""

from __future__ import annotations

from latchcore.catalogue.switch_records import Bipolar
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of, likely, resistor_measures, sized_resistor
from latchcore.figures.quantity import show
from latchcore.pieces import bleed, clamps, five_states, hold_rc, load_join, low_side
from latchcore.pieces.frame import junction_measure, pin_limits, pwm_measure, return_node
from latchcore.sums import bipolar, heat, mosfet, pulls

SCHOOLS = (
    ("auto", "forced gain, else overdrive"),
    ("forced_gain", "forced gain of 10"),
    ("overdrive", "least gain with an overdrive of 3"),
)


def settings_for(family: str, schools: bool) -> tuple[Setting, ...]:
    """Settings of a bipolar low-side stage of one family."""
    school = (
        (Setting("school", "School of sizing", "choice", choices=(("", "as the build"), *SCHOOLS)),)
        if schools
        else ()
    )
    return (
        Setting("transistor", "Transistor", "part", family=family),
        Setting("base_resistor", "Base resistor", "ohms"),
        Setting("pull_resistor", "Base-emitter resistor", "ohms", may_omit=True),
        *school,
        *clamps.SETTINGS,
        Setting("resistor_watts", "Resistor rating", "watts"),
    )


def size(context: ChannelContext, family: str, kind: str, title: str) -> StageResult:
    """Size the stage with the user's transistor, or the smallest class of the family that holds."""
    fixed = context.around.part(context.setting("transistor"))
    if isinstance(fixed, Bipolar) and fixed.family == family:
        return sized_with(context, fixed, False, kind, title)
    current, share = low_side.rough_current(context), context.limits["current_share"]
    parts = likely(
        context.around.family(family),
        lambda p: share * p.i_c >= current and p.v_ceo >= low_side.rough_blocking(context),
    )
    return best_of(parts, lambda part: sized_with(context, part, True, kind, title))


def gains(context: ChannelContext, part: Bipolar, current: float) -> dict[str, float]:
    """Forced gain and the figures of the second school; a Darlington knows one school only."""
    limits = context.limits
    if part.darlington:
        gain = limits["darlington_gain"]
        return dict(forced_gain=gain, gain_min=part.gain(current), overdrive=1.0, gain_limit=gain)
    return dict(
        forced_gain=limits["forced_gain"],
        gain_min=part.gain(current),
        overdrive=limits["overdrive"],
        gain_limit=limits["gain_limit"],
    )


def sized_with(
    context: ChannelContext, part: Bipolar, auto: bool, kind: str, title: str
) -> StageResult:
    """Size, join and measure with one transistor."""
    result = StageResult(kind, title, {"transistor": part}, auto_part=auto)
    board, tol, w = context.board, context.tolerance, result.working
    prefix = context.channel.id
    running = low_side.running_current(context, result, part.v_ce_sat.max)
    clamp = clamps.choose_clamp(context, running)
    result.values.append(Sized("transistor", "Transistor", "Q1", "", None, part.title, not auto))

    pull = low_side.pull_down(
        context, result, "pull_resistor", "Base-emitter resistor", "R_BE", pulls.BASE_LIMIT
    )
    paths = [r for r in (pull.low if pull else None, part.base_emitter) if r]
    pull_min = 1 / sum(1 / r for r in paths) if paths else None
    school = (
        "forced_gain"
        if part.darlington
        else context.setting("school") or context.around.build.school
    )
    collector = w.calc(
        "I_C_max",
        "larger(I_load_max, I_surge)",
        "A",
        "highest of running and surge",
        "a bipolar transistor must stay saturated through the surge",
        I_load_max=(running, "A"),
        I_surge=(result.surge, "A"),
    )
    common = gains(context, part, collector)
    base = bipolar.base_resistor(
        school=school,
        collector_current=collector,
        vbe_min=part.v_be.min,
        vbe_max=part.v_be.max,
        base_emitter_min=pull_min,
        voh_noload_min=board.voh_noload_min,
        voh_rated_min=board.voh_rated_min,
        rated_current=board.rated_current,
        voh_max=board.logic.max,
        pin_current=board.pin_recommended,
        series=context.series,
        tolerance=tol,
        working=w,
        **common,
    )
    resistor = sized_resistor(
        context,
        "base_resistor",
        "Base resistor",
        "R_B",
        base.window,
        "low pin, high V_BE, top of its tolerance",
    )
    result.values.insert(1, resistor)
    _base_measures(context, result, part, base, resistor, pull_min, common)
    low_side.switch_current_measures(
        context, result, part.i_c, part.i_c_pulse, "Collector", "pulse_bipolar", part.pulse_time
    )
    fastest = (part.t_on, part.t_off)
    _heat(context, result, part, clamp, fastest)
    pwm_measure(context, result, *fastest)
    low_side.load_measures(context, result, part.v_ce_sat.min, part.v_ce_sat.typ, part.v_ce_sat.max)

    rail, switch = load_join.join_low_side(context, result, prefix)
    rail = hold_rc.fit(context, result, rail, part.v_ce_sat.max)
    bleed.fit(context, result, rail, switch)
    base_node, net = f"{prefix}.BASE", result.netlist
    net.domains[base_node] = "logic"
    net.add(
        f"{prefix}.R1",
        "resistor",
        resistor.text,
        context.channel.id,
        **{"1": f"{prefix}.PIN", "2": base_node},
    )
    net.add(
        f"{prefix}.Q1", part.family, part.title, context.channel.id, B=base_node, C=switch, E="0V"
    )
    if pull:
        net.add(
            f"{prefix}.R2", "resistor", pull.text, context.channel.id, **{"1": base_node, "2": "0V"}
        )
    clamps.join_clamp(context, result, clamp, rail, switch, prefix, return_node(context))
    if clamp.kind != "none" or not context.load.kind.inductive:
        low_side.blocking_measure(
            context, result, clamp.switch_voltage(context.volts.max), part.v_ceo
        )
    clamps.switching_off(context, result, clamp)
    five_states.five_states(
        context, result, base_node, pulls.BASE_LIMIT, pull, f"base at {part.v_be.shown('V')}"
    )
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": part.v_be.shown("V"),
        "load": show(result.running, "A"),
        "switch": f"on {part.v_ce_sat.shown('V')}",
        "volts": result.shown_volts,
    }
    return result


def _base_measures(context, result, part, base, resistor, pull_min, common) -> None:
    board, w, add = context.board, result.working, result.measures.append
    add(
        Measure(
            "drive_headroom",
            "P7",
            "High level of the pin",
            "V",
            board.voh_noload_min,
            "min",
            "low pin, unloaded",
            "V_OH_min",
            "With less than the base-emitter voltage no resistor helps.",
            stop=part.v_be.max,
            stop_name="highest base-emitter voltage",
        )
    )
    w.note(
        "V_OH_min",
        "logic supply at its lowest less the pin's drop",
        "V",
        board.voh_noload_min,
        {},
        {},
        "low pin",
    )
    least = bipolar.base_current(
        board.voh_noload_min,
        board.droop,
        resistor.high,
        part.v_be.max,
        pull_min or float("inf"),
        w,
    )
    school_text = (
        f"forced gain of {common['forced_gain']:g}"
        if base.school == "forced_gain"
        else "overdrive on the least gain"
    )
    needed = base.base_current_needed
    if result.surge > result.running:
        # The resistor is sized to stay saturated through the surge; short at running current is
        # judged by itself.
        quiet = type(w)()
        needed = bipolar.base_current_needed(
            base.school,
            result.running,
            common["forced_gain"],
            part.gain(result.running),
            common["overdrive"],
            common["gain_limit"],
            quiet,
        )
        gain = part.gain(result.surge)
        saturates = w.calc(
            "I_sat",
            "I_B*hFE_min",
            "A",
            "least base current and gain",
            I_B=(least, "A"),
            hFE_min=(gain, ""),
        )
        add(
            Measure(
                "surge_saturation",
                "D13",
                "Current it can saturate",
                "A",
                saturates,
                "min",
                "least base current, least gain at the surge",
                "I_sat",
                "Out of saturation the transistor takes the supply's volts and the surge at once.",
                stop=result.surge,
                stop_name="surge",
                setting="base_resistor",
            )
        )
    add(
        Measure(
            "base_current",
            "D1",
            "Base current",
            "A",
            least,
            "min",
            "low pin, high V_BE, resistor at its top",
            "I_B",
            f"Needed by {school_text}; short of it the transistor is not saturated and runs hot.",
            stop=needed / 2,
            fix=needed,
            stop_name="half of what is needed",
            fix_name="need",
            setting="base_resistor",
        )
    )
    pin = w.calc(
        "I_pin",
        "(V_OH_max - V_BE_min)/(R_B*(1 - tol))",
        "A",
        "stiff high pin, low V_BE, resistor at its bottom",
        V_OH_max=(board.logic.max, "V"),
        V_BE_min=(part.v_be.min, "V"),
        R_B=(resistor.value, "Ω"),
        tol=(resistor.tolerance, ""),
    )
    result.pin_current = pin
    result.drive.base_least = least
    result.drive.school = base.school
    pin_limits(
        context, result, "stiff high pin, low V_BE, resistor at its bottom", setting="base_resistor"
    )
    resistor_measures(context, result, resistor, board.logic.max - part.v_be.min, "P_RB")


def _heat(context, result, part, clamp, edges) -> None:
    w = result.working
    power = heat.saturated_loss(
        part.v_ce_sat.max, result.running, part.v_be.max, result.pin_current, context.heat_duty, w
    )
    if context.frequency:
        switched = clamp.switch_voltage(context.volts.max)
        rise, fall = edges
        loss = mosfet.switching_loss(switched, result.running, rise, fall, context.frequency, w)
        power = w.calc(
            "P", "P_on + P_sw", "W", "highest current and drop", P_on=(power, "W"), P_sw=(loss, "W")
        )
    result.power = power
    junction_measure(
        context,
        result,
        heat.junction(power, part.theta_ja, context.around.ambient, w),
        part.t_j_max,
    )
