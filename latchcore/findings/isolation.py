"""
Isolation: references that are needed, barriers that are claimed, metal between what hurts and what
is touched.
"""

from __future__ import annotations

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.metal.netlist import BARRIERS, Netlist
from latchcore.whole.barriers import BarrierMap, barrier_map, bypasses


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """
    I3 of one channel, and I2 where isolation is wanted at low voltage, both read from the netlist.

    The board's 0 V must be one node with the return of what the stage switches; a barrier in
    between makes it needless.
    """
    net, prefix = result.netlist, context.channel.id
    if any(part.kind in BARRIERS for part in net.parts):
        return [
            *_joined_input(context, result),
            *_claimed(context, result),
            *_unproven(context, result),
        ]
    load = net.part(f"{prefix}.LOAD")
    if load is None:
        return []
    foreign = load.terminals.get("-", "").endswith(".LINE-")
    apart = (
        context.rail is not None
        and context.around.return_of(context.rail) != "0V"
        and context.rail.id in net.nodes()
    )
    if not (foreign or apart):
        return []
    whose = "the line" if foreign else context.rail.name
    return [
        Finding(
            "I3",
            "stop",
            prefix,
            "No common reference",
            f"{result.title} switches against the board's 0 V, but {whose} keeps its own.",
            "Without a common reference at one point no current flows, or it finds a way nobody"
            " planned.",
            lasting=context.hazardous,
        )
    ]


def _joined_input(context: ChannelContext, result: StageResult) -> list[Finding]:
    """
    A module whose input is a transistor works against its own ground, one whose LED is pulled low
    against that of what feeds it: the board must share it.
    """
    part, module = result.netlist.part(f"{context.channel.id}.K1"), result.module
    if part is None or module.part is None:
        return []
    joined = part.kind.endswith("_joined")
    feed = module.feed if joined else module.input_feed
    if feed is None or "IN-" in part.terminals or context.around.return_of(feed) == "0V":
        return []
    return [
        Finding(
            "I3",
            "stop",
            context.channel.id,
            "No common reference",
            f"The input of {result.parts['module'].title} works against the ground of {feed.name},"
            " which is kept apart from the board's.",
            "What its input takes comes back through that ground: without it nothing switches."
            + ("" if joined else " Feed its inputs from the logic supply, jumper off, or join."),
            lasting=context.hazardous,
        )
    ]


def _unproven(context: ChannelContext, result: StageResult) -> list[Finding]:
    """I2: what is called more than its figures bear out, between the line and a hand."""
    parts = [p for p in result.parts.values() if getattr(p, "unproven", False)]
    if not context.dangerous or not parts:
        return []
    part = parts[0]
    lacks = [
        words
        for words, figure in (
            ("its test voltage", part.test_voltage),
            ("the way along its surface", part.creepage),
        )
        if figure is None
    ]
    return [
        Finding(
            "I2",
            "check",
            context.channel.id,
            "Is the barrier what it is called?",
            f"{part.title} is called {part.barrier}; {' and '.join(lacks)}"
            f" {'are' if len(lacks) > 1 else 'is'} not stated, and it counts as {part.isolation}.",
            "Figures count, words do not: at least 4 kV for a minute and 6 mm along the surface.",
            lasting=True,
        )
    ]


def _claimed(context: ChannelContext, result: StageResult) -> list[Finding]:
    if "isolated" not in context.channel.needs or context.dangerous:
        return []
    net = Netlist([*result.netlist.parts], dict(result.netlist.domains))
    around = context.around
    for rail in around.build.rails:
        net.add(
            f"SUPPLY.{rail.id}",
            "source",
            rail.voltage,
            None,
            **{"+": rail.id, "-": around.return_of(rail)},
        )
    load = net.part(f"{context.channel.id}.LOAD")
    board = {"0V", f"{context.channel.id}.PIN"}
    if load is None or not any(
        board & island and set(load.terminals.values()) & island for island in net.islands()
    ):
        return []
    way = next((b for b in bypasses(net) if b.channel == context.channel.id), None)
    by = (
        ", ".join(
            w.replace("SUPPLY.", "the supply ") if w.startswith("SUPPLY.") else w for w in way.way
        )
        if way
        else "a shared supply"
    )
    return [
        Finding(
            "I2",
            "note",
            context.channel.id,
            "The barrier is bypassed",
            f"Isolation is wanted, and its load is joined with the board all the same: by {by}.",
            "A barrier with a wire round it is none: keep the ground of the load's rail apart, and"
            " feed the two sides from their own supplies.",
        )
    ]


def build(around: BuildContext, net: Netlist) -> list[Finding]:
    """
    I1 and I2 of a build with a hazardous domain; without one nothing can hurt and nothing is asked.
    """
    if not any(around.hazardous(r) for r in around.build.rails):
        return []
    return findings(barrier_map(around, net))


def findings(found: BarrierMap) -> list[Finding]:
    """
    I1 where metal joins what hurts with what is touched, I2 where the way between them is too weak.
    """
    listed = []
    for island in found.islands:
        if island.kind == "hazardous" and island.touchable:
            by = next((b for b in found.bypasses if b.way), None)
            round_ = f" A barrier is bypassed at {by.ref} by {', '.join(by.way)}." if by else ""
            listed.append(
                Finding(
                    "I1",
                    "stop",
                    "barriers",
                    "Metal joins the hazardous side with what is touched",
                    f"{island.name} is one piece of metal.{round_}",
                    "Whoever touches the board, its USB plug or the low side touches the line.",
                    lasting=True,
                )
            )
    for pair in found.pairs:
        if not pair.sufficient:
            worth = {0: "nothing", 1: "one basic barrier"}.get(pair.present, "too little")
            listed.append(
                Finding(
                    "I2",
                    "stop",
                    "barriers",
                    "Too little between the line and what is touched",
                    f"Between {pair.one.name} and {pair.other.name} stands {worth}:"
                    f" {', '.join(pair.way)}.",
                    "Hazardous against touchable wants a reinforced barrier, two basic ones with an"
                    " untouchable middle, or one basic and protective earth on the low side.",
                    lasting=True,
                    concerns=pair.channels,
                )
            )
    return listed
