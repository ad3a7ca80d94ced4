"""One low-side switch for each coil or half-winding: latching relays, unipolar steppers."""

from __future__ import annotations

from dataclasses import replace

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.design.stage import Setting
from latchcore.pieces import fet_low, gate_zener, several, stepping, winding_states
from latchcore.pieces.frame import Traits

kind = "coil_switches"
title = "A switch for each coil"
summary = "One N-channel below each coil or half-winding, all alike, each on a line of its own."
settings = (
    *(s for s in fet_low.SETTINGS if not s.key.startswith("hold") and s != gate_zener.SETTING),
    Setting(
        "apart",
        "Both at once are kept apart by",
        "choice",
        choices=(
            ("program", "the program alone"),
            ("wired", "logic before the gates: either line holds the other's gate off"),
        ),
    ),
    *stepping.SETTINGS,
)
traits = Traits(cost=4, fails="shorted: one coil stays on")
ROLES = {
    "two_coils": ("set", "reset"),
    "four_coils": ("a1", "b1", "a2", "b2"),
}


def suits(context: ChannelContext) -> str | None:
    """Why the stage cannot serve a load, or ``None``."""
    if context.alternating:
        return "it switches direct current"
    if context.load.kind.model not in ROLES:
        return "for coils or half-windings that have a line each"
    return None


def roles(context: ChannelContext) -> tuple[str, ...]:
    """A line for each coil."""
    return ROLES.get(context.load.kind.model, ROLES["two_coils"])


def asks(key: str, settings: dict[str, str], result: StageResult | None) -> bool:
    """Whether a setting has a bearing on what is driven."""
    lines = result.motion.power.lines if result is not None and result.motion is not None else ()
    if key in stepping.KEYS:
        return len(lines) == 4
    return key != "apart" or len(lines) == 2


def size(context: ChannelContext) -> StageResult:
    """Size one switch for one coil, repeat it, and work out every state of all lines."""
    own = roles(context)
    result = fet_low.size(context, kind, title)
    pull = result.value("pull_resistor")
    several.repeat(context, result, own)
    result.each = result.running
    result.values = [replace(value, many=len(own)) for value in result.values]
    locked = len(own) == 2 and context.setting("apart") == "wired"
    if locked:
        winding_states.join_lock(context, result, own)
    at_once = stepping.phases(context) if len(own) == 4 else 1
    if len(own) == 4:
        stepping.measures(context, result)
    result.running *= at_once
    result.typical *= at_once
    result.surge = max(result.surge * at_once, result.running)
    result.motion = winding_states.worked_windings(context, result, own, pull, locked)
    result.states.clear()
    winding_states.states(context, result, result.motion)
    result.drive.active = "high"
    return result
