"""PNP Darlington above the load behind a small NPN."""

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.pieces import high_base
from latchcore.pieces.drivers import SHIFTER_SETTINGS, npn_shifter
from latchcore.pieces.frame import Traits, power_only

kind = "pnp_darlington_high_side"
title = "PNP Darlington, high side"
summary = "Amperes above the load for milliamperes of base current, at a volt or two lost."
settings = (*SHIFTER_SETTINGS, *high_base.settings_for("pnp_darlington"))
traits = Traits(side="high", cost=3)
suits = power_only
#: What the shifter keeps for itself while its own part is not chosen yet [V].
ASSUMED_DROP = 0.5


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.pieces.high_base`."""
    return high_base.size(context, "pnp_darlington", kind, title, npn_shifter, ASSUMED_DROP)
