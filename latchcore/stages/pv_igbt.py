"""Photovoltaic coupler into an IGBT."""

from latchcore.context import ChannelContext
from latchcore.report import StageResult
from latchcore.stages import photovoltaic
from latchcore.stages.frame import Traits, power_only

kind = "pv_igbt"
title = "Photovoltaic coupler and IGBT"
summary = "For high voltages behind a barrier; wants fifteen volts of gate, loses two volts, switches slowly."
settings = photovoltaic.settings_for("igbt")
traits = Traits(isolates=True, cost=5)
suits = power_only


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.stages.photovoltaic`."""
    return photovoltaic.size(context, "igbt", kind, title)
