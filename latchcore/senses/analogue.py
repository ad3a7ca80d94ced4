"""Voltages a pin reads as such: knobs, divided-down voltages, sensors with an analogue output."""

from __future__ import annotations

from latchcore.design.report import Measure, Sized
from latchcore.figures import preferred
from latchcore.figures.quantity import digits, parse, resistor_code, show
from latchcore.pieces.guarded import (
    guard,
    injected,
    over,
    series,
    zener_heat,
)
from latchcore.pieces.knob_scale import number, scaled
from latchcore.pieces.sensing import VDD, InputContext, InputReport
from latchcore.pieces.sensor_part import sensor_part

#: What an analogue input wants its source to be under [Ω]; most of the supply a divided voltage
#: should reach, so that its top is still read; least of the supply a sensor's range should cover.
SOURCE_MOST, FULL_SCALE, LEAST_SPAN = 10e3, 0.95, 0.1


def knob(context: InputContext, report: InputReport) -> None:
    """A potentiometer between supply and ground: its scale, ends and direction."""
    item, board, w = context.item, context.board, report.working
    ohms = parse(item.upper, "Ω") if item.upper else 10e3
    top = context.volts.max if context.rail is not None else board.logic.max
    w.note("V_wiper", "wiper at its upper end", "V", top, {}, {}, "high supply")
    if context.rail is not None:
        over(context, report, top, "V_wiper", "Wiper at its upper end")
    source = w.calc(
        "R_source",
        "R_pot*(1 + tol)/4 + R_series",
        "Ω",
        "wiper in the middle",
        R_pot=(ohms, "Ω"),
        tol=(0.2, ""),
        R_series=(series(context), "Ω"),
    )
    report.measures.append(
        Measure(
            "source",
            "T5",
            "Resistance of the wiper",
            "Ω",
            source,
            "max",
            "wiper in the middle",
            "R_source",
            "The analogue input takes its sample before a weak source has filled it.",
            fix=SOURCE_MOST,
            fix_name="what the input wants",
        )
    )
    low, high = number(item.lowest), number(item.highest)
    dead = parse(item.dead_end, "%") / 100 if item.dead_end else 0.02
    report.found.scale = (low, high, dead)
    report.found.reversed = high < low
    for share in (0.0, 0.25, 0.5, 0.75, 1.0):
        report.rows.append(
            (
                f"turned to {share * 100:g} %",
                show(share * board.logic.typ, "V") if share else "0 V",
                f"{share:.2f} of full scale",
                digits(scaled(share, low, high, dead)),
            )
        )
    context.time(report)
    node = guard(context, report, context.join_pin(report))
    context.add(
        report,
        "RV1",
        "pot",
        resistor_code(ohms),
        **{"1": context.rail.id if context.rail is not None else VDD, "2": node, "3": "0V"},
    )
    report.draws = (context.rail.id, top / (ohms * 0.8)) if context.rail is not None else None


def divider(context: InputContext, report: InputReport) -> None:
    """A voltage brought down to what the pin reads."""
    item, board, w, tol, volts = (
        context.item,
        context.board,
        report.working,
        context.tolerance,
        context.volts,
    )
    lower = parse(item.lower, "Ω") if item.lower else 10e3
    wanted = FULL_SCALE * board.logic.min
    if item.upper:
        upper = parse(item.upper, "Ω")
    else:
        least = lower * (1 + tol) * (volts.max / wanted - 1) / (1 - tol)
        upper = next(
            iter(preferred.between(context.around.build.series, max(least, 1.0), 10e6)), 10e6
        )
    report.values += [
        Sized(
            "upper", "Upper resistor", "R_up", "Ω", upper, resistor_code(upper), bool(item.upper)
        ),
        Sized(
            "lower", "Lower resistor", "R_low", "Ω", lower, resistor_code(lower), bool(item.lower)
        ),
    ]
    node = w.calc(
        "V_pin",
        "V_in_max*R_low*(1 + tol)/(R_low*(1 + tol) + R_up*(1 - tol))",
        "V",
        "highest voltage, resistors at their corners",
        V_in_max=(volts.max, "V"),
        R_low=(lower, "Ω"),
        R_up=(upper, "Ω"),
        tol=(tol, ""),
    )
    over(context, report, node, "V_pin", "Highest voltage at the pin")
    source = w.calc(
        "R_source",
        "R_low*R_up/(R_low + R_up) + R_series",
        "Ω",
        "nominal",
        R_low=(lower, "Ω"),
        R_up=(upper, "Ω"),
        R_series=(series(context), "Ω"),
    )
    report.measures.append(
        Measure(
            "source",
            "T5",
            "Resistance of the divider",
            "Ω",
            source,
            "max",
            "nominal",
            "R_source",
            "The analogue input takes its sample before a weak source has filled it.",
            fix=SOURCE_MOST * 1.001,
            fix_name="what the input wants",
        )
    )
    injected(context, report, volts.max, upper * (1 - tol))
    zener_heat(context, report, volts.max, upper * (1 - tol))
    for v in (volts.min, volts.typ, volts.max):
        at = v * lower / (lower + upper)
        report.rows.append(
            (
                show(v, "V"),
                show(at, "V"),
                f"{at / board.logic.typ:.2f} of full scale",
                f"times {digits((lower + upper) / lower)}",
            )
        )
    context.time(report)
    pin = guard(context, report, context.join_pin(report))
    far = context.rail.id if context.rail is not None else f"{item.id}.IN"
    context.add(report, "R1", "resistor", resistor_code(upper), **{"1": far, "2": pin})
    context.add(report, "R2", "resistor", resistor_code(lower), **{"1": pin, "2": "0V"})


