"""A resistor across a piezo below whose switch nothing else would empty it."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Sized, StageResult
from latchcore.design.stage import Setting, resistor_measures
from latchcore.figures.preferred import between
from latchcore.figures.quantity import show
from latchcore.figures.resistance import resistor_words
from latchcore.pieces.frame import add_part

SETTINGS = (Setting("bleed", "Bleed across the piezo", "ohms", may_omit=True),)
#: Capacitance of a disc where nobody measured it [F], and the tone while none is stated [Hz].
CAPACITANCE, TONE = 40e-9, 2000.0


def fit(context: ChannelContext, result: StageResult, rail: str, switch: str) -> None:
    """Put the bleed across the load and judge its heat; nothing for any other load."""
    if not context.load.kind.bleed:
        return
    if context.left_out("bleed"):
        result.across.unbled = True
        return
    tone, tol = context.frequency or TONE, context.tolerance
    most = result.working.calc(
        "R_bleed_max",
        "1/(6*2*f*C)",
        "Ω",
        "a sixth of the half-period",
        "it must be empty again before the next edge",
        f=(tone, "Hz"),
        C=(CAPACITANCE, "F"),
    )
    yours = context.ohms("bleed")
    fits = between("E12", 1.0, most / (1 + tol))
    value = yours or context.resistor(fits[-1] if fits else 100.0)
    bleed = Sized(
        "bleed",
        "Bleed across the piezo",
        "R7",
        "Ω",
        value,
        resistor_words(value, tol),
        yours is not None,
        corner="fastest tone, resistor at its top",
        detail=f"up to {show(most, 'Ω')} empties it in time",
    )
    result.values.append(bleed)
    volts = context.volts.max * context.duty**0.5
    watts = resistor_measures(context, result, bleed, volts, "P_bleed", any_watts=True)
    result.across.slow_bleed = value.high > most
    add_part(
        context,
        result,
        "R7",
        "resistor",
        f"{bleed.text} {show(watts, 'W')}",
        "empties the piezo",
        domain="low",
        **{"1": rail, "2": switch},
    )
