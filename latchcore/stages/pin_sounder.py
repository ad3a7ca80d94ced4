"""A small sounder straight on a pin, where the pin can give what it takes."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.design.stage import Setting, resistor_measures, sized_resistor
from latchcore.figures.quantity import show
from latchcore.figures.windows import Bound, resistor_window
from latchcore.pieces import five_states, low_side
from latchcore.pieces.frame import Traits, add_part, join_pin, pin_limits, pwm_measure, shorted

kind = "pin_sounder"
title = "Sounder straight on the pin"
summary = (
    "No rail, no transistor: up to what the pin may give. A piezo behind a resistor; one with a"
    " coil never."
)
settings = (
    Setting("series_resistor", "Series resistor", "ohms", may_omit=True),
    Setting("pull_resistor", "Pull-down at the pin", "ohms", may_omit=True),
    Setting("resistor_watts", "Resistor rating", "watts"),
)
traits = Traits(cost=0, fails="silent, or sounding for as long as the pin is high")
#: A sounder is silent under this share of its rated volts.
SILENT = 0.25
#: Edges of a pin, with what hangs on it [s].
EDGE = 1e-6


def suits(context: ChannelContext) -> str | None:
    """Only a sounder that does not kick belongs on a bare pin."""
    if context.load.kind.symbol != "sounder":
        return "only a sounder belongs here"
    return "its coil kicks back into the pin" if context.load.kind.inductive else None


def missing(context: ChannelContext) -> list[str]:
    """The pin itself feeds it: no rail is needed."""
    return [name for name in context.missing if name != "rail"]


def size(context: ChannelContext) -> StageResult:
    """Hold the sounder against what the pin gives at its low and at its high corner."""
    result = StageResult(kind, title)
    board, load, w, piezo = context.board, context.load, result.working, context.load.kind.bleed
    resistor = _resistor(context, result) if piezo else None
    if resistor is not None:
        most = w.calc(
            "I_pin",
            "V_OH_max/(R*(1 - tol))",
            "A",
            "stiff high pin, empty disc, resistor at its bottom",
            V_OH_max=(board.logic.max, "V"),
            R=(resistor.value, "Ω"),
            tol=(resistor.tolerance, ""),
        )
    elif piezo:
        most = shorted(context, result, "stiff high pin, empty disc")
    else:
        most = w.calc(
            "I_pin",
            "V_OH_max/R_load_min",
            "A",
            "stiff high pin, least load resistance",
            V_OH_max=(board.logic.max, "V"),
            R_load_min=(load.resistance.min, "Ω"),
        )
    result.pin_current = most
    pin_limits(context, result, "stiff high pin", setting="series_resistor" if piezo else None)
    _volts(context, result, piezo)
    pwm_measure(context, result, EDGE, EDGE, "edges of a pin")
    pin, inner = join_pin(context, result), f"{context.channel.id}.PIN"
    pull = low_side.pull_down(
        context, result, "pull_resistor", "Pull-down at the pin", "R_pd", SILENT * load.rated
    )
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
    if resistor is not None:
        inner = f"{context.channel.id}.DISC"
        add_part(context, result, "R1", "resistor", resistor.text, **{"1": pin, "2": inner})
    text = context.channel.load.shown
    add_part(context, result, "LOAD", "load", text, **{"+": inner, "-": "0V"})
    five_states.five_states(context, result, pin, SILENT * load.rated, pull, "it sounds")
    # It is fed by the pin: with the board dead nothing else is there.
    result.live = {
        "pin": show(most, "A"),
        "base": "",
        "load": show(load.current.typ, "A"),
        "switch": "",
        "volts": context.channel.load.voltage,
    }
    return result


def _resistor(context: ChannelContext, result: StageResult):
    """Between pin and piezo: an empty disc takes whatever the pin can give."""
    if context.left_out("series_resistor"):
        return None
    board = context.board
    window = resistor_window(
        context.series,
        context.tolerance,
        [
            Bound(
                "pin_current",
                board.logic.max / board.pin_recommended,
                "the pin's recommended current",
            )
        ],
        [Bound("tone", 4.7e3, "the tone would be lost in it")],
        None,
        "least",
    )
    sized = sized_resistor(
        context, "series_resistor", "Series resistor", "R_s", window, "empty disc"
    )
    result.values.append(sized)
    resistor_measures(context, result, sized, board.logic.max, "P_R1")
    return sized


def _volts(context: ChannelContext, result: StageResult, piezo: bool) -> None:
    board, load, w = context.board, context.load, result.working
    draws = 0.0 if piezo else load.current.typ
    low = w.calc(
        "V_load_min",
        "V_OH_min - r_pin*I_load",
        "V",
        "low pin, what it takes",
        V_OH_min=(board.voh_noload_min, "V"),
        r_pin=(board.droop, "Ω"),
        I_load=(draws, "A"),
    )
    result.load_volts = (low, board.logic.max)
    result.measures.append(
        Measure(
            "load_volts",
            "D11",
            "Volts at the sounder",
            "V",
            low,
            "min",
            "low pin, what it takes",
            "V_load_min",
            "Too few, and it is faint or silent: a transistor on a rail of its volts is loud.",
            fix=context.least_volts,
            fix_name="least it sounds at",
        )
    )
    w.note("V_load_max", "stiff high pin", "V", board.logic.max, {}, {}, "highest logic supply")
    result.measures.append(
        Measure(
            "load_most",
            "S8",
            "Highest volts at the sounder",
            "V",
            board.logic.max,
            "max",
            "stiff high pin",
            "V_load_max",
            "More than it bears burns its oscillator.",
            stop=load.maximum,
            stop_name="most it bears",
        )
    )
