"""A pin, a resistor and a capacitor: pulses made into a level for somebody's analogue input."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.preferred import between
from latchcore.figures.quantity import show
from latchcore.pieces import five_states, foreign, lines, low_pass, low_side
from latchcore.pieces.frame import (
    Traits,
    add_part,
    join_pin,
    model_only,
    pin_limits,
    pwm_measure,
)

kind = "pwm_filter"
title = "Filtered PWM straight from the pin"
summary = (
    "A resistor and a capacitor smooth the pin's pulses into a level up to the board's own supply;"
    " both share their ground."
)
settings = (
    *low_pass.SETTINGS,
    Setting("pull_resistor", "Pull-down at the pin", "ohms", may_omit=True),
    foreign.GROUND,
)
traits = Traits(cost=1, fails="one end of the range")
suits = model_only("analogue_in")
missing = lines.no_rail_needed
#: Frequency while none is given [Hz]; what of its full scale the level should reach; what of the
#: range the input itself may take from the filter.
USUAL_PWM, REACHES, LOADING = 1000.0, 0.9, 0.02
#: Up to this share of its full scale the other device takes the level for nothing.
ZERO = 0.05


def size(context: ChannelContext) -> StageResult:
    """Size the filter for the input's full scale and resistance."""
    result = StageResult(kind, title)
    w, load, board = result.working, context.load, context.board
    # A pin's edges are nothing beside a filter of milliseconds.
    pwm_measure(context, result, 1e-7, 1e-7, "edges of a pin")
    frequency = context.frequency or USUAL_PWM
    w.note("f", "as given, or the usual", "Hz", frequency, {}, {})
    yours = context.ohms("filter_resistor")
    least = board.logic.max / board.pin_recommended / (1 - context.tolerance)
    injected = foreign.least_resistor(board) / (1 - context.tolerance)
    wanted = max(LOADING * load.resistance.min, least, injected)
    resistor = yours or context.resistor(
        between("E12", max(least, injected), max(wanted, 1.3 * least, 1.3 * injected))[-1]
    )
    capacitor = low_pass.smooth(
        context,
        result,
        resistor,
        frequency,
        board.logic.max,
        max(load.rated, board.logic.max),
    )
    _measures(context, result, resistor)
    pin, out = join_pin(context, result), f"{context.channel.id}.OUT"
    minus = foreign.minus(context)
    add_part(
        context,
        result,
        "R1",
        "resistor",
        result.the_value("filter_resistor").text,
        **{"1": pin, "2": out},
    )
    add_part(context, result, "C1", "capacitor", show(capacitor, "F"), **{"1": out, "2": "0V"})
    lines.join_line(context, result, out, minus)
    quiet = ZERO * load.rated
    pull = low_side.pull_down(
        context, result, "pull_resistor", "Pull-down at the pin", "R_pd", quiet
    )
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
    five_states.five_states(context, result, pin, quiet, pull, "the level follows the pulses")
    result.live["pin"] = show(result.pin_current, "A")
    return result


def _measures(context: ChannelContext, result: StageResult, resistor) -> None:
    w, load, board, add = result.working, context.load, context.board, result.measures.append
    result.pin_current = w.calc(
        "I_pin",
        "V_OH_max/(R*(1 - tol))",
        "A",
        "stiff high pin, empty capacitor",
        V_OH_max=(board.logic.max, "V"),
        R=(resistor, "Ω"),
        tol=(resistor.tolerance, ""),
    )
    pin_limits(
        context,
        result,
        "stiff high pin, empty capacitor",
        "At each edge the capacitor is a short behind its resistor.",
        setting="filter_resistor",
    )
    top = w.calc(
        "V_top",
        "V_OH*R_in/(R_in + R*(1 + tol))",
        "V",
        "typical supply, least input resistance",
        V_OH=(board.logic.typ, "V"),
        R_in=(load.resistance.min, "Ω"),
        R=(resistor, "Ω"),
        tol=(resistor.tolerance, ""),
    )
    add(
        Measure(
            "reach",
            "D11",
            "Level at full duty",
            "V",
            top,
            "min",
            "typical supply, least input resistance",
            "V_top",
            "A pin gives no more than its board's own supply: the rest of the range is out of"
            " reach.",
            fix=REACHES * load.rated,
            fix_name="nine tenths of its full scale",
        )
    )
    w.note("V_most", "stiff high pin", "V", board.logic.max, {}, {}, "highest logic supply")
    add(
        Measure(
            "input_most",
            "S8",
            "Most volts at its input",
            "V",
            board.logic.max,
            "max",
            "stiff high pin, full duty",
            "V_most",
            "Above its full scale the input's protection conducts.",
            stop=load.maximum,
            stop_name="most it bears",
        )
    )
    foreign.dead_device(context, result, resistor)
