"""The table of a bridge's states for the page of its channel."""

from __future__ import annotations

from drawings.bridge_picture import bridge_picture
from latchcore.design.report import StageResult
from latchcore.sums.motion.told import Told, told

ACTS = {"forward", "reverse"}


def bridge_states(result: StageResult | None) -> dict:
    """Rows of the table that come about, and the others; nothing of a stage of one line."""
    if result is None or result.motion is None:
        return {}
    rows = [_row(state) for state in told(result.motion)]
    return {
        "names": [line.name for line in result.motion.power.lines],
        "reached": [row for row in rows if row["told"].reachable],
        "others": [row for row in rows if not row["told"].reachable],
    }


def _row(state: Told) -> dict:
    can = set(state.can_be)
    does = "on" if can <= ACTS else "undecided" if can & ACTS else "off"
    return {"told": state, "words": state.letters, "does": does, "picture": bridge_picture(state)}
