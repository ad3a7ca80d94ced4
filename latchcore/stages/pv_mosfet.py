"""Photovoltaic coupler into a MOSFET."""

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.pieces import photovoltaic
from latchcore.pieces.frame import Traits, power_only

kind = "pv_mosfet"
title = "Photovoltaic coupler and N-channel"
summary = (
    "A barrier, and no supply needed for the gate; milliseconds to switch, so on and off only."
)
settings = photovoltaic.settings_for("nmos")
traits = Traits(isolates=True, cost=5)
suits = power_only


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.pieces.photovoltaic`."""
    return photovoltaic.size(context, "nmos", kind, title)
