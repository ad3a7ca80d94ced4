"""Photovoltaic coupler into an IGBT."""

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.pieces import photovoltaic
from latchcore.pieces.frame import Traits, power_only

kind = "pv_igbt"
title = "Photovoltaic coupler and IGBT"
summary = (
    "For high voltages behind a barrier; wants fifteen volts of gate, loses two volts, switches"
    " slowly."
)
settings = photovoltaic.settings_for("igbt")
traits = Traits(isolates=True, cost=5)
suits = power_only


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.pieces.photovoltaic`."""
    return photovoltaic.size(context, "igbt", kind, title)
