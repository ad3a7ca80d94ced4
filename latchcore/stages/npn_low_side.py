"""NPN transistor below the load: the cheap switch for up to some hundred milliamperes."""

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.pieces import bipolar_low, bleed, hold_rc
from latchcore.pieces.frame import Traits, below_only

kind = "npn_low_side"
title = "NPN, low side"
summary = (
    "One transistor and two resistors; loses a few tenths of a volt, takes milliamperes from the"
    " pin."
)
settings = (*bipolar_low.settings_for("npn", schools=True), *hold_rc.SETTINGS, *bleed.SETTINGS)
traits = Traits(cost=1)
suits = below_only


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.pieces.bipolar_low`."""
    return bipolar_low.size(context, "npn", kind, title)
