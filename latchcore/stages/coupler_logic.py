"""
A coupler alone: it pulls a logic line low, or bridges a pair one way, and leaves both sides their
own ground.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show
from latchcore.pieces import lines
from latchcore.pieces.coupler_driver import COUPLER_SETTINGS, coupler
from latchcore.pieces.frame import Traits, model_only, pwm_measure

kind = "coupler_logic"
title = "Coupler alone"
summary = (
    "Pulls a logic line or bridges a pair behind a barrier; conducts one way only, so mind which"
    " side is plus."
)
settings = (*COUPLER_SETTINGS, Setting("resistor_watts", "Resistor rating", "watts"))
traits = Traits(
    isolates=True,
    cost=2,
    fails="open or shorted: as if nobody or always somebody pressed",
    note="conducts one way only",
)
suits = model_only("logic", "pair")
missing = lines.no_rail_needed


def size(context: ChannelContext) -> StageResult:
    """Size the LED resistor for the current the line wants."""
    result = StageResult(kind, title)
    current = lines.line_current(context, result)
    plus, minus = f"{context.channel.id}.LINE+", f"{context.channel.id}.LINE-"
    driver = coupler(context, result, current, plus, minus)
    result.working.note("V_CE_sat", "saturated coupler", "V", driver.drop_max, {}, {}, "highest")
    lines.low_level_measure(context, result, driver.drop_max, "V_CE_sat")
    pwm_measure(context, result, driver.turn_on, driver.turn_off)
    lines.join_line(context, result, plus, minus)
    result.live = lines.live(context, result, current, f"≤ {show(driver.drop_max, 'V')}")
    return result
