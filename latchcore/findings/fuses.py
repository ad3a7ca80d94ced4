"""
S7 of a rail: a fuse there, under wire, plug and contact, above each surge, printed for what it must
end.
"""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.context import BuildContext
from latchcore.design.report import Finding
from latchcore.document.models import Rail
from latchcore.figures.quantity import parse, show
from latchcore.figures.slack import exceeds, falls_short, within
from latchcore.findings.fuse_fit import Fit, bears, melts_in, short_of
from latchcore.findings.fuse_print import UNLIMITED, prints
from latchcore.whole.rails import RailReport

#: Sources that limit themselves or are another device's, whose fuse is not ours to ask for.
NOT_OURS = ("board_pin", "usb", "foreign")


def fuse(around: BuildContext, rail: Rail, report: RailReport, reports, uses) -> Iterator[Finding]:
    """S7 of one rail: the worst of its rating, then what is printed on it."""
    if report.parent or rail.source in NOT_OURS:
        return
    short, own = short_of(rail, report), Fit(around, rail, report, uses)
    wire = own.wire
    if rail.fuse is None:
        nothing = not report.shares and not around.on_rail(rail)
        if nothing or _every_branch(around, rail, report):
            return
        held = wire is not None and short is not None and not exceeds(short, wire)
        if not held and (rail.source in around.hard_sources or wire is not None):
            severity = (
                "stop"
                if rail.source in UNLIMITED
                or (short is not None and wire is not None and short > wire)
                else "fix"
            )
            yield Finding(
                "S7",
                severity,
                f"rail:{rail.id}",
                f"No fuse in {rail.name}",
                "A short draws what the source can give"
                + (
                    f", {show(short, 'A')} through a wire for {show(wire, 'A')}."
                    if short and wire
                    else "."
                ),
                "Something must melt before the wire does; near a battery within a hand's breadth"
                " of its plus.",
                "a short at the far end",
                remedies=own.remedies(),
            )
        return
    yield from _rating(rail, report, own)
    yield from prints(around, rail, rail)


def _every_branch(around: BuildContext, rail: Rail, report: RailReport) -> bool:
    """
    Whether each thing a rail feeds has a fuse of its own, so that none is asked for a second time;
    what stands before them is as thick as the source's own lead, or nothing is known of it.
    """
    branches = around.on_rail(rail)
    whole = len(branches) == len(report.shares) and not report.ampacity
    return whole and all(c.fuse for c in branches)


def _rating(rail: Rail, report: RailReport, own: Fit) -> Iterator[Finding]:
    held, running, where = parse(rail.fuse, "A"), report.all_on, f"rail:{rail.id}"
    severity = "stop" if rail.source in UNLIMITED else "fix"
    for most, what in own.limits():
        if most is not None and exceeds(held, most):
            yield Finding(
                "S7",
                severity,
                where,
                f"The fuse of {rail.name} is above {what}",
                f"{show(held, 'A')}, and {what} carries {show(most, 'A')}.",
                "It then protects nothing that is thinner than itself.",
                "an overload short of a short",
                remedies=own.remedies(),
            )
            return
    if falls_short(held, running):
        yield Finding(
            "S7",
            "fix",
            where,
            f"The fuse of {rail.name} is under what runs",
            f"{show(held, 'A')}, and {show(running, 'A')} run with everything on.",
            "It melts of itself, sooner or later, and is then replaced by one that is too large.",
            "everything on",
            remedies=own.remedies(),
        )
    elif (surge := melts_in(held, report)) is not None:
        amperes, lasts = surge
        yield Finding(
            "S7",
            "fix",
            where,
            f"The fuse of {rail.name} melts in the surge",
            f"{show(amperes, 'A')} for {show(lasts, 's')}; a slow {show(held, 'A')}"
            f" bears that for {show(bears(held, amperes), 's')} at the least.",
            "It must stand every start and melt on every fault.",
            "everything on, this surge",
            remedies=own.remedies(),
        )
    elif running > 0 and not within(own.low * running, held, own.high * running):
        nearest = own.nearest(held)
        yield Finding(
            "S7",
            "note",
            where,
            f"The fuse of {rail.name} is outside the usual window",
            f"{show(held, 'A')} where {show(own.low * running, 'A')} to"
            f" {show(own.high * running, 'A')} is usual for {show(running, 'A')}"
            + ("; nothing nearer fits." if nearest else "."),
            "Too close it melts of itself in time; too far it lets a small overload pass.",
            "everything on",
            remedies=() if nearest else own.remedies(),
        )
