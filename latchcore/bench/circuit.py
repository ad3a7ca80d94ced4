"""A sized channel as a circuit the solver takes, as it is commanded, at one corner."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from latchcore.bench.commands import OFF, commands_of
from latchcore.bench.corners import CORNERS, MIDDLE, Corner, NotModelled
from latchcore.bench.made import GROUND, LOW, VDD, Made
from latchcore.bench.solver import Part
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import StageResult
from latchcore.document.models import Rail
from latchcore.metal.netlist import BARRIERS

__all__ = ["CORNERS", "GROUND", "LOW", "MIDDLE", "VDD", "Corner", "NotModelled", "circuit_of",
           "rail_source"]  # fmt: skip
#: The least a rail's own way has [Ω].
RAIL_OHM = 0.01
#: Kinds of parts that carry nothing while direct current has settled.
SETTLED = frozenset({"snubber", "capacitor", "varistor", "suppressor"})


def circuit_of(context: ChannelContext, result: StageResult, state: str, at: Corner) -> list[Part]:
    """
    Everything of one channel that carries direct current, with its supplies.

    Parameters
    ----------
    context : ChannelContext
    result : StageResult
    state : str
        As commanded: ``off``, ``on``, or what else can be asked of it
    at : Corner

    Raises
    ------
    NotModelled
        If a part of it has no law
    """
    own = _own_parts(context, result, state, at)
    nodes = {node for part in own for node in part.at.values()}
    return [*own, *_supplies(context, nodes, at)]


def _own_parts(context: ChannelContext, result: StageResult, state: str, at: Corner) -> list[Part]:
    """The channel's own parts alone; raises :class:`NotModelled`."""
    made = Made(context, result, commands_of(context, result)[state], at, state != OFF)
    found: list[Part] = []
    apart = frozenset(_alternating(context, result))
    for fitted in result.netlist.parts:
        ends = set(fitted.terminals.values())
        if fitted.kind in SETTLED or (ends & apart and fitted.kind not in BARRIERS):
            continue
        if fitted.kind == "contactor" or (fitted.kind == "triac_driver" and not ends & apart):
            raise NotModelled(f"{fitted.kind.replace('_', ' ')} on direct current has no law here")
        found += made.part(fitted, _beyond(fitted, apart))
    return found


def _beyond(fitted, apart: frozenset[str]) -> frozenset[str]:
    """Nodes of a part that lie behind its barrier on what is no direct current."""
    found: set[str] = set()
    for group in BARRIERS.get(fitted.kind, ()):
        ends = {fitted.terminals[t] for t in group if t in fitted.terminals}
        found |= ends if ends & apart else set()
    return frozenset(found)


def _supplies(context: ChannelContext, nodes: Iterable[str], at: Corner) -> Iterator[Part]:
    """The board's supply, what its pins stand on while they are low, and each rail in use."""
    board, there, around = context.board, set(nodes), context.around
    yield _source("V_DD", VDD, GROUND, at.of(board.logic, at.supply), 0.0)
    if LOW in there:
        # Unloaded, a low pin may stand as high as its sheet allows.
        yield _source("V_OL", LOW, GROUND, board.vol_noload * at.drops, 0.0, one_way=False)
    for rail in around.build.rails:
        if rail.id in there and not around.alternating(rail):
            yield rail_source(around, rail, at)


def rail_source(around: BuildContext, rail: Rail, at: Corner) -> Part:
    """The supply of one rail at a corner."""
    volts = at.of(around.rail_volts(rail), at.supply)
    return _source(rail.id, rail.id, around.return_of(rail), volts, RAIL_OHM)


def _source(
    name: str, plus: str, minus: str, volts: float, ohm: float, one_way: bool = True
) -> Part:
    figures = {"volts_v": volts, "ohm": ohm, "limit_a": None, "one_way": one_way}
    return Part(name, "source", {"plus": plus, "minus": minus}, figures)


def _alternating(context: ChannelContext, result: StageResult) -> set[str]:
    """
    Nodes of rails that are no direct current or that hurt, and all that is joined with them on the
    same side of every barrier.
    """
    around, found = context.around, set()
    for rail in around.build.rails:
        if around.alternating(rail) or around.hazardous(rail):
            found |= {rail.id, around.return_of(rail)}
    found.discard(GROUND)
    grown = True
    while grown:
        grown = False
        for fitted in result.netlist.parts:
            groups = BARRIERS.get(fitted.kind, (tuple(fitted.terminals),))
            for group in groups:
                ends = {fitted.terminals[t] for t in group if t in fitted.terminals}
                more = ends - found - {GROUND, VDD}
                if ends & found and more and fitted.kind != "pin":
                    found |= more
                    grown = True
    return found
