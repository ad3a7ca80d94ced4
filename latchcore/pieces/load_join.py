"""Board pin, rail and load in the netlist, whichever side the stage stands on."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult


def join_low_side(context: ChannelContext, result: StageResult, prefix: str) -> tuple[str, str]:
    """
    Board pin, rail and load of a low-side stage in the netlist; returns the rail node and the
    switch node.
    """
    net, channel = result.netlist, context.channel
    rail, switch, pin_node = context.feed.id, f"{prefix}.SW", f"{prefix}.PIN"
    domain = "low"
    net.domains |= {rail: domain, switch: domain, pin_node: "logic", "0V": "logic"}
    net.add(
        f"BOARD.{channel.pin or 'pin ?'}",
        "pin",
        channel.pin or "no pin yet",
        channel.id,
        pin=pin_node,
    )
    net.add(f"{prefix}.LOAD", "load", channel.load.shown, channel.id, **{"+": rail, "-": switch})
    return rail, switch


def join_high_load(context: ChannelContext, result: StageResult, ground: str) -> tuple[str, str]:
    """
    Rail and load of a stage that stands above its load; returns the rail node and the switch node.
    """
    prefix, rail = context.channel.id, context.feed.id
    switch = f"{prefix}.SW"
    result.netlist.domains |= {rail: "low", switch: "low"}
    result.netlist.domains.setdefault(ground, "low")
    result.netlist.add(
        f"{prefix}.LOAD", "load", context.channel.load.shown, prefix, **{"+": switch, "-": ground}
    )
    return rail, switch


def join_low_load(context: ChannelContext, result: StageResult) -> tuple[str, str]:
    """Rail and load of a stage that stands below its load, without the board's pin."""
    prefix, rail = context.channel.id, context.feed.id
    switch = f"{prefix}.SW"
    result.netlist.domains |= {rail: "low", switch: "low"}
    result.netlist.add(
        f"{prefix}.LOAD", "load", context.channel.load.shown, prefix, **{"+": rail, "-": switch}
    )
    return rail, switch
