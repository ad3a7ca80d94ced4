"""Coils: how long they are on, what feeds them."""

from __future__ import annotations

import math
from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried
from latchcore.figures.quantity import rounded, show
from latchcore.findings.on_time import slowest_rise
from latchcore.pieces.pulse import pulses_of


@tried
def program_ends(case: Case) -> Iterator[Candidate]:
    """The program ends it within what the coil bears."""
    pulses, longest = pulses_of(case.context, case.result), case.context.channel.load.longest_rated
    if pulses.most is not None and pulses.by_copper:
        longest = rounded(pulses.most, "s", up=False)
    if longest:
        yield (
            f"Let the program end it after {longest}",
            case.edit("set_switching", longest_on=longest),
        )


@tried
def full_first(case: Case) -> Iterator[Candidate]:
    """Full volts until the armature has seated, then the pulses."""
    measure = case.finding.measure
    if measure is not None and measure.key in ("pulsed_pull_in", "full_first"):
        first = show(2 * case.context.limits["seat_time"], "s", 2)
        yield f"Full on for {first} first", case.edit("set_switching", full_first=first)


@tried
def no_pulses(case: Case) -> Iterator[Candidate]:
    """On and off, without pulses."""
    yield "Switch it on and off, without pulses", case.edit("set_switching", pwm="")


@tried
def slower_pwm(case: Case) -> Iterator[Candidate]:
    """The fastest pulses the stage follows, in two digits."""
    limit = case.result.pulses.limit
    if case.context.frequency and limit and limit > 1.0:
        slower = rounded(limit, "Hz", up=False)
        yield f"Pulse it at {slower}", case.edit("set_switching", pwm=slower)


@tried
def hold_duty(case: Case) -> Iterator[Candidate]:
    """The least share of time that holds it, rounded up."""
    hold, clamp = case.result.measure("hold"), case.result.coil.clamp
    if hold is None or hold.stop is None or not case.context.frequency or hold.worst <= 0:
        return
    forward = clamp.diode.v_f.max if clamp is not None and clamp.diode else 0.0
    wanted = case.context.duty * (hold.stop + forward) / (hold.worst + forward)
    if wanted < 1.0:
        share = f"{math.ceil(wanted * 100 - 1e-9)} %"
        yield f"Hold it at {share} of the time", case.edit("set_switching", duty=share)


@tried
def coil_regulator(case: Case) -> Iterator[Candidate]:
    """A regulator of the coil's own volts before it."""
    coil = case.result.parts.get("relay")
    volts = coil.coil if coil is not None else case.context.load.rated
    rail = case.result.coil.rail or case.context.channel.rail
    if rail is not None and (coil is not None or case.context.load.pull_in is not None):
        yield (
            f"A regulator of {volts:g} V before its coil",
            case.edit("regulate_coil", voltage=f"{volts:g} V", rail=rail),
        )


@tried
def ends_in_hardware(case: Case) -> Iterator[Candidate]:
    """A limit in hardware that comes before the coil burns."""
    bears = pulses_of(case.context, case.result).most
    if "one_shot" in case.knows:
        if case.fixed.get("one_shot") == "fitted":
            yield "Size the one-shot", case.setting(one_shot_resistor="", one_shot_capacitor="")
            for farads in ("100 nF", "220 nF", "470 nF", "2.2 µF", "4.7 µF", "10 µF"):
                yield (
                    f"Size the one-shot with {farads}",
                    case.setting(one_shot_resistor="", one_shot_capacitor=farads),
                )
        else:
            yield "Put a one-shot before the gate", case.setting(one_shot="fitted")
    if bears:
        within = show(0.8 * bears, "s", 2)
        yield f"End it in hardware after {within}", case.edit("set_load", cut_off=within)


@tried
def longer_pulse(case: Case) -> Iterator[Candidate]:
    """A pulse long enough for the slowest coil."""
    slowest = slowest_rise(case.context, case.result)
    if slowest is not None and case.finding.cause != "long":
        longer = rounded(slowest, "s", up=True)
        edits = case.edit("set_switching", longest_on=longer)
        yield f"Let the program end it after {longer}", edits


@tried
def coil_rails(case: Case) -> Iterator[Candidate]:
    """
    Other rails for the coil of a relay in the stage, then an adapter of the coil's own voltage.
    """
    if "coil_rail" not in case.knows:
        return
    around, relay = case.context.around, case.result.parts.get("relay")
    present = case.result.coil.rail if case.result.coil else None
    for rail in around.build.rails:
        if not around.hazardous(rail) and not around.alternating(rail) and rail.id != present:
            yield (
                f"Feed its coil from {rail.name}: the {{relay}}",
                case.setting(coil_rail=rail.id, relay="auto"),
            )
    if relay is not None:
        yield (
            f"Add a {relay.coil:g} V adapter for its coil: the {{relay}}",
            case.edit("feed_coil", voltage=f"{relay.coil:g} V"),
        )
