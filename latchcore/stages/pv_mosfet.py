"""Photovoltaic coupler into a MOSFET."""

from latchcore.context import ChannelContext
from latchcore.report import StageResult
from latchcore.stages import photovoltaic
from latchcore.stages.frame import Traits, power_only

kind = "pv_mosfet"
title = "Photovoltaic coupler and N-channel"
summary = "A barrier, and no supply needed for the gate; milliseconds to switch, so on and off only."
settings = photovoltaic.settings_for("nmos")
traits = Traits(isolates=True, cost=5)
suits = power_only


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.stages.photovoltaic`."""
    return photovoltaic.size(context, "nmos", kind, title)
