"""
Voltages that come to a pin: knobs, divided-down voltages, sensors with a logic output, serial lines
both ways.
"""

from __future__ import annotations

from latchcore.design.report import Measure, Sized
from latchcore.figures import preferred
from latchcore.figures.quantity import (
    QuantityError,
    digits,
    parse,
    plain_number,
    resistor_code,
    show,
)
from latchcore.figures.typed import quoted
from latchcore.pieces.frame import UNPOWERED_PIN
from latchcore.pieces.held_open import hold_open, join_pulled
from latchcore.pieces.sensing import VDD, InputContext, InputReport

#: A scale of a knob goes no further than this either way.
MOST_SCALE = 1e9

#: What an analogue input wants its source to be under [Ω]; resistance of a logic output [Ω]; high
#: level an input wants, as a
#: share of its supply; most of the supply a divided voltage should reach, so that its top is still
#: read.
SOURCE_MOST, OUTPUT_OHMS, THEIR_HIGH, FULL_SCALE = 10e3, 50.0, 0.7, 0.95


def knob(context: InputContext, report: InputReport) -> None:
    """A potentiometer between supply and ground: its scale, ends and direction."""
    item, board, w = context.item, context.board, report.working
    ohms = parse(item.upper, "Ω") if item.upper else 10e3
    top = context.volts.max if context.rail is not None else board.logic.max
    w.note("V_wiper", "wiper at its upper end", "V", top, {}, {}, "high supply")
    if context.rail is not None:
        _over(context, report, top, "V_wiper", "Wiper at its upper end")
    source = w.calc(
        "R_source",
        "R_pot*(1 + tol)/4",
        "Ω",
        "wiper in the middle",
        R_pot=(ohms, "Ω"),
        tol=(0.2, ""),
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
    node = context.join_pin(report)
    context.add(
        report,
        "RV1",
        "pot",
        resistor_code(ohms),
        **{"1": context.rail.id if context.rail is not None else VDD, "2": node, "3": "0V"},
    )
    report.draws = (context.rail.id, top / (ohms * 0.8)) if context.rail is not None else None


def scaled(share: float, low: float, high: float, dead: float) -> float:
    """
    What a knob means at a share of its travel, its dead ends left out.

    Examples
    --------
    >>> scaled(0.5, 0, 100, 0.02), scaled(0.01, 0, 100, 0.02), scaled(1.0, 30, 10, 0.02)
    (50.0, 0.0, 10.0)
    """
    inside = min(max((share - dead) / (1 - 2 * dead), 0.0), 1.0)
    return low + (high - low) * inside


def number(text: str) -> float:
    """A plain figure of a knob's scale."""
    value = plain_number(text)
    if value is None or abs(value) > MOST_SCALE:
        raise QuantityError(
            f"{quoted(text)} is no plain number; expected one such as “0” or “180”."
        )
    return value


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
    _over(context, report, node, "V_pin", "Highest voltage at the pin")
    source = w.calc(
        "R_source",
        "R_low*R_up/(R_low + R_up)",
        "Ω",
        "nominal",
        R_low=(lower, "Ω"),
        R_up=(upper, "Ω"),
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
    _injected(context, report, volts.max, upper * (1 - tol))
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
    pin = context.join_pin(report)
    far = context.rail.id if context.rail is not None else f"{item.id}.IN"
    context.add(report, "R1", "resistor", resistor_code(upper), **{"1": far, "2": pin})
    context.add(report, "R2", "resistor", resistor_code(lower), **{"1": pin, "2": "0V"})


def sensor(context: InputContext, report: InputReport) -> None:
    """A sensor with a logic output, driving both ways or pulling low only."""
    item, board, w = context.item, context.board, report.working
    volts = context.volts if context.known else board.logic
    if item.output == "open_collector":
        text, real = hold_open(
            context,
            report,
            "Pull-up to the logic supply",
            "output off",
            "An output that only pulls low leaves the line in the air.",
        )
        report.rows = [
            ("output on", "pulled low", "low", "it happened"),
            ("output off", "held by the pull-up", "high", "nothing"),
        ]
        context.time(report)
        join_pulled(context, report, text, real)
    else:
        # What shares the board's supply goes up and down with it: it is held against that same
        # corner.
        shared = item.shifter or not context.known
        high = board.logic.min if shared else volts.max
        w.note(
            "V_high",
            "at the board's own supply" if shared else "high level of its output",
            "V",
            high,
            {},
            {},
            "highest supply of the sensor",
        )
        _over(context, report, high, "V_high", "High level of the sensor")
        least = board.logic.min if item.shifter else volts.min
        w.note("V_high_min", "least high level", "V", least, {}, {}, "lowest supply of the sensor")
        report.measures.append(
            Measure(
                "level",
                "T5",
                "Least high level",
                "V",
                least,
                "min",
                "lowest supply of the sensor",
                "V_high_min",
                "Too low to be read as high at the board's highest supply.",
                fix=context.high,
                fix_name="what reads as high",
            )
        )
        if not item.shifter:
            _injected(context, report, volts.max, OUTPUT_OHMS)
        report.rows = [
            ("output high", show(high, "V"), "high", "it happened"),
            ("output low", "0 V", "low", "nothing"),
        ]
        context.time(report)
        node = context.join_pin(report)
        _sensor_part(context, report, node)
    if item.kind == "tachometer" and item.sampled:
        fastest = w.calc(
            "f_most",
            "1/(2*t_sample)",
            "Hz",
            "counted by looking",
            t_sample=(parse(item.sampled, "s"), "s"),
        )
        report.rows.append(
            (
                "fastest by looking",
                f"{digits(fastest)} pulses a second",
                "",
                "by interrupt far more",
            )
        )


def serial(context: InputContext, report: InputReport) -> None:
    """Two lines, crossed: what they send comes to our input, what we send goes to theirs."""
    item, board, w = context.item, context.board, report.working
    theirs = context.volts if context.known else board.logic
    shared = item.shifter or not context.known
    high = board.logic.min if shared else theirs.max
    w.note(
        "V_high",
        "their high level at our input" + (", at the board's own supply" if shared else ""),
        "V",
        high,
        {},
        {},
        "highest supply of theirs",
    )
    _over(context, report, high, "V_high", "Their high level at our input")
    need = w.calc(
        "V_their_IH",
        "k*V_their_max",
        "V",
        "highest supply of theirs",
        k=(THEIR_HIGH, ""),
        V_their_max=(theirs.max, "V"),
    )
    ours = theirs.max if item.shifter else board.voh_noload_min
    w.note(
        "V_ours",
        "our high level at their input" + (", shifted" if item.shifter else ""),
        "V",
        ours,
        {},
        {},
        "lowest supply of ours",
    )
    report.measures.append(
        Measure(
            "toward",
            "T5",
            "Our high level at their input",
            "V",
            ours,
            "min",
            "our lowest, their highest supply",
            "V_ours",
            "They may not read what is sent; it works on one bench and not on the next.",
            fix=need,
            fix_name="what they read as high",
        )
    )
    if not item.shifter:
        _injected(context, report, theirs.max, OUTPUT_OHMS)
    report.rows = [
        ("their send line", "to our receive pin", show(high, "V"), "crossed"),
        ("our send pin", "to their receive line", show(ours, "V"), "crossed"),
    ]
    context.time(report)
    into, out = context.join_pin(report), context.join_pin(report, second=True)
    plus = context.rail.id if context.rail is not None else VDD
    ref = "XS1"
    if item.shifter:
        context.add(
            report,
            "XS2",
            "sensor",
            "level shifter",
            **{
                "A1": into,
                "A2": out,
                "B1": f"{item.id}.TX",
                "B2": f"{item.id}.RX",
                "VA": VDD,
                "VB": plus,
                "GND": "0V",
            },
        )
        into, out = f"{item.id}.TX", f"{item.id}.RX"
    context.add(
        report,
        ref,
        "sensor",
        "serial sensor",
        **{"+": plus, "TX": into, "RX": out, "-": _return(context)},
    )


def _return(context: InputContext) -> str:
    return context.around.return_of(context.rail) if context.rail is not None else "0V"


def _sensor_part(context: InputContext, report: InputReport, node: str) -> None:
    item, plus = context.item, context.rail.id if context.rail is not None else VDD
    if item.shifter:
        context.add(
            report,
            "XS2",
            "sensor",
            "level shifter",
            **{"A1": node, "B1": f"{item.id}.OUT", "VA": VDD, "VB": plus, "GND": "0V"},
        )
        node = f"{item.id}.OUT"
    context.add(
        report,
        "XS1",
        "sensor",
        report.title.lower(),
        **{"+": plus, "OUT": node, "-": _return(context)},
    )


def _over(
    context: InputContext, report: InputReport, volts: float, symbol: str, label: str
) -> None:
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


def _injected(context: InputContext, report: InputReport, volts: float, ohms: float) -> None:
    """Into a board that is dead while the far side is live."""
    if not context.lives_alone:
        return
    current = report.working.calc(
        "I_dead",
        "larger(0, (V_far_max - V_dead)/R_far)",
        "A",
        "board unpowered, far side live",
        "the dead pin's protection holds it at a diode's voltage",
        V_far_max=(volts, "V"),
        V_dead=(UNPOWERED_PIN, "V"),
        R_far=(ohms, "Ω"),
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
