"""The pull that holds a line while the contact on it is open, against hum and leakage."""

from __future__ import annotations

import math

from latchcore.design.report import Measure, Sized
from latchcore.figures.quantity import parse, resistor_code, show
from latchcore.figures.windows import Bound, resistor_window
from latchcore.pieces.guarded import contact_guard, guard
from latchcore.pieces.sensing import VDD, InputContext, InputReport

#: Capacitance from a signal lead to a mains lead beside it and to one in the same cable [F/m].
BESIDE, IN_ONE_CABLE = 10e-12, 50e-12
#: The mains they meet at worst, and its frequency.
LINE_VOLTS, LINE_FREQUENCY = 253.0, 60.0
#: What a closed contact may carry for the pull, and what is customary [A, Ω]: enough to be heard
#: over hum, little to waste.
MOST_CURRENT, CUSTOMARY = 5e-3, 10e3


def picked_up(length, coupling=BESIDE):
    """
    Peak current that a mains lead beside it drives into a signal lead [A].

    Examples
    --------
    >>> round(picked_up(10.0) * 1e6, 1), round(picked_up(10.0, IN_ONE_CABLE) * 1e6, 1)
    (13.5, 67.4)
    """
    return coupling * length * 2 * math.pi * LINE_FREQUENCY * LINE_VOLTS * math.sqrt(2)


def hold_open(
    context: InputContext, report: InputReport, label: str, corner: str, why: str
) -> tuple[str, float | None]:
    """
    The pull that holds an open line against hum and leakage, sized or as fitted, with what it is
    held against.

    Parameters
    ----------
    label, corner, why : str
        What the pull is called; the corner at which the line is open, and what happens there where
        nothing holds it

    Returns
    -------
    tuple of str and float or None
        How it is written, and its resistance at its top [Ω], ``None`` where there is none
    """
    item, board, w, tol = context.item, context.board, report.working, context.tolerance
    # Where the build switches the line, nothing says that its leads are not in one cable with it.
    rails = context.around.build.rails
    line = any(context.around.hazardous(r) and context.around.alternating(r) for r in rails)
    hum = w.calc(
        "I_hum",
        "C_lead*l*2*pi*f*V_line_peak",
        "A",
        "in one cable with a mains lead" if line else "lead all along a mains lead",
        "what a mains lead beside it drives through the air",
        C_lead=(IN_ONE_CABLE if line else BESIDE, "F"),
        l=(context.lead, "m"),
        f=(LINE_FREQUENCY, "Hz"),
        V_line_peak=(LINE_VOLTS * math.sqrt(2), "V"),
        pi=(math.pi, ""),
    )
    room = w.calc(
        "V_room",
        "V_DD_min - V_IH",
        "V",
        "low supply",
        "what the open line may lose and still read high",
        V_DD_min=(board.logic.min, "V"),
        V_IH=(context.high_at_low, "V"),
    )
    most = w.calc(
        "R_pull_most",
        "V_room/(I_hum + I_leak)",
        "Ω",
        "hum and leakage together",
        V_room=(room, "V"),
        I_hum=(hum, "A"),
        I_leak=(board.leakage, "A"),
    )
    least = w.calc(
        "R_pull_least",
        "V_DD_max/I_most",
        "Ω",
        "high supply, pulled low",
        V_DD_max=(board.logic.max, "V"),
        I_most=(MOST_CURRENT, "A"),
    )
    window = resistor_window(
        context.around.build.series,
        tol,
        [Bound("contact_current", least)],
        [Bound("open_level", most)],
    )
    real, text, nominal = _fitted(context, window)
    report.values.append(
        Sized("pull", label, "R_pull", "Ω", nominal, text, item.pull != "auto", window)
    )
    if real is None:
        report.measures.append(
            Measure(
                "pull",
                "T5",
                "Pull-up there is",
                "",
                0.0,
                "min",
                corner,
                "R_pull",
                why,
                fix=1.0,
                fix_name="one",
            )
        )
    else:
        lost = w.calc(
            "V_lost",
            "(I_hum + I_leak)*R_pull_max",
            "V",
            "hum and leakage, pull at its top",
            I_hum=(hum, "A"),
            I_leak=(board.leakage, "A"),
            R_pull_max=(real, "Ω"),
        )
        report.measures.append(
            Measure(
                "open_level",
                "T5",
                "Lost on the open line",
                "V",
                lost,
                "max",
                f"{show(context.lead, 'm')} beside a mains lead",
                "V_lost",
                "The open line no longer reads high: it counts hum.",
                fix=room,
                fix_name="what it may lose",
            )
        )
    contact_guard(context, report, real)
    return text, real


def _fitted(context: InputContext, window) -> tuple[float | None, str, float | None]:
    """
    Real resistance at its top, how it is written, and the printed value where a resistor is fitted.
    """
    item, tol = context.item, context.tolerance
    if item.pull == "none":
        return None, "none", None
    if item.pull == "internal":
        inside = context.board.internal_pull
        bare = [
            p.id
            for p in (context.pin, context.around.line(item.pin_two))
            if p is not None and p.pull_up == "none"
        ]
        if bare:
            return (
                None,
                f"none: {' and '.join(bare)} {'have' if len(bare) > 1 else 'has'} none inside",
                None,
            )
        return (
            (
                inside.max,
                f"inside the board, {show(inside.min, 'Ω')} to {show(inside.max, 'Ω')}",
                None,
            )
            if inside
            else (None, "none: the board has none", None)
        )
    if item.pull == "auto":
        fit = window.admissible or [window.nominal_min]
        nominal = min(fit, key=lambda r: abs(math.log(r / CUSTOMARY)))
        return nominal * (1 + tol), resistor_code(nominal), nominal
    nominal = parse(item.pull, "Ω")
    return nominal * (1 + tol), resistor_code(nominal), nominal


def join_pulled(context: InputContext, report: InputReport, text: str, real: float | None) -> None:
    """
    The lines with the pull that holds each and the contact that takes it to ground, into the
    netlist.
    """
    item = context.item
    for second in (False, True) if item.kind == "end_pair" else (False,):
        node, mark = context.join_pin(report, second), "2" if second else ""
        if real is not None and item.pull != "internal":
            top = item.pulled_to or VDD
            context.add(report, "R1" + mark, "resistor", text, **{"1": top, "2": node})
        node = guard(context, report, node, mark)
        word = {"open": "NO", "closed": "NC"}[item.rest]
        context.add(
            report,
            "SW1" + mark,
            "switch",
            f"{report.title.lower()}, {word}",
            **{"1": node, "2": "0V"},
        )
