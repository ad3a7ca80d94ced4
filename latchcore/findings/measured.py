"""
Findings that are a measure beyond its limit: the bar and the finding come from the same number.
"""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import show
from latchcore.findings.records import record_of


def findings(context: ChannelContext, result: StageResult) -> Iterator[Finding]:
    """One finding a measure that lies beyond a limit."""
    for measure in result.measures:
        if measure.verdict == "sound":
            continue
        sentence = measure.sentence + "."
        sized = result.value(measure.setting) if measure.setting else None
        if sized and sized.window and sized.window.empty:
            sentence += " No preferred value satisfies both limits: " + conflict(sized.window) + "."
        yield Finding(
            measure.check,
            measure.verdict,
            context.channel.id,
            record_of(measure.check).title_of(measure.key),
            sentence,
            measure.why,
            measure.corner,
            measure,
            lasting=measure.verdict == "stop" and context.hazardous,
            cause=record_of(measure.check).cause_of(measure.key),
        )


LIMIT_NAMES = {
    "base_current": "the base current it needs",
    "pin_current": "the pin's recommended current",
    "led_least_current": "the least LED current",
    "led_maximum_current": "the most the LED bears",
    "switch_time": "the time an edge may take",
    "pin_absolute_current": "the pin's absolute current",
    "least_value": "the least gate resistor",
    "gate_on_voltage": "the gate voltage the divider must leave",
    "gate_maximum": "the most the gate bears",
    "driver_surge": "what the driver survives at the peak",
    "program_pulse": "the program's own pulse",
    "coil_survives": "what the coil bears",
    "dead_device": "what the other device bears while it is dead",
    "line_low": "what the other device still reads as low",
    "tone": "a tone that is still heard",
    "trigger_voltage": "what the line has reached when it must have fired",
}


def conflict(window) -> str:
    """The limits in conflict, in words with their values."""
    parts = []
    for bound in window.lower:
        parts.append(f"{LIMIT_NAMES[bound.name]} wants at least {show(bound.value, 'Ω')}")
    for bound in window.upper:
        top = (
            "no resistance is small enough"
            if bound.value is None
            else f"at most {show(bound.value, 'Ω')}"
        )
        parts.append(
            f"{LIMIT_NAMES[bound.name]}: {top}"
            if bound.value is None
            else f"{LIMIT_NAMES[bound.name]} {top}"
        )
    return ", ".join(dict.fromkeys(parts))
