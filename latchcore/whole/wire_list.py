"""
The wire list of a build, from its conductors, in the order in which one wires: where each goes as
printed there, how thick, how long, which colour.
"""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.figures.quantity import digits, parse, show
from latchcore.metal.conductors import Conductor
from latchcore.metal.netlist import Netlist
from latchcore.whole.laying.boards import Places, module_numbers
from latchcore.whole.laying.conductors import conductors
from latchcore.whole.laying.words import Ends

__all__ = ["Group", "Row", "module_numbers", "node_numbers", "totals", "wire_list"]

WIRE, SOLDERED = "wire", "on the stage's board"
#: Joints inside something bought are not the builder's to make.
BOUGHT = ("FUSE.", "BOARD.")


@dataclass(frozen=True)
class Row:
    """
    One connection: its number, the node, both ends as printed, whether it is a wire or lies on the
    stage's board.

    ``area`` is stated or the least that carries the current and is protected by the fuse in front;
    ``length`` as stated [m]; ``key`` stays while both ends do.
    """

    number: str
    node: str
    start: str
    end: str
    kind: str
    domain: str
    colour: str = ""
    area: str = ""
    length: str = ""
    current: float = 0.0
    through: str = ""
    key: str = ""
    fuse: str = ""
    fuse_a: float | None = None
    cable: str = ""


@dataclass(frozen=True)
class Group:
    """The connections of one rail, one channel, one input, or of the board."""

    id: str
    letter: str
    name: str
    rows: tuple[Row, ...]

    @property
    def wires(self) -> int:
        """How many of them are wires."""
        return sum(row.kind == WIRE for row in self.rows)


def node_numbers(net: Netlist, owner: str) -> dict[str, int]:
    """
    Numbers of a channel's own nodes, as they stand on its schematic and in the wire list.

    Examples
    --------
    >>> net = Netlist()
    >>> _ = net.add("R1", "resistor", "1k", None, **{"1": "ch1.PIN", "2": "0V"})
    >>> node_numbers(net, "ch1")
    {'ch1.PIN': 1}
    """
    return {
        node: n + 1
        for n, node in enumerate(dict.fromkeys(x for x in net.nodes() if x.startswith(owner + ".")))
    }


def wire_list(
    around: BuildContext, report: Report, laid: list[Conductor] | None = None
) -> list[Group]:
    """
    Every connection once: rails and the board first, then channels and inputs, the line last.

    Parameters
    ----------
    around : BuildContext
    report : Report
        Of the same build
    laid : list of Conductor, optional
        Its conductors, where they are known already
    """
    return _Lister(around, report, conductors(around, report) if laid is None else laid).groups()


def _in_hand(c: Conductor) -> tuple[bool, int]:
    """Wires before joints; what feeds first, what comes back last."""
    feeds = c.start.part.startswith(("POINT", "SUPPLY", "FUSE", "BLOCK"))
    back = c.start.terminal.startswith("-") or c.start.part == "BOARD.0V"
    return c.joint, 2 if back else 0 if feeds else 1


def letters_of(around: BuildContext, report: Report) -> dict[str, str]:
    """Letters of channels, inputs and rails, by id."""
    return (
        {c.id: c.letter for c in report.channels}
        | {i.id: f"I{n + 1}" for n, i in enumerate(report.inputs)}
        | {c.id: f"N{n + 1}" for n, c in enumerate(report.chains)}
        | {r.id: f"V{n + 1}" for n, r in enumerate(around.build.rails)}
    )


