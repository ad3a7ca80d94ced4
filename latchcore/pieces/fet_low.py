"""N-channel MOSFET below the load: nothing from the pin while it stands, little lost, fast."""

from __future__ import annotations

from latchcore.catalogue.switch_records import Mosfet
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of, likely, resistor_measures, sized_resistor
from latchcore.figures.quantity import show
from latchcore.figures.windows import Bound, resistor_window
from latchcore.pieces import (
    bleed,
    clamps,
    five_states,
    gate_zener,
    hold_rc,
    load_join,
    low_side,
    one_shot,
)
from latchcore.pieces.fets import fet_heat
from latchcore.pieces.frame import pin_limits, pwm_measure, return_node
from latchcore.sums import mosfet, pulls

SETTINGS = (
    Setting("transistor", "MOSFET", "part", family="nmos"),
    Setting("gate_resistor", "Gate resistor", "ohms", may_omit=True),
    Setting("pull_resistor", "Gate pull-down", "ohms", may_omit=True),
    Setting(
        "pull_side",
        "Pull-down placed",
        "choice",
        choices=(
            ("pin", "on the pin side of the gate resistor"),
            ("gate", "on the gate side, as a divider"),
        ),
    ),
    gate_zener.SETTING,
    *clamps.SETTINGS,
    *hold_rc.SETTINGS,
    Setting("resistor_watts", "Resistor rating", "watts"),
)


def size(context: ChannelContext, kind: str, title: str) -> StageResult:
    """Size the stage with the user's MOSFET, or the smallest class that holds."""
    fixed = context.around.part(context.setting("transistor"))
    if isinstance(fixed, Mosfet):
        return _with(context, fixed, False, kind, title)
    current, share, level = (
        low_side.rough_current(context),
        context.limits["current_share"],
        context.board.voh_noload_min,
    )
    parts = likely(
        context.around.family("nmos"),
        lambda p: (
            share * p.i_d >= current
            and p.on_voltage <= level
            and p.v_ds >= low_side.rough_blocking(context)
        ),
    )
    return best_of(parts, lambda part: _with(context, part, True, kind, title))


def _with(context: ChannelContext, part: Mosfet, auto: bool, kind: str, title: str) -> StageResult:
    result = StageResult(kind, title, {"transistor": part}, auto_part=auto)
    prefix = context.channel.id
    result.values.append(Sized("transistor", "MOSFET", "Q1", "", None, part.title, not auto))
    low_side.running_current(context, result)
    off = pulls.off_limit("gate", part.v_gs_th.min)
    gate = _gate_resistor(context, result, part)
    pull = low_side.pull_down(context, result, "pull_resistor", "Gate pull-down", "R_pd", off)
    side = (context.setting("pull_side") or "pin") if pull else "none"
    if pull and one_shot.fitted(context):
        # What floats in reset is the logic before the gate.
        side = "pin"
    on_least = _gate_measures(context, result, part, gate, pull, side)
    clamp = clamps.choose_clamp(context, result.running)
    low_side.switch_current_measures(
        context, result, part.i_d, part.i_d_pulse, "Drain", "pulse_mosfet", part.pulse_time
    )
    drop = _heat(context, result, part, gate, clamp, on_least)
    low_side.load_measures(context, result, 0.0, drop / 2, drop)

    rail, switch = load_join.join_low_side(context, result, prefix)
    rail = hold_rc.fit(context, result, rail, drop)
    bleed.fit(context, result, rail, switch)
    pin_side = one_shot.fit(context, result, f"{prefix}.PIN")
    gate_node, pin_node, net = f"{prefix}.GATE", f"{prefix}.PIN", result.netlist
    net.domains[gate_node] = "logic"
    if gate:
        net.add(
            f"{prefix}.R1",
            "resistor",
            gate.text,
            context.channel.id,
            **{"1": pin_side, "2": gate_node},
        )
    else:
        net.add(
            f"{prefix}.W1",
            "wire",
            "no resistor",
            context.channel.id,
            **{"1": pin_side, "2": gate_node},
        )
    net.add(f"{prefix}.Q1", "nmos", part.title, context.channel.id, G=gate_node, D=switch, S="0V")
    if pull:
        upper = pin_node if side == "pin" else gate_node
        net.add(
            f"{prefix}.R2", "resistor", pull.text, context.channel.id, **{"1": upper, "2": "0V"}
        )
    clamps.join_clamp(context, result, clamp, rail, switch, prefix, return_node(context))
    if clamp.kind != "none" or not context.load.kind.inductive:
        low_side.blocking_measure(
            context, result, clamp.switch_voltage(context.volts.max), part.v_ds
        )
    clamps.switching_off(context, result, clamp)
    five_states.five_states(
        context, result, gate_node, off, pull, f"gate at {show(on_least, 'V')} at least"
    )
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": f"≥ {show(on_least, 'V')}",
        "load": show(result.running, "A"),
        "switch": f"on ≤ {show(drop, 'V')}",
        "volts": result.shown_volts,
    }
    return result


