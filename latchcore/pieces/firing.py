"""The delays at which a triac may be fired, and the detector they are counted from."""

from __future__ import annotations

from latchcore.catalogue.mains_records import Triac
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.pieces import zero_detectors
from latchcore.pieces.input_kinds import KINDS
from latchcore.pieces.sensing import InputReport
from latchcore.sums import phase

#: Gate pulse and lateness of a detector where none are given [s].
GATE_PULSE, LATE = 100e-6, 100e-6
#: Resistor from a sensitive gate to the near terminal, and from one of a few milliamperes [Ω].
GATE_HOLD, GATE_HOLD_FINE = 330.0, 1000.0
#: Gates up to this current are held by the larger one [A].
FINE = 10e-3


def gate_hold(part: Triac) -> float | None:
    """Resistor that holds a sensitive gate [Ω]; ``None`` where the gate needs none."""
    if not part.sensitive:
        return None
    return GATE_HOLD_FINE if part.gate_current <= FINE else GATE_HOLD


def corners(context: ChannelContext) -> tuple[float, float, float]:
    """Slowest, nominal and fastest line [Hz]."""
    nominal = context.around.frequency
    low, high = phase.CORNERS.get(nominal, (nominal * 0.94, nominal * 1.06))
    return low, nominal, high


def zero_detector(around: BuildContext, rail: str | None) -> InputReport | None:
    """The detector of the zero on a rail, else any there is; ``None`` without one that reports."""
    items = sorted(
        (i for i in around.build.inputs if KINDS[i.kind].of_the_line), key=lambda i: i.rail != rail
    )
    return next(
        (found for item in items if (found := zero_detectors.detector(around, item)).found.pulse),
        None,
    )


def _phase(context: ChannelContext, result: StageResult) -> phase.FiringWindow:
    """A10: the delays the program may use, and whether those it uses lie within."""
    w, (slow, nominal, fast) = result.working, corners(context)

    def seconds(key: str, usual: float) -> float:
        given = context.given(key, "s")
        return usual if given is None else given

    detector = zero_detector(context.around, context.channel.rail)
    seems_late, seems_early, known = (
        (detector.found.late, detector.found.early, detector.found.known)
        if detector
        else (0.0, 0.0, 0.0)
    )
    pulse, late = (
        seconds("gate_pulse", GATE_PULSE),
        seconds("detector_error", max(LATE, seems_late)),
    )
    # A detector that reports early takes from the start what one that reports late takes from the
    # end.
    start = (
        w.calc(
            "t_earliest",
            "t_start + t_seems_early",
            "s",
            "detector early",
            t_start=(phase.MARGIN_START, "s"),
            t_seems_early=(seems_early, "s"),
        )
        if seems_early
        else max(phase.MARGIN_START, known)
    )
    window = phase.firing_window(slow, nominal, fast, pulse, late, start=start, working=w)
    if context.setting("detector_error") and detector:
        w.note("t_detector", f"between the corners of {detector.name}", "s", seems_late, {}, {})
        result.measures.append(
            Measure(
                "lateness",
                "A10",
                "The detector seems late by",
                "s",
                seems_late,
                "max",
                "highest line, lowest threshold",
                "t_detector",
                "A pulse counted from a late zero runs into the next half-cycle.",
                fix=late,
                fix_name="what is reckoned with",
                setting="detector_error",
            )
        )
    earliest, latest = (
        seconds("earliest_delay", window.earliest),
        seconds("latest_delay", window.latest),
    )
    result.output.window = window
    result.output.gate_pulse = pulse
    result.output.detector_error = late
    result.output.earliest = earliest
    result.output.latest = latest
    # The window's own edges are no finding's business; only what the program was told to use is
    # held against them.
    if context.setting("earliest_delay"):
        w.note("t_first", "as the program has it", "s", earliest, {}, {})
        result.measures.append(
            Measure(
                "earliest",
                "A10",
                "Shortest delay",
                "s",
                earliest,
                "min",
                "after the zero",
                "t_first",
                "Before the line has risen the triac does not hold: it misfires.",
                fix=window.earliest,
                fix_name="least that holds",
            )
        )
    if context.setting("latest_delay"):
        w.note("t_last", "as the program has it", "s", latest, {}, {})
        result.measures.append(
            Measure(
                "latest",
                "A10",
                "Longest delay",
                "s",
                latest,
                "max",
                "fastest line, detector late",
                "t_last",
                "The pulse runs into the next half-cycle: full light in place of almost none.",
                fix=window.latest,
                fix_name="most that holds at every frequency",
            )
        )
    return window
