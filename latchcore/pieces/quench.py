"""
Resistor and capacitor that take the kick of a load on alternating current: sized, or as the builder
has them.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import resistor_code, show
from latchcore.pieces import low_side
from latchcore.sums import suppression

#: What a bought snubber, or parts at hand, may be stated as.
SETTINGS = (
    Setting("snubber_resistor", "Snubber's resistor", "resistance"),
    Setting("snubber_capacitor", "Snubber's capacitor", "farads"),
    Setting(
        "snubber_class",
        "Its capacitor is printed",
        "choice",
        choices=(("x2", "class X2"), ("y", "class Y"), ("plain", "a voltage, no class")),
    ),
)
CLASS_WORDS = {"x2": "class X2", "y": "class Y", "plain": "without a class"}


def snubber(
    context: ChannelContext, result: StageResult, label: str, where: str
) -> suppression.Snubber:
    """
    Resistor and capacitor across load or switch, in values and netlist words; recorded as ``Z1``.
    """
    w, frequency = result.working, context.around.frequency if context.alternating else 0.0
    ohms, farads = context.given("snubber_resistor", "Ω"), context.given("snubber_capacitor", "F")
    found = suppression.snubber(
        low_side.rough_current(context), context.volts.typ, frequency, w, ohms, farads
    )
    printed = context.setting("snubber_class") or "x2"
    words = CLASS_WORDS[printed] if context.dangerous else "100 V film"
    text = f"{found.resistance:g} Ω pulse-rated and {show(found.capacitance, 'F')} {words}"
    needed, _, bleeder = suppression.discharge(found.capacitance, context.volts.max * 2**0.5)
    if context.dangerous and needed and bleeder is not None:
        text += f", {resistor_code(bleeder)} across it"
    leaks = f"leaks {show(found.leakage, 'A')} when off" if where == "across the switch" else where
    result.across.snubber = found
    result.across.snubber_class = printed
    result.values.append(
        Sized("snubber", label, "Z1", "", None, text, bool(ohms or farads), detail=leaks)
    )
    return found
