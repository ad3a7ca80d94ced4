"""What a motor draws through its bridge: running, stalled, turned round before it stands."""

from __future__ import annotations

from latchcore.catalogue.switch_records import BridgeChip
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show

#: A motor nobody measured is taken to stand after this [s].
RUN_DOWN = 0.5
SETTINGS = (
    Setting("rest", "Rest before it turns the other way", "seconds", usual="none: at speed"),
    Setting("run_down", "Time it takes to run down", "seconds", usual=show(RUN_DOWN, "s")),
)


def free_rest(context: ChannelContext) -> str:
    """The least rest after which the motor stands, as text."""
    return context.setting("run_down") or show(RUN_DOWN, "s")


def turns_at_speed(context: ChannelContext) -> bool:
    """Whether the program may turn the motor round before it stands; a coil has no speed."""
    if context.load.kind.model != "reversing":
        return False
    rest, takes = context.given("rest", "s"), context.given("run_down", "s") or RUN_DOWN
    return rest is None or rest < takes


def measures(context: ChannelContext, result: StageResult, part: BridgeChip) -> float:
    """
    M3: running current against the continuous rating, stall or reversal against the peak; returns
    the stall [A].
    """
    share, w, add = context.limits["current_share"], result.working, result.measures.append
    add(
        Measure(
            "bridge_running",
            "M3",
            "Running current through the bridge",
            "A",
            result.running,
            "max",
            "highest supply, least load resistance",
            "I_load_max",
            context.limits.reasons["current_share"],
            stop=part.i_max,
            fix=share * part.i_max,
            stop_name="continuous rating",
            fix_name="share of its continuous rating kept free",
            typical=result.typical,
        )
    )
    stall = w.note(
        "I_stall", "stalled, or starting from rest", "A", result.surge, {}, {}, "highest supply"
    )
    peak, symbol, corner = stall, "I_stall", "shaft held, or starting from rest"
    if turns_at_speed(context):
        peak = w.calc(
            "I_turn",
            "2*I_stall",
            "A",
            "turned round at full speed",
            "what the running motor makes itself stands on top of the supply: (V + E)/R with E = V",
            I_stall=(stall, "A"),
        )
        symbol, corner = "I_turn", "turned round before it stands"
    result.surge = peak
    add(
        Measure(
            "bridge_peak",
            "M3",
            "Peak current through the bridge",
            "A",
            peak,
            "max",
            corner,
            symbol,
            "A limit inside a bridge is its last resort, not the plan.",
            stop=part.i_peak,
            stop_name="peak rating",
            setting="rest" if symbol == "I_turn" else None,
        )
    )
    return stall


def turning(context: ChannelContext, result: StageResult) -> None:
    """What contacts and supply see where a motor is turned round before it stands."""
    if turns_at_speed(context):
        result.surge = result.working.calc(
            "I_turn",
            "2*I_stall",
            "A",
            "turned round at full speed",
            "what the running motor makes itself stands on top of the supply: (V + E)/R with E = V",
            I_stall=(result.surge, "A"),
        )
