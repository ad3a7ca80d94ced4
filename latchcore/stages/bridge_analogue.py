"""
An analogue switch bridges a pair: both ways, silent, but within its own supply and on a shared
ground.
"""

from __future__ import annotations

from latchcore.catalogue.records import AnalogueSwitch
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show
from latchcore.pieces import five_states, lines, low_side
from latchcore.pieces.frame import Traits, add_part, join_pin, model_only, pwm_measure

kind = "bridge_analogue"
title = "Analogue switch across the pair"
summary = (
    "Both directions, no sound, no wear; the pair must lie within the switch's supply and share the"
    " board's ground."
)
settings = (
    Setting("switch", "Analogue switch", "part", family="analogue_switch"),
    Setting("pull_resistor", "Pull-down at the control pin", "ohms", may_omit=True),
    Setting(
        "line_ground",
        "The line's ground",
        "choice",
        choices=(("apart", "kept apart, or not known"), ("joined", "joined with the board's")),
    ),
)
traits = Traits(cost=2, fails="open or shorted")
suits = model_only("pair", "logic")
missing = lines.no_rail_needed


def size(context: ChannelContext) -> StageResult:
    """Hold the pair against the switch."""
    result = StageResult(kind, title)
    fixed = context.around.part(context.setting("switch"))
    part = (
        fixed if isinstance(fixed, AnalogueSwitch) else context.around.family("analogue_switch")[0]
    )
    result.parts["switch"] = part
    board, w, add, load = context.board, result.working, result.measures.append, context.load
    current = lines.line_current(context, result)
    result.values.append(
        Sized("switch", "Analogue switch", "U1", "", None, part.title, fixed is not None)
    )
    pull = low_side.pull_down(
        context, result, "pull_resistor", "Pull-down at the control pin", "R_pd", 0.3 * part.v_ih
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
    add(
        Measure(
            "control_level",
            "P7",
            "Level at the control pin",
            "V",
            board.voh_noload_min,
            "min",
            "low pin",
            "V_OH_min",
            "The switch closes only above the level its data name.",
            stop=part.v_ih,
            stop_name="least high level",
        )
    )
    w.note("V_DD_min", "logic supply at its lowest", "V", board.logic.min, {}, {}, "low supply")
    add(
        Measure(
            "switch_supply",
            "P7",
            "Supply of the switch",
            "V",
            board.logic.min,
            "min",
            "low supply",
            "V_DD_min",
            "Below its least supply it neither closes nor opens for sure.",
            stop=part.supply.min,
            stop_name="least supply",
        )
    )
    w.note(
        "V_line", "open voltage of the pair and a tenth", "V", load.rated * 1.1, {}, {}, "highest"
    )
    add(
        Measure(
            "line_volts",
            "P9",
            "Voltage at the switch",
            "V",
            load.rated * 1.1,
            "max",
            "highest, on the board's least supply",
            "V_line",
            "A signal outside its supply flows through the switch's protection.",
            stop=min(board.logic.min, part.supply.max) + 0.3,
            stop_name="its supply and 0.3 V",
        )
    )
    add(
        Measure(
            "line_current",
            "D2",
            "Current through the switch",
            "A",
            current,
            "max",
            "highest",
            "I_line",
            "An analogue switch carries signals.",
            stop=part.i_max,
            stop_name="rating",
        )
    )
    drop = w.calc(
        "V_on", "I_line*R_on", "V", "highest", I_line=(current, "A"), R_on=(part.r_on, "Ω")
    )
    lines.low_level_measure(context, result, drop, "V_on")
    pwm_measure(context, result, part.t_on, part.t_on)
    pull_current = board.logic.max / pull.size if pull else 0.0
    result.pin_current = w.note(
        "I_pin", "the pull-down alone", "A", pull_current, {}, {}, "stiff high pin"
    )
    pin = join_pin(context, result)
    plus, minus = (
        f"{context.channel.id}.LINE+",
        ("0V" if context.setting("line_ground") == "joined" else f"{context.channel.id}.LINE-"),
    )
    add_part(
        context, result, "U1", "analogue_switch", part.title, IN=pin, A=plus, B=minus, GND="0V"
    )
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
    lines.join_line(context, result, plus, minus)
    five_states.five_states(context, result, pin, 0.3 * part.v_ih, pull, "the switch is closed")
    result.live = lines.live(context, result, current, f"≤ {show(drop, 'V')}")
    return result
