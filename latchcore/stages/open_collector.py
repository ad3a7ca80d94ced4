"""An NPN that pulls a logic or remote line low; both sides share their ground."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Sized, StageResult
from latchcore.design.stage import Setting, sized_resistor
from latchcore.figures.quantity import show
from latchcore.pieces import bipolar_low, five_states, lines, low_side
from latchcore.pieces.drivers import drive_measures
from latchcore.pieces.frame import Traits, add_part, join_pin, model_only, pwm_measure
from latchcore.sums import bipolar, pulls

kind = "open_collector"
title = "NPN pulls the line"
summary = (
    "One transistor holds the line low. It needs the other device's ground joined with the board's."
)
settings = (
    Setting("transistor", "Transistor", "part", family="npn"),
    Setting("base_resistor", "Base resistor", "ohms"),
    Setting("pull_resistor", "Base-emitter resistor", "ohms", may_omit=True),
    Setting(
        "line_ground",
        "The line's ground",
        "choice",
        choices=(("apart", "kept apart, or not known"), ("joined", "joined with the board's")),
    ),
    Setting("resistor_watts", "Resistor rating", "watts"),
)
traits = Traits(cost=1, fails="shorted: as if the line were always held")
suits = model_only("logic")
missing = lines.no_rail_needed


def size(context: ChannelContext) -> StageResult:
    """Size the base resistor for the line's current."""
    result = StageResult(kind, title)
    board, tol, w = context.board, context.tolerance, result.working
    current = lines.line_current(context, result)
    fixed = context.around.part(context.setting("transistor"))
    part = fixed or context.around.family("npn")[0]
    result.parts["transistor"] = part
    pull = low_side.pull_down(
        context, result, "pull_resistor", "Base-emitter resistor", "R_BE", pulls.BASE_LIMIT
    )
    pull_min = pull.low if pull else None
    base = bipolar.base_resistor(
        school=context.around.build.school,
        collector_current=current,
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
        **bipolar_low.gains(context, part, max(current, 1e-4)),
    )
    least = [v for v in base.window.admissible if v <= 10e3]
    resistor = sized_resistor(
        context,
        "base_resistor",
        "Base resistor",
        "R_B",
        base.window,
        "low pin, high V_BE",
        prefer=max(least, default=None),
    )
    result.values += [
        Sized("transistor", "Transistor", "Q1", "", None, part.title, fixed is not None),
        resistor,
    ]
    drive_measures(context, result, part.v_be, resistor, pull_min, base.base_current_needed)
    low_side.blocking_measure(context, result, context.load.rated * 1.1, part.v_ceo)
    w.note("V_CE_sat", "saturated transistor", "V", part.v_ce_sat.max, {}, {}, "highest")
    lines.low_level_measure(context, result, part.v_ce_sat.max, "V_CE_sat")
    pwm_measure(context, result, part.t_on, part.t_off)
    pin, node = join_pin(context, result), f"{context.channel.id}.BASE"
    plus, minus = (
        f"{context.channel.id}.LINE+",
        ("0V" if context.setting("line_ground") == "joined" else f"{context.channel.id}.LINE-"),
    )
    add_part(context, result, "R1", "resistor", resistor.text, **{"1": pin, "2": node})
    add_part(context, result, "Q1", "npn", part.title, B=node, C=plus, E="0V")
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": node, "2": "0V"})
    lines.join_line(context, result, plus, minus)
    five_states.five_states(
        context, result, node, pulls.BASE_LIMIT, pull, f"base at {part.v_be.shown('V')}"
    )
    result.live = lines.live(context, result, current, f"≤ {show(part.v_ce_sat.max, 'V')}")
    return result
