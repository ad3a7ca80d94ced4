"""Whether a line carries its voltage: a mains-rated coupler that is dark around each zero."""

from __future__ import annotations

from latchcore.design.report import Measure
from latchcore.figures.quantity import show
from latchcore.pieces import zero_detectors, zero_report
from latchcore.pieces.sensing import InputContext, InputReport


def size(context: InputContext, report: InputReport) -> None:
    """The coupler of a zero detector, read as there or gone: its gaps must be waited out."""
    zero_detectors.coupler(context, report)
    slow, _ = zero_report.line_corners(context.around)
    context.time(report)
    waits = report.debounce or 0.0
    gap = report.working.calc(
        "t_gap",
        "1/(2*f_min)",
        "s",
        "slowest line",
        "once a half-cycle the coupler is dark, for less than that",
        f_min=(slow, "Hz"),
    )
    report.measures.append(
        Measure(
            "gap",
            "T5",
            "Debounce",
            "s",
            waits,
            "min",
            "slowest line",
            "t_debounce",
            "At every zero the line looks gone; shorter, and a present line reads as flickering.",
            fix=2 * gap,
            fix_name="two half-cycles",
        )
    )
    report.found.edges = 0.0
    late = show(waits, "s")
    report.rows = [
        ("line there", f"pulled low but for {show(2 * slow, 'Hz')} gaps", "low", "it is on"),
        ("line gone", "held by the pull-up", "high", f"it is off, known after {late}"),
    ]
