"""
Conductors of a build: every link with its current, the fuse in front of it, thickness, colour,
domain and cable.
"""

from __future__ import annotations

from functools import cached_property

from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.document.models import Channel, Rail
from latchcore.figures.quantity import parse
from latchcore.metal.conductors import Conductor, Link, Terminal, carried
from latchcore.sums import ampacity
from latchcore.whole.laying.boards import BOARD
from latchcore.whole.laying.colours import Colours
from latchcore.whole.laying.links import Layer

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
            channel, rail = self._channel(link), self._rail(link)
            # A return is as thick as its feed, whatever its domain is called.
            kind = "low voltage" if domain == "logic" and self._returns(link) else domain
            area = self._stated(channel, rail) or self._least(kind, max(running, fuse or 0.0))
            length, cable = self._length(link, channel, rail), self._cable(link, channel, rail)
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

    def _least(self, domain: str, current: float) -> float:
        table = self.around.wires(domain == "hazardous")
        least = ampacity.least_area(max(current, 1e-3), table) or max(table)
        return max(least, THINNEST[domain])

    def _channel(self, link: Link) -> Channel | None:
        """The channel whose load it leads to."""
        load = next((t for t in (link.start, link.end) if t.part.endswith(".LOAD")), None)
        return self.build.channel(load.part.removesuffix(".LOAD")) if load else None

    def _rail(self, link: Link) -> Rail | None:
        """The rail whose supply it comes from."""
        parts = [t.part for t in (link.start, link.end)]
        of = next((p.split(".")[1] for p in parts if p.startswith(("SUPPLY.", "FUSE."))), "")
        return self.rails.get(of)

    def _stated(self, channel: Channel | None, rail: Rail | None) -> float | None:
        text = (channel.wire_area if channel else None) or (rail.wire_area if rail else None)
        return parse(text, "mm²") * 1e-6 if text else None

    def _length(self, link: Link, channel: Channel | None, rail: Rail | None) -> float | None:
        text = (channel.wire_length if channel else None) or (rail.wire_length if rail else None)
        if text is None:
            away = {link.start.part, link.end.part}
            item = next((i for i in self.build.inputs if self._leads_to(i.id, away)), None)
            text = item.lead_length if item else None
        return parse(text, "m") if text else None

    def _leads_to(self, item: str, parts: set[str]) -> bool:
        kinds = {self.layer.places.parts[p].kind for p in parts if p in self.layer.places.parts}
        own = any(p.startswith(f"{item}.") for p in parts)
        return own and bool(kinds & {"switch", "sensor", "pot"})

    def _cable(self, link: Link, channel: Channel | None, rail: Rail | None) -> str:
        if channel is not None:
            return channel.through or f"to {channel.name}"
        return f"supply of {rail.name}" if rail is not None else ""

    # Earth.

    def _earths(self) -> list[Conductor]:
        """From each line straight to each load that hangs on it, its own conductor each."""
        found = []
        for channel in self.build.channels:
            rail = self.rails.get(channel.rail or "")
            there = f"{channel.id}.LOAD" in self.layer.places.parts
            if rail is None or not there or not self._on_line(rail):
                continue
            link = Link(
                f"{rail.id}.{EARTH}",
                Terminal(f"SUPPLY.{rail.id}", EARTH),
                Terminal(f"{channel.id}.LOAD", EARTH),
            )
            fuse = parse(rail.fuse, "A") if rail.fuse else None
            result = self.layer.results[channel.id]
            made = self._conductor(link, 0.0, 0.0, fuse)
            area = self._stated(channel, None) or self._least(
                "hazardous", max(result.running, fuse or 0.0)
            )
            found.append(
                Conductor(
                    made.id,
                    made.node,
                    made.start,
                    made.end,
                    False,
                    0.0,
                    0.0,
                    area,
                    fuse,
                    self.colours.earth,
                    "hazardous",
                    made.cable,
                    made.length,
                )
            )
        return found

    def _on_line(self, rail: Rail) -> bool:
        return self.around.hazardous(rail) and self.around.alternating(rail)
