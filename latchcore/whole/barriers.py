"""
The barrier map of a build, read from its netlist alone: islands of metal, what stands between them,
what goes round it.
"""

from __future__ import annotations

from dataclasses import dataclass

import networkx as nx

from latchcore.design.context import BuildContext
from latchcore.metal.islands import STRENGTH, islands
from latchcore.metal.netlist import BARRIERS, Netlist, Part


@dataclass(frozen=True)
class Island:
    """
    One piece of metal.

    ``titles`` are the supplies and the board in it, ``loads`` the channels whose load is in it,
    ``volts`` the highest
    voltage [V], ``kind`` is ``hazardous`` or ``low``.
    """

    index: int
    nodes: tuple[str, ...]
    titles: tuple[str, ...]
    loads: tuple[str, ...]
    volts: float
    kind: str
    touchable: bool
    earthed: bool

    @property
    def name(self) -> str:
        """What it is called: its supplies and the board, else its first node."""
        return " and ".join(self.titles) or ", ".join(self.loads) or self.nodes[0]


@dataclass(frozen=True)
class Gate:
    """One barrier between two islands: the part, its class, and what it is worth."""

    one: int
    other: int
    ref: str
    kind: str


@dataclass(frozen=True)
class Bypass:
    """
    A barrier with both sides on one island, and the way round it as parts from one side to the
    other.
    """

    ref: str
    channel: str | None
    way: tuple[str, ...]


@dataclass(frozen=True)
class Pair:
    """
    Two islands: strength needed, strength present (``None``: no way at all), the weakest way, and
    whether it suffices.
    """

    one: Island
    other: Island
    needed: int
    present: int | None
    way: tuple[str, ...]
    sufficient: bool
    #: Ids of the channels whose barriers stand on that way.
    channels: tuple[str, ...] = ()


@dataclass(frozen=True)
class BarrierMap:
    """Everything the map shows."""

    islands: tuple[Island, ...]
    gates: tuple[Gate, ...]
    pairs: tuple[Pair, ...]
    bypasses: tuple[Bypass, ...]


def _sides(part: Part) -> list[tuple[str, ...]]:
    """Nodes of a part's groups of terminals, those it has."""
    found = []
    for group in BARRIERS[part.kind]:
        ends = tuple(part.terminals[t] for t in group if t in part.terminals)
        if ends:
            found.append(ends)
    return found


def links_of(net: Netlist, graph: nx.MultiGraph | None = None) -> list[tuple[str, str, str]]:
    """Every pair of nodes some part lets current through between, with the part."""
    return [
        (a, b, data["ref"])
        for a, b, data in (net.graph() if graph is None else graph).edges(data=True)
    ]


def barriers_of(net: Netlist) -> list[tuple[str, str, str, str]]:
    """Every barrier as (node, node, class, part)."""
    found = []
    for part in net.parts:
        if part.kind in BARRIERS:
            sides = _sides(part)
            found += [
                (a[0], b[0], part.barrier, part.ref)
                for i, a in enumerate(sides)
                for b in sides[i + 1 :]
            ]
    return found


