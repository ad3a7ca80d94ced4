"""
Detectors of the line's zero: a small transformer with rectifier and transistor, or a mains-rated
coupler behind resistors.
"""

from __future__ import annotations

import math

from latchcore.design.context import BuildContext
from latchcore.design.report import Measure, Sized
from latchcore.document.models import SenseInput
from latchcore.figures import preferred
from latchcore.figures.quantity import parse, resistor_code, show
from latchcore.figures.spread import Spread
from latchcore.pieces import zero_report
from latchcore.pieces.sensing import VDD, InputContext, InputReport, missing_of
from latchcore.sums import phase

#: Drops of a bridge rectifier's two diodes and base-emitter voltage of the transistor, least, usual
#: and most [V]; its
#: pull-up at the pin [Ω]; a small transformer's volts without load over those printed.
BRIDGE, V_BE, PULL, UNLOADED = (1.0, 1.4, 1.8), (0.55, 0.65, 0.75), 10e3, 1.2
#: A coupler with two LEDs back to back: transfer ratio least, usual and most, the share of the
#: least when old and hot, forward voltage, wanted peak current.
RATIO, AGED, FORWARD, PEAK = (0.5, 1.0, 3.0), 0.5, (1.0, 1.2, 1.4), 3e-3
#: The pull-ups it may have [Ω], the weakest first: little current turns it on, and it lets go the
#: later.
WEAK_PULLS = (47e3, 39e3, 33e3, 27e3, 22e3, 18e3, 15e3, 12e3, 10e3)
#: Times an ordinary coupler takes to let go with 47 kΩ at its collector [s]; they grow with it.
LETS_GO, LETS_GO_AT = (100e-6, 200e-6, 300e-6), 47e3
#: What one resistor of the half-watt mains class bears [V, W]; more of them stand in series.
EACH_VOLTS, EACH_WATTS = 350.0, 0.5


def transformer(context: InputContext, report: InputReport) -> None:
    """Secondary, bridge, divider, transistor: the pin goes high while the voltage is low."""
    item = context.item
    secondary = parse(item.voltage, "V") if item.voltage else 9.0
    upper, lower = (
        parse(item.upper, "Ω") if item.upper else 10e3,
        (parse(item.lower, "Ω") if item.lower else 4.7e3),
    )
    report.values += [
        Sized(
            "upper", "Upper resistor", "R_up", "Ω", upper, resistor_code(upper), bool(item.upper)
        ),
        Sized(
            "lower", "Lower resistor", "R_low", "Ω", lower, resistor_code(lower), bool(item.lower)
        ),
        _pulled(context, PULL),
    ]
    tol = context.tolerance
    low, usual, high = (
        report.working.calc(
            f"V_threshold_{end}",
            "V_bridge + V_BE*(R_up + R_low)/R_low",
            "V",
            corner,
            "the transistor lets go below it",
            V_bridge=(bridge, "V"),
            V_BE=(base, "V"),
            R_up=(upper * up, "Ω"),
            R_low=(lower / up, "Ω"),
        )
        for end, corner, bridge, base, up in zip(
            ("min", "typ", "max"),
            (
                "lowest drops, resistors low over high",
                "typical",
                "highest drops, resistors high over low",
            ),
            BRIDGE,
            V_BE,
            (1 - tol, 1.0, 1 + tol),
            strict=True,
        )
    )
    line = context.around.rail_volts(context.rail)
    at = Spread(
        secondary * line.min / line.typ, secondary, secondary * UNLOADED * line.max / line.typ
    )
    zero_report.report_pulse(
        context, report, at, Spread(low, usual, high), "bridge and base at the divider"
    )
    node, prefix = context.join_pin(report), item.id
    rail = context.rail
    live, back = (
        (rail.id, context.around.return_of(rail))
        if rail is not None
        else (f"{prefix}.L", f"{prefix}.N")
    )
    context.add(
        report,
        "T1",
        "transformer",
        f"{show(secondary, 'V')} secondary, safety-isolating",
        "reinforced barrier",
        barrier="reinforced",
        domain="low",
        P1=live,
        P2=back,
        S1=f"{prefix}.S1",
        S2=f"{prefix}.S2",
    )
    context.add(
        report,
        "B1",
        "bridge",
        "bridge rectifier 100 V 1 A",
        domain="low",
        **{"~1": f"{prefix}.S1", "~2": f"{prefix}.S2", "+": f"{prefix}.DC", "-": "0V"},
    )
    context.add(
        report,
        "R1",
        "resistor",
        resistor_code(upper),
        **{"1": f"{prefix}.DC", "2": f"{prefix}.BASE"},
    )
    context.add(
        report, "R2", "resistor", resistor_code(lower), **{"1": f"{prefix}.BASE", "2": "0V"}
    )
    context.add(report, "Q1", "npn", "NPN 45 V 100 mA", B=f"{prefix}.BASE", C=node, E="0V")
    context.add(
        report,
        "R3",
        "resistor",
        resistor_code(context.fitted_pull or PULL),
        **{"1": VDD, "2": node},
    )


def _pulled(context: InputContext, usual: float) -> Sized:
    ohms = context.fitted_pull or usual
    yours = bool(context.fitted_pull)
    return Sized("pull", "Pull-up at the pin", "R_pull", "Ω", ohms, resistor_code(ohms), yours)