def source_measure(report: InputReport, ohms: float, label: str, corner: str) -> None:
    """T5: whether the source fills the input's sample in time."""
    report.measures.append(
        Measure(
            "source",
            "T5",
            label,
            "Ω",
            ohms,
            "max",
            corner,
            "R_source",
            "The analogue input takes its sample before a weak source has filled it.",
            fix=SOURCE_MOST * 1.001,
            fix_name="what the input wants",
        )
    )


def span_measure(context: InputContext, report: InputReport, low: float, high: float) -> None:
    """T5: whether what is read changes enough to tell one end from the other."""
    span = report.working.calc(
        "V_span",
        "V_top - V_bottom",
        "V",
        "from one end to the other",
        V_top=(high, "V"),
        V_bottom=(low, "V"),
    )
    report.measures.append(
        Measure(
            "span",
            "T5",
            "From one end of its range to the other",
            "V",
            span,
            "min",
            "nominal",
            "V_span",
            "Under a tenth of the scale noise and tolerance are as large as what is read.",
            fix=LEAST_SPAN * context.board.logic.typ,
            fix_name="a tenth of the scale",
        )
    )


def analogue(context: InputContext, report: InputReport) -> None:
    """A sensor whose output is a voltage: its range against the scale, its meaning along it."""
    item, board, w, volts = context.item, context.board, report.working, context.volts
    w.note("V_out_max", "top of its range", "V", volts.max, {}, {}, "top of its range")
    over(context, report, volts.max, "V_out_max", "Top of the sensor's range")
    own = parse(item.upper, "Ω") if item.upper else 1e3
    source = w.calc(
        "R_source",
        "R_out + R_series",
        "Ω",
        "as stated" if item.upper else "usual for such an output",
        R_out=(own, "Ω"),
        R_series=(series(context), "Ω"),
    )
    source_measure(report, source, "Resistance of its output", "nominal")
    span_measure(context, report, volts.min, volts.max)
    injected(context, report, volts.max, own)
    zener_heat(context, report, volts.max, own)
    low, high = number(item.lowest), number(item.highest)
    report.found.scale = (low, high, 0.0)
    for share in (0.0, 0.5, 1.0):
        at = volts.min + share * (volts.max - volts.min)
        report.rows.append(
            (
                f"at {share * 100:g} % of its range",
                show(at, "V") if at else "0 V",
                f"{at / board.logic.typ:.2f} of full scale",
                digits(low + share * (high - low)),
            )
        )
    context.time(report)
    node = guard(context, report, context.join_pin(report))
    sensor_part(context, report, node)


def light(context: InputContext, report: InputReport) -> None:
    """
    A light-dependent resistor to the supply and a fixed one to 0 V: the brighter, the higher.
    """
    item, board, w = context.item, context.board, report.working
    dark, bright = parse(item.dark or "", "Ω"), parse(item.bright or "", "Ω")
    if item.pull in ("auto", "internal", "none"):
        wanted = w.calc(
            "R_mid",
            "sqrt(R_dark*R_bright)",
            "Ω",
            "between both",
            "the middle in ratio gives the widest swing",
            R_dark=(dark, "Ω"),
            R_bright=(bright, "Ω"),
        )
        # No weaker than what the input takes its sample from in time.
        most = min(wanted, SOURCE_MOST)
        fixed = preferred.largest_below(context.around.build.series, most) or 1.0
    else:
        fixed = parse(item.pull, "Ω")
    report.values.append(
        Sized(
            "pull",
            "Fixed resistor to 0 V",
            "R_fix",
            "Ω",
            fixed,
            resistor_code(fixed),
            item.pull not in ("auto", "internal", "none"),
        )
    )
    ends = [
        w.calc(
            f"V_{name}",
            "V_DD*R_fix/(R_fix + R_light)",
            "V",
            name,
            V_DD=(board.logic.typ, "V"),
            R_fix=(fixed, "Ω"),
            R_light=(ohms, "Ω"),
        )
        for name, ohms in (("dark", dark), ("bright", bright))
    ]
    span_measure(context, report, *ends)
    source = w.calc(
        "R_source",
        "R_fix*R_dark/(R_fix + R_dark) + R_series",
        "Ω",
        "in the dark",
        R_series=(series(context), "Ω"),
        R_fix=(fixed, "Ω"),
        R_dark=(dark, "Ω"),
    )
    source_measure(report, source, "Resistance of the divider", "in the dark")
    for name, volts in zip(("dark", "bright"), ends, strict=True):
        report.rows.append(
            (name, show(volts, "V"), f"{volts / board.logic.typ:.2f} of full scale", name)
        )
    context.time(report)
    pin = context.join_pin(report)
    node = guard(context, report, pin)
    text = f"{resistor_code(bright)} to {resistor_code(dark)}"
    context.add(report, "LR1", "light_resistor", text, **{"1": VDD, "2": node})
    context.add(report, "R1", "resistor", resistor_code(fixed), **{"1": node, "2": "0V"})
