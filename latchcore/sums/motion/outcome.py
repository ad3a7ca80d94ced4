"""What conducts in one reading of a combination, and what the load then does."""

from __future__ import annotations

import math
from dataclasses import dataclass

import networkx as nx
import numpy as np

from latchcore.sums.motion.power import Power, Winding

#: Stands for no resistance at all, so that nodes can be solved [Ω].
NOTHING = 1e-6
#: Under this nothing flows [A].
FLOWS = 1e-6
#: Angle of each half-winding in eighths of an electrical turn.
ANGLES = {"A1": 0, "B1": 2, "A2": 4, "B2": 6}


@dataclass(frozen=True, slots=True)
class Conducts:
    """
    What is closed, as (name, node, node, ohms), whether the print names the combination, and which
    outputs it leaves out.
    """

    closed: tuple[tuple[str, str, str, float], ...]
    printed: bool = True
    unnamed: tuple[str, ...] = ()

    @property
    def names(self) -> frozenset[str]:
        """Names of all that conducts."""
        return frozenset((*(name for name, *_ in self.closed), *self.unnamed))


def _switched(power: Power, levels, without: frozenset[str]) -> list[tuple[str, str, str, float]]:
    """Switches that are closed once those that hold others off have done so."""
    on = {s.name: levels[s.name, s.signal] == s.level for s in power.switches}
    for lock in power.holds_off:
        if lock.name not in without and on[lock.closed]:
            on[lock.off] = False
    return [(s.name, *s.between, s.ohms) for s in power.switches if on[s.name]]


def contacts_of(power: Power, levels) -> dict[str, bool]:
    """Which relays are pulled in."""
    return {c.name: levels[c.name, c.signal] == c.level for c in power.changeovers}


def conducts(
    power: Power,
    levels: dict[tuple[str, str], int],
    without: frozenset[str] = frozenset(),
    contacts: dict[str, bool] | None = None,
    joined: frozenset[str] = frozenset(),
) -> Conducts:
    """
    What is closed for levels by reader and signal.

    Parameters
    ----------
    without : frozenset of str
        Interlocks that are thought away
    contacts : dict, optional
        Relays as they lie, in place of what they are told
    joined : frozenset of str
        Relays whose arc joins both of their contacts
    """
    closed, printed, unnamed = _switched(power, levels, without), True, []
    pulled = contacts if contacts is not None else contacts_of(power, levels)
    for c in power.changeovers:
        if pulled[c.name] or c.name in joined:
            closed.append((f"{c.name}.no", c.common, c.no, c.ohms))
        if not pulled[c.name] or c.name in joined:
            closed.append((f"{c.name}.nc", c.common, c.nc, c.ohms))
    for chip in power.chips:
        states = chip.states("".join(str(levels[chip.name, s]) for s in chip.inputs))
        if states is None:
            printed = False
            unnamed += [f"{chip.name}.{output}.unprinted" for output in chip.outputs]
            continue
        for output, state in zip(chip.outputs, states, strict=True):
            if state != "off":
                rail = chip.plus if state == "high" else chip.minus
                closed.append((f"{chip.name}.{output}.{state}", rail, output, chip.ohms))
    return Conducts(tuple(closed), printed, tuple(unnamed))


def _graph(found: Conducts) -> nx.MultiGraph:
    graph = nx.MultiGraph()
    graph.add_nodes_from(("plus", "minus"))
    for name, one, other, ohms in found.closed:
        graph.add_edge(one, other, key=name, ohms=ohms)
    return graph


def shorts(found: Conducts) -> tuple[tuple[str, ...], ...]:
    """Each way from plus to minus through what is closed."""
    graph = _graph(found)
    ways = nx.all_simple_edge_paths(graph, "plus", "minus")
    return tuple(tuple(key for _, _, key in way) for way in ways)


def shorted(found: Conducts) -> bool:
    """Whether plus and minus are joined through closed switches."""
    return nx.has_path(_graph(found), "plus", "minus")


