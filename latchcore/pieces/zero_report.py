"""What a detector of the zero reports: its pulse, the correction, how far both wander."""

from __future__ import annotations

from latchcore.design.context import BuildContext
from latchcore.design.report import Measure
from latchcore.figures.quantity import parse, show
from latchcore.figures.spread import Spread
from latchcore.pieces.sensing import InputContext, InputReport
from latchcore.sums import phase

#: Of a transistor that follows at once.
NO_TIME = Spread(0.0, 0.0, 0.0)


def line_corners(around: BuildContext) -> tuple[float, float]:
    """Slowest and fastest line [Hz]."""
    f = around.frequency
    return phase.CORNERS.get(f, (f * 0.94, f * 1.06))


def report_pulse(
    context: InputContext,
    report: InputReport,
    at: Spread,
    threshold: Spread,
    what: str,
    lets_go: Spread = NO_TIME,
) -> None:
    """
    Pulse and correction, how far both wander between the corners, and a detector that never
    reports. ``lets_go`` is how long its output takes to follow when the line has fallen [s].
    """
    w, f, item = report.working, context.around.frequency, context.item
    slow, fast = line_corners(context.around)
    w.note("V_threshold", what, "V", threshold.typ, {}, {}, "typical")
    peak = w.calc("V_peak_det", "V_det_min*sqrt(2)", "V", "lowest line", V_det_min=(at.min, "V"))
    report.measures.append(
        Measure(
            "peak",
            "T5",
            "Peak at the detector",
            "V",
            peak,
            "min",
            "lowest line",
            "V_peak_det",
            "Under its threshold it reports one long pulse and never a zero.",
            fix=1.5 * threshold.max,
            fix_name="half as much again as its highest threshold",
        )
    )
    pulse = phase.zero_pulse(at.typ, f, threshold.typ, w)
    report.found.pulse = pulse
    report.found.edges = 2 * f
    shift = parse(item.shift, "s") if item.shift else 0.0
    if pulse is not None:
        middle = item.edge == "middle"
        # Its first edge comes late by what it takes to let go, its middle by half of that.
        own = lets_go.typ / 2 if middle else lets_go.typ
        adds = (0.0 if middle else pulse[1]) - own - shift
        short, long = (
            (phase.zero_pulse(at.max, fast, threshold.min) or pulse)[1],
            (phase.zero_pulse(at.min, slow, threshold.max) or (0.0, phase.half(slow) / 2))[1],
        )
        _long_enough(report, 2 * short, lets_go)
        # Counted from an edge, a shorter pulse than reckoned makes the zero seem late, a longer one
        # early; its middle stays.
        late = (
            (lets_go.max - lets_go.typ) / 2
            if middle
            else w.calc(
                "t_seems_late",
                "t_half - t_half_min + t_off_max - t_off",
                "s",
                "highest and fastest line, lowest threshold, slowest to let go",
                t_half=(pulse[1], "s"),
                t_half_min=(short, "s"),
                t_off_max=(lets_go.max, "s"),
                t_off=(lets_go.typ, "s"),
            )
        )
        early = (
            (lets_go.typ - lets_go.min) / 2
            if middle
            else w.calc(
                "t_seems_early",
                "t_half_max - t_half + t_off - t_off_min",
                "s",
                "lowest and slowest line, highest threshold, quickest to let go",
                t_half_max=(long, "s"),
                t_half=(pulse[1], "s"),
                t_off=(lets_go.typ, "s"),
                t_off_min=(lets_go.min, "s"),
            )
        )
        # The middle is known only when the second edge has come, half a pulse after the zero.
        known = (
            w.note(
                "t_known",
                "half of the longest pulse",
                "s",
                long,
                {},
                {},
                "lowest line, highest threshold",
            )
            if middle
            else 0.0
        )
        report.found.known = known
        report.found.adds = adds
        report.found.late = late
        report.found.early = early
        report.found.edge = item.edge
        report.found.shifted = bool(shift)
        words = (
            f"the program {'adds' if adds >= 0 else 'takes off'} {show(abs(adds), 's')}"
            if adds
            else "nothing is added"
        )
        report.rows = [
            (
                "around the zero",
                f"under {show(threshold.typ, 'V')}",
                f"pulse of {show(pulse[0], 's')}, {show(2 * short, 's')} to {show(2 * long, 's')}",
                "the zero lies in its middle"
                + (f", {show(shift, 's')} before it" if shift else ""),
            ),
            (
                (
                    "middle between both edges",
                    "at the zero",
                    f"{2 * f:g} a second",
                    f"{words}; known {show(long, 's')} after it at the latest",
                )
                if middle
                else (
                    "rising edge",
                    f"{show(pulse[1], 's')} before the zero",
                    f"{2 * f:g} a second",
                    (
                        f"{words}; the zero then seems up to {show(late, 's')} late or"
                        f" {show(early, 's')} early"
                    ),
                )
            ),
            ("between", "above its threshold", "rest level", "a half-cycle runs"),
        ]
    context.time(report)


def _long_enough(report: InputReport, shortest: float, lets_go: Spread) -> None:
    """T5: a pulse shorter than its output takes to follow never comes out."""
    if not lets_go.max:
        return
    w = report.working
    w.note("t_pulse_min", "shortest pulse", "s", shortest, {}, {}, "highest and fastest line")
    report.measures.append(
        Measure(
            "pulse",
            "T5",
            "Shortest pulse around the zero",
            "s",
            shortest,
            "min",
            "highest and fastest line, lowest threshold",
            "t_pulse_min",
            "The coupler has not let go when its LED lights again: no zero is reported.",
            fix=lets_go.max,
            fix_name="what its coupler takes to let go",
        )
    )
