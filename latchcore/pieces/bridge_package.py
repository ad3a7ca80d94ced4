"""A bridge in one package, whatever it drives: its supplies, inputs, pulls and heat."""

from __future__ import annotations

from typing import Any

from latchcore.catalogue.switch_records import BridgeChip
from latchcore.design.context import ChannelContext
from latchcore.design.kinds import pins_of
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.figures.resistance import resistor_words
from latchcore.figures.spread import Spread
from latchcore.pieces.frame import add_part, junction_measure, load_domain, pin_limits
from latchcore.pieces.sensing import VDD
from latchcore.sums import heat, pulls


def supply_limits(context: ChannelContext, result: StageResult, part: BridgeChip) -> None:
    """D3 and D10: the highest supply it bears, the least it works from."""
    volts, add = context.volts, result.measures.append
    result.working.note("V_supply_min", "lowest rail voltage", "V", volts.min, {}, {})
    add(
        Measure(
            "bridge_supply_most",
            "D3",
            "Voltage on the bridge",
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
            "Supply of the bridge",
            "V",
            volts.min,
            "min",
            "lowest supply",
            "V_supply_min",
            "Below it its upper switches are only half on, or it lets go of the motor.",
            stop=part.v_supply_min,
            stop_name="least supply it works from",
        )
    )
    if part.logic is not None:
        logic = logic_of(context)
        result.working.note("V_logic_min", "lowest logic supply", "V", logic.min, {}, {})
        result.working.note("V_logic_max", "highest logic supply", "V", logic.max, {}, {})
        add(
            Measure(
                "bridge_logic_least",
                "D10",
                "Logic supply of the bridge",
                "V",
                logic.min,
                "min",
                "lowest logic supply",
                "V_logic_min",
                "Its inputs are read, and its switches driven, from this supply.",
                stop=part.logic.min,
                stop_name="least logic supply",
            )
        )
        add(
            Measure(
                "bridge_logic_most",
                "D3",
                "Logic supply of the bridge",
                "V",
                logic.max,
                "max",
                "highest logic supply",
                "V_logic_max",
                "Over it its logic is destroyed.",
                stop=part.logic.max,
                stop_name="highest logic supply",
            )
        )


def logic_of(context: ChannelContext) -> Spread:
    rail = context.fixed_rail("logic_rail")
    return context.around.rail_volts(rail) if rail is not None else context.board.logic


def heat_of(
    context: ChannelContext, result: StageResult, part: BridgeChip, drop: float, running: float
) -> None:
    w = result.working
    result.power = heat.saturated_loss(drop, running, 0.0, 0.0, context.heat_duty, w)
    junction_measure(
        context,
        result,
        heat.junction(result.power, part.theta_ja, context.enclosed, w),
        part.t_j_max,
        why="Both closed switches are in one package; its ground pins carry the heat away.",
    )


def input_levels(context: ChannelContext, result: StageResult, part: BridgeChip) -> None:
    """P7 and P8: both levels of a pin against what the inputs surely read."""
    board, w, add = context.board, result.working, result.measures.append
    high = w.calc(
        "V_in_high",
        "V_OH_min - r_pin*I_pin",
        "V",
        "low logic supply",
        V_OH_min=(board.voh_noload_min, "V"),
        r_pin=(board.droop, "Ω"),
        I_pin=(result.pin_current, "A"),
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
            "Under it nothing says which way it turns.",
            stop=part.reads_high,
            stop_name="least level read as high",
        )
    )
    w.note("V_OL", "low level of the pin, hardly loaded", "V", board.vol_noload, {}, {})
    add(
        Measure(
            "input_low",
            "P8",
            "Low level at its inputs",
            "V",
            board.vol_noload,
            "max",
            "highest low level",
            "V_OL",
            "Commanded to stand, every input must be read as low.",
            stop=part.reads_low,
            stop_name="highest level read as low",
        )
    )


def input_pulls(
    context: ChannelContext, result: StageResult, part: BridgeChip, own: tuple[str, ...]
) -> tuple[Sized | None, bool]:
    """
    One pull-down at every input, and whether it holds them against what lifts them while nobody
    drives them.
    """
    board, w = context.board, result.working
    pins = pins_of(context)
    weak = [p.pull.min for p in pins if p is not None and p.reset == "pull_up" and p.pull]
    # An input that reads low by itself draws towards ground; any other may lift the line.
    leak = board.leakage + (0.0 if part.open_reads == "low" else part.input_current)
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
                detail=f"{len(own)} of them, one at each input",
                many=len(own),
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


def join_package(
    context: ChannelContext,
    result: StageResult,
    part: BridgeChip,
    nodes: tuple[str, str],
    *,
    enable: str | None = None,
    mark: str = "",
    role: str = "",
) -> None:
    """
    One package with the motor, coil or winding between its outputs.

    Parameters
    ----------
    nodes : (str, str)
        What its two direction inputs hang on
    enable : str, optional
        What its enable hangs on; tied to its logic supply where it has one
    mark, role : str
        Behind its reference, and which winding it is, where a stage has several
    """
    channel, net = context.channel, result.netlist
    tail = f".{role}" if role else ""
    rail, one, other = context.feed.id, f"{channel.id}.OUT1{tail}", f"{channel.id}.OUT2{tail}"
    back = context.around.return_of(context.feed)
    net.domains |= dict.fromkeys((rail, one, other), load_domain(context))
    ends = {"IN1": nodes[0], "IN2": nodes[1]}
    load = f"{channel.id}.LOAD{mark}"
    net.add(load, "load", channel.load.shown, channel.id, role, **{"+": one, "-": other})
    supply = VDD
    if part.logic is not None:
        logic = context.fixed_rail("logic_rail")
        supply = ends["VCC"] = logic.id if logic is not None else VDD
    if part.enable:
        ends["EN"] = enable or supply
    power = {"VM": rail, "OUT1": one, "OUT2": other, "GND": back}
    add_part(context, result, f"U1{mark}", "bridge_chip", part.title, **power, **ends)