def _time_limit(context: ChannelContext) -> float:
    limits = context.limits
    if context.frequency:
        return min(limits["gate_edge"], limits["pwm_edge_share"] / 2 / context.frequency)
    return limits["gate_edge"]


def _gate_resistor(context: ChannelContext, result: StageResult, part: Mosfet) -> Sized | None:
    if context.left_out("gate_resistor"):
        return None
    board, limits = context.board, context.limits
    window = mosfet.gate_resistor(
        voh_min=board.voh_noload_min,
        voh_max=board.logic.max,
        vol_max=board.vol_max,
        plateau_min=part.v_plateau.min,
        plateau_max=part.v_plateau.max,
        charge=part.q_gd,
        pin_absolute=board.pin_absolute,
        least_value=limits["gate_least"],
        time_limit=_time_limit(context),
        series=context.series,
        tolerance=context.tolerance,
        working=result.working,
    )
    if context.setting("pull_side") == "gate" and window.real_max is not None:
        window = _keep_divider_harmless(context, part, window)
    sized = sized_resistor(
        context, "gate_resistor", "Gate resistor", "R_g", window, "first instant, empty gate"
    )
    result.values.append(sized)
    return sized


def _keep_divider_harmless(context: ChannelContext, part: Mosfet, window):
    """
    On the gate side the pull-down divides: the gate resistor must leave the specified on-voltage.
    """
    board, tol = context.board, context.tolerance
    pull = context.ohms("pull_resistor") or context.resistor(
        pulls.choose_pull(
            board.logic.max,
            low_side.weak_pull(context.pin),
            board.leakage,
            pulls.off_limit("gate", part.v_gs_th.min),
            tol,
        )
    )
    most = pull.low * (board.voh_noload_min / part.on_voltage - 1) - board.droop
    upper = [
        *window.upper,
        Bound(
            "gate_on_voltage", most if most > 0 else None, "the divider must leave the on-voltage"
        ),
    ]
    return resistor_window(window.series, tol, list(window.lower), upper, window.floor)


