"""Modules: the ways to make one work here, and another output."""

from __future__ import annotations

import math
from collections.abc import Iterator

from latchcore.advice.modules import ways
from latchcore.advice.tries.table import Candidate, Case, tried
from latchcore.figures.quantity import parse, rounded, show
from latchcore.figures.slack import exceeds
from latchcore.pieces.firing import corners

#: Times of a program are proposed in such steps [s].
STEP = 50e-6
#: Capacitors a bypass is made of, the least first.
BYPASSES = ("100 nF", "150 nF", "220 nF")


def _on_module(case: Case) -> bool:
    return "module" in case.knows


@tried
def module_ways(case: Case) -> Iterator[Candidate]:
    """The ways that make a module work on this board."""
    if not _on_module(case):
        return
    for way in ways(case.context):
        if way.settings and not way.used:
            yield (
                f"{way.title}",
                case.setting(**{key: value or "auto" for key, value in way.settings.items()}),
            )


@tried
def other_output(case: Case) -> Iterator[Candidate]:
    """Another module, or a relay in its place."""
    if _on_module(case):
        yield "Use the {module}", case.setting(module="auto")
        yield "Use a relay: the {relay}", case.stage("relay_contact")


def _stepped(time: float, up: bool) -> str:
    """A time of a program, rounded away from its limit."""
    steps = math.ceil(time / STEP - 1e-9) if up else math.floor(time / STEP + 1e-9)
    return show(steps * STEP, "s")


@tried
def longer_gate(case: Case) -> Iterator[Candidate]:
    """A gate pulse that ends when the load holds the triac, or one that begins later."""
    output = case.result.output
    first, pulse = output.earliest, output.gate_pulse
    if output.window is None or first is None or pulse is None:
        return
    if (latched := output.latched_after) is not None:
        longer = _stepped(latched - first, True)
        yield f"A gate pulse of {longer}", case.setting(gate_pulse=longer)
        later = _stepped(latched - pulse, True)
        yield f"No delay under {later}", case.setting(earliest_delay=later)
    if (fires := output.fires_after) is not None:
        later = _stepped(fires, True)
        yield f"No delay under {later}", case.setting(earliest_delay=later)


@tried
def firing_window(case: Case) -> Iterator[Candidate]:
    """The delays that hold at every frequency, as numbers."""
    window = case.result.output.window
    if window is None:
        return
    first, last = _stepped(window.earliest, True), _stepped(window.latest, False)
    given = {
        key: text
        for key, text in (("earliest_delay", first), ("latest_delay", last))
        if key in case.fixed
    }
    for key, text in given.items():
        word = "No delay under" if key == "earliest_delay" else "No delay over"
        yield f"{word} {text}", case.setting(**{key: text})
    if len(given) > 1:
        yield f"Delays from {first} to {last}", case.setting(**given)


@tried
def seems_late(case: Case) -> Iterator[Candidate]:
    """The program reckons with a detector as late as it seems."""
    measure = case.finding.measure
    if measure is not None and measure.key == "lateness":
        late = rounded(measure.worst, "s", up=True)
        yield f"Reckon with a detector late by {late}", case.setting(detector_error=late)


@tried
def bypass(case: Case) -> Iterator[Candidate]:
    """The smallest capacitor across the load that takes what leaks."""
    leaks, context = case.result.output.leaks, case.context
    if "bypass" not in case.knows or not leaks:
        return
    slow, _, _ = corners(context)
    least = leaks / (2 * math.pi * slow * context.limits["bypass_volts"])
    if (size := next((c for c in BYPASSES if not exceeds(least, parse(c, "F"))), None)) is not None:
        yield f"A bypass of {size} class X2 across the load", case.setting(bypass=size)


@tried
def any_moment(case: Case) -> Iterator[Candidate]:
    """An output that turns on at any moment, in place of one that waits for the zero."""
    if "control" in case.knows:
        yield "Fire it at any moment: the {driver}", case.setting(control="random", driver="auto")
    if "device" in case.knows:
        for part in case.context.around.family("solid_relay"):
            if part.output == "ac_random":
                yield "Use the {device}", case.setting(device=part.id)