class _Lister:
    def __init__(self, around: BuildContext, report: Report, laid: list[Conductor]):
        self.around, self.report, self.laid = around, report, laid
        self.letters = letters_of(around, report)
        rails = around.build.rails
        self.names = {r.id: r.name for r in rails} | {
            c.id: c.name for c in (*report.channels, *report.inputs, *report.chains)
        }
        self.ends = Ends(Places(around, report), self.letters)
        nets = [
            *report.chains,
            *(c.result for c in report.channels if c.result),
            *report.inputs,
        ]
        ids = [
            *(c.id for c in report.chains),
            *(c.id for c in report.channels if c.result),
            *(i.id for i in report.inputs),
        ]
        self.numbers = {i: node_numbers(n.netlist, i) for i, n in zip(ids, nets, strict=True)}

    def groups(self) -> list[Group]:
        """In the order of the hand: what is dead and low first, the line last."""
        owned: dict[str, list[Conductor]] = {}
        for conductor in self.laid:
            if conductor.joint and conductor.start.part.startswith(BOUGHT):
                continue
            owned.setdefault(self._owner(conductor), []).append(conductor)
        build = self.around.build
        low = [r.id for r in build.rails if not self.around.hazardous(r)]
        line = [r.id for r in build.rails if self.around.hazardous(r)]
        on_line = {c.id for c in build.channels if c.rail in line}
        on_line |= {i.id for i in build.inputs if i.rail in line}
        calm = [i for i in self.numbers if i not in on_line]
        order = [*low, "board", *calm, *line, *(i for i in self.numbers if i in on_line)]
        return [self._group(owner, owned[owner]) for owner in order if owner in owned]

    def _owner(self, conductor: Conductor) -> str:
        """Whose it is: the channel or input it ends at, else the rail, else the board."""
        ends = (conductor.end.part, conductor.start.part, conductor.node)
        own = next((e.split(".")[0] for e in ends if e.split(".")[0] in self.numbers), None)
        if own is not None:
            return own
        for part in ends:
            kind, _, rest = part.partition(".")
            block = self.around.build.block(rest)
            owner = block.rail if block else rest.rstrip("+-")
            if kind in ("SUPPLY", "FUSE", "POINT", "BLOCK") and owner in self.names:
                return owner
        return "board"

    def _group(self, owner: str, there: list[Conductor]) -> Group:
        letter = self.letters.get(owner, "BD")
        # Wires in the order they are laid, joints apart and after them.
        there = sorted(there, key=_in_hand)
        counts: dict[str, int] = {}
        for c in there:
            stem = self._stem(owner, letter, c)
            counts[stem] = counts.get(stem, 0) + 1
        seen: dict[str, int] = {}
        rows = []
        for c in there:
            stem = self._stem(owner, letter, c)
            seen[stem] = seen.get(stem, 0) + 1
            several = counts[stem] > 1
            n = seen[stem] - 1
            tail = "" if not several else chr(97 + n) if n < 26 else f".{n + 1}"
            rows.append(self._row(stem + tail, c))
        return Group(owner, letter, self.names.get(owner, "Board"), tuple(rows))

    def _stem(self, owner: str, letter: str, c: Conductor) -> str:
        """The number of its node on the drawing; feed and return go by their sign."""
        own = self.numbers.get(owner, {}).get(c.node)
        if own is not None:
            return f"{letter}{own}"
        rail = self.around.build.rail(c.node)
        if c.node.endswith(".PE"):
            return f"{letter} earth "
        if rail is not None:
            return f"{letter}+" if owner == rail.id else f"{letter} {self.letters[rail.id]}+"
        return f"{letter}−" if c.node != "board.VDD" else f"{letter} logic "

    def _row(self, number: str, c: Conductor) -> Row:
        through = ""
        loads = [t for t in (c.start, c.end) if t.part.endswith(".LOAD")]
        if loads and not c.joint:
            channel = self.around.build.channel(loads[0].part.removesuffix(".LOAD"))
            through = (channel.through or "") if channel else ""
        return Row(
            number,
            self.ends.node(c.node),
            self.ends.of(c.start),
            self.ends.of(c.end),
            SOLDERED if c.joint else WIRE,
            c.domain,
            c.colour,
            "" if c.joint else f"{digits(c.area * 1e6)} mm²",
            "" if c.length is None else show(c.length, "m"),
            c.running,
            through,
            c.id,
            "" if c.fuse is None else show(c.fuse, "A"),
            c.fuse,
            c.cable,
        )


def totals(groups: list[Group]) -> list[tuple[str, str, int, str]]:
    """
    How much of each wire is wanted, as (colour, cross-section, wires, length where all are stated).
    """
    found: dict[tuple[str, str], list[str]] = {}
    for row in (r for g in groups for r in g.rows if r.kind == WIRE):
        found.setdefault((row.colour.split(",")[0], row.area), []).append(row.length)
    rows = []
    for (colour, area), lengths in sorted(found.items()):
        known = [parse(x, "m") for x in lengths if x]
        said = (show(sum(known), "m") if known else "lengths not stated") + (
            f" and {len(lengths) - len(known)} not stated"
            if known and len(known) < len(lengths)
            else ""
        )
        rows.append((colour, area, len(lengths), said))
    return rows
