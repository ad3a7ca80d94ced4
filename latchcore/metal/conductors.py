"""
Conductors: what joins two terminals, a wire of its own or a joint on the board both are soldered
to.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True, order=True)
class Terminal:
    """
    A place where a wire ends: a part and one of its terminals, never a printed word.

    >>> str(Terminal("ch2.Q1", "E"))
    'ch2.Q1.E'
    """

    part: str
    terminal: str

    def __str__(self) -> str:
        return f"{self.part}.{self.terminal}"


@dataclass(frozen=True, slots=True)
class Link:
    """
    Two terminals of one node that are joined; ``joint`` where that is solder on one board.

    ``start`` is the side the node is fed from.
    """

    node: str
    start: Terminal
    end: Terminal
    joint: bool = False


@dataclass(frozen=True, slots=True)
class Conductor:
    """
    A link with what it has to carry and what it is made of.

    Attributes
    ----------
    id : str
        Stays while both ends do
    running, worst : float
        With everything behind it on, and with the largest surge besides [A]
    area : float
        Cross-section [m²]; zero for a joint
    fuse : float or None
        Rating of the fuse in front of it [A]
    colour, domain, cable : str
    length : float or None
        As stated [m]
    """

    id: str
    node: str
    start: Terminal
    end: Terminal
    joint: bool
    running: float
    worst: float
    area: float
    fuse: float | None
    colour: str
    domain: str
    cable: str
    length: float | None


def star(node: str, root: Terminal, ends: Iterable[Terminal], joint: bool = False) -> list[Link]:
    """
    One link from a root to every other end.

    >>> [str(link.end) for link in star("0V", Terminal("X", "0V"), [Terminal("R2", "1")])]
    ['R2.1']
    """
    return [Link(node, root, end, joint) for end in ends if end != root]


def carried(
    links: list[Link],
    taken: dict[Terminal, float],
    largest: bool = False,
    fed: frozenset[Terminal] = frozenset(),
) -> dict[Link, float]:
    """
    What each link of a node carries: all that is taken at the ends behind it.

    Parameters
    ----------
    links : list of Link
        Of one node, each away from where the node is fed
    taken : dict
        Current that leaves the node at a terminal, as a magnitude [A]
    largest : bool
        The largest of the ends behind instead of their sum: what one of them may add for a moment
    fed : frozenset of Terminal
        Terminals that are fed on their own, such as the board's ground: what hangs on one is not
        carried by a link that leads to it

    Raises
    ------
    ValueError
        Where the links run in a ring

    Examples
    --------
    >>> a, b, c = (Terminal(x, "1") for x in "abc")
    >>> first, second = Link("n", a, b), Link("n", b, c)
    >>> found = carried([first, second], {b: 1.0, c: 2.0})
    >>> found[first], found[second]
    (3.0, 2.0)
    """
    behind: dict[Terminal, list[Link]] = {}
    for link in links:
        behind.setdefault(link.start, []).append(link)
    found: dict[Link, float] = {}

    def take(terminal: Terminal, way: tuple[Terminal, ...]) -> float:
        if terminal in way:
            raise ValueError(f"the links of a node run in a ring through {terminal}")
        here = taken.get(terminal, 0.0)
        for link in behind.get(terminal, ()):
            there = taken.get(link.end, 0.0)
            found[link] = there if link.end in fed else take(link.end, (*way, terminal))
            here = max(here, found[link]) if largest else here + found[link]
        return here

    roots = set(behind) - {link.end for link in links if link.end not in fed}
    for root in sorted(roots):
        take(root, ())
    if len(found) < len(links):
        raise ValueError("the links of a node run in a ring")
    return found
