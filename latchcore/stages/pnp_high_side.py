"""PNP transistor above the load behind a small NPN."""

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.pieces import high_base
from latchcore.pieces.drivers import SHIFTER_SETTINGS, npn_shifter
from latchcore.pieces.frame import Traits, power_only

kind = "pnp_high_side"
title = "PNP, high side"
summary = "The load stays on ground; the base current flows through a small NPN and is pure heat."
settings = (*SHIFTER_SETTINGS, *high_base.settings_for("pnp"))
traits = Traits(side="high", cost=3)
suits = power_only
#: What the shifter keeps for itself while its own part is not chosen yet [V].
ASSUMED_DROP = 0.5


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.pieces.high_base`."""
    return high_base.size(context, "pnp", kind, title, npn_shifter, ASSUMED_DROP)
