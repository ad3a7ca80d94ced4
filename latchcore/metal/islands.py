"""
Isolation as a question to a graph: what is one piece of metal, and how strong is the weakest way
between two pieces.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field

import networkx as nx

#: What a barrier is worth along a path.
STRENGTH = {"functional": 0, "basic": 1, "reinforced": 2}
#: What hazardous against touchable takes: a reinforced barrier, or two basic ones with an
#: untouchable middle.
NEEDED = 2
#: Up to so many groups every way between two of them is listed.
MOST_LISTED = 12


@dataclass
class Islands:
    """
    Groups of metal, and the barriers between them.

    ``groups`` are lists of nodes; ``hazardous``, ``touchable`` and ``earthed`` hold the indices of
    those in which any node is.
    ``gates`` maps a pair of indices to the barriers between them as (name, class).
    """

    groups: list[list[str]]
    hazardous: set[int]
    touchable: set[int]
    earthed: set[int]
    gates: dict[tuple[int, int], list[tuple[str, str]]] = field(default_factory=dict)

    def of(self, node: str) -> int | None:
        """Index of the group a node is in."""
        return next((i for i, group in enumerate(self.groups) if node in group), None)

    def needed(self, one: int, other: int) -> int:
        """
        Strength a pair needs: two where a hazardous group meets one that can be touched, one less
        where that one is earthed
        and something is there; none between low groups.
        """
        for a, b in ((one, other), (other, one)):
            if a in self.hazardous and b in self.touchable:
                return NEEDED
        return 0

    def _neighbours(self) -> dict[int, list[tuple[int, str, str]]]:
        """Of each group those next to it, with the weakest barrier between."""
        neighbours: dict[int, list[tuple[int, str, str]]] = defaultdict(list)
        for (a, b), names in self.gates.items():
            # Of several barriers side by side the weakest is the way.
            name, kind = min(names, key=lambda pair: STRENGTH[pair[1]])
            neighbours[a].append((b, name, kind))
            neighbours[b].append((a, name, kind))
        return neighbours

    def strength(self, one: int, other: int) -> tuple[int | None, list[tuple[int, str, str]]]:
        """
        The least worth of any way between two groups, and that way as (group reached, barrier,
        class).

        ``None`` where there is no way at all; 0 and no way within one group.

        Notes
        -----
        Barriers add along a way across groups nobody can touch; a touchable group ends the sum and
        begins a new one; a way
        is worth its strongest sum.
        """
        if one == other:
            return 0, []
        neighbours = self._neighbours()
        best: tuple[int | None, list] = (None, [])
        # Few groups: every way that meets no group twice. Many: every walk, by (group, sum,
        # strongest sum), which may come
        # out weaker than any plain way but never stronger.
        plain = len(self.groups) <= MOST_LISTED
        highest = sum(min(STRENGTH[kind] for _, kind in names) for names in self.gates.values())
        seen: set[tuple[int, int, int]] = set()
        stack: list[tuple[int, int, int, list]] = [(one, 0, 0, [])]
        while stack:
            group, running, strongest, way = stack.pop()
            if best[0] is not None and strongest >= best[0]:
                continue
            for nearby, name, kind in neighbours[group]:
                if nearby == one or (plain and any(step[0] == nearby for step in way)):
                    continue
                total = running + STRENGTH[kind]
                most = max(strongest, total)
                if total > highest:
                    # More than all barriers together: the walk runs in circles.
                    continue
                further = [*way, (nearby, name, kind)]
                if nearby == other:
                    if best[0] is None or most < best[0]:
                        best = (most, further)
                    continue
                kept = 0 if nearby in self.touchable else total
                if plain or (nearby, kept, most) not in seen:
                    seen.add((nearby, kept, most))
                    stack.append((nearby, kept, most, further))
        return best

    def sufficient(self, one: int, other: int) -> bool:
        """
        Whether a pair has the strength it needs, protective earth on the touchable side counted as
        one.
        """
        needed, (present, _) = self.needed(one, other), self.strength(one, other)
        if needed == 0 or present is None:
            return True
        touchable = other if other in self.touchable and one in self.hazardous else one
        if touchable in self.earthed and present > 0:
            needed -= 1
        return present >= needed


def islands(
    nodes: Iterable[str],
    links: Iterable[tuple[str, str]],
    barriers: Iterable[tuple[str, str, str, str]],
    hazardous: Iterable[str] = (),
    touchable: Iterable[str] = (),
    earthed: Iterable[str] = (),
) -> Islands:
    """
    Join nodes over their links, and lay the barriers between the groups.

    Parameters
    ----------
    nodes : iterable of str
    links : iterable of (str, str)
        Pairs that are one piece of metal
    barriers : iterable of (str, str, str, str)
        Node, node, class, name; one with both ends in one group is a barrier with a wire round it
        and counts as none

    Examples
    --------
    >>> found = islands("abc", [], [("a", "b", "basic", "OK1"), ("b", "c", "basic", "K1")],
    ...     hazardous="a", touchable="c")
    >>> found.strength(0, 2)[0], found.sufficient(0, 2)
    (2, True)
    """
    order = list(dict.fromkeys(nodes))
    graph = nx.Graph()
    graph.add_nodes_from(order)
    graph.add_edges_from(links)
    groups: list[list[str]] = []
    index: dict[str, int] = {}
    for node in order:
        if node in index:
            continue
        member = nx.node_connected_component(graph, node)
        groups.append([n for n in order if n in member])
        for n in member:
            index[n] = len(groups) - 1
    found = Islands(
        groups,
        hazardous={index[n] for n in hazardous if n in index},
        touchable={index[n] for n in touchable if n in index},
        earthed={index[n] for n in earthed if n in index},
    )
    for a, b, kind, name in barriers:
        one, other = sorted((index[a], index[b]))
        if one != other:
            found.gates.setdefault((one, other), []).append((name, kind))
    return found
