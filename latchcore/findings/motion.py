"""Bridges: what their state table says of combinations that come about."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.sums.motion.told import event


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """M1 of one bridge; what floats or acts at boot is said of its pins."""
    if result.motion is None:
        return []
    return [
        Finding(
            "M1",
            verdict.severity,
            context.channel.id,
            "It comes to a state its print does not name",
            "Reached by: " + ", ".join(event(result.motion, s) for s in verdict.way) + ".",
            "A pin is written after the other; between both writes the bridge sees the old of one"
            " and the new of the other.",
            "between two writes",
        )
        for verdict in result.motion.verdicts
        if verdict.check == "M1"
    ]
