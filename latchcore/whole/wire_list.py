"""
The wire list of a build, from its netlist: where each wire goes as printed there, how thick, how
long, which colour.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.figures.quantity import digits, parse, show
from latchcore.metal.netlist import Netlist
from latchcore.sums import ampacity as sums

#: Terminals of parts in words; what is printed on modules stays as it is.
TERMINALS = {
    "B": "base",
    "C": "collector",
    "E": "emitter",
    "G": "gate",
    "D": "drain",
    "S": "source",
    "A": "anode",
    "K": "cathode, the band",
}
#: Kinds of parts that stand off the stage's board: wires go there.
OFF_BOARD = (
    "load",
    "switch",
    "sensor",
    "pot",
    "source",
    "board",
    "pin",
    "module",
    "module_joined",
    "solid",
    "solid_joined",
    "solid_relay",
    "contactor",
)
MODULES = ("module", "module_joined", "solid", "solid_joined")
#: Colours by habit, in order; one that means something on the mains side is not used on the low
#: side.
GROUND, PLUS, SIGNAL, SWITCHED = (
    ("black", "grey", "violet"),
    ("red", "pink", "orange", "violet"),
    ("yellow", "white", "grey", "orange"),
    ("white", "grey", "yellow"),
)
#: Thinnest wire that is asked for: a signal is not pulled off by a finger, a load's wire fits its
#: screw terminal [m²].
THINNEST = {"signal": 0.14e-6, "load": 0.22e-6, "hazardous": 0.75e-6}


@dataclass(frozen=True)
class Row:
    """
    One connection: its number, the node, both ends as printed, whether it is a wire or lies on the
    stage's board.

    ``area`` is stated or the least that carries the current; ``length`` as stated [m]; ``key``
    stays while both ends do.
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


@dataclass(frozen=True)
class Group:
    """The connections of one channel, one input, or of what all share."""

    id: str
    letter: str
    name: str
    rows: tuple[Row, ...]


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


def wire_list(around: BuildContext, report: Report) -> list[Group]:
    """
    Every connection once, by channel, input, and what is shared.

    Parameters
    ----------
    around : BuildContext
    report : Report
        Of the same build
    """
    return _Lister(around, report).groups()


def module_numbers(around: BuildContext, report: Report) -> dict[str, int]:
    """
    Number of the module each channel is on; channels share one where kind and stated number are the
    same.
    """
    seen: dict[tuple[str, str], int] = {}
    found = {}
    for c in report.channels:
        module = c.result.module.part if c.result else None
        if module is not None:
            number = around.build.channel(c.id).stage.settings.get("board_no", "1")
            found[c.id] = seen.setdefault((module.id, number), len(seen) + 1)
    return found


