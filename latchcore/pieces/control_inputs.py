"""The logic inputs and the supply of a driver in one package, whatever it drives."""

from __future__ import annotations

from typing import Any, Protocol

from latchcore.design.context import ChannelContext
from latchcore.design.kinds import pins_of
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.figures.resistance import resistor_words
from latchcore.pieces.frame import pin_limits
from latchcore.sums import pulls


class Driver(Protocol):
    """What a package says of its supply and its inputs."""

    v_supply_min: float
    v_supply_max: float
    reads_low: float
    reads_high: float
    input_current: float


def supply_limits(context: ChannelContext, result: StageResult, part: Driver) -> None:
    """D3 and D10: the highest supply it bears, the least it works from."""
    volts, add, w = context.volts, result.measures.append, result.working
    w.note("V_supply_max", "highest rail voltage", "V", volts.max, {}, {})
    w.note("V_supply_min", "lowest rail voltage", "V", volts.min, {}, {})
    add(
        Measure(
            "bridge_supply_most",
            "D3",
            "Voltage on the driver",
            "V",
            volts.max,
            "max",
            "highest supply",
            "V_supply_max",
            "Over it the switches break through, and the supply is shorted.",
            stop=part.v_supply_max,
            stop_name="highest supply it bears",
        )
    )
    add(
        Measure(
            "bridge_supply_least",
            "D10",
            "Supply of the driver",
            "V",
            volts.min,
            "min",
            "lowest supply",
            "V_supply_min",
            "Below it its upper switches are only half on, or it lets go of the load.",
            stop=part.v_supply_min,
            stop_name="least supply it works from",
        )
    )


def input_levels(
    context: ChannelContext,
    result: StageResult,
    part: Driver,
    why: str,
    rest: str,
    pulled_up: bool = False,
) -> None:
    """
    P7 and P8: both levels of a pin, as far as its pull lets them come, against what the inputs
    surely read. ``why`` is what follows where high is not read, ``rest`` where low is not; a line
    that is ``pulled_up`` is loaded while it is low, any other while it is high.
    """
    board, w, add = context.board, result.working, result.measures.append
    # A pull-up takes nothing of a high line.
    name, own = ("I_in", part.input_current) if pulled_up else ("I_pin", result.pin_current)
    loaded: dict[str, Any] = {name: (own, "A")}
    high = w.calc(
        "V_in_high",
        f"V_OH_min - r_pin*{name}",
        "V",
        "low logic supply",
        V_OH_min=(board.voh_noload_min, "V"),
        r_pin=(board.droop, "Ω"),
        **loaded,
    )
    add(
        Measure(
            "input_high",
            "P7",
            "High level at its inputs",
            "V",
            high,
            "min",
            "low logic supply",
            "V_in_high",
            why,
            stop=part.reads_high,
            stop_name="least level read as high",
        )
    )
    low = board.vol_noload
    if pulled_up:
        low = w.calc(
            "V_OL",
            "V_OL_0 + r_sink*I_pin",
            "V",
            "the pull at its strongest",
            V_OL_0=(board.vol_noload, "V"),
            r_sink=(board.sink_droop, "Ω"),
            I_pin=(result.pin_current, "A"),
        )
    else:
        w.note("V_OL", "low level of the pin, hardly loaded", "V", low, {}, {})
    add(
        Measure(
            "input_low",
            "P8",
            "Low level at its inputs",
            "V",
            low,
            "max",
            "highest low level",
            "V_OL",
            rest,
            stop=part.reads_low,
            stop_name="highest level read as low",
        )
    )


def input_pulls(
    context: ChannelContext, result: StageResult, part: Driver, many: int, sinks: bool = False
) -> tuple[Sized | None, bool]:
    """
    One pull-down at each of ``many`` inputs, and whether it holds them against what lifts them
    while nobody drives them: leakage, a pull-up of the board, and their own current unless an open
    input ``sinks`` it.
    """
    board, w = context.board, result.working
    pins = pins_of(context)
    weak = [p.pull.min for p in pins if p is not None and p.reset == "pull_up" and p.pull]
    leak = board.leakage + (0.0 if sinks else part.input_current)
    yours = context.ohms("pull_resistor")
    pull, holds = None, False
    if not context.left_out("pull_resistor"):
        chosen = pulls.choose_pull(
            board.logic.max, min(weak, default=None), leak, part.reads_low, context.tolerance
        )
        value = yours or (context.resistor(chosen) if chosen else None)
        if value is not None:
            pull = Sized(
                "pull_resistor",
                "Pull-down at each input",
                "R_pd",
                "Ω",
                value,
                resistor_words(value, context.tolerance),
                yours is not None,
                corner="weakest moment",
                detail=f"{many} of them, one at each input",
                many=many,
            )
            result.values.append(pull)
            lifted = pulls.node_against_leakage(leak, pull.size, pull.tolerance, w)
            holds = lifted <= part.reads_low
    least = pull.size * (1 - pull.tolerance) if pull else None
    given: dict[str, Any] = {"I_in": (part.input_current, "A")}
    if least:
        given |= {"V_OH_max": (board.logic.max, "V"), "R_pd_min": (least, "Ω")}
    result.pin_current = w.calc(
        "I_pin",
        "V_OH_max/R_pd_min + I_in" if least else "I_in",
        "A",
        "stiff high pin, one line",
        **given,
    )
    pin_limits(
        context,
        result,
        "stiff high pin, one line",
        "An input takes little; its pull-down takes the rest.",
    )
    return pull, holds
