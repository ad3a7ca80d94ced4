"""Levels read as high or low: sensors with a logic output, motion, serial lines both ways."""

from __future__ import annotations

from latchcore.design.report import Measure
from latchcore.figures.quantity import digits, parse, show
from latchcore.pieces.guarded import (
    OUTPUT_OHMS,
    guard,
    injected,
    least_high,
    over,
    zener_heat,
)
from latchcore.pieces.held_open import hold_open, join_pulled
from latchcore.pieces.sensing import VDD, InputContext, InputReport
from latchcore.pieces.sensor_part import returns, sensor_part

#: High level an input wants, as a share of its supply.
THEIR_HIGH = 0.7


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
        over(context, report, high, "V_high", "High level of the sensor")
        least = least_high(context, board.logic.min if item.shifter else volts.min)
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
            injected(context, report, volts.max, OUTPUT_OHMS)
            zener_heat(context, report, volts.max)
        report.rows = [
            ("output high", show(high, "V"), "high", "it happened"),
            ("output low", "0 V", "low", "nothing"),
        ]
        context.time(report)
        node = guard(context, report, context.join_pin(report))
        sensor_part(context, report, node)
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
    over(context, report, high, "V_high", "Their high level at our input")
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
        injected(context, report, theirs.max, OUTPUT_OHMS)
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
        **{"+": plus, "TX": into, "RX": out, "-": returns(context)},
    )


def motion(context: InputContext, report: InputReport) -> None:
    """A motion sensor: its output stays for a while, and tells nothing until it has warmed up."""
    sensor(context, report)
    item, w = context.item, report.working
    holds = parse(item.holds, "s") if item.holds else None
    if holds is not None:
        report.rows.append(("after a movement", f"stays for {show(holds, 's')}", "high", "same"))
    if holds is not None and item.sampled:
        every = w.note("t_sample", "as stated", "s", parse(item.sampled, "s"), {}, {})
        report.measures.append(
            Measure(
                "missed",
                "T5",
                "Looked at every",
                "s",
                every,
                "max",
                "shortest movement",
                "t_sample",
                "Looked at less often than it holds, a movement comes and goes between two looks.",
                fix=holds,
                fix_name="how long it holds",
            )
        )
    warm = parse(item.warm_up, "s") if item.warm_up else None
    report.rows.append(
        (
            "after power-up",
            f"wakes for {show(warm, 's')}" if warm else "wakes for up to a minute",
            "either",
            "nothing: ignore it",
        )
    )
