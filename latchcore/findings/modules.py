"""Modules: what is asked of one that it cannot do."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, Remedy, StageResult


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """S8 of a module whose inputs are to be fed apart from its coils where nothing parts them."""
    module = result.module.part
    if module is None or module.separate or context.setting("feed") not in ("logic", "rail"):
        return []
    edit = ("set_setting", {"channel": context.channel.id, "feed": "auto", "input_rail": "auto"})
    return [
        Finding(
            "S8",
            "stop",
            context.channel.id,
            "Its inputs cannot be fed apart",
            f"{module.title} has one supply for coils and inputs: there is no jumper to take off.",
            "Whatever feeds its inputs feeds its coils as well: they do not move, or the inputs"
            " see too much.",
            remedies=(Remedy("Feed its inputs with its coils", (edit,)),),
            cause="feed",
        )
    ]
