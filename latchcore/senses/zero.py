"""Detectors of the line's zero: a small transformer with rectifier and transistor, or a mains-rated coupler behind resistors."""

from __future__ import annotations

import math

from latchcore import preferred
from latchcore.quantity import parse, resistor_code, show
from latchcore.report import Measure, Sized
from latchcore.senses.frame import VDD, InputContext, InputReport
from latchcore.sums import phase

#: Drops of a bridge rectifier's two diodes, base-emitter voltage of the transistor [V]; its pull-up at the pin [Ω].
BRIDGE, V_BE, PULL = 1.4, 0.65, 10e3
#: A coupler with two LEDs back to back: least transfer ratio, its share when old and hot, forward voltage, wanted peak
#: current; its pull-up is a weak one, so that little current turns it on [Ω].
RATIO, AGED, FORWARD, PEAK, WEAK_PULL = 0.5, 0.5, 1.2, 3e-3, 47e3
#: What one resistor of the half-watt mains class bears [V, W]; more of them stand in series.
EACH_VOLTS, EACH_WATTS = 350.0, 0.5


def _report(context: InputContext, report: InputReport, at: float, threshold: float, what: str) -> None:
    """Pulse and correction, and a detector that never reports."""
    w, f = report.working, context.around.frequency
    w.note("V_threshold", what, "V", threshold, {}, {}, "typical")
    peak = w.calc("V_peak_det", "V_det*sqrt(2)", "V", "nominal line", V_det=(at, "V"))
    report.measures.append(Measure("peak", "T5", "Peak at the detector", "V", peak, "min", "nominal line", "V_peak_det", "Under its threshold it reports one long pulse and never a zero.", fix=1.5 * threshold, fix_name="half as much again as its threshold"))
    pulse = phase.zero_pulse(at, f, threshold, w)
    report.facts |= {"pulse": pulse, "edges": 2 * f}
    if pulse is not None:
        report.rows = [("around the zero", f"under {show(threshold, 'V')}", f"pulse of {show(pulse[0], 's')}", "the zero lies in its middle"),
                       ("rising edge", f"{show(pulse[1], 's')} before the zero", f"{2 * f:g} a second", f"the program adds {show(pulse[1], 's')}"),
                       ("between", "above its threshold", "rest level", "a half-cycle runs")]  # fmt: skip
    context.time(report)


def transformer(context: InputContext, report: InputReport) -> None:
    """Secondary, bridge, divider, transistor: the pin goes high while the voltage is low."""
    item = context.item
    secondary = parse(item.voltage, "V") if item.voltage else 9.0
    upper, lower = parse(item.upper, "Ω") if item.upper else 10e3, parse(item.lower, "Ω") if item.lower else 4.7e3
    report.values += [Sized("upper", "Upper resistor", "R_up", "Ω", upper, resistor_code(upper), bool(item.upper)), Sized("lower", "Lower resistor", "R_low", "Ω", lower, resistor_code(lower), bool(item.lower)),
                      Sized("pull", "Pull-up at the pin", "R_pull", "Ω", PULL, resistor_code(PULL), False)]  # fmt: skip
    threshold = report.working.calc("V_threshold_sec", "V_bridge + V_BE*(R_up + R_low)/R_low", "V", "typical", "the transistor lets go below it", V_bridge=(BRIDGE, "V"), V_BE=(V_BE, "V"), R_up=(upper, "Ω"), R_low=(lower, "Ω"))
    _report(context, report, secondary, threshold, "bridge and base at the divider")
    node, prefix = context.join_pin(report), item.id
    rail = context.rail
    line, back = (rail.id, context.around.return_of(rail)) if rail is not None else (f"{prefix}.L", f"{prefix}.N")
    context.add(report, "T1", "transformer", f"{show(secondary, 'V')} secondary, safety-isolating", "reinforced barrier", domain="low", P1=line, P2=back, S1=f"{prefix}.S1", S2=f"{prefix}.S2")
    context.add(report, "B1", "bridge", "bridge rectifier 100 V 1 A", domain="low", **{"~1": f"{prefix}.S1", "~2": f"{prefix}.S2", "+": f"{prefix}.DC", "-": "0V"})
    context.add(report, "R1", "resistor", resistor_code(upper), **{"1": f"{prefix}.DC", "2": f"{prefix}.BASE"})
    context.add(report, "R2", "resistor", resistor_code(lower), **{"1": f"{prefix}.BASE", "2": "0V"})
    context.add(report, "Q1", "npn", "NPN 45 V 100 mA", B=f"{prefix}.BASE", C=node, E="0V")
    context.add(report, "R3", "resistor", resistor_code(PULL), **{"1": VDD, "2": node})


