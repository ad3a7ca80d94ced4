"""S7 of the fuse of one channel alone, behind that of its rail."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import parse, show
from latchcore.figures.slack import exceeds, falls_short
from latchcore.findings.fuse_fit import bears, own_wire, weakest_of
from latchcore.findings.fuse_print import UNLIMITED, prints


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """What is wrong with its size, then what is printed on it."""
    if not context.channel.fuse or context.rail is None:
        return []
    return [*_size(context, result), *prints(context.around, context.rail, context.channel)]


def _size(context: ChannelContext, result: StageResult) -> Iterator[Finding]:
    rail, where = context.rail, context.channel.id
    held, running = parse(context.channel.fuse, "A"), result.running
    weakest = weakest_of(result)
    limits = (
        (own_wire(context), "its wire"),
        weakest or (None, ""),
        (context.around.thickest(rail), "the thickest wire that is listed"),
        (parse(rail.fuse, "A") if rail.fuse else None, "the fuse of its rail"),
    )
    for most, what in limits:
        if most is not None and exceeds(held, most):
            yield Finding(
                "S7",
                "stop" if rail.source in UNLIMITED else "fix",
                where,
                f"Its own fuse is above {what}",
                f"{show(held, 'A')}, and {what} is for {show(most, 'A')}.",
                "It then protects nothing that is thinner than itself.",
                "an overload short of a short",
                lasting=context.dangerous,
            )
            return
    surge, lasts = max(result.surge, running), result.surge_time or 0.0
    if falls_short(held, running):
        yield Finding(
            "S7",
            "fix",
            where,
            "Its own fuse is under what runs",
            f"{show(held, 'A')}, and {show(running, 'A')} run.",
            "It melts of itself, sooner or later.",
            "highest current",
        )
    elif bears(held, surge) <= lasts:
        yield Finding(
            "S7",
            "fix",
            where,
            "Its own fuse melts in the surge",
            f"{show(surge, 'A')} for {show(lasts, 's')}; a slow {show(held, 'A')} bears that"
            f" for {show(bears(held, surge), 's')} at the least.",
            "It must stand every start and melt on every fault.",
            "start of the load",
        )
