"""
Conductors of a build: every link with its current, the fuse in front of it, thickness, colour,
domain and cable.
"""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property

from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.design.wires import Wire
from latchcore.document.models import Channel, Rail
from latchcore.figures.quantity import parse
from latchcore.metal.conductors import Conductor, Link, Terminal, carried
from latchcore.sums import ampacity
from latchcore.whole.laying.boards import BOARD
from latchcore.whole.laying.colours import Colours
from latchcore.whole.laying.links import IN_ONE_SCREW, Layer

#: Thinnest wire that is asked for: a signal is not pulled off by a finger, a load's wire fits its
#: screw terminal [m²].
THINNEST = {"logic": 0.14e-6, "low voltage": 0.22e-6, "hazardous": 0.75e-6}
EARTH = "PE"


def conductors(around: BuildContext, report: Report) -> list[Conductor]:
    """
    Every conductor and joint of a build, node by node.

    Parameters
    ----------
    around : BuildContext
    report : Report
        Of the same build

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> from latchcore.document.models import Build
    >>> from latchcore.evaluate import evaluate
    >>> bench = Build(name="Bench")
    >>> conductors(BuildContext(bench, load_catalogue()), evaluate(bench))
    []
    """
    return _Maker(around, report).all()


class _Maker:
    def __init__(self, around: BuildContext, report: Report):
        self.around, self.build, self.report = around, around.build, report
        self.layer = Layer(around, report)
        self.laid = self.layer.lay()
        self.rails = self.layer.rails
        self.colours = Colours(around, report, self.hazardous)
        #: What hangs on the board's own ground, or behind a regulator, is no wire's to carry that
        #: only leads there.
        self.fed = frozenset(
            {Terminal(BOARD, "gnd"), *(Terminal(f"SUPPLY.{r}", "-") for r in self.rails)}
        )

    @cached_property
    def hazardous(self) -> set[str]:
        """Every node on an island with a hazardous rail: from the netlist alone."""
        live = {
            n
            for r in self.build.rails
            if self.around.hazardous(r)
            for n in (r.id, self.around.return_of(r))
        } - {"0V"}
        if not live:
            return set()
        islands = self.report.netlist.islands()
        return {n for island in islands if island & live for n in island if n != "0V"}

    def all(self) -> list[Conductor]:
        by_node: dict[str, list[Link]] = {}
        for link in self.laid.links:
            by_node.setdefault(link.node, []).append(link)
        found = []
        for links in by_node.values():
            running = carried(links, self.laid.running, fed=self.fed)
            more = carried(links, self.laid.surge, largest=True, fed=self.fed)
            fuses = self._fuses(links)
            for link in links:
                found.append(
                    self._conductor(link, running[link], running[link] + more[link], fuses[link])
                )
        return found + self._earths()

    # What stands in front.

    def _fuses(self, links: list[Link]) -> dict[Link, float | None]:
        """The fuse in front of each link of a node, the nearest one."""
        into = {link.end: link for link in links if link.end not in self.fed}
        return {link: self._fuse_of(link, into) for link in links}

    def _fuse_of(self, link: Link, into: dict[Terminal, Link]) -> float | None:
        behind: Link | None = link
        rail = None
        while behind is not None:
            start = behind.start
            if start.part.startswith("FUSE.") and start.terminal in ("2", "4"):
                rail = self.rails[start.part.removeprefix("FUSE.")]
                return parse(rail.fuse, "A")
            if start.part.startswith("SUPPLY."):
                return self._of_return(start)
            behind = into.get(start)
        return self._of_channel(link)

    def _of_return(self, source: Terminal) -> float | None:
        """A return is as safe as its feed: the same fuse ends what flows in it."""
        rail = self.rails[source.part.removeprefix("SUPPLY.")]
        return parse(rail.fuse, "A") if rail.fuse and source.terminal == "-" else None

    def _of_channel(self, link: Link) -> float | None:
        """Behind a channel's switch: its own fuse, else that of the rail its current comes from."""
        owner = link.node.split(".")[0]
        for flow in self.layer.flows.get(owner, ()):
            if link.node in flow.nodes:
                channel = self.build.channel(owner)
                if flow.role == "load" and channel.fuse:
                    return parse(channel.fuse, "A")
                rail = self.rails.get(flow.rail or "")
                return parse(rail.fuse, "A") if rail and rail.fuse else None
        return None

    # What it is.

    def _conductor(self, link: Link, running: float, worst: float, fuse: float | None) -> Conductor:
        domain = self.domain(link.node)
        area, length, cable = 0.0, None, ""
        if not link.joint:
            wire, cable = self._made(link)
            # A return is as thick as its feed, whatever its domain is called.
            kind = "low voltage" if domain == "logic" and self._returns(link) else domain
            asked = max(running, fuse or 0.0, self._plug(link))
            area = wire.area or self._least(kind, asked, wire.laid)
            length = wire.length
        return Conductor(
            f"{link.start}|{link.end}",
            link.node,
            link.start,
            link.end,
            link.joint,
            running,
            worst,
            area,
            fuse,
            "" if link.joint else self.colours.of(link.node, domain),
            domain,
            cable,
            length,
        )

    def domain(self, node: str) -> str:
        """hazardous, low voltage or logic."""
        if node in self.hazardous:
            return "hazardous"
        low = self.report.netlist.domains.get(node) == "low" or node in self.rails
        return "low voltage" if low else "logic"

    def _returns(self, link: Link) -> bool:
        """Whether it brings the current of a rail back."""
        ends = (link.start.part, link.end.part)
        points = [key for key, point in self.laid.points.items() if point.part in ends]
        return link.node in self.layer.returns and any(key[0] in self.rails for key in points)

    def _least(self, domain: str, current: float, laid: str) -> float:
        table = self.around.wires(domain == "hazardous")
        least = ampacity.least_area(max(current, 1e-3), table, laid) or max(table)
        return max(least, THINNEST[domain])

    def _plug(self, link: Link) -> float:
        """What the plug carries that a flex begins at [A]: as thick as that asks."""
        rail = self.rails.get(link.start.part.removeprefix("SUPPLY."))
        if rail is None or not rail.plug_rating or not self.around.hazardous(rail):
            return 0.0
        return parse(rail.plug_rating, "A")

    def _made(self, link: Link) -> tuple[Wire, str]:
        """What a wire is made of as far as it is stated, and what it runs in."""
        parts = [link.start.part, link.end.part]
        of = next((p.split(".")[1] for p in parts if p.startswith(("SUPPLY.", "FUSE."))), "")
        rail = self.rails.get(of)
        feed = self._feed(rail, parts) if rail is not None else None
        load = next((p for p in parts if p.endswith(".LOAD")), None)
        channel = self.build.channel(load.removesuffix(".LOAD")) if load else None
        block = self.build.block(link.end.part.removeprefix("BLOCK."))
        to = channel or block
        if to is not None:
            wire = self.around.wire(to)
            if feed is not None and wire.area is None:
                # From the source straight to it: the source's own wire, as far as that is stated.
                wire = wire._replace(area=feed.area, length=wire.length or feed.length)
            own = (channel.through if channel else "") or f"to {to.name}"
            return wire, wire.cable.name if wire.cable else own
        if feed is not None and rail is not None:
            return feed, f"supply of {rail.name}"
        item = next((i for i in self.build.inputs if self._leads_to(i.id, set(parts))), None)
        text = item.lead_length if item else None
        return Wire(parse(text, "m") if text else None, None, "free", None), ""

    def _feed(self, rail: Rail, parts: list[str]) -> Wire:
        """
        The wire of a rail. Its length is that of one piece: a fuse stands beside a source of low
        volts, and on the line in the box, where the lead ends.
        """
        wire = self.around.wire(rail)
        at_fuse, at_source = (any(p.startswith(k) for p in parts) for k in ("FUSE.", "SUPPLY."))
        short = at_fuse and at_source is not self._on_line(rail)
        return wire._replace(length=None) if short else wire

    def _leads_to(self, item: str, parts: set[str]) -> bool:
        kinds = {self.layer.places.parts[p].kind for p in parts if p in self.layer.places.parts}
        own = any(p.startswith(f"{item}.") for p in parts)
        return own and bool(kinds & {"switch", "sensor", "pot"})

    # Earth.

    def _earths(self) -> list[Conductor]:
        """
        From each line's inlet straight to each load that may have metal to touch, to each outlet
        and each piece of earthed metal: a conductor of its own each.
        """
        found = []
        lines = [r for r in self.build.rails if self._on_line(r)]
        for rail in lines:
            ends: list[tuple[Terminal, float]] = []
            for block in self.build.blocks:
                if block.rail == rail.id and block.kind == "outlet":
                    behind = [self.layer.results.get(c.id) for c in self.around.behind(block)]
                    carried = sum(result.running for result in behind if result)
                    ends.append((Terminal(f"BLOCK.{block.id}", EARTH), carried))
            for channel in self.around.on_rail(rail):
                load = Terminal(f"{channel.id}.LOAD", EARTH)
                if load.part in self.layer.places.parts and self._earthed(channel):
                    ends.append((load, self.layer.results[channel.id].running))
            for metal in self.build.metals if rail is lines[0] else ():
                if metal.earthed:
                    ends.append((Terminal(f"METAL.{metal.id}", EARTH), 0.0))
            found += self._earth_star(rail, ends)
        return found

    def _earth_star(self, rail: Rail, ends: list[tuple[Terminal, float]]) -> list[Conductor]:
        """From the inlet's own terminal where a screw takes them, else from a bar beside it."""
        root, found = Terminal(f"SUPPLY.{rail.id}", EARTH), []
        if len(ends) > IN_ONE_SCREW:
            bar = Terminal(f"POINT.{rail.id}-", EARTH)
            found.append(self._earth(rail, root, bar, max(running for _, running in ends)))
            root = bar
        return found + [self._earth(rail, root, end, running) for end, running in ends]

    def _earthed(self, channel: Channel) -> bool:
        """Whether earth is led to a load: not to a doubly insulated one, nor past its outlet."""
        plugged = any(b.kind == "outlet" for b in self.around.chain(channel))
        return channel.load.protection != "class_ii" and not plugged

    def _earth(self, rail: Rail, start: Terminal, end: Terminal, running: float) -> Conductor:
        """As thick as the live conductor that may touch what it is led to."""
        fuse = parse(rail.fuse, "A") if rail.fuse else None
        link = Link(f"{rail.id}.{EARTH}", start, end)
        wire, cable = self._made(link)
        area = wire.area or self._least("hazardous", max(running, fuse or 0.0), wire.laid)
        made = self._conductor(link, 0.0, 0.0, fuse)
        return replace(made, area=area, colour=self.colours.earth, domain="hazardous", cable=cable)

    def _on_line(self, rail: Rail) -> bool:
        return self.around.hazardous(rail) and self.around.alternating(rail)


def crowded(laid: list[Conductor]) -> list[tuple[Terminal, int]]:
    """
    Terminals in which more wires meet than one screw takes, with how many; blocks are made for it.

    >>> crowded([])
    []
    """
    counts: dict[Terminal, int] = {}
    for c in laid:
        for end in () if c.joint else (c.start, c.end):
            counts[end] = counts.get(end, 0) + 1
    return [
        (end, many)
        for end, many in counts.items()
        if many > IN_ONE_SCREW and not end.part.startswith(("POINT.", "BLOCK."))
    ]
