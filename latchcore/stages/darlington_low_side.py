"""NPN Darlington below the load: little base current for amperes, at a volt or two lost."""

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.pieces import bipolar_low, hold_rc
from latchcore.pieces.frame import Traits, power_only

kind = "darlington_low_side"
title = "Darlington, low side"
summary = (
    "Milliamperes switch amperes, but one to two volts stay in the transistor and become heat."
)
settings = (*bipolar_low.settings_for("npn_darlington", schools=False), *hold_rc.SETTINGS)
traits = Traits(cost=2)
suits = power_only


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.pieces.bipolar_low`."""
    return bipolar_low.size(context, "npn_darlington", kind, title)
