"""
An N-channel MOSFET above the load, driven from the pin: the mistake of copying a low-side circuit
upside down.
"""

from __future__ import annotations

from latchcore.catalogue.switch_records import Mosfet
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import resistor_code, show
from latchcore.pieces import clamps, five_states, load_join, low_side
from latchcore.pieces.frame import (
    Traits,
    add_part,
    join_pin,
    junction_measure,
    power_only,
    return_node,
)
from latchcore.sums import heat, pulls

kind = "nmos_above"
title = "N-channel above the load"
summary = (
    "Refused unless its gate stands above the rail: the source follows the gate and the load gets"
    " what is left."
)
settings = (
    Setting("transistor", "MOSFET", "part", family="nmos"),
    Setting("pull_resistor", "Gate pull-down", "ohms", may_omit=True),
    *clamps.SETTINGS,
)
traits = Traits(side="high", cost=2)
suits = power_only
GATE_RESISTOR = 470.0


def size(context: ChannelContext) -> StageResult:
    """Show what the load would get, and why that is no switch."""
    fixed = context.around.part(context.setting("transistor"))
    part = (
        fixed
        if isinstance(fixed, Mosfet) and fixed.family == "nmos"
        else context.around.family("nmos")[2]
    )
    result = StageResult(kind, title, {"transistor": part}, auto_part=not isinstance(fixed, Mosfet))
    board, w, volts = context.board, result.working, context.volts
    running = low_side.running_current(context, result)
    clamp = clamps.choose_clamp(context, running)
    result.values.append(
        Sized("transistor", "MOSFET", "Q1", "", None, part.title, fixed is not None)
    )
    pull = low_side.pull_down(
        context,
        result,
        "pull_resistor",
        "Gate pull-down",
        "R_pd",
        pulls.off_limit("gate", part.v_gs_th.min),
    )
    w.note("V_gate", "stiff high level of the pin", "V", board.logic.max, {}, {}, "stiff high pin")
    needed = w.calc(
        "V_gate_need",
        "V_rail_max + V_on",
        "V",
        "high rail",
        "to be on the gate must stand this far over the rail",
        V_rail_max=(volts.max, "V"),
        V_on=(part.on_voltage, "V"),
    )
    result.measures.append(
        Measure(
            "gate_above",
            "D15",
            "Gate voltage",
            "V",
            board.logic.max,
            "min",
            "stiff high pin",
            "V_gate",
            "The source follows the gate: the load gets the gate's volts less the threshold, the"
            " rest burns in the transistor.",
            stop=needed,
            stop_name="rail and specified on-voltage",
        )
    )
    reached = w.calc(
        "V_load_most",
        "larger(0, V_gate - V_th_min)",
        "V",
        "least threshold",
        V_gate=(board.logic.max, "V"),
        V_th_min=(part.v_gs_th.min, "V"),
    )
    burnt = heat.saturated_loss(
        max(volts.max - reached, 0.0), running * reached / volts.max, 0.0, 0.0, 1.0, w
    )
    result.power, result.load_volts = burnt, (0.0, reached)
    junction_measure(
        context,
        result,
        heat.junction(burnt, part.theta_ja, context.around.ambient, w),
        part.t_j_max,
    )
    result.pulses.limit = None
    result.pin_current = board.logic.max / pull.low if pull else 0.0
    ground, prefix = return_node(context), context.channel.id
    pin, gate = join_pin(context, result), f"{prefix}.GATE"
    rail, switch = load_join.join_high_load(context, result, ground)
    add_part(
        context, result, "R1", "resistor", resistor_code(GATE_RESISTOR), **{"1": pin, "2": gate}
    )
    add_part(context, result, "Q1", "nmos", part.title, domain="low", G=gate, D=rail, S=switch)
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
    clamps.join_clamp(context, result, clamp, rail, switch, prefix, ground, high=True)
    clamps.switching_off(context, result, clamp)
    five_states.five_states(
        context, result, gate, pulls.off_limit("gate", part.v_gs_th.min), pull, "half on"
    )
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": f"≤ {show(board.logic.max, 'V')}",
        "load": f"≤ {show(reached, 'V')}",
        "switch": "half on",
        "volts": f"≤ {show(reached, 'V')}",
    }
    return result
