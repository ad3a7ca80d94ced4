"""The operating point of a circuit whose parts follow laws in straight pieces."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

import networkx as nx
import numpy as np

from latchcore.bench.border import blocks_of, solve_by
from latchcore.bench.laws import Junctions, Law, Seen, Tied, Vector
from latchcore.bench.packages import LAWS
from latchcore.bench.switches import Held, Mosfet

#: While states are sought every node leaks so much to a common point [S]; what carries less than
#: this is open [A]; what an ideal tie has meanwhile, so that two beside each other can be told [Ω].
LEAK, NOTHING, SOUGHT_OHM = 1e-12, 1e-8, 1e-7
#: All parts that are wrong change at once so often, then one at a time.
AT_ONCE, MOST_TURNS = 40, 4000
#: From so many unknowns on circuits are solved one by one; a node is shared from so many parts on.
MANY, SHARED_BY = 150, 12


class NoPoint(Exception):
    """No states were found that agree with each other."""


@dataclass(frozen=True, slots=True)
class Part:
    """One part: its id, its kind, its nodes by terminal, its figures."""

    id: str
    kind: str
    at: Mapping[str, str]
    figures: Mapping[str, Any]


@dataclass
class Point:
    """
    An operating point.

    Attributes
    ----------
    chatters : list of str
        Relays that find no rest; then there is no point
    undecided : list of str
        MOSFETs whose gate, packages whose input nothing ties; then there is no point
    states : dict
        Of each part with any, in words
    """

    chatters: list[str] = field(default_factory=list)
    undecided: list[str] = field(default_factory=list)
    states: dict[str, Any] = field(default_factory=dict)
    _volts: dict[str, float] = field(default_factory=dict)
    _islands: dict[str, int] = field(default_factory=dict)
    _into: dict[str, float] = field(default_factory=dict)

    def volts(self, node: str, against: str) -> float | None:
        """What a meter reads between two nodes [V]; ``None`` where nothing ties them."""
        if node not in self._islands or self._islands[node] != self._islands.get(against):
            return None
        return self._volts[node] - self._volts[against]

    def amps_into(self, terminal: str) -> float:
        """Current into a part at one of its terminals, such as ``Q1.base`` [A]."""
        return self._into[terminal]


def solve(parts: Iterable[Part]) -> Point:
    """
    The one operating point of a circuit.

    Raises
    ------
    NoPoint
        If no states agree with each other

    Examples
    --------
    >>> supply = Part("V", "source", {"plus": "p", "minus": "0"},
    ...               {"volts_v": 12.0, "ohm": 0.0, "limit_a": None, "one_way": True})
    >>> lamp = Part("L", "resistor", {"a": "p", "b": "0"}, {"ohm": 24.0})
    >>> solve([supply, lamp]).amps_into("L.a")
    0.5
    """
    circuit = _Circuit(list(parts))
    relays = [n for n, law in enumerate(circuit.laws) if isinstance(law, Held)]
    seen: list[tuple[str, ...]] = []
    while True:
        circuit.settle()
        undecided = circuit.undecided()
        if undecided:
            return Point(undecided=undecided)
        held = tuple(circuit.laws[n].state[0] for n in relays)
        asked = tuple(circuit.relay(n) for n in relays)
        if asked == held:
            return circuit.point()
        seen.append(held)
        if asked in seen:
            loop = seen[seen.index(asked) :]
            moving = {n for k, n in enumerate(relays) if len({c[k] for c in loop}) > 1}
            return Point(chatters=[circuit.parts[n].id for n in relays if n in moving])
        for n, state in zip(relays, asked, strict=True):
            law = circuit.laws[n]
            assert isinstance(law, Held)
            law.hold(state)


class _Circuit:
    """Parts with their laws, their branches numbered through, and what was solved last."""

    def __init__(self, parts: list[Part]) -> None:
        self.parts = parts
        self.laws: list[Law] = [LAWS[p.kind]({**p.figures, "kind": p.kind}) for p in parts]
        names = dict.fromkeys(node for p in parts for node in p.at.values())
        self.nodes = {name: n for n, name in enumerate(names)}
        self.branches: list[dict[str, int]] = []
        self.ends: list[tuple[int, int]] = []
        for part, law in zip(parts, self.laws, strict=True):
            own = {}
            for branch, (a, b) in law.branches.items():
                if a in part.at and b in part.at:
                    own[branch] = len(self.ends)
                    self.ends.append((self.nodes[part.at[a]], self.nodes[part.at[b]]))
            self.branches.append(own)
        ties = Counter(n for p in parts for n in {self.nodes[v] for v in p.at.values()})
        self.shared = {n for n, many in ties.items() if many >= SHARED_BY} | {
            self.nodes[v] for p in parts if p.kind == "source" for v in p.at.values()
        }
        self.blocks = None
        if len(self.nodes) + len(self.ends) >= MANY:
            own = [({self.nodes[v] for v in p.at.values()}, branches.values())
                   for p, branches in zip(parts, self.branches, strict=True)]  # fmt: skip
            self.blocks = blocks_of(len(self.nodes), own, self.shared)
        self._islands: list[set[int]] | None = None
        self.volts: Vector = np.zeros(len(self.nodes))
        self.amps: Vector = np.zeros(len(self.ends))

    def seen(self, n: int) -> Seen:
        """What one part sees."""
        part = self.parts[n]
        volts = {t: float(self.volts[self.nodes[node]]) for t, node in part.at.items()}
        amps = {b: float(self.amps[k]) for b, k in self.branches[n].items()}
        return Seen(volts, amps)

    def relay(self, n: int) -> str:
        """How a part that holds wants to be, such as a relay by its coil."""
        law = self.laws[n]
        assert isinstance(law, Held)
        return law.asks(self.seen(n))

    def settle(self) -> None:
        """Find states that agree with what comes of them, then solve them exactly."""
        before: set[tuple[tuple[str, ...], ...]] = set()
        for turn in range(MOST_TURNS):
            self._solve(LEAK, SOUGHT_OHM)
            wrong = []
            for n, law in enumerate(self.laws):
                state, by = law.wanted(self.seen(n))
                if state != law.state:
                    wrong.append((by, n, state))
            if not wrong:
                self._close()
                return
            key = tuple(law.state for law in self.laws)
            one = turn >= AT_ONCE or key in before
            before.add(key)
            # One at a time by turns through the list, so that no ring of states is run for ever.
            chosen = [sorted(wrong, key=lambda w: w[1])[turn % len(wrong)]] if one else wrong
            for _, n, state in chosen:
                self.laws[n].state = state
        # What nothing ties may lead round in a ring; then that is what is told.
        if not self.undecided():
            raise NoPoint("No states of its parts agree with each other.")

    def _solve(self, leak: float, ohm: float) -> None:
        """Voltages and currents with the present states."""
        self._islands = None
        count, many = len(self.nodes), len(self.ends)
        a = np.zeros((count + many, count + many))
        b = np.zeros(count + many)
        for k, (p, q) in enumerate(self.ends):
            a[p, count + k] += 1.0
            a[q, count + k] -= 1.0
        a[range(count), range(count)] += leak
        for n, law in enumerate(self.laws):
            self._rows(n, law, a, b, ohm)
        if not leak:
            self._references(a, b)
        x = self._solution(a, b)
        self.volts, self.amps = x[:count], x[count:]
        self._islands = None

    def _solution(self, a: Any, b: Vector) -> Vector:
        """Of many circuits side by side one after the other; of one that has none the nearest."""
        if self.blocks is not None:
            try:
                return solve_by(self.blocks, a, b)
            except np.linalg.LinAlgError:
                pass
        try:
            return np.linalg.solve(a, b)
        except np.linalg.LinAlgError:
            return np.linalg.lstsq(a, b, rcond=None)[0]

    def _rows(self, n: int, law: Law, a: Any, b: Vector, ohm: float) -> None:
        """The equation of each branch of one part."""
        count, own, part = len(self.nodes), self.branches[n], self.parts[n]
        for branch, piece in law.pieces().items():
            if branch not in own:
                continue
            k = count + own[branch]
            if isinstance(piece, Tied):
                p, q = self.ends[own[branch]]
                a[k, p] += 1.0
                a[k, q] -= 1.0
                a[k, k] -= max(piece.ohm, ohm)
                b[k] = piece.volts
                continue
            a[k, k] = 1.0
            b[k] = piece.amps
            for other, share in piece.of_amps:
                a[k, count + own[other]] -= share
            for plus, minus, share in piece.of_volts:
                a[k, self.nodes[part.at[plus]]] -= share
                a[k, self.nodes[part.at[minus]]] += share

    def islands(self) -> list[set[int]]:
        """Nodes that something conducting ties, in the present states; found once a solution."""
        if self._islands is None:
            self._islands = self._found_islands()
        return self._islands

    def _found_islands(self) -> list[set[int]]:
        graph: nx.Graph = nx.Graph()
        graph.add_nodes_from(range(len(self.nodes)))
        for n, law in enumerate(self.laws):
            for branch, piece in law.pieces().items():
                k = self.branches[n].get(branch)
                if k is None:
                    continue
                if isinstance(piece, Tied) or abs(self.amps[k]) > NOTHING:
                    graph.add_edge(*self.ends[k])
        return [set(c) for c in nx.connected_components(graph)]

    def _references(self, a: Any, b: Vector) -> None:
        """One node of each island stands for its 0: its current law follows from the others."""
        for island in self.islands():
            first = min(island & self.shared or island)
            a[first, :] = 0.0
            a[first, first] = 1.0
            b[first] = 0.0

    def _close(self) -> None:
        """Open what carries nothing, and solve without leaks."""
        for law, own in zip(self.laws, self.branches, strict=True):
            if isinstance(law, Junctions):
                law.state = tuple(
                    "on" if state == "on" and abs(self.amps[own[name]]) > NOTHING else "open"
                    for (name, _, _), state in zip(law.junctions, law.state, strict=True)
                )
        self._solve(0.0, 0.0)

    def undecided(self) -> list[str]:
        """MOSFETs whose gate nothing ties to its source, and inputs nothing ties."""
        where = self._where()
        found = []
        for part, law in zip(self.parts, self.laws, strict=True):
            pairs = [("gate", "source")] if isinstance(law, Mosfet) else []
            pairs += law.gates if isinstance(law, Held) else []
            loose = (where[self.nodes[part.at[a]]] != where[self.nodes[part.at[b]]]
                     for a, b in pairs)  # fmt: skip
            found += [part.id] if any(loose) else []
        return found

    def _where(self) -> dict[int, int]:
        return {node: k for k, island in enumerate(self.islands()) for node in island}

    def point(self) -> Point:
        """What was found."""
        where = self._where()
        point = Point()
        point._islands = {name: where[n] for name, n in self.nodes.items()}
        point._volts = {name: float(self.volts[n]) for name, n in self.nodes.items()}
        for n, (part, law) in enumerate(zip(self.parts, self.laws, strict=True)):
            for terminal in part.at:
                point._into[f"{part.id}.{terminal}"] = 0.0
            for branch, k in self.branches[n].items():
                a, b = law.branches[branch]
                point._into[f"{part.id}.{a}"] += float(self.amps[k])
                point._into[f"{part.id}.{b}"] -= float(self.amps[k])
            told = law.told()
            if told:
                point.states[part.id] = (
                    told[""] if "" in told else {k[1:]: v for k, v in told.items()}
                )
        return point