def coupler(context: InputContext, report: InputReport) -> None:
    """Two LEDs back to back behind resistors in series: the pin goes high while hardly any current flows."""
    item, w, volts = context.item, report.working, context.volts
    peak = volts.max * math.sqrt(2)
    total = w.calc("R_wanted", "V_peak_max/I_LED", "Ω", "highest line", V_peak_max=(peak, "V"), I_LED=(PEAK, "A"))
    heat = w.calc("P_all", "V_line_max**2/R_wanted", "W", "highest line", V_line_max=(volts.max, "V"), R_wanted=(total, "Ω"))
    many = max(2, math.ceil(peak / EACH_VOLTS), math.ceil(heat / (EACH_WATTS / 2)))
    each = parse(item.upper, "Ω") if item.upper else preferred.step("E12", total / many, 1)
    report.values += [Sized("upper", f"Resistors in series, {many} of", "R_each", "Ω", each, resistor_code(each), bool(item.upper)), Sized("pull", "Pull-up at the pin", "R_pull", "Ω", WEAK_PULL, resistor_code(WEAK_PULL), False)]
    across = w.calc("V_each", "V_peak_max/n", "V", "highest line, shared equally", V_peak_max=(peak, "V"), n=(many, ""))
    report.measures.append(Measure("volts", "D14", "Volts on each resistor", "V", across, "max", "highest line", "V_each", "Over its volts a resistor arcs along its body, whatever its watts.", stop=EACH_VOLTS, stop_name="what one of the half-watt class bears"))
    watts = w.calc("P_each", "V_line_max**2/(n**2*R_each*(1 - tol))", "W", "highest line", V_line_max=(volts.max, "V"), n=(many, ""), R_each=(each, "Ω"), tol=(context.tolerance, ""))
    report.measures.append(Measure("watts", "D14", "Heat in each resistor", "W", watts, "max", "highest line", "P_each", "It gets too hot to last.", stop=EACH_WATTS, fix=EACH_WATTS / 2, stop_name="rating", fix_name="half the rating"))
    need = w.calc("I_need", "V_DD_max/(R_pull*d*CTR_min)", "A", "high logic supply, old and hot", V_DD_max=(context.board.logic.max, "V"), R_pull=(WEAK_PULL, "Ω"), d=(AGED, ""), CTR_min=(RATIO, ""))
    threshold = w.calc("V_threshold_line", "V_F + I_need*n*R_each", "V", "old and hot", V_F=(FORWARD, "V"), I_need=(need, "A"), n=(many, ""), R_each=(each, "Ω"))
    report.facts |= {"many": many, "watts": EACH_WATTS}
    _report(context, report, volts.typ, threshold, "where its transistor lets go")
    node, prefix = context.join_pin(report), item.id
    rail = context.rail
    line, back = (rail.id, context.around.return_of(rail)) if rail is not None else (f"{prefix}.L", f"{prefix}.N")
    at = line
    for n in range(many):
        nxt = f"{prefix}.LED" if n == many - 1 else f"{prefix}.R{n + 1}"
        context.add(report, f"R{n + 1}", "resistor", f"{resistor_code(each)}, {EACH_WATTS:g} W, mains class", domain="low", **{"1": at, "2": nxt})
        at = nxt
    context.add(report, "OK1", "coupler", "mains-rated coupler, two LEDs back to back", "reinforced barrier", A=at, K=back, C=node, E="0V")
    context.add(report, f"R{many + 1}", "resistor", resistor_code(WEAK_PULL), **{"1": VDD, "2": node})