class _Lister:
    def __init__(self, around: BuildContext, report: Report):
        self.around, self.build, self.report = around, around.build, report
        self.parts = {p.ref: p for p in report.netlist.parts}
        # Several nets name the supply or a pin alike; the ends are told apart by part and terminal.
        self.letters = {c.id: c.letter for c in report.channels} | {
            i.id: f"I{n + 1}" for n, i in enumerate(report.inputs)
        }
        self.results = {c.id: c.result for c in report.channels if c.result}
        self.rails = {r.id: r for r in self.build.rails}
        self.hazardous_nodes = self._hazardous()
        self.modules = module_numbers(around, report)
        region = around.catalogue.regions[self.build.region]
        words = (
            " ".join((region.live, region.neutral, region.earth)) if self.hazardous_nodes else ""
        )
        self.free = lambda colours: [c for c in colours if c not in words] or list(colours)
        self.region = region

    def _hazardous(self) -> set[str]:
        """Every node on an island with a hazardous rail: from the netlist alone."""
        live = {
            n
            for r in self.build.rails
            if self.around.hazardous(r)
            for n in (r.id, self.around.return_of(r))
        } - {"0V"}
        if not live:
            return set()
        return {
            n
            for island in self.report.netlist.islands()
            if island & live
            for n in island
            if n != "0V"
        }

    def groups(self) -> list[Group]:
        owners: dict[str, list[tuple[str, list[tuple[str, str]]]]] = {}
        ends: dict[str, list[tuple[str, str]]] = {}
        for part in self.report.netlist.parts:
            for terminal, node in part.terminals.items():
                ends.setdefault(node, []).append((part.ref, terminal))
        for node, there in ends.items():
            owner = node.split(".")[0] if node.split(".")[0] in self.letters else "shared"
            owners.setdefault(owner, []).append((node, there))
        found = []
        for owner in [*self.letters, "shared"]:
            if owner in owners:
                letter = self.letters.get(owner, "S")
                name = next(
                    (c.name for c in (*self.report.channels, *self.report.inputs) if c.id == owner),
                    "What all share",
                )
                found.append(
                    Group(owner, letter, name, tuple(self._rows(owner, letter, owners[owner])))
                )
        return [g for g in found if g.rows]

    def _rows(self, owner: str, letter: str, nodes) -> list[Row]:
        rows = []
        net = (
            self.results[owner].netlist
            if owner in self.results
            else next((i.netlist for i in self.report.inputs if i.id == owner), self.report.netlist)
        )
        numbers = (
            node_numbers(net, owner)
            if owner != "shared"
            else {node: n + 1 for n, (node, _) in enumerate(nodes)}
        )
        for node, ends in nodes:
            # A chain begins where the current comes from; what else feeds, and the board, hang
            # there by wires of their own,
            # so that no load's current returns through the board.
            order = sorted(
                ends,
                key=lambda e: {"source": 0, "board": 1, "pin": 1}.get(self.parts[e[0]].kind, 2),
            )
            chain: list[tuple[str, str, str]] = []
            for ref, terminal in order:
                printed = self.printed(ref, terminal)
                if printed not in [c[2] for c in chain]:
                    chain.append((ref, terminal, printed))
            steps, last = [], chain[:1]
            for end in chain[1:]:
                apart = self.parts[end[0]].kind in ("source", "board")
                steps.append((chain[0] if apart else last[0], end))
                last = last if apart else [end]
            for n, (one, other) in enumerate(steps):
                number = f"{letter}{numbers.get(node, 0)}" + (
                    chr(97 + n) if len(steps) > 1 and n < 26 else f".{n}" if len(steps) > 1 else ""
                )
                rows.append(self._row(owner, number, node, one, other))
        return rows

    def _row(self, owner: str, number: str, node: str, one, other) -> Row:
        first, second = self.parts[one[0]], self.parts[other[0]]
        key = f"{one[0]}.{one[1]}|{other[0]}.{other[1]}"
        if not {first.kind, second.kind} & set(OFF_BOARD) and first.channel == second.channel:
            return Row(
                number,
                self.node_words(node),
                one[2],
                other[2],
                "on the stage's board",
                self.domain(node),
                key=key,
            )
        if first.kind in MODULES and first.ref == second.ref:
            return Row(
                number,
                self.node_words(node),
                one[2],
                other[2],
                "on the module",
                self.domain(node),
                key=key,
            )
        domain, current = self.domain(node), self.current(owner, node)
        channel = self.build.channel(second.channel or first.channel or "")
        to_load = "load" in (first.kind, second.kind)
        rail = self.rails.get(node) if "source" in (first.kind, second.kind) else None
        stated = (
            channel.wire_area
            if channel and to_load and channel.wire_area
            else rail.wire_area
            if rail and rail.wire_area
            else None
        )
        length = (
            channel.wire_length
            if channel and to_load and channel.wire_length
            else rail.wire_length
            if rail and rail.wire_length
            else ""
        )
        item = self.build.sense(owner)
        if item is not None and {"switch", "sensor", "pot"} & {first.kind, second.kind}:
            length = item.lead_length or ""
        table = self.around.wires(domain == "hazardous")
        least = sums.least_area(max(current, 1e-3), table) or max(table)
        thin = THINNEST[
            (
                "hazardous"
                if domain == "hazardous"
                else "load"
                if domain == "low voltage"
                else "signal"
            )
        ]
        area = stated or f"{digits(max(least, thin) * 1e6)} mm²"
        return Row(
            number,
            self.node_words(node),
            one[2],
            other[2],
            "wire",
            domain,
            self.colour(node, domain),
            area,
            length,
            current,
            channel.through if channel and to_load else "",
            key,
        )

    def printed(self, ref: str, terminal: str) -> str:
        """A terminal as it is printed where it is, in every numbering the board has."""
        part, around = self.parts[ref], self.around
        if part.kind == "source":
            rail = self.rails.get(ref.split(".")[1])
            return f"{rail.name if rail else 'supply'} {terminal}"
        if part.kind == "board":
            return {
                "gnd": "board 0 V",
                "return": "board 0 V",
                "feed": "board supply",
                "vdd": "board logic supply",
            }.get(terminal, f"board {terminal}")
        if part.kind == "pin":
            pin = around.board.pin(part.value) if around.board else None
            return f"board {pin.id} ({pin.chip}, {pin.header})" if pin else "board, pin not chosen"
        letter = self.letters.get(part.channel or "", "")
        if part.kind in MODULES:
            # What all its channels share is one terminal of one module.
            return (
                f"module {self.modules.get(part.channel, 1)}"
                f" {self._module_words(part, terminal, letter)}"
            )
        name = ref.split(".", 1)[1] if "." in ref else ref
        if part.kind == "load":
            found = self.build.channel(part.channel or "")
            return f"{found.name if found else name} {terminal}"
        return (
            f"{letter} {name}"
            f" {TERMINALS.get(terminal, 'end ' + terminal if terminal.isdigit() else terminal)}"
        )

    def _module_words(self, part, terminal: str, letter: str) -> str:
        record = (
            self.results[part.channel].parts.get("module") if part.channel in self.results else None
        )
        labels = [x.strip() for x in (record.header if record else "").split("|") if x.strip()]
        printed = {
            "VCC": ("VCC", "VIN", "DC+", "+"),
            "COIL+": ("COIL+", "VCOIL"),
            "GND": ("GND", "DC-", "-"),
        }.get(terminal)
        if printed:
            return next((x for x in labels if x in printed), terminal)
        if terminal in ("IN", "IN-"):
            signals = [x for x in labels if re.match(r"^(IN|CH|S)\d*", x)]
            return (
                f"{signals[0] if len(signals) == 1 else 'IN'} of {letter}"
                if terminal == "IN"
                else f"IN- of {letter}"
            )
        return f"{terminal} of {letter}"

    def node_words(self, node: str) -> str:
        """A node in words."""
        if node in self.rails:
            return self.rails[node].name
        rail = next(
            (r for r in self.build.rails if self.around.return_of(r) == node and node != "0V"), None
        )
        if rail is not None:
            return f"{rail.name} {'neutral' if self.around.alternating(rail) else '0 V'}"
        return {"0V": "0 V", "board.VDD": "logic supply"}.get(node, node.split(".", 1)[-1].lower())

    def domain(self, node: str) -> str:
        """hazardous, low voltage or logic."""
        if node in self.hazardous_nodes:
            return "hazardous"
        return (
            "low voltage"
            if self.report.netlist.domains.get(node) == "low" or node in self.rails
            else "logic"
        )

    def current(self, owner: str, node: str) -> float:
        """What a wire of a node carries at most [A]."""
        if owner in self.results:
            result = self.results[owner]
            if node in (own := result.loose.node_currents):
                return own[node]
            return (
                result.running
                if self.domain(node) != "logic" or "LOAD" in node
                else max(result.pin_current, 0.0)
            )
        totals = {r.id: r.all_on for r in self.report.rails}
        if node in totals:
            return totals[node]
        returned = [
            totals.get(r.id, 0.0)
            for r in self.build.rails
            if self.around.return_of(r) == node and not r.fed_by
        ]
        return max(returned, default=0.0) if node != "0V" else sum(returned)

    def colour(self, node: str, domain: str) -> str:
        """The colour by region where it is hazardous, by habit elsewhere."""
        if domain == "hazardous":
            return self.region.neutral if node.endswith(".N") else self.region.live
        if node == "0V":
            return self.free(GROUND)[0]
        if node == "board.VDD":
            return "orange"
        low = [r.id for r in self.build.rails if not self.around.hazardous(r)]
        if node in low:
            colours = [c for c in self.free(PLUS) if c != "orange"]
            return colours[low.index(node) % len(colours)]
        if node.endswith(".0V"):
            return f"{self.free(GROUND)[1]}, tagged {self.node_words(node)}"
        letter = self.letters.get(node.split(".")[0], "")
        colours = self.free(SWITCHED if domain == "low voltage" else SIGNAL)
        place = list(self.letters.values()).index(letter) if letter in self.letters.values() else 0
        return f"{colours[place % len(colours)]}, tagged {letter}"


def totals(groups: list[Group]) -> list[tuple[str, str, int, str]]:
    """
    How much of each wire is wanted, as (colour, cross-section, wires, length where all are stated).
    """
    found: dict[tuple[str, str], list[str]] = {}
    for row in (r for g in groups for r in g.rows if r.kind == "wire"):
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
