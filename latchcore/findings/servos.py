"""Servos: pulses outside their range, all stalled together on a supply."""

from __future__ import annotations

import re
from collections.abc import Iterator

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.outcomes import ServoOutcome
from latchcore.design.report import SEVERITIES, Finding, Remedy, StageResult
from latchcore.figures.quantity import show
from latchcore.figures.slack import within
from latchcore.findings.rails import pin_budget
from latchcore.sums.servos import ServoSupply, pulse_of, servo_supply
from latchcore.whole.rails import RailReport

#: How the units of a pulse are written.
WRITTEN = {"us": "µs", "ms": "ms", "s": "s"}
READ = {"µs": "us", "us": "us", "μs": "us", "ms": "ms", "s": "s"}
PULSES = {"rest_pulse": "rests at", "work_pulse": "moves to"}


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """M4 of one servo: its ends, and each pulse it is told."""
    way = result.servo
    if way is None:
        return []
    if way.turned:
        return [
            Finding(
                "M4",
                "stop",
                context.channel.id,
                "Its widest pulse is not wider than its narrowest",
                f"Narrowest {show(way.narrow, 's')}, widest {show(way.wide, 's')}.",
                "Between both ends lies its travel; start at 1 ms and 2 ms and look for the ends in"
                " steps of 10 µs.",
                cause="ends",
            )
        ]
    found = (_loop(context), *(_pulse(context, key, way) for key in PULSES))
    return [finding for finding in found if finding is not None]


def _loop(context: ChannelContext) -> Finding | None:
    """M4 of pulses a program makes in its loop, while nobody says how far they are off."""
    if context.setting("made") != "loop" or context.given("jitter", "s") is not None:
        return None
    where = context.channel.id
    return Finding(
        "M4",
        "check",
        where,
        "By how much do its pulses tremble?",
        "The program makes them in its loop; how far their width is off is not stated.",
        "Every interrupt and every other branch moves the end of a pulse: the arm trembles, and at"
        " its end it is pressed against its stop.",
        remedies=(
            Remedy(
                "Let a timer make them", (("set_setting", {"channel": where, "made": "timer"}),)
            ),
        ),
        cause="loop",
    )


def _pulse(context: ChannelContext, key: str, way: ServoOutcome) -> Finding | None:
    text, seconds = context.setting(key), context.given(key, "s")
    if text is None or seconds is None:
        return None
    off = way.trembles
    if within(way.narrow + off, seconds, way.wide - off):
        return None
    # Its number and unit, where it is plainly one of each; else only what it comes to is known.
    read = re.fullmatch(r"\s*([0-9]*\.?[0-9]+)\s*(\S+)\s*", text.replace(",", "."))
    known = read is not None and read[2] in READ
    number, unit = (read[1], READ[read[2]]) if read and known else (f"{seconds:g}", "s")
    told = pulse_of(float(number), unit, way.narrow, way.wide)
    where = context.channel.id
    meant = f"{number} {WRITTEN[told.meant]}" if told.meant else ""
    near = show(min(max(told.seconds, way.narrow + off), way.wide - off), "s")
    label = f"Take {meant}, which is in its range" if meant else f"Take {near}, its nearest end"
    return Finding(
        "M4",
        "stop",
        where,
        f"The pulse it {PULSES[key]} is outside its range",
        f"{text} was typed; it takes {show(way.narrow, 's')} to {show(way.wide, 's')}"
        + (f", and is off by up to {show(off, 's')}." if off else ".")
        + (f" Meant is perhaps {meant}." if meant else ""),
        "Driven past its end a servo presses against its stop, stalled, until it burns.",
        remedies=(Remedy(label, (("set_setting", {"channel": where, key: meant or near}),)),),
        cause=key,
    )


def speak(found: list[Finding]) -> list[Finding]:
    """
    Findings without those the stalled servos of a rail speak for: one load of it alone starting,
    where that is no graver.
    """
    stalled = {f.where: SEVERITIES.index(f.severity) for f in found if f.check == "M5"}
    return [
        f
        for f in found
        if f.cause != "instant" or stalled.get(f.where, 9) > SEVERITIES.index(f.severity)
    ]


def stalled(around: BuildContext, report: RailReport, uses) -> tuple[ServoSupply, int] | None:
    """
    What a rail carries with all its servos stalled and everything else on, and how many they are;
    ``None`` without servos, or where nobody says what the rail gives.
    """
    servos = [r for c, r in uses if r.servo is not None and c.channel.rail == report.id]
    rail = around.build.rail(report.id)
    budget = pin_budget(around, rail) if rail is not None else None
    limit = budget[1] if budget else report.rating
    if not servos or limit is None:
        return None
    running = [s.running for s in servos]
    others = max(0.0, report.all_on - sum(running))
    surges = [s.surge for s in servos]
    pin = budget is not None
    return servo_supply(surges, running, pin=pin, limit=limit, others=others), len(servos)


def build(around: BuildContext, reports: list[RailReport], uses) -> Iterator[Finding]:
    """M5 of every supply with servos on it."""
    for report in reports:
        known = stalled(around, report, uses)
        if known is None or known[0].verdict is None:
            continue
        found, many = known
        yield Finding(
            "M5",
            found.verdict or "fix",
            f"rail:{report.id}",
            f"{many} servos stalled ask too much of {report.name}"
            if many > 1
            else f"A stalled servo asks too much of {report.name}",
            f"Stalled, with everything else on, {show(found.stalled, 'A')}; it gives"
            f" {show(found.limit, 'A')}"
            + (", four fifths of what the board's pin does." if found.pin else "."),
            "At the end of their way, or all starting, they stall at once: the supply falls and"
            " takes the board with it.",
            "every servo stalled, everything else on",
        )
