"""A keypad one did not make: which conductors belong together, and what to try next."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

import networkx as nx

from latchcore.figures.typed import Refusal

Pair = tuple[int, int]
#: What a pad may stand at against protective earth [V], at the most; conductors that are numbered.
MOST_TO_EARTH, MOST_CONDUCTORS = 30.0, 40
#: How likely a pair closes something: across a grid that is taking shape, along one of its sides,
#: and before anything is known, with so much weight on that.
ACROSS, ALONG, FIRST, WEIGHT = 0.7, 0.02, 0.25, 4.0


class MappingError(Refusal):
    """Something that cannot be mapped, or not so."""


@dataclass(frozen=True, slots=True)
class Precondition:
    """
    Whether pairs may be tried: ``live`` with its own low supply on, ``dead`` unplugged and by
    continuity only, ``never``; and why.
    """

    way: Literal["live", "dead", "never"]
    why: str


def may_be_mapped(
    supply: str, stores_high_voltage: str, to_earth: Mapping[int, float], conductors: int
) -> Precondition:
    """
    What X4 asks before a pair is tried.

    Parameters
    ----------
    supply : str
        ``isolated_low`` where the machine's supply there is an identified isolated low one
    stores_high_voltage : str
        ``yes``, ``no`` or ``unknown``
    to_earth : mapping
        What each conductor reads against protective earth [V]
    conductors : int

    Examples
    --------
    >>> may_be_mapped("isolated_low", "no", {1: 0.1, 2: 29.9}, 2).way
    'live'
    >>> may_be_mapped("isolated_low", "no", {1: 0.1, 2: 30.0}, 2).way
    'dead'
    >>> may_be_mapped("isolated_low", "unknown", {}, 2).way
    'never'
    """
    if stores_high_voltage == "yes":
        return Precondition("never", "It stores high voltage: nothing in it is bridged or probed.")
    if stores_high_voltage != "no":
        return Precondition("never", "Whether it stores high voltage is not known: find out first.")
    if supply != "isolated_low":
        return Precondition(
            "dead",
            "Its supply there is not identified as an isolated low one: a hazardous domain. Unplug"
            " it, try pairs by continuity only, and bridge them through reinforced barriers later.",
        )
    unread = [n for n in range(1, conductors + 1) if n not in to_earth]
    if unread:
        named = ", ".join(map(str, unread[:6]))
        return Precondition(
            "dead", f"Not every conductor was read against protective earth yet: {named}. Until"
            " then unplugged and by continuity only.",
        )  # fmt: skip
    high = [n for n, volts in to_earth.items() if abs(volts) >= MOST_TO_EARTH]
    if high:
        return Precondition(
            "dead", f"Conductor {high[0]} reads {to_earth[high[0]]:g} V against protective earth:"
            " a hazardous domain. Unplugged, by continuity only, reinforced barriers.",
        )  # fmt: skip
    return Precondition("live", "Its supply is isolated and low, and every conductor reads under"
                        " 30 V against protective earth.")  # fmt: skip


@dataclass(frozen=True, slots=True)
class Pattern:
    """
    What explains the pairs that closed something.

    ``kind`` is ``none`` so far, ``pairs`` of their own, one ``common`` conductor, a ``matrix`` of
    rows and columns, or ``odd`` where no such pattern explains them; ``rows`` and ``columns`` are
    conductors (the common one is the row).
    """

    kind: Literal["none", "pairs", "common", "matrix", "odd"]
    rows: tuple[int, ...] = ()
    columns: tuple[int, ...] = ()

    @property
    def words(self) -> str:
        """In a sentence."""
        rows, columns = (", ".join(map(str, side)) for side in (self.rows, self.columns))
        return {
            "none": "No pair has done anything yet.",
            "pairs": "Each button has two conductors of its own.",
            "common": f"Conductor {rows} is common; each button has one more: {columns}.",
            "matrix": f"Rows {rows}; columns {columns}.",
            "odd": "No grid explains these pairs: one was misread, or a button closes three.",
        }[self.kind]


def pattern_of(hits: Iterable[Pair]) -> Pattern:
    """
    The simplest pattern that explains every pair that did something.

    Examples
    --------
    >>> pattern_of([(1, 4), (1, 5), (2, 4)]).words
    'Rows 1, 2; columns 4, 5.'
    >>> pattern_of([(3, 1), (3, 2), (3, 7)]).words
    'Conductor 3 is common; each button has one more: 1, 2, 7.'
    >>> pattern_of([(1, 2), (2, 3), (1, 3)]).kind
    'odd'
    """
    graph: nx.Graph = nx.Graph()
    graph.add_edges_from(hits)
    if not graph.edges:
        return Pattern("none")
    if not nx.is_bipartite(graph):
        return Pattern("odd")
    most = max(graph.nodes, key=lambda n: graph.degree(n))
    if graph.number_of_edges() > 1 and graph.degree(most) == graph.number_of_edges():
        return Pattern("common", (most,), tuple(sorted(graph.neighbors(most))))
    if all(degree == 1 for _, degree in graph.degree()):
        return Pattern("pairs")
    rows: set[int] = set()
    columns: set[int] = set()
    for part in nx.connected_components(graph):
        one, other = nx.bipartite.sets(graph.subgraph(part))
        # The side of the lowest number counts as rows: a grid may be turned round anyhow.
        first, second = (one, other) if min(one) < min(other) else (other, one)
        rows |= first
        columns |= second
    return Pattern("matrix", tuple(sorted(rows)), tuple(sorted(columns)))


def propose(conductors: Iterable[int], tried: Mapping[Pair, bool]) -> tuple[Pair, float] | None:
    """
    The pair that tells most, with what it is expected to tell [bit]; ``None`` where all were tried.

    Parameters
    ----------
    conductors : iterable of int
        Those that still matter
    tried : mapping
        Pairs, the lower number first, and whether they did something

    Examples
    --------
    >>> propose([1, 2, 4, 5], {(1, 4): True, (1, 5): True, (2, 4): True, (1, 2): False})[0]
    (2, 5)
    """
    hits = [pair for pair, did in tried.items() if did]
    pattern = pattern_of(hits)
    base = (FIRST * WEIGHT + len(hits)) / (WEIGHT + len(tried))
    best: tuple[Pair, float] | None = None
    for pair in combinations(sorted(conductors), 2):
        if pair in tried:
            continue
        worth = entropy_of(_likely(pair, pattern, base))
        if best is None or worth > best[1] + 1e-9:
            best = (pair, worth)
    return best


def _likely(pair: Pair, pattern: Pattern, base: float) -> float:
    """How likely a pair does something, by the pattern so far."""
    if pattern.kind not in ("matrix", "common"):
        return base
    sides = [("r" if n in pattern.rows else "c" if n in pattern.columns else "") for n in pair]
    if "" in sides:
        return base
    return ALONG if sides[0] == sides[1] else ACROSS


def entropy_of(share: float) -> float:
    """
    Of something that happens with this share [bit].

    Examples
    --------
    >>> entropy_of(0.5), entropy_of(0.0)
    (1.0, 0.0)
    """
    return sum(p * math.log2(1 / p) for p in (share, 1 - share) if p > 0)


def halves(conductors: Iterable[int]) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """
    Two halves of what still matters, to be parted and tried.

    Examples
    --------
    >>> halves([1, 2, 3, 4, 5])
    ((1, 2, 3), (4, 5))
    """
    known = sorted(conductors)
    middle = (len(known) + 1) // 2
    return tuple(known[:middle]), tuple(known[middle:])


def pair_of(one: int, other: int, conductors: int) -> Pair:
    """
    A pair, the lower first.

    Raises
    ------
    MappingError
        If one of them is no conductor, or both are the same
    """
    for number in (one, other):
        if not 1 <= number <= conductors:
            raise MappingError(f"There are conductors 1 to {conductors}; {number} is none of them.")
    if one == other:
        raise MappingError(f"A pair is of two conductors; {one} and {other} are one.")
    return (min(one, other), max(one, other))
