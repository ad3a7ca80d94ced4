"""Optocoupler that pulls the base of a PNP Darlington above the load."""

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.pieces import high_base
from latchcore.pieces.coupler_driver import COUPLER_SETTINGS, coupler
from latchcore.pieces.frame import Traits, power_only, return_node

kind = "coupler_pnp"
title = "Coupler and PNP Darlington, high side"
summary = "A barrier between board and load above it; a volt or two is lost in the Darlington."
settings = (*COUPLER_SETTINGS, *high_base.settings_for("pnp_darlington"))
traits = Traits(isolates=True, side="high", cost=4)
suits = power_only
#: The most a coupler keeps for itself while its own part is not chosen yet [V].
ASSUMED_DROP = 0.3


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.pieces.high_base`."""

    def driver(around, result, current, control):
        return coupler(around, result, current, control, return_node(around))

    return high_base.size(context, "pnp_darlington", kind, title, driver, ASSUMED_DROP)