def currents(power: Power, found: Conducts) -> dict[str, float]:
    """Current out of the supply and through each load from its first to its second node [A]."""
    parts = [(one, other, max(ohms, NOTHING)) for _, one, other, ohms in found.closed]
    parts += [(*w.between, w.ohms) for w in power.windings]
    source = ("source", "plus", max(power.source, NOTHING))
    nodes = sorted({n for one, other, _ in [*parts, source] for n in (one, other)} - {"minus"})
    at = {node: n for n, node in enumerate(nodes)}
    matrix, right = np.zeros((len(nodes), len(nodes))), np.zeros(len(nodes))
    for one, other, ohms in [*parts, source]:
        g = 1 / ohms
        for node, far in ((one, other), (other, one)):
            if node in at:
                matrix[at[node], at[node]] += g
                if far in at:
                    matrix[at[node], at[far]] -= g
    # The source's inner node stands at the supply; what hangs free is tied down by next to nothing.
    matrix += np.eye(len(nodes)) * 1e-9
    row = at["source"]
    matrix[row] = 0.0
    matrix[row, row], right[row] = 1.0, power.supply
    volts = dict(zip(nodes, np.linalg.solve(matrix, right), strict=True)) | {"minus": 0.0}
    flows = {
        w.name: float((volts[w.between[0]] - volts[w.between[1]]) / w.ohms) for w in power.windings
    }
    supply = float((power.supply - volts["plus"]) / source[2])
    return {k: 0.0 if abs(v) < FLOWS else v for k, v in ({"supply": supply} | flows).items()}


def angle_of(power: Power, flows: dict[str, float]) -> int | None:
    """Where a stepper's windings pull, in eighths of an electrical turn; ``None`` where nowhere."""
    x = y = 0.0
    for winding in power.windings:
        if abs(flows[winding.name]) > FLOWS:
            turn = ANGLES[_half(winding, flows)] * math.pi / 4
            x, y = x + math.cos(turn), y + math.sin(turn)
    if math.hypot(x, y) < 1e-6:
        return None
    return round(math.atan2(y, x) / (math.pi / 4)) % 8


def _half(winding: Winding, flows: dict[str, float]) -> str:
    """The half-winding a current stands for: a whole one pulls either way by its sign."""
    if winding.role in ANGLES:
        return winding.role
    return f"{winding.role}{1 if flows[winding.name] > 0 else 2}"


def result_of(power: Power, found: Conducts) -> str:
    """What the load does: not printed, shorted, then by its kind."""
    if not found.printed:
        return "undefined"
    if shorted(found):
        return "forbidden"
    return {
        "motor": _motor,
        "latching_coil": _coil,
        "two_coils": _two_coils,
        "stepper": _stepper,
        "line": _line,
    }[power.kind](power, found)


def _motor(power: Power, found: Conducts) -> str:
    winding = power.windings[0]
    current = currents(power, found)[winding.name]
    if current:
        return "forward" if current > 0 else "reverse"
    graph = _graph(found)
    one, other = winding.between
    joined = one in graph and other in graph and nx.has_path(graph, one, other)
    return "brake" if joined else "coast"


def _coil(power: Power, found: Conducts) -> str:
    does = _motor(power, found)
    return {"forward": "on", "reverse": "off"}.get(does, "hold")


def _two_coils(power: Power, found: Conducts) -> str:
    flows = currents(power, found)
    on = {w.role for w in power.windings if flows[w.name]}
    if on == {"set", "reset"}:
        return "forbidden"
    return "on" if "set" in on else "off" if "reset" in on else "hold"


def _stepper(power: Power, found: Conducts) -> str:
    flows = currents(power, found)
    on = {_half(w, flows) for w in power.windings if abs(flows[w.name]) > FLOWS}
    if {"A1", "A2"} <= on or {"B1", "B2"} <= on:
        return "forbidden"
    return "hold" if on else "off"


def _line(power: Power, found: Conducts) -> str:
    graph = _graph(found)
    if "out" not in graph:
        return "off"
    if nx.has_path(graph, "out", "plus"):
        return "high"
    return "low" if nx.has_path(graph, "out", "minus") else "off"
