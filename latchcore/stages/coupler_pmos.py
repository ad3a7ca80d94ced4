"""Optocoupler that pulls the gate of a P-channel MOSFET above the load."""

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.pieces import high_gate
from latchcore.pieces.coupler_driver import COUPLER_SETTINGS, choose_coupler, coupler
from latchcore.pieces.frame import Traits, power_only, return_node

kind = "coupler_pmos"
title = "Coupler and P-channel, high side"
summary = (
    "A barrier between board and load, the load on its own ground; slow enough that only gentle PWM"
    " passes."
)
settings = (*COUPLER_SETTINGS, *high_gate.SETTINGS)
traits = Traits(isolates=True, side="high", cost=4)
suits = power_only


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.pieces.high_gate`."""
    part, _ = choose_coupler(context, 1e-3)

    def driver(around, result, current, control):
        return coupler(around, result, current, control, return_node(around))

    return high_gate.size(context, kind, title, driver, part.dark)
