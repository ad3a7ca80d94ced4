"""N-channel MOSFET below the load: nothing from the pin while it stands, little lost, fast."""

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.pieces import bleed, fet_low, one_shot
from latchcore.pieces.frame import Traits, below_only

kind = "nmos_low_side"
title = "N-channel, low side"
summary = (
    "A gate resistor and a pull-down; takes no steady current from the pin, wants the gate voltage"
    " its data name."
)
settings = (*fet_low.SETTINGS, *bleed.SETTINGS, *one_shot.SETTINGS)
traits = Traits(cost=2)
suits = below_only


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.pieces.fet_low`."""
    return fet_low.size(context, kind, title)
