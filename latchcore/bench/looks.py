"""What the eye sees of a load: whether it works, by what flows where it should."""

from __future__ import annotations

from collections.abc import Sequence

from latchcore.bench.solver import Part, Point
from latchcore.design.report import StageResult

#: What a load does of what it should, and from which share of its sound current on.
WORKS, WEAK, DEAD, TURNED = "works", "weak", "dead", "turned round"
MOSTLY, HARDLY = 0.7, 0.1


def load_amps(point: Point, parts: Sequence[Part], channel: str, result: StageResult) -> float:
    """
    What flows in a load [A], with its sign; of several windings the most. A load that is not in the
    circuit, for it is on the line, takes what switches it for its own: 1 where that acts.
    """
    loads = [p for p in parts if p.id.startswith(f"{channel}.LOAD") and not p.id.endswith(".short")]
    if loads:
        flows = [point.amps_into(f"{p.id}.{'plus' if 'plus' in p.at else 'a'}") for p in loads]
        return max(flows, key=abs)
    there = {node for part in parts for node in part.at.values()}
    own = result.netlist.part(f"{channel}.LOAD")
    if own is not None and {own.terminals.get("+"), own.terminals.get("-")} <= there:
        # It belongs into this circuit, and is not in it.
        return 0.0
    acts = _acts(point, parts, channel)
    return float(acts is not result.contact.inverts) if acts is not None else 0.0


def _acts(point: Point, parts: Sequence[Part], channel: str) -> bool | None:
    """Whether what switches a load on the line acts: a contact, or an LED that is lit."""
    for part in parts:
        if not part.id.startswith(f"{channel}."):
            continue
        if part.kind in ("relay", "lit"):
            welded = part.figures.get("welded")
            return point.states.get(part.id) == "in" if welded is None else welded == "no"
        if part.kind == "led":
            return point.states.get(part.id) == "on"
    return None


def does(amps: float, sound: float, whole: float) -> str:
    """
    What a load is seen to do, by its current, what it has when all is sound, and its most.

    Examples
    --------
    >>> does(0.1, 0.1, 0.1), does(-0.1, 0.1, 0.1), does(0.05, 0.1, 0.1), does(0.0, 0.0, 0.1)
    ('works', 'turned round', 'weak', 'dead')
    >>> does(0.1, -1e-12, 0.1)
    'works'
    """
    share = abs(amps) / whole if whole else 0.0
    if share <= HARDLY:
        return DEAD
    if amps * sound < 0 and abs(sound) > HARDLY * whole:
        return TURNED
    return WORKS if share >= MOSTLY else WEAK
