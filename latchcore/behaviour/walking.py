"""A walk over every state a behaviour can reach, and what is asked of it."""

from __future__ import annotations

import heapq
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import islice
from typing import Any

import networkx

from latchcore.behaviour.spaces import Move, Node, Reduced, WholeSteps

#: A walk ends here whether it is done or not.
MOST_STATES = 200_000


@dataclass
class Walk:
    """
    The states that were reached, in the order in which they were.

    Attributes
    ----------
    nodes, parents, moves : list
        Each state, the place of the one before it on the shortest way, and how it was reached
    edges : list of list of (int, Move)
        From each state, where it goes
    finished : bool
        Whether there was nothing left to walk
    """

    space: WholeSteps | Reduced
    nodes: list[Node] = field(default_factory=list)
    parents: list[int] = field(default_factory=list)
    moves: list[Move] = field(default_factory=list)
    depths: list[int] = field(default_factory=list)
    edges: list[list[tuple[int, Move]]] = field(default_factory=list)
    finished: bool = False

    @property
    def complete(self) -> bool:
        """Whether what was not reached cannot be: all was walked, and nothing was left out."""
        return self.finished and self.space.complete

    def way(self, place: int) -> list[tuple[Node, Move]]:
        """The shortest way to a state, from the power-up."""
        found = []
        while place >= 0:
            found.append((self.nodes[place], self.moves[place]))
            place = self.parents[place]
        return found[::-1]

    def those(self, holds: Callable[[list[Any]], bool], most: int) -> list[int]:
        """The first states of which something holds, the nearest first."""
        found = (n for n, node in enumerate(self.nodes) if holds(node.slots))
        return list(islice(found, most))

    def for_ever(self, holds: Callable[[list[Any]], bool]) -> int | None:
        """
        The first state from which something can hold without end, inputs moving as they like;
        timers that run fall due in the end.
        """
        inside = self._inside(holds)
        lasting = set().union(*self._lasting(inside))
        return min(self._leading(inside, lasting), default=None)

    def lasso(
        self, place: int, holds: Callable[[list[Any]], bool]
    ) -> tuple[list[Move], list[Move]]:
        """
        How it holds without end from a state :meth:`for_ever` gave: the moves into a round, and
        those of the round, in which every timer that runs is started anew or falls due.
        """
        inside = self._inside(holds)
        graph = _graph(inside, self.edges)
        for group in sorted(self._lasting(inside), key=min):
            entry = next((n for n in sorted(group) if networkx.has_path(graph, place, n)), None)
            if entry is not None:
                into = networkx.shortest_path(graph, place, entry)
                return self._moves(graph, into), self._round(graph.subgraph(group), entry)
        return [], []

    def _round(self, graph: networkx.DiGraph, entry: int) -> list[Move]:
        """A round from a state back to it that starts anew each timer that runs."""
        here, moves, open_timers = entry, [], set(self.space.running(self.nodes[entry]))
        for n, target in graph.edges:
            renewing = next(
                (
                    m
                    for m in graph.edges[n, target]["moves"]
                    if open_timers & (m.again | set(m.due))
                ),
                None,
            )
            if renewing is not None:
                moves += self._moves(graph, networkx.shortest_path(graph, here, n)) + [renewing]
                open_timers -= renewing.renewed
                here = target
        back = networkx.shortest_path(graph, here, entry)
        moves += self._moves(graph, back)
        return moves or self._moves(graph, [entry, next(iter(graph[entry]))])

    def _moves(self, graph: networkx.DiGraph, way: list[int]) -> list[Move]:
        return [graph.edges[a, b]["moves"][0] for a, b in zip(way, way[1:], strict=False)]

    def _inside(self, holds: Callable[[list[Any]], bool]) -> set[int]:
        return {n for n, node in enumerate(self.nodes) if holds(node.slots)}

    def _lasting(self, inside: set[int]) -> list[set[int]]:
        """Groups of states that lead to each other, in which no timer would have to stand still."""
        graph = _graph(inside, self.edges)
        groups = networkx.strongly_connected_components(graph)
        cycles = [g for g in groups if len(g) > 1 or any(graph.has_edge(n, n) for n in g)]
        return [group for group in cycles if self._fair(group)]

    def _leading(self, inside: set[int], lasting: set[int]) -> set[int]:
        """Those that get to any of some without leaving the inside."""
        back: dict[int, list[int]] = {}
        for n in inside:
            for target, _ in self.edges[n]:
                if target in inside:
                    back.setdefault(target, []).append(n)
        found, waiting = set(lasting), list(lasting)
        while waiting:
            for n in back.get(waiting.pop(), []):
                if n not in found:
                    found.add(n)
                    waiting.append(n)
        return found

    def _fair(self, group: set[int]) -> bool:
        """Whether no timer would have to run through all of it without ever falling due."""
        stuck = set.intersection(*(set(self.space.running(self.nodes[n])) for n in group))
        for n in group:
            for target, move in self.edges[n]:
                if target in group:
                    stuck -= move.renewed
        return not stuck


def walk(space: WholeSteps | Reduced, until: float, most: int = MOST_STATES) -> Walk:
    """
    Walk everything, the nearest first, until it is done or a clock reads ``until``.

    Parameters
    ----------
    space : WholeSteps or Reduced
    until : float
        As :func:`time.monotonic` gives it [s]
    most : int
        States at the most
    """
    found = Walk(space)
    known: dict[tuple[Any, ...], int] = {}
    waiting: list[tuple[int, int]] = []

    def enter(parent: int, move: Move, node: Node, cost: int) -> int:
        key = space.key(node)
        place = known.get(key)
        if place is None:
            place = known[key] = len(found.nodes)
            found.nodes.append(node)
            found.parents.append(parent)
            found.moves.append(move)
            found.depths.append(0 if parent < 0 else found.depths[parent] + 1)
            found.edges.append([])
            heapq.heappush(waiting, (cost, place))
        return place

    for move, node in space.starts():
        enter(-1, move, node, 0)
    while waiting:
        if len(found.nodes) > most or time.monotonic() > until:
            return found
        cost, place = heapq.heappop(waiting)
        for move, node in space.after(found.nodes[place]):
            target = enter(place, move, node, cost + space.cost(found.nodes[place], move))
            found.edges[place].append((target, move))
    found.finished = True
    return found


def _graph(inside: set[int], edges: list[list[tuple[int, Move]]]) -> networkx.DiGraph:
    """Where those inside lead to within it; each edge has its moves."""
    graph = networkx.DiGraph()
    graph.add_nodes_from(inside)
    for n in inside:
        for target, move in edges[n]:
            if target not in inside:
                continue
            if graph.has_edge(n, target):
                graph.edges[n, target]["moves"].append(move)
            else:
                graph.add_edge(n, target, moves=[move])
    return graph
