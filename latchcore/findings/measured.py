"""Findings that are a measure beyond its limit: the bar and the finding come from the same number."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import show

TITLES = {
    "P1": "The pin gives more current than it should",
    "P7": "The logic level cannot turn this on",
    "P8": "The logic level cannot turn this off",
    "P9": "The pin sees more than it tolerates",
    "D1": "Not enough drive current at the worst corner",
    "D2": "The load is too much for the switch",
    "D3": "The opened switch sees too many volts",
    "D4": "The gate voltage is below what the MOSFET is specified at",
    "D5": "The gate sees too many volts",
    "D6": "The switch gets too hot",
    "D7": "The gate hits the pin with too much current",
    "D8": "A pin cannot turn this P-channel off",
    "D9": "The stage cannot follow this PWM frequency",
    "D10": "The array's output is not guaranteed at this level",
    "D11": "The stage leaves the load short of volts",
    "D13": "The surge is more than the switch can take",
    "D14": "A resistor is overloaded",
    "D15": "The next stage comes on by itself, or never fully",
    "K1": "The contact carries more than it may",
    "K2": "The contact may weld when it closes",
    "K3": "The contact opens more than it may",
    "K6": "The contact does not last a year",
    "C1": "The coil may not pull in",
    "C2": "The coil gets too many volts",
    "A3": "The switch gets too hot for its sink",
    "A6": "The voltage class is too low for this line",
    "A8": "The triac is not fired as it should be",
    "A10": "A delay of the program runs out of the half-cycle",
    "A4": "The load is too small for what its output leaks or holds",
    "C3": "The coil is not held",
    "C7": "The coil lets go too late",
    "C6": "The clamp is rated short",
}
#: A consequence yields to its cause: one mistake, one finding.
YIELDS = {
    "D1": ("P7", "D12"), "P1": ("D12",), "D6": ("D2", "D4", "D15"), "D9": ("D4",), "D11": ("S8",), "C1": ("D12",),
    "D14": ("D12",), "P7": ("D12",), "P9": ("D8", "P8"), "P6": ("P8",), "D10": ("D2", "D13"), "P13": ("D8", "P8"), "K6": ("K1", "K3", "K5"),
}  # fmt: skip


def findings(context: ChannelContext, result: StageResult) -> Iterator[Finding]:
    """One finding a measure that lies beyond a limit."""
    for measure in result.measures:
        if measure.verdict == "sound":
            continue
        sentence = measure.sentence + "."
        sized = result.value(measure.setting) if measure.setting else None
        if sized and sized.window and sized.window.empty:
            sentence += " No preferred value satisfies both limits: " + conflict(sized.window) + "."
        if measure.check == "D6" and result.facts.get("runaway"):
            sentence = f"At {show(result.running, 'A')} the on-resistance rises faster than the heat can leave: thermal runaway."
        yield Finding(
            measure.check, measure.verdict, context.channel.id, TITLES[measure.check], sentence, measure.why,
            measure.corner, measure,
            lasting=measure.verdict == "stop" and context.hazardous,
        )  # fmt: skip


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
    "trigger_voltage": "what the line has reached when it must have fired",
}


def conflict(window) -> str:
    """The limits in conflict, in words with their values."""
    parts = []
    for bound in window.lower:
        parts.append(f"{LIMIT_NAMES[bound.name]} wants at least {show(bound.value, 'Ω')}")
    for bound in window.upper:
        top = "no resistance is small enough" if bound.value is None else f"at most {show(bound.value, 'Ω')}"
        parts.append(f"{LIMIT_NAMES[bound.name]}: {top}" if bound.value is None else f"{LIMIT_NAMES[bound.name]} {top}")
    return ", ".join(dict.fromkeys(parts))
