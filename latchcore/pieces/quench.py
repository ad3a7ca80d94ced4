"""
Resistor and capacitor that take the kick of a load on alternating current: sized, or as the builder
has them.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import resistor_code, show
from latchcore.pieces import firing, low_side
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
#: Watts a pulse-rated resistor is sold in.
WATTS = (0.5, 1.0, 2.0, 3.0, 5.0)
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
    if result.output.control == "phase":
        text += _heat(context, result, found)
    result.across.snubber = found
    result.across.snubber_class = printed
    result.values.append(
        Sized("snubber", label, "Z1", "", None, text, bool(ohms or farads), detail=leaks)
    )
    return found


def _heat(context: ChannelContext, result: StageResult, found: suppression.Snubber) -> str:
    """
    D14 of the snubber's resistor under phase control, where every half-cycle charges the capacitor
    at once; in words the watts it wants.
    """
    w, fastest = result.working, firing.corners(context)[2]
    watts = w.calc(
        "P_snubber",
        "2*C*V_peak_max**2*f_max",
        "W",
        "highest line, fastest frequency",
        "charged and emptied through the resistor in every half-cycle",
        C=(found.capacitance, "F"),
        V_peak_max=(context.volts.max * 2**0.5, "V"),
        f_max=(fastest, "Hz"),
    )
    size = next((s for s in WATTS if s >= 2 * watts), WATTS[-1])
    result.measures.append(
        Measure(
            "snubber_watts",
            "D14",
            "Heat in the snubber's resistor",
            "W",
            watts,
            "max",
            "highest line, fastest frequency",
            "P_snubber",
            "Cut half-waves charge the capacitor at once, a hundred times a second.",
            stop=size,
            fix=size / 2,
            stop_name=f"its {size:g} W",
            fix_name=f"half of its {size:g} W",
        )
    )
    return f", {size:g} W"
