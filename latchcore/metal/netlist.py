"""
The spine: parts with terminals, joined at nodes; what is one piece of metal is a graph question.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import networkx as nx

#: Parts whose terminals are all joined by something that lets current through.
CONDUCTS = {
    "resistor",
    "load",
    "wire",
    "source",
    "npn",
    "pnp",
    "npn_darlington",
    "pnp_darlington",
    "nmos",
    "pmos",
    "igbt",
    "diode",
    "zener",
    "led",
    "board",
    "fuse",
    "array",
    "bridge_chip",
    "chain",
    "chain_out",
    "line_driver",
    "pixel",
    "panel",
    "step_chip",
    "lock",
    "shifter",
    "capacitor",
    "analogue_switch",
    "digital_pot",
    "snubber",
    "varistor",
    "suppressor",
    "switch",
    "sensor",
    "pot",
    "triac",
    "bridge",
    "metal",
}
#: Parts with a barrier inside: metal joins within a group of terminals, never across.
BARRIERS = {
    "coupler": (("A", "K"), ("C", "E")),
    "pv_coupler": (("A", "K"), ("+", "-")),
    "reed": (("1", "2"), ("3", "4")),
    "relay": (("1", "2"), ("COM", "NO", "NC"), ("COM2", "NO2", "NC2")),
    "module": (
        ("IN", "IN-", "VCC", "RIN"),
        ("COIL+", "GND"),
        ("COM", "NO", "NC"),
        ("COM2", "NO2", "NC2"),
    ),
    "module_joined": (
        ("IN", "VCC", "RIN", "COIL+", "GND"),
        ("COM", "NO", "NC"),
        ("COM2", "NO2", "NC2"),
    ),
    "solid_joined": (("IN", "VCC", "RIN", "COIL+", "GND"), ("OUT+", "OUT-")),
    "solid": (("IN", "IN-", "VCC", "RIN"), ("COIL+", "GND"), ("OUT+", "OUT-")),
    "triac_driver": (("A", "K"), ("6", "4")),
    "solid_relay": (("+", "-"), ("1", "2")),
    "packaged": (("+", "-"), ("1", "2"), ("3", "4"), ("N",)),
    "solid_direct": (("+", "-"), ("OUT+", "OUT-")),
    "contactor": (("A1", "A2"), ("1", "2"), ("3", "4")),
    "transformer": (("P1", "P2"), ("S1", "S2")),
    "isolator": (("in", "gnd"), ("out", "ret")),
}


@dataclass(frozen=True, slots=True)
class Part:
    """
    One part: its reference, what it is, its value as printed, and which node each terminal is on.
    """

    ref: str
    kind: str
    value: str
    terminals: dict[str, str]
    channel: str | None = None
    note: str = ""
    #: Class of the barrier inside: functional where nothing better is stated.
    barrier: str = "functional"

    @property
    def short(self) -> str:
        """Its value without the package, which a title has behind its first comma."""
        return self.value.partition(",")[0]


@dataclass
class Netlist:
    """
    Parts joined at named nodes.

    Examples
    --------
    >>> n = Netlist([Part("R1", "resistor", "330", {"1": "PIN", "2": "BASE"}),
    ...              Part("Q1", "npn", "NPN", {"B": "BASE", "C": "SW", "E": "0V"})])
    >>> n.at("BASE")
    [('R1', '2'), ('Q1', 'B')]
    >>> [part.ref for part in n.across("PIN", "BASE")]
    ['R1']
    """

    parts: list[Part] = field(default_factory=list)
    domains: dict[str, str] = field(default_factory=dict)

    def add(
        self, ref, kind, value, channel=None, note="", barrier="functional", **terminals
    ) -> Part:
        """Add a part; terminals are given as name=node."""
        part = Part(ref, kind, value, terminals, channel, note, barrier)
        self.parts.append(part)
        return part

    def nodes(self) -> list[str]:
        """Every node, in the order first met."""
        return list(dict.fromkeys(node for part in self.parts for node in part.terminals.values()))

    def at(self, node: str) -> list[tuple[str, str]]:
        """Terminals on a node as (part, terminal)."""
        return [(p.ref, t) for p in self.parts for t, n in p.terminals.items() if n == node]

    def across(self, first: str, second: str, *kinds: str) -> list[Part]:
        """Parts with one terminal on each of two nodes."""
        return [
            p
            for p in self.parts
            if {first, second} <= set(p.terminals.values()) and (not kinds or p.kind in kinds)
        ]

    def part(self, ref: str) -> Part | None:
        """The part of that reference, or ``None``."""
        return next((p for p in self.parts if p.ref == ref), None)

    def the(self, ref: str) -> Part:
        """The part of that reference; ``KeyError`` where nobody joined one."""
        found = self.part(ref)
        if found is None:
            raise KeyError(ref)
        return found

    def graph(self) -> nx.MultiGraph:
        """Nodes joined by every part that lets current through in some way."""
        graph = nx.MultiGraph()
        graph.add_nodes_from(self.nodes())
        for part in self.parts:
            groups = BARRIERS.get(part.kind) or (
                (tuple(part.terminals),) if part.kind in CONDUCTS else ()
            )
            for group in groups:
                ends = [part.terminals[t] for t in group if t in part.terminals]
                graph.add_edges_from((ends[0], other, {"ref": part.ref}) for other in ends[1:])
        return graph

    def islands(self) -> list[set[str]]:
        """Groups of nodes that are joined by conducting parts: the electrical domains."""
        return [set(group) for group in nx.connected_components(self.graph())]

    def joined(self, node: str, ref: str) -> bool:
        """
        Whether a part hangs, by metal, on the same island as a node; one channel's own netlist, its
        rail's source aside.
        """
        part = self.part(ref)
        island = next((i for i in self.islands() if node in i), set())
        return part is not None and bool(island & set(part.terminals.values()))

    def extend(self, other: Netlist) -> None:
        """Take in another netlist; nodes of the same name are the same node."""
        self.parts.extend(other.parts)
        self.domains.update(other.domains)
