"""A logic signal into something on a supply of its own: the resistor that spares the pin."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Sized, StageResult
from latchcore.figures.preferred import between
from latchcore.figures.resistance import resistor_words
from latchcore.pieces.frame import UNPOWERED_PIN, add_part, pin_limits, shorted

#: What is fitted in a signal: it spares the pin where one of both is dead [Ω].
IN_SIGNAL = 330.0


def series_of(
    context: ChannelContext, result: StageResult, pin: str, other: str, top: float | None = None
) -> str:
    """
    The resistor in a signal; returns the node behind it.

    Parameters
    ----------
    other : str
        What reads the signal, in words
    top : float, optional
        Highest level before it, where that is not the board's own [V]
    """
    board, w = context.board, result.working
    high = board.logic.max if top is None else top
    yours = context.ohms("series_resistor")
    # The usual one, or the next that keeps the pin within what is recommended.
    least = (high - UNPOWERED_PIN) / board.pin_recommended / (1 - context.tolerance)
    fits = between(context.series, max(IN_SIGNAL, least), 10 * max(IN_SIGNAL, least))[0]
    value = None if context.left_out("series_resistor") else yours or context.resistor(fits)
    # The line's own load is small; what counts is one that is dead, its input at a diode's.
    if value is None:
        result.pin_current = shorted(context, result, "its supply off, stiff high pin")
    else:
        result.pin_current = w.calc(
            "I_pin",
            "(V_OH_max - V_dead)/(R_s*(1 - tol))",
            "A",
            "its supply off, stiff high pin",
            V_OH_max=(high, "V"),
            V_dead=(UNPOWERED_PIN, "V"),
            R_s=(value, "Ω"),
            tol=(value.tolerance, ""),
        )
    pin_limits(
        context,
        result,
        "its supply off, stiff high pin",
        f"With its supply off the protection of the {other} takes what the pin gives.",
        setting="series_resistor",
        label=f"Current into a dead {other}",
    )
    if value is None:
        return pin
    node, text = f"{context.channel.id}.SIGNAL", resistor_words(value, context.tolerance)
    result.values.append(
        Sized(
            "series_resistor",
            "Resistor in its signal",
            "R_s",
            "Ω",
            value,
            text,
            yours is not None,
            corner="its supply off",
        )
    )
    add_part(context, result, "R1", "resistor", text, **{"1": pin, "2": node})
    return node
