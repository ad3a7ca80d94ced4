"""Drive: what a bare pin must not carry."""

from __future__ import annotations

from latchcore.context import ChannelContext
from latchcore.quantity import show
from latchcore.report import Finding, StageResult


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """D12 of one channel."""
    if result.kind != "direct_pin" or context.load.kind.model == "led":
        return []
    heavy = "a coil kicks back into the pin when it is opened" if context.load.kind.inductive else "there is no margin at the corner"
    return [Finding("D12", "stop", context.channel.id, f"{context.load.kind.title} on a bare pin",
                    f"It draws up to {show(result.running, 'A')}; the pin is good for {show(context.board.pin_recommended, 'A')}.",
                    f"No clamp, no level shift: {heavy}. One transistor is the least that serves.", "highest supply, least load",
                    lasting=context.hazardous)]  # fmt: skip
