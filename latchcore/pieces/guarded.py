"""
What stands between a pin and what it reads: a resistor in series, a zener, and what they leave of
over-voltage and of current into a dead board.
"""

from __future__ import annotations

from latchcore.design.report import Measure, Sized
from latchcore.figures.quantity import parse, resistor_code
from latchcore.figures.spread import Spread, parse_spread
from latchcore.pieces.frame import UNPOWERED_PIN
from latchcore.pieces.sensing import InputContext, InputReport

#: Resistance of a logic output [Ω]; spread of a zener whose text states none; what the half-watt
#: class bears [W].
OUTPUT_OHMS, ZENER_SPREAD, ZENER_WATTS = 50.0, 0.05, 0.5


def series(context: InputContext) -> float:
    """Resistor in series with the pin as printed [Ω], 0 where none is fitted."""
    return parse(context.item.series, "Ω") if context.item.series else 0.0


def zener(context: InputContext) -> Spread | None:
    """Volts of the zener from pin to 0 V, or ``None``."""
    text = context.item.clamp
    return parse_spread(text, ("V",), ZENER_SPREAD, ZENER_SPREAD)[0] if text else None


def least_high(context: InputContext, volts: float) -> float:
    """Least high level that is left at the pin [V]: a zener under it pulls it down."""
    clamp = zener(context)
    return min(volts, clamp.min) if clamp is not None else volts


def guard(context: InputContext, report: InputReport, node: str, mark: str = "") -> str:
    """Resistor and zener at the pin in the netlist; returns the node the far side hangs on."""
    item, far = context.item, node
    if item.series:
        far = f"{item.id}.FAR{mark}"
        text, ohms = resistor_code(series(context)), series(context)
        if not mark:
            label = "In series with the pin"
            report.values.append(Sized("series", label, "R_series", "Ω", ohms, text, True))
        context.add(report, f"R9{mark}", "resistor", text, **{"1": far, "2": node})
    if item.clamp:
        words = f"zener {item.clamp} 0.5 W"
        if not mark:
            report.values.append(Sized("clamp", "Zener at the pin", "D9", "", None, words, True))
        context.add(report, f"D9{mark}", "zener", words, "band to the pin", K=node, A="0V")
    return far


def contact_guard(context: InputContext, report: InputReport, pull: float | None) -> None:
    """
    T5 of a contact behind a resistor and a zener: closed, the line must still read low; open, high.
    A pull-up that leads elsewhere than to the logic supply is held against what the pin bears.
    """
    item, w = context.item, report.working
    rail = context.around.build.rail(item.pulled_to)
    if rail is not None and pull is not None:
        volts = context.around.rail_volts(rail).max
        w.note("V_pull_max", "highest volts of what it is pulled up to", "V", volts, {}, {})
        over(context, report, volts, "V_pull_max", "Volts it is pulled up to")
        if rail.source != "board_pin" and rail.id != context.around.build.board_feed:
            injected(context, report, volts, pull, alone=True)
        zener_heat(context, report, volts, pull)
    if item.series and pull is not None:
        low = w.calc(
            "V_low",
            "V_DD_max*R_series*(1 + tol)/(R_series*(1 + tol) + R_pull*(1 - tol))",
            "V",
            "contact closed, high logic supply",
            V_DD_max=(context.board.logic.max, "V"),
            R_series=(series(context), "Ω"),
            R_pull=(pull / (1 + context.tolerance), "Ω"),
            tol=(context.tolerance, ""),
        )
        report.measures.append(
            Measure(
                "low_level",
                "T5",
                "Level with the contact closed",
                "V",
                low,
                "max",
                "high logic supply, resistors at their corners",
                "V_low",
                "The resistor in series holds the line up: closed no longer reads low.",
                fix=context.low,
                fix_name="what reads as low",
            )
        )
    clamp = zener(context)
    if clamp is not None:
        w.note("V_Z_min", "the zener at its bottom", "V", clamp.min, {}, {})
        report.measures.append(
            Measure(
                "level",
                "T5",
                "Least high level",
                "V",
                min(clamp.min, context.board.logic.min),
                "min",
                "zener at its bottom",
                "V_Z_min",
                "The zener pulls the open line under what reads as high.",
                fix=context.high_at_low,
                fix_name="what reads as high",
            )
        )


