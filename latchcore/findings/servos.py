"""Servos: pulses outside their range, all stalled together on a supply."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterator

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, Remedy, StageResult
from latchcore.figures.preferred import STOCK_SOURCES
from latchcore.figures.quantity import show
from latchcore.figures.slack import exceeds
from latchcore.findings.rails import pin_budget
from latchcore.pieces.servo import ends
from latchcore.sums.servos import pulse_of, servo_supply
from latchcore.whole.rails import RailReport

#: How the units of a pulse are written.
WRITTEN = {"us": "µs", "ms": "ms", "s": "s"}
READ = {"µs": "us", "us": "us", "μs": "us", "ms": "ms", "s": "s"}
PULSES = {"rest_pulse": "rests at", "work_pulse": "moves to"}


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """M4 of one servo: its ends, and each pulse it is told."""
    if result.kind != "servo_pulse":
        return []
    narrow, wide = ends(context)
    if wide <= narrow:
        return [
            Finding(
                "M4",
                "stop",
                context.channel.id,
                "Its widest pulse is not wider than its narrowest",
                f"Narrowest {show(narrow, 's')}, widest {show(wide, 's')}.",
                "Between both ends lies its travel; start at 1 ms and 2 ms and look for the ends in"
                " steps of 10 µs.",
                cause="ends",
            )
        ]
    found = (_pulse(context, key, narrow, wide) for key in PULSES)
    return [finding for finding in found if finding is not None]


def _pulse(context: ChannelContext, key: str, narrow: float, wide: float) -> Finding | None:
    text = context.setting(key)
    read = re.fullmatch(r"\s*([0-9.]+)\s*(\S+)\s*", text.replace(",", ".")) if text else None
    if read is None or read[2] not in READ:
        return None
    told = pulse_of(float(read[1]), READ[read[2]], narrow, wide)
    if told.fits:
        return None
    where = context.channel.id
    meant = f"{read[1]} {WRITTEN[told.meant]}" if told.meant else ""
    near = show(min(max(told.seconds, narrow), wide), "s")
    label = f"Take {meant}, which is in its range" if meant else f"Take {near}, its nearest end"
    remedies = (Remedy(label, (("set_setting", {"channel": where, key: meant or near}),)),)
    return Finding(
        "M4",
        "stop",
        where,
        f"The pulse it {PULSES[key]} is outside its range",
        f"{text} was typed; it takes {show(narrow, 's')} to {show(wide, 's')}."
        + (f" Meant is perhaps {meant}." if meant else ""),
        "Driven past its end a servo presses against its stop, stalled, until it burns.",
        remedies=remedies,
        cause=key,
    )


def speak(found: list[Finding]) -> list[Finding]:
    """Findings without those a rail's stalled servos speak for: one of them alone starting."""
    stalled = {f.where for f in found if f.check == "M5"}
    return [f for f in found if not (f.where in stalled and f.cause == "instant")]


def build(around: BuildContext, reports: list[RailReport], uses) -> Iterator[Finding]:
    """M5 of every supply with servos on it: all of them stalled, with whatever else is on."""
    on: dict[str, list[StageResult]] = defaultdict(list)
    for context, result in uses:
        if result.kind == "servo_pulse":
            on[context.feed.id].append(result)
    for report in reports:
        servos, rail = on.get(report.id), around.build.rail(report.id)
        if not servos or rail is None:
            continue
        budget = pin_budget(around, rail)
        limit = budget[1] if budget else report.rating
        if limit is None:
            continue
        found = servo_supply(
            [s.surge for s in servos],
            [s.running for s in servos],
            pin=budget is not None,
            limit=limit,
            others=max(0.0, report.all_on - sum(s.running for s in servos)),
        )
        if found.verdict is None:
            continue
        fits = next((s for s in STOCK_SOURCES if not exceeds(found.stalled, s)), None)
        size = show(fits or found.stalled, "A")
        edit = {"rail": rail.id, "rating": size} | ({"source": "adapter"} if budget else {})
        many = f"{len(servos)} servos" if len(servos) > 1 else "Its servo"
        yield Finding(
            "M5",
            found.verdict,
            f"rail:{rail.id}",
            f"{many} stalled ask too much of {rail.name}"
            if len(servos) > 1
            else f"A stalled servo asks too much of {rail.name}",
            f"Stalled, with everything else on, {show(found.stalled, 'A')}; it gives"
            f" {show(found.limit, 'A')}"
            + (f", four fifths of the board's {budget[0]} pin." if budget else "."),
            "At the end of their way, or all starting, they stall at once: the supply falls and"
            " takes the board with it.",
            "every servo stalled, everything else on",
            remedies=(
                Remedy(
                    f"Feed it from an adapter of {size}"
                    if budget
                    else f"A supply of {size} for {rail.name}",
                    (("set_rail", edit),),
                ),
            ),
        )
