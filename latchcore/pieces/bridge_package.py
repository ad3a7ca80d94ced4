"""A bridge in one package, whatever it drives: its supplies, inputs, pulls and heat."""

from __future__ import annotations

from latchcore.catalogue.switch_records import BridgeChip
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.figures.spread import Spread
from latchcore.pieces import control_inputs
from latchcore.pieces.frame import add_part, junction_measure, load_domain
from latchcore.pieces.sensing import VDD
from latchcore.sums import heat


def supply_limits(context: ChannelContext, result: StageResult, part: BridgeChip) -> None:
    """D3 and D10 of both its supplies."""
    control_inputs.supply_limits(context, result, part)
    add = result.measures.append
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


def inputs(
    context: ChannelContext, result: StageResult, part: BridgeChip, own: tuple[str, ...]
) -> tuple[Sized | None, bool]:
    """A pull-down at every input, whether it holds them, and P7 and P8 of their levels."""
    sinks = part.open_reads == "low"
    pull, holds = control_inputs.input_pulls(context, result, part, len(own), sinks)
    control_inputs.input_levels(
        context,
        result,
        part,
        "Under it nothing says which way it turns.",
        "Commanded to stand, every input must be read as low.",
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