def _gate_measures(context, result, part, gate, pull, side) -> float:
    board, limits, w, add = (
        context.board,
        context.limits,
        result.working,
        result.measures.append,
    )
    high_gate = gate.high if gate else 0.0
    low_pull = pull.low if pull else float("inf")
    on_least = mosfet.gate_voltage(
        side,
        board.voh_noload_min,
        board.droop,
        high_gate,
        low_pull,
        w,
        "V_GS_on",
        "low pin, resistors at their worst",
    )
    on_least = gate_zener.bound(context, on_least, "min")
    add(
        Measure(
            "gate_on",
            "D4",
            "Gate voltage available",
            "V",
            on_least,
            "min",
            "low pin, resistors at their worst",
            "V_GS_on",
            "The threshold is where it begins to leak, not where it is on: only the voltage at"
            " which the on-resistance is specified counts.",
            stop=part.on_voltage,
            stop_name="lowest voltage with a specified on-resistance",
        )
    )
    if part.v_plateau.max >= board.voh_noload_min:
        add(
            Measure(
                "gate_plateau",
                "D4",
                "Gate voltage available",
                "V",
                on_least,
                "min",
                "low pin, highest plateau",
                "V_GS_on",
                "The gate would hang on its plateau and never turn fully on.",
                stop=part.v_plateau.max,
                stop_name="highest plateau voltage",
            )
        )
    most = gate_zener.bound(context, board.logic.max, "max")
    bounded = "the zener at its top" if most < board.logic.max else "stiff high level of the pin"
    w.note("V_GS_most", bounded, "V", most, {}, {}, "stiff high pin")
    share = limits["gate_max_share"]
    add(
        Measure(
            "gate_most",
            "D5",
            "Highest gate voltage",
            "V",
            most,
            "max",
            "stiff high pin",
            "V_GS_most",
            limits.reasons["gate_max_share"],
            stop=part.v_gs_max,
            fix=share * part.v_gs_max,
            stop_name="absolute maximum",
            fix_name=f"{share * 100:g} % of its {show(part.v_gs_max, 'V')} maximum",
        )
    )
    if gate:
        pulse = w.calc(
            "I_pulse",
            "V_OH_max/(R_g*(1 - tol))",
            "A",
            "stiff high pin, empty gate, resistor at its bottom",
            V_OH_max=(board.logic.max, "V"),
            R_g=(gate.value, "Ω"),
            tol=(gate.tolerance, ""),
        )
    else:
        pulse = w.calc(
            "I_pulse",
            "V_OH_max/R_pin_min",
            "A",
            "no gate resistor, least resistance of the pin itself",
            V_OH_max=(board.logic.max, "V"),
            R_pin_min=(mosfet.PIN_RESISTANCE_MIN, "Ω"),
        )
    add(
        Measure(
            "gate_pulse",
            "D7",
            "Gate pulse from the pin",
            "A",
            pulse,
            "max",
            "first instant, empty gate",
            "I_pulse",
            "At the first instant the gate is a short; every edge hits the pin with it.",
            fix=board.pin_absolute,
            fix_name="absolute limit of the pin",
            setting="gate_resistor",
        )
    )
    steady = w.calc(
        "I_pin",
        "V_OH_max/R_path_min",
        "A",
        "stiff high pin, least resistance to ground",
        "nothing flows into a gate that stands; the pull-down takes a little",
        V_OH_max=(board.logic.max, "V"),
        R_path_min=(low_pull + (gate.low if gate and side == "gate" else 0), "Ω"),
    )
    steady += gate_zener.fit(
        context,
        result,
        f"{context.channel.id}.GATE",
        "0V",
        board.logic.max,
        gate.low if gate else mosfet.PIN_RESISTANCE_MIN,
    )
    result.pin_current = steady
    pin_limits(
        context,
        result,
        "stiff high pin",
        "Steady, only the pull-down draws from the pin.",
        setting="pull_resistor",
    )
    if pull:
        resistor_measures(context, result, pull, board.logic.max, "P_Rpd")
    return on_least


def _heat(context, result, part, gate, clamp, on_least) -> float:
    board, w = context.board, result.working
    high = gate.high if gate else 0.0
    left_on, left_off = (
        board.voh_noload_min - part.v_plateau.max,
        part.v_plateau.min - board.vol_max,
    )
    on = off = 0.0
    if left_on > 0 and left_off > 0:
        on = mosfet.plateau_time(part.q_gd, high, mosfet.PIN_RESISTANCE_MAX, left_on, w, "t_on")
        off = mosfet.plateau_time(part.q_gd, high, mosfet.PIN_RESISTANCE_MAX, left_off, w, "t_off")
        pwm_measure(context, result, on, off, setting="gate_resistor")
    return fet_heat(
        context, result, part, on_least, clamp.switch_voltage(context.volts.max), on, off
    )
