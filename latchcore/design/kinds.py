"""
Which kinds of stages there are: filled by the floor that holds them, read by what stands below it.
"""

from __future__ import annotations

from latchcore.design.stage import Stage

#: Stage by kind, in the order they are offered.
STAGES: dict[str, Stage] = {}


def missing_facts(context) -> list[str]:
    """What must be said before the channel's stage can be computed."""
    own = getattr(STAGES[context.channel.stage.kind], "missing", None)
    return own(context) if own else context.missing
