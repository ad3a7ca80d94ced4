"""What stages share that pull or bridge somebody else's low-voltage line."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.figures.quantity import show
from latchcore.pieces.frame import add_part


def no_rail_needed(context: ChannelContext) -> list[str]:
    """The line brings its own supply."""
    return [name for name in context.missing if name != "rail"]


def line_current(context: ChannelContext, result: StageResult) -> float:
    """Most current that flows when the line is held or the pair is bridged [A]."""
    load = context.load
    result.working.note(
        "I_line",
        "open voltage over the least resistance, as measured",
        "A",
        load.current.max,
        {},
        {},
        "highest voltage, least resistance",
    )
    result.running = 0.0
    return load.current.max


def low_level_measure(
    context: ChannelContext, result: StageResult, drop_max: float, symbol: str
) -> None:
    """What is left on the held line against what the other side still reads as low."""
    result.measures.append(
        Measure(
            "line_low",
            "P7",
            "Left on the held line",
            "V",
            drop_max,
            "max",
            "highest current",
            symbol,
            "The other side must read the held line as bridged.",
            stop=0.3 * context.load.rated,
            stop_name="three tenths of its own voltage",
        )
    )


def join_line(context: ChannelContext, result: StageResult, plus: str, minus: str) -> None:
    """The line in the netlist, in a domain of its own."""
    add_part(
        context,
        result,
        "LOAD",
        "load",
        f"{context.channel.load.voltage}, {context.channel.load.figure}",
        "somebody else's line",
        domain="low",
        **{"+": plus, "-": minus},
    )


def live(
    context: ChannelContext, result: StageResult, current: float, switch: str
) -> dict[str, str]:
    """What stands at the drawing."""
    return {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "load": show(current, "A"),
        "switch": switch,
        "volts": context.channel.load.voltage,
    }
