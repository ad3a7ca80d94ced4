"""Isolation: a stage without a barrier needs the reference it switches against."""

from __future__ import annotations

from latchcore.context import ChannelContext
from latchcore.report import Finding, StageResult


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """
    I3 of one channel, read from the netlist.

    The board's 0 V must be one node with the return of what the stage switches; a barrier in between makes it needless.
    """
    net, prefix = result.netlist, context.channel.id
    if any(part.kind in ("coupler", "pv_coupler", "reed", "relay", "module", "solid", "isolator") for part in net.parts):
        return []
    load = net.part(f"{prefix}.LOAD")
    if load is None:
        return []
    foreign = load.terminals.get("-", "").endswith(".LINE-")
    apart = context.rail is not None and context.around.return_of(context.rail) != "0V" and context.rail.id in net.nodes()
    if not (foreign or apart):
        return []
    whose = "the line" if foreign else context.rail.name
    return [Finding("I3", "stop", prefix, "No common reference", f"{result.title} switches against the board's 0 V, but {whose} keeps its own.",
                    "Without a common reference at one point no current flows, or it finds a way nobody planned.", lasting=context.hazardous)]  # fmt: skip
