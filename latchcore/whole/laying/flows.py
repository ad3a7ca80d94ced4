"""
Which way currents take through a channel: from its rail through the load and the switch back to the
rail, and through a coil that moves the switch.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import networkx as nx

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.metal.conductors import Terminal
from latchcore.metal.netlist import Netlist, Part

#: Terminals between which a part carries the current of what it switches or is.
POWER = {
    "load": (("+", "-"),),
    "npn": (("C", "E"),),
    "pnp": (("C", "E"),),
    "npn_darlington": (("C", "E"),),
    "pnp_darlington": (("C", "E"),),
    "igbt": (("C", "E"),),
    "nmos": (("D", "S"),),
    "pmos": (("D", "S"),),
    "array": (("OUT", "GND"),),
    "chain_out": (("OUT", "GND"),),
    "step_chip": (("VM", "A1"), ("A2", "GND"), ("VM", "B1"), ("B2", "GND")),
    "bridge_chip": (("VM", "OUT1"), ("OUT2", "GND")),
    "relay": (("COM", "NO"), ("COM", "NC"), ("COM2", "NO2"), ("COM2", "NC2")),
    "module": (("COM", "NO"), ("COM", "NC"), ("COM2", "NO2"), ("COM2", "NC2")),
    "module_joined": (("COM", "NO"), ("COM", "NC"), ("COM2", "NO2"), ("COM2", "NC2")),
    "solid": (("OUT+", "OUT-"),),
    "solid_joined": (("OUT+", "OUT-"),),
    "solid_relay": (("1", "2"),),
    "packaged": (("1", "2"), ("3", "4")),
    "solid_direct": (("OUT+", "OUT-"),),
    "triac": (("2", "1"),),
    "contactor": (("1", "2"), ("3", "4")),
    "fuse": (("1", "2"),),
    "wire": (("1", "2"),),
    "reed": (("3", "4"),),
    "analogue_switch": (("A", "B"),),
    "coupler": (("C", "E"),),
    "resistor": (("1", "2"),),
}
#: Terminals of a coil, or of the input that stands for one.
COILS = {
    "relay": ("1", "2"),
    "reed": ("1", "2"),
    "module": ("COIL+", "GND"),
    "module_joined": ("COIL+", "GND"),
    "solid": ("COIL+", "GND"),
    "solid_joined": ("COIL+", "GND"),
    "contactor": ("A1", "A2"),
}
#: A resistor is in a current's way only where there is no other.
FAR = 100
#: Parts across a load or coil; they belong to it.
ACROSS = ("diode", "zener", "suppressor", "snubber", "varistor", "capacitor")


@dataclass
class Flow:
    """
    One current: what it is of, the rail it comes from, the terminals it passes with the nodes they
    are on.
    """

    role: str
    rail: str | None
    running: float
    worst: float
    through: dict[Terminal, str] = field(default_factory=dict)

    @property
    def nodes(self) -> set[str]:
        """Nodes it runs through."""
        return set(self.through.values())


def flows_of(context: ChannelContext, result: StageResult) -> list[Flow]:
    """
    The load's current and the coil's, each with its way; a stage that only signals has neither.

    Parameters
    ----------
    context : ChannelContext
    result : StageResult
        Of the channel
    """
    found = []
    rail, own = context.rail, f"{context.channel.id}.LOAD"
    loads = [p for p in result.netlist.parts if p.kind == "load" and p.ref.startswith(own)]
    each = result.running if result.each is None else result.each
    surge = result.surge * each / result.running if result.running else result.surge
    for load in loads:
        if rail is not None:
            ends = rail.id, context.around.return_of(rail)
            flow = Flow("load", rail.id, each, max(surge, each))
        else:
            ends = f"{context.channel.id}.PIN", "0V"
            flow = Flow("load", None, result.pin_current, result.pin_current)
        flow.through = _way(result.netlist, load, ("+", "-"), ends)
        if flow.through:
            found.append(flow)
    return found + _coils(context, result)


def _coils(context: ChannelContext, result: StageResult) -> list[Flow]:
    found = []
    for part in result.netlist.parts:
        ends = COILS.get(part.kind)
        if ends is None or not set(ends) <= set(part.terminals):
            continue
        rail = context.rail if part.kind == "contactor" else None
        rail = rail or context.around.build.rail(result.coil.rail) or context.rail
        if rail is None:
            continue
        draws = result.coil.draws or result.running
        if result.loose.pilot is not None and part.kind == "contactor":
            draws = result.loose.pilot
        flow = Flow("coil", rail.id, draws, draws)
        ways = rail.id, context.around.return_of(rail)
        flow.through = _way(result.netlist, part, ends, ways)
        if flow.through:
            found.append(flow)
    return found


def _way(
    net: Netlist, part: Part, own: tuple[str, str], ends: tuple[str, str]
) -> dict[Terminal, str]:
    """Terminals passed from the feed through a part's own two to the return."""
    feed, back = ends
    graph = _power(net, part)
    best: dict[Terminal, str] = {}
    shortest = None
    for first, last in (own, own[::-1]):
        near, far = part.terminals[first], part.terminals[last]
        one = _leg(graph, feed, near, back)
        other = _leg(graph, far, back, feed)
        if one is None or other is None:
            continue
        if shortest is None or one[0] + other[0] < shortest:
            shortest = one[0] + other[0]
            own_ends = {Terminal(part.ref, first): near, Terminal(part.ref, last): far}
            best = {**one[1], **own_ends, **other[1]}
    return best


def _power(net: Netlist, but: Part) -> nx.Graph:
    graph = nx.Graph()
    for part in net.parts:
        if part is but:
            continue
        for a, b in POWER.get(part.kind, ()):
            if a in part.terminals and b in part.terminals:
                ends = {Terminal(part.ref, t): part.terminals[t] for t in (a, b)}
                weight = FAR if part.kind == "resistor" else 1
                here, there = part.terminals[a], part.terminals[b]
                known = graph.get_edge_data(here, there)
                if known is None or known["weight"] > weight:
                    graph.add_edge(here, there, weight=weight, ends=ends)
    return graph


def _leg(
    graph: nx.Graph, start: str, end: str, never: str
) -> tuple[int, dict[Terminal, str]] | None:
    """The shortest way between two nodes that does not cross a third, with its terminals."""
    if start == end:
        return 0, {}
    if start not in graph or end not in graph:
        return None
    known = graph if never not in graph or never in (start, end) else _without(graph, never)
    try:
        nodes = nx.shortest_path(known, start, end, weight="weight")
    except (nx.NetworkXNoPath, nx.NodeNotFound):
        return None
    length, found = 0, {}
    for one, other in zip(nodes, nodes[1:], strict=False):
        edge = known.edges[one, other]
        length += edge["weight"]
        found |= edge["ends"]
    return length, found


def _without(graph: nx.Graph, node: str) -> nx.Graph:
    return graph.subgraph([n for n in graph if n != node])