def over(context: InputContext, report: InputReport, volts: float, symbol: str, label: str) -> None:
    if context.item.series:
        _into_protection(context, report, volts, label)
        return
    clamp = zener(context)
    if clamp is not None and clamp.max < volts:
        volts = report.working.calc(
            "V_pin_most",
            "smaller(V_far, V_Z_max)",
            "V",
            "highest voltage, zener at its top",
            V_far=(volts, "V"),
            V_Z_max=(clamp.max, "V"),
        )
        symbol = "V_pin_most"
    report.measures.append(
        Measure(
            "tolerance",
            "P9",
            label,
            "V",
            volts,
            "max",
            "highest voltage, least logic supply",
            symbol,
            "Above its own supply the pin's protection conducts, and the board is fed through it.",
            stop=context.bears,
            stop_name="most the pin bears",
        )
    )


def _into_protection(context: InputContext, report: InputReport, volts: float, label: str) -> None:
    """P9 behind a resistor: what goes through the pin's own protection, at the most."""
    into = report.working.calc(
        "I_inj",
        "larger(0, (V_far_max - V_bears)/(R_series*(1 - tol)))",
        "A",
        "highest voltage, least logic supply",
        "a zener at the pin takes the rest of it",
        V_far_max=(volts, "V"),
        V_bears=(context.bears, "V"),
        R_series=(series(context), "Ω"),
        tol=(context.tolerance, ""),
    )
    report.measures.append(
        Measure(
            "tolerance",
            "P9",
            f"{label}, through the pin's protection",
            "A",
            into,
            "max",
            "highest voltage, least logic supply",
            "I_inj",
            "Above its own supply the pin's protection conducts, and the board is fed through it.",
            stop=context.board.injection_limit,
            stop_name="what a pin bears from outside",
        )
    )


def injected(
    context: InputContext, report: InputReport, volts: float, ohms: float, alone: bool = False
) -> None:
    """Into a board that is dead while the far side is live."""
    if not (alone or context.lives_alone):
        return
    current = report.working.calc(
        "I_dead",
        "larger(0, (V_far_max - V_dead)/R_far)",
        "A",
        "board unpowered, far side live",
        "the dead pin's protection holds it at a diode's voltage",
        V_far_max=(volts, "V"),
        V_dead=(UNPOWERED_PIN, "V"),
        R_far=(ohms + series(context) * (1 - context.tolerance), "Ω"),
    )
    report.measures.append(
        Measure(
            "dead",
            "S11",
            "Into the board while it is dead",
            "A",
            current,
            "max",
            "board unpowered, far side live",
            "I_dead",
            "It half wakes on it, or its pin dies of it.",
            stop=context.board.injection_limit,
            stop_name="what a pin bears from outside",
        )
    )


def zener_heat(
    context: InputContext, report: InputReport, volts: float, ohms: float = OUTPUT_OHMS
) -> None:
    """D2: what the far side pushes through the zener, through its own resistance and the series."""
    clamp = zener(context)
    if clamp is None:
        return
    current = report.working.calc(
        "I_Z",
        "larger(0, (V_far_max - V_Z_min)/(R_far + R_series*(1 - tol)))",
        "A",
        "highest voltage, zener at its bottom",
        V_far_max=(volts, "V"),
        V_Z_min=(clamp.min, "V"),
        R_far=(ohms, "Ω"),
        R_series=(series(context), "Ω"),
        tol=(context.tolerance, ""),
    )
    report.measures.append(
        Measure(
            "zener",
            "D2",
            "Current through the zener",
            "A",
            current,
            "max",
            "highest voltage, zener at its bottom",
            "I_Z",
            "Over it the zener burns, and the pin sees everything. A resistor in series takes it.",
            stop=ZENER_WATTS / clamp.max,
            stop_name="what the half-watt class bears",
        )
    )
