"""The table of all states of a stage of several lines, for the page of its channel."""

from __future__ import annotations

from drawings.state_picture import state_picture
from latchcore.design.report import StageResult
from latchcore.sums.motion.judge import ACTING
from latchcore.sums.motion.power import Power
from latchcore.sums.motion.told import Told, told

#: What a load is called over the column that says what it does.
CALLED = {"motor": "The motor", "stepper": "The motor", "line": "A row or column"}


def bridge_states(result: StageResult | None) -> dict:
    """Rows of the table that come about, and the others; nothing of a stage of one line."""
    if result is None or result.motion is None:
        return {}
    power = result.motion.power
    rows = [_row(power, state) for state in told(result.motion)]
    return {
        "called": CALLED.get(power.kind, "The coil"),
        "names": [line.name for line in result.motion.power.lines],
        "reached": [row for row in rows if row["told"].reachable],
        "others": [row for row in rows if not row["told"].reachable],
    }


def _row(power: Power, state: Told) -> dict:
    can, acts = set(state.can_be), ACTING[power.kind]
    does = "on" if can <= acts else "undecided" if can & acts else "off"
    picture = state_picture(power, state)
    return {"told": state, "words": state.letters, "does": does, "picture": picture}
