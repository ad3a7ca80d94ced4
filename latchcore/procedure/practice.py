"""Practice on a hidden fault: what was read, and which readings would have told most."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from latchcore.bench.circuit import GROUND
from latchcore.bench.meter import OL
from latchcore.bench.rig import UNDECIDED, Rig
from latchcore.procedure.finding import HELD, IN_SERIES, Search
from latchcore.procedure.judging import ReadingError, volts_typed
from latchcore.procedure.ranking import Ranking, Value, rank
from latchcore.whole.wire_list import node_numbers

#: A cause, with those that read alike everywhere, is found at this share of what all readings
#: together would give it; causes are alike within this of each other.
FOUND, ALIKE = 0.9, 0.9
#: More readings than anybody takes.
MOST = 60
#: Behind all points of its state.
LOOKED_AT = 10_000


@dataclass(frozen=True, slots=True)
class Taken:
    """One reading of a search: its id, what it is called, what it showed, what it told [bit]."""

    id: str
    words: str
    shown: Value
    told: float


def reader_of(rig: Rig, channel: str) -> Callable[[str], Value | None]:
    """
    What the simulated bench shows for a reading of a search; ``None`` where it shows nothing.

    Parameters
    ----------
    rig : Rig
    channel : str
        Of which the search is; everything else is off meanwhile
    """
    result = rig.told[channel].result
    nodes = {n: node for node, n in node_numbers(result.netlist, channel).items()}

    def read(key: str) -> Value | None:
        rig.all_off()
        kind, _, last = key.rpartition("-")
        if kind == "load":
            rig.tell(channel, last)
            word = rig.lit()[channel].word
            return None if word == UNDECIDED else word
        if kind.startswith(IN_SERIES):
            rig.tell(channel, last)
            shown = rig.read_lead(channel, kind.removeprefix(IN_SERIES))
        elif kind == HELD:
            shown = rig.volts_in_reset(nodes[int(last)])
        else:
            rig.tell(channel, kind)
            shown = rig.volts(nodes[int(last)], GROUND)
        try:
            return OL if shown.startswith(OL) else volts_typed(shown)
        except ReadingError:
            return None

    return read


def all_read(search: Search, read: Callable[[str], Value | None]) -> dict[str, Value]:
    """Everything a search can ask for, as it reads."""
    shown = {r.id: read(r.id) for r in search.readings}
    return {key: value for key, value in shown.items() if value is not None}


def sure(search: Search, shown: Mapping[str, Value]) -> tuple[frozenset[str], float]:
    """The causes that are left when everything is read, and their share."""
    found = rank(search.weights, search.readings, list(shown.items()))
    most = max(found.posterior.values())
    left = frozenset(c for c, p in found.posterior.items() if p >= ALIKE * most)
    return left, sum(found.posterior[c] for c in left)


def follow(search: Search, shown: Mapping[str, Value]) -> list[Taken]:
    """
    Read what is proposed, again and again, until the cause is found or nothing more is proposed.
    """
    left, share = sure(search, shown)
    taken: list[Taken] = []
    while len(taken) < MOST:
        found = rank(search.weights, search.readings, [(t.id, t.shown) for t in taken])
        if _holds(found, left, share) or found.next is None or found.next not in shown:
            break
        key = found.next
        taken.append(Taken(key, search.points[key], shown[key], found.fall[key]))
    return taken


def in_order(search: Search, shown: Mapping[str, Value], order: Sequence[str]) -> int:
    """How many readings it takes in a given order until the same cause is found."""
    left, share = sure(search, shown)
    known = [key for key in order if key in shown]
    for many in range(len(known) + 1):
        found = rank(search.weights, search.readings, [(k, shown[k]) for k in known[:many]])
        if _holds(found, left, share):
            return many
    return len(known)


def _holds(found: Ranking, left: frozenset[str], share: float) -> bool:
    """Whether the causes that remain in the end are as likely already as they will be."""
    return sum(found.posterior[c] for c in left) >= FOUND * share


def plan_order(search: Search) -> list[str]:
    """
    Readings in the order the plan has them: state by state as it commands them, off first and then
    in reset, node by node, and the look at the load behind the readings of its state.
    """

    order = {"off": 0, HELD: 1}

    def place(key: str) -> tuple[int, int]:
        kind, _, last = key.rpartition("-")
        if kind == "load":
            return (order.get(last, 2), LOOKED_AT)
        if kind.startswith(IN_SERIES):
            # The circuit is opened once all volts are read.
            return (2, LOOKED_AT + 1)
        return (order.get(kind, 2), int(last))

    return sorted((r.id for r in search.readings), key=place)