def coupler(context: InputContext, report: InputReport) -> None:
    """
    Two LEDs back to back behind resistors in series: the pin goes high while hardly any current
    flows.
    """
    item, w, volts = context.item, report.working, context.volts
    peak = volts.max * math.sqrt(2)
    total = w.calc(
        "R_wanted",
        "V_peak_max/I_LED",
        "Ω",
        "highest line",
        V_peak_max=(peak, "V"),
        I_LED=(PEAK, "A"),
    )
    heat = w.calc(
        "P_all",
        "V_line_max**2/R_wanted",
        "W",
        "highest line",
        V_line_max=(volts.max, "V"),
        R_wanted=(total, "Ω"),
    )
    many = max(2, math.ceil(peak / EACH_VOLTS), math.ceil(heat / (EACH_WATTS / 2)))
    each = parse(item.upper, "Ω") if item.upper else preferred.step("E12", total / many, 1)
    pull = context.fitted_pull or _weak_pull(context, many * each)
    report.values += [
        Sized(
            "upper",
            f"Resistors in series, {many} of",
            "R_each",
            "Ω",
            each,
            resistor_code(each),
            bool(item.upper),
        ),
        _pulled(context, pull),
    ]
    across = w.calc(
        "V_each",
        "V_peak_max/n",
        "V",
        "highest line, shared equally",
        V_peak_max=(peak, "V"),
        n=(many, ""),
    )
    report.measures.append(
        Measure(
            "volts",
            "D14",
            "Volts on each resistor",
            "V",
            across,
            "max",
            "highest line",
            "V_each",
            "Over its volts a resistor arcs along its body, whatever its watts.",
            stop=EACH_VOLTS,
            stop_name="what one of the half-watt class bears",
        )
    )
    watts = w.calc(
        "P_each",
        "V_line_max**2/(n**2*R_each*(1 - tol))",
        "W",
        "highest line",
        V_line_max=(volts.max, "V"),
        n=(many, ""),
        R_each=(each, "Ω"),
        tol=(context.tolerance, ""),
    )
    report.measures.append(
        Measure(
            "watts",
            "D14",
            "Heat in each resistor",
            "W",
            watts,
            "max",
            "highest line",
            "P_each",
            "It gets too hot to last.",
            stop=EACH_WATTS,
            fix=EACH_WATTS / 2,
            stop_name="rating",
            fix_name="half the rating",
        )
    )
    tol, logic, ends = context.tolerance, context.board.logic, []
    for end, corner, supply, ratio, forward, up in (
        ("min", "low logic supply, best coupler", logic.min, RATIO[2], FORWARD[0], 1 - tol),
        ("typ", "typical", logic.typ, RATIO[1], FORWARD[1], 1.0),
        ("max", "high logic supply, old and hot", logic.max, AGED * RATIO[0], FORWARD[2], 1 + tol),
    ):
        need = w.calc(
            f"I_need_{end}",
            "V_DD/(R_pull*CTR)",
            "A",
            corner,
            V_DD=(supply, "V"),
            R_pull=(pull * (2 - up), "Ω"),
            CTR=(ratio, ""),
        )
        ends.append(
            w.calc(
                f"V_threshold_line_{end}",
                "V_F + I_need*n*R_each",
                "V",
                corner,
                V_F=(forward, "V"),
                I_need=(need, "A"),
                n=(many, ""),
                R_each=(each * up, "Ω"),
            )
        )
    report.found.many = many
    report.found.watts = EACH_WATTS
    lets_go = Spread(*(time * pull / LETS_GO_AT for time in LETS_GO))
    zero_report.report_pulse(
        context, report, volts, Spread(*ends), "where its transistor lets go", lets_go
    )
    node, prefix = context.join_pin(report), item.id
    rail = context.rail
    live, back = (
        (rail.id, context.around.return_of(rail))
        if rail is not None
        else (f"{prefix}.L", f"{prefix}.N")
    )
    at = live
    for n in range(many):
        nxt = f"{prefix}.LED" if n == many - 1 else f"{prefix}.R{n + 1}"
        context.add(
            report,
            f"R{n + 1}",
            "resistor",
            f"{resistor_code(each)}, {EACH_WATTS:g} W, mains class",
            domain="low",
            **{"1": at, "2": nxt},
        )
        at = nxt
    context.add(
        report,
        "OK1",
        "coupler",
        "mains-rated coupler, two LEDs back to back",
        "reinforced barrier",
        barrier="reinforced",
        A=at,
        K=back,
        C=node,
        E="0V",
    )
    context.add(report, f"R{many + 1}", "resistor", resistor_code(pull), **{"1": VDD, "2": node})


def _weak_pull(context: InputContext, series: float) -> float:
    """
    The weakest pull-up of a coupler behind so many ohms with which it has let go before its LED
    lights again, on the highest and fastest line [Ω].
    """
    _, fast = zero_report.line_corners(context.around)
    tol = context.tolerance
    for pull in WEAK_PULLS:
        need = context.board.logic.min / (pull * (1 + tol) * RATIO[2])
        pulse = phase.zero_pulse(context.volts.max, fast, FORWARD[0] + need * series * (1 - tol))
        if pulse is None or pulse[0] >= LETS_GO[2] * pull / LETS_GO_AT:
            return pull
    return WEAK_PULLS[-1]


def detector(around: BuildContext, item: SenseInput) -> InputReport:
    """
    The report of a zero detector, for the stage that counts from it; empty while a fact is missing.
    """
    report = InputReport(item.id, item.name, item.kind, missing_of(around, item))
    if not set(report.missing) - {"pin"}:
        {"zero_transformer": transformer, "zero_coupler": coupler}[item.kind](
            InputContext(around, item), report
        )
    return report