def barrier_map(around: BuildContext, net: Netlist) -> BarrierMap:
    """
    The map of a build.

    Parameters
    ----------
    around : BuildContext
        The build: its rails say what is hazardous, touchable and bonded to protective earth
    net : Netlist
        Of the whole build

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> from latchcore.document.models import Build
    >>> barrier_map(BuildContext(Build(name="Bench"), load_catalogue()), Netlist()).islands
    ()
    """
    graph = net.graph()
    build, links = around.build, links_of(net, graph)
    hazardous = {
        n for r in build.rails if around.hazardous(r) for n in (r.id, around.return_of(r))
    } - {"0V"}
    low = [r for r in build.rails if not around.hazardous(r)]
    touchable = {n for r in low if r.touchable for n in (r.id, around.return_of(r))} | {"0V"}
    earthed = {around.return_of(r) for r in low if r.earthed}
    touchable |= {f"{m.id}.METAL" for m in build.metals if m.touchable}
    earthed |= {f"{m.id}.METAL" for m in build.metals if m.earthed}
    found = islands(
        net.nodes(), [(a, b) for a, b, _ in links], barriers_of(net), hazardous, touchable, earthed
    )
    names = {c.id: c.name for c in build.channels}
    shown = tuple(
        _island(around, net, i, group, found, names) for i, group in enumerate(found.groups)
    )
    gates = tuple(
        Gate(a, b, ref, kind) for (a, b), several in found.gates.items() for ref, kind in several
    )
    pairs, owner = [], {part.ref: part.channel for part in net.parts}
    for i, one in enumerate(shown):
        for other in shown[i + 1 :]:
            present, way = found.strength(i, other.index)
            if present is None and not found.needed(i, other.index):
                continue
            pairs.append(
                Pair(
                    one,
                    other,
                    found.needed(i, other.index),
                    present,
                    tuple(f"{name} ({kind})" for _, name, kind in way),
                    found.sufficient(i, other.index),
                    tuple(dict.fromkeys(owner[name] for _, name, _ in way if owner.get(name))),
                )
            )
    return BarrierMap(shown, gates, tuple(pairs), tuple(bypasses(net, graph)))


def _island(
    around: BuildContext, net: Netlist, index: int, group: list[str], found, names
) -> Island:
    inside, build = set(group), around.build
    rails = [
        r
        for r in build.rails
        if r.id in inside or (around.return_of(r) in inside and around.return_of(r) != "0V")
    ]
    titles = (["board"] if "0V" in inside else []) + [r.name for r in rails]
    titles += [m.name for m in build.metals if f"{m.id}.METAL" in inside]
    loads = [
        names[p.channel]
        for p in net.parts
        if p.kind == "load" and p.channel in names and inside & set(p.terminals.values())
    ]
    volts = max(
        (around.rail_volts(r).max for r in rails),
        default=around.board.logic.max if around.board and "0V" in inside else 0.0,
    )
    return Island(
        index,
        tuple(group),
        tuple(titles),
        tuple(dict.fromkeys(loads)),
        volts,
        "hazardous" if index in found.hazardous else "low",
        index in found.touchable,
        index in found.earthed,
    )


def bypasses(net: Netlist, graph: nx.MultiGraph | None = None) -> list[Bypass]:
    """
    Barriers whose sides are one piece of metal all the same, each with the shortest way round.

    Examples
    --------
    >>> n = Netlist()
    >>> _ = n.add("OK1", "coupler", "coupler", "ch1", barrier="basic", A="a", K="0V", C="c",
    ...     E="own")
    >>> _ = n.add("W1", "wire", "jumper", None, a="0V", b="own")
    >>> bypasses(n)[0].way
    ('W1',)
    """
    found = []
    graph = net.graph() if graph is None else graph
    for part in net.parts:
        if part.kind not in BARRIERS:
            continue
        sides = _sides(part)
        for i, one in enumerate(sides):
            for other in sides[i + 1 :]:
                shared = sorted(set(one) & set(other))
                if shared:
                    found.append(Bypass(part.ref, part.channel, tuple(shared)))
                    continue
                start, end = one[0], other[0]
                if nx.has_path(graph, start, end):
                    nodes = nx.shortest_path(graph, start, end)
                    refs = [
                        next(iter(graph[a][b].values()))["ref"]
                        for a, b in zip(nodes, nodes[1:], strict=False)
                    ]
                    found.append(
                        Bypass(
                            part.ref,
                            part.channel,
                            tuple(dict.fromkeys(r for r in refs if r != part.ref)),
                        )
                    )
    return found


def worth(kind: str) -> int:
    """What a class of barrier is worth."""
    return STRENGTH[kind]
