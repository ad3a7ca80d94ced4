"""
Every node laid as links: rails as stars from their points, returns to their own rail, signals
joined at the stage, grounds meeting once.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Report, StageResult
from latchcore.document.models import Rail
from latchcore.metal.conductors import Link, Terminal, star
from latchcore.metal.netlist import Part
from latchcore.whole.laying.boards import BOARD, Places
from latchcore.whole.laying.flows import ACROSS, Flow, flows_of
from latchcore.whole.rails import parent_of

#: As many wires as one screw takes; more of them meet on a block beside it.
IN_ONE_SCREW = 2
#: What switches: a node's star begins there rather than at the load.
SWITCHES = ("module", "solid", "solid_relay", "solid_direct", "packaged", "contactor")


@dataclass
class Laid:
    """
    Links of every node with what is taken at their ends.

    ``running`` and ``surge`` are what leaves a node at a terminal, and how much more it may be for
    a moment [A]; ``carries`` the terminals a load's or coil's current passes.
    """

    links: list[Link] = field(default_factory=list)
    running: dict[Terminal, float] = field(default_factory=dict)
    surge: dict[Terminal, float] = field(default_factory=dict)
    carries: set[Terminal] = field(default_factory=set)
    #: Plus and minus points of each rail, and of the board: where wires meet.
    points: dict[tuple[str, str], Terminal] = field(default_factory=dict)

    def take(self, terminal: Terminal, running: float, worst: float | None = None) -> None:
        """More is taken at a terminal."""
        self.running[terminal] = self.running.get(terminal, 0.0) + running
        more = max((running if worst is None else worst) - running, 0.0)
        self.surge[terminal] = max(self.surge.get(terminal, 0.0), more)


@dataclass(frozen=True)
class End:
    """A terminal of a node with what it is to its channel."""

    terminal: Terminal
    part: Part
    board: str | None
    role: str


class Layer:
    """Lays one build."""

    def __init__(self, around: BuildContext, report: Report):
        self.around, self.build, self.report = around, around.build, report
        self.places = Places(around, report)
        self.laid = Laid()
        self.rails = {rail.id: rail for rail in self.build.rails}
        self.returns: dict[str, list[Rail]] = {}
        for rail in self.build.rails:
            self.returns.setdefault(around.return_of(rail), []).append(rail)
        self.flows: dict[str, list[Flow]] = {}
        self.results: dict[str, StageResult] = {}
        self.contexts: dict[str, ChannelContext] = {}
        for c in report.channels:
            if c.result is not None:
                self.results[c.id] = c.result
                self.contexts[c.id] = around.channel(self.build.channel(c.id))
                self.flows[c.id] = flows_of(self.contexts[c.id], c.result)
        self._take_currents()

    def lay(self) -> Laid:
        """Every node of the netlist."""
        by_node: dict[str, list[End]] = {}
        for part in self.report.netlist.parts:
            for name, node in part.terminals.items():
                end = self._end(part, name, node)
                known = by_node.setdefault(node, [])
                if end.terminal not in [e.terminal for e in known]:
                    known.append(end)
        for node, ends in by_node.items():
            if node in self.rails:
                self._plus(self.rails[node], ends)
            elif node in self.returns or node == "0V":
                self._minus(node, ends)
            elif any(e.part.kind == "board" for e in ends):
                self._from_board(node, ends)
            else:
                self._local(node, ends)
        return self.laid

    # What each terminal takes.

    def _take_currents(self) -> None:
        for channel, flows in self.flows.items():
            for flow in flows:
                for terminal in flow.through:
                    part = self.places.parts[terminal.part]
                    own = self.places.terminal(part, terminal.terminal)
                    self.laid.take(own, flow.running, flow.worst)
                    self.laid.carries.add(own)
            self._take_signal(channel)
        for item in self.report.inputs:
            if item.draws:
                self._take_of_input(item)

    def _take_signal(self, channel: str) -> None:
        """What each pin gives or takes, at the first end no load's current passes."""
        result, left = self.results[channel], {f"{channel}.PIN"}
        if result.motion is not None:
            left |= {f"{channel}.PIN.{line.name}" for line in result.motion.power.lines[1:]}
        for part in result.netlist.parts:
            for name, there in part.terminals.items():
                end = self.places.terminal(part, name)
                if there in left and part.kind != "pin" and end not in self.laid.carries:
                    self.laid.take(end, max(result.pin_current, 0.0))
                    left.remove(there)

    def _take_of_input(self, item) -> None:
        rail, amperes = item.draws
        for part in item.netlist.parts:
            name = next((t for t, n in part.terminals.items() if n == rail), None)
            if name is not None:
                self.laid.take(Terminal(part.ref, name), amperes)
                return

    # What each terminal is to its channel.

    def _end(self, part: Part, name: str, node: str) -> End:
        terminal = self.places.terminal(part, name)
        return End(terminal, part, self.places.board(part), self._role(part, name, node))

    def _role(self, part: Part, name: str, node: str) -> str:
        flows = self.flows.get(part.channel or "", ())
        for flow in flows:
            if Terminal(part.ref, name) in flow.through:
                return flow.role
        if part.kind in ACROSS:
            others = set(part.terminals.values()) - {node}
            for flow in flows:
                if others and others <= flow.nodes:
                    return flow.role
        return "signal"

    def _rail_of(self, channel: str, role: str, node: str) -> str | None:
        """The rail whose return a terminal of a channel belongs to, among those of a node."""
        there = [r.id for r in self.returns.get(node, ())]
        if channel[:-1] in there:
            return channel[:-1]
        flows = [f for f in self.flows.get(channel, ()) if f.rail in there]
        for flow in flows:
            if flow.role == role:
                return flow.rail
        if flows:
            return flows[-1].rail
        context, sensed = self.contexts.get(channel), self.build.sense(channel)
        rail = context.rail.id if context and context.rail else sensed.rail if sensed else None
        if rail in there:
            return rail
        # A return of its own has one rail only; the common one leads to the board.
        return there[0] if there and node != "0V" else None

    # Rails.

    def _plus(self, rail: Rail, ends: list[End]) -> None:
        node, source = rail.id, Terminal(f"SUPPLY.{rail.id}", "+")
        entries = list(self._entries(node, [(e, e.part.channel or "") for e in ends]))
        feed = next((e for e in ends if e.terminal == Terminal(BOARD, "feed")), None)
        if feed is not None:
            self.laid.take(feed.terminal, self.around.board.peak)
            entries.append(feed.terminal)
        for child in self._below(rail):
            inlet = self._inlet(child)
            taken, worst = self._rail_report(rail).below.get(child.id, (0.0, 0.0))
            self.laid.take(inlet, taken, worst)
            entries.append(inlet)
        entries = self._at_blocks(node, rail, "+", entries)
        root = source
        if self._fused(rail, "+"):
            fuse = f"FUSE.{rail.id}"
            self.laid.links.append(Link(node, source, Terminal(fuse, "1")))
            self.laid.links.append(Link(node, Terminal(fuse, "1"), Terminal(fuse, "2"), True))
            root = Terminal(fuse, "2")
        self._meet(node, root, Terminal(f"POINT.{rail.id}+", "+"), entries, (rail.id, "+"))

    def _minus(self, node: str, ends: list[End]) -> None:
        by_rail: dict[str | None, list[tuple[End, str]]] = {}
        for end in ends:
            if end.part.kind not in ("source", "board"):
                # Metal says itself which rail's pole it is joined to.
                by_hand = end.part.kind == "metal"
                owner = end.terminal.terminal if by_hand else end.part.channel or ""
                by_rail.setdefault(self._rail_of(owner, end.role, node), []).append((end, owner))
        rails = self.returns.get(node, [])
        to_board = list(self._entries(node, by_rail.get(None, ())))
        for rail in rails:
            entries = list(self._entries(node, by_rail.get(rail.id, ()), rail.id))
            to_board += self._rail_minus(node, rail, rails, entries)
        if self.around.board is None or node != "0V":
            # Without a board to meet at, the minus points of one node meet at the first.
            points = [self.laid.points[r.id, "-"] for r in rails if not self._hangs(r, rails)]
            self.laid.links += star(node, points[0], points[1:]) if points else []
        if self.around.board is not None and node == "0V":
            self._inside_board(node)
        if not to_board:
            return
        if self.around.board is not None and node == "0V":
            block = Terminal("POINT.board-", "-")
            self._meet(node, Terminal(BOARD, "gnd"), block, to_board, ("board", "-"))
        else:
            root = self.laid.points[rails[0].id, "-"] if rails else to_board[0]
            self.laid.links += star(node, root, to_board)

    def _rail_minus(
        self, node: str, rail: Rail, beside: list[Rail], entries: list[Terminal]
    ) -> list[Terminal]:
        """The star of one rail's minus; what comes back belongs at the board's ground instead."""
        source = self.places.terminal(self.places.parts[f"SUPPLY.{rail.id}"], "-")
        entries = self._at_blocks(node, rail, "-", entries)
        for child in self._below(rail):
            apart = child.converter == "isolating"
            if (apart or self.around.return_of(child) == node) and not self._on_board(child):
                taken, worst = self._rail_report(rail).below.get(child.id, (0.0, 0.0))
                back = Terminal(f"SUPPLY.{child.id}", "IN-" if apart else "-")
                self.laid.take(back, taken, worst)
                entries.append(back)
        if source == Terminal(BOARD, "gnd"):
            return entries
        fed = self.build.board_feed == rail.id
        if self._meets_board(rail, node, beside):
            ground = Terminal(BOARD, "return" if fed else "gnd")
            if fed:
                self.laid.take(ground, self.around.board.peak)
            entries.append(ground)
        root = source
        if self._fused(rail, "-"):
            fuse = f"FUSE.{rail.id}"
            self.laid.links.append(Link(node, source, Terminal(fuse, "3")))
            self.laid.links.append(Link(node, Terminal(fuse, "3"), Terminal(fuse, "4"), True))
            root = Terminal(fuse, "4")
        self._meet(node, root, Terminal(f"POINT.{rail.id}-", "-"), entries, (rail.id, "-"))
        return []

    def _inside_board(self, node: str) -> None:
        """Ground and return of the board are one piece of metal inside it."""
        feed = self.build.rail(self.build.board_feed)
        if feed is not None and self.around.return_of(feed) == node:
            self.laid.links.append(
                Link(node, Terminal(BOARD, "return"), Terminal(BOARD, "gnd"), True)
            )

    def _meets_board(self, rail: Rail, node: str, beside: list[Rail]) -> bool:
        """
        Whether a rail's minus is led to the board: the one that feeds it is, and each that hangs on
        no other, unless the board's own feed hangs on it.
        """
        if self.around.board is None or node != "0V":
            return False
        if self.build.board_feed == rail.id:
            return True
        return not self._hangs(rail, beside) and rail.id not in self._above_feed(beside)

    def _above_feed(self, beside: list[Rail]) -> set[str]:
        """Rails of one return on which the board's feed hangs."""
        there = {r.id for r in beside}
        found: set[str] = set()
        now = self.build.rail(self.build.board_feed)
        while now is not None and now.id in there and now.id not in found:
            found.add(now.id)
            parent = parent_of(self.build, now)
            now = self.build.rail(parent) if parent in there else None
        return found

    def _hangs(self, rail: Rail, beside: list[Rail]) -> bool:
        """Whether a rail's minus hangs on that of the rail it is made from."""
        parent = parent_of(self.build, rail)
        if rail.converter == "isolating":
            return False
        return parent is not None and parent in [r.id for r in beside]

    def _below(self, rail: Rail) -> list[Rail]:
        return [r for r in self.build.rails if r.fed_by == rail.id and parent_of(self.build, r)]

    def _inlet(self, child: Rail) -> Terminal:
        """Where a rail made from another takes its current in."""
        name = "IN" if child.converter else "+"
        return Terminal(f"SUPPLY.{child.id}", name)

    def _on_board(self, rail: Rail) -> bool:
        return rail.source == "board_pin" and self.around.board is not None

    def _rail_report(self, rail: Rail):
        return next(r for r in self.report.rails if r.id == rail.id)

    def _fused(self, rail: Rail, pole: str) -> bool:
        """Whether a fuse stands in a pole of a rail: in the feed, and in every live one."""
        if not rail.fuse:
            return False
        live = self.around.two_lives(rail) or rail.fuse_poles == "every"
        return pole == "+" or (live and self.around.alternating(rail))

    def _at_blocks(
        self, node: str, rail: Rail, pole: str, entries: list[Terminal]
    ) -> list[Terminal]:
        """
        Each distribution point of a rail as a star of its own, chained where one hangs behind
        another; what is left begins at the rail's own point.
        """
        blocks = [b for b in self.build.blocks if b.rail == rail.id]
        if not blocks:
            return entries
        posts = {b.id: Terminal(f"BLOCK.{b.id}", pole) for b in blocks}
        hanging: dict[str | None, list[Terminal]] = {}
        for entry in entries:
            hanging.setdefault(self._block_of(entry, rail), []).append(entry)
        for b in blocks:
            hanging.setdefault(b.behind, []).append(posts[b.id])
        for b in blocks:
            self.laid.links += star(node, posts[b.id], hanging.get(b.id, ()))
        return hanging.get(None, [])

    def _block_of(self, entry: Terminal, rail: Rail) -> str | None:
        """The distribution point of a rail that an entry's channel begins at."""
        kind, _, rest = entry.part.partition(".")
        package = rest.removesuffix(".X") if kind == "ARRAY" else None
        owner = next((c for c, p in self.places.packages.items() if p == package), kind)
        channel = self.build.channel(owner)
        point = self.build.block(channel.block) if channel else None
        return point.id if point is not None and point.rail == rail.id else None

    def _meet(
        self, node: str, root: Terminal, block: Terminal, entries: list[Terminal], key
    ) -> None:
        """Entries at a terminal where a screw takes them, else on a block of their own."""
        entries = [e for e in dict.fromkeys(entries) if e != root]
        point = root
        if len(entries) > IN_ONE_SCREW:
            point = block
            self.laid.links.append(Link(node, root, block))
        self.laid.points[key] = point
        self.laid.links += star(node, point, entries)

    # What a board or channel has of a node.

    def _entries(self, node: str, ends, rail: str | None = None) -> Iterator[Terminal]:
        """
        Where each channel meets a rail, with what is behind it laid: one terminal of its board, or
        what stands alone.
        """
        boards: dict[str, list[End]] = {}
        alone: list[tuple[End, str]] = []
        for end, owner in ends:
            if end.part.kind in ("source", "board"):
                continue
            if end.board is None:
                alone.append((end, owner))
            else:
                boards.setdefault(end.board, []).append(end)
        for board, there in boards.items():
            entry = Terminal(f"{board}.X", f"{rail or node}{'-' if rail else ''}")
            self.laid.links += star(node, entry, [e.terminal for e in there], joint=True)
            roles = {(e.part.channel, e.role) for e in there}
            beside = [e for e, owner in alone if e.part.kind == "load" and (owner, "load") in roles]
            self.laid.links += star(node, entry, [e.terminal for e in beside])
            alone = [(e, owner) for e, owner in alone if e not in beside]
            yield entry
        yield from (e.terminal for e, _ in alone)

    def _from_board(self, node: str, ends: list[End]) -> None:
        """The board's own logic supply: a star from its pin."""
        root = next(e.terminal for e in ends if e.part.kind == "board")
        entries = list(self._entries(node, [(e, e.part.channel or "") for e in ends]))
        self._meet(node, root, Terminal("POINT.board+", "+"), entries, ("board", "+"))

    def _local(self, node: str, ends: list[End]) -> None:
        """A node of one channel: soldered where it is on one board, wired from there."""
        boards: dict[str, list[End]] = {}
        for end in ends:
            if end.board is not None:
                boards.setdefault(end.board, []).append(end)
        away = [e for e in ends if e.board is None]
        entries = []
        for board, there in boards.items():
            if len(boards) == 1 and all(e.terminal.terminal == "RIN" for e in away):
                # Soldered to the module, at its own resistor.
                there = [*away, *there]
                first = max(there, key=lambda e: e.role != "signal")
                self.laid.links += star(
                    node, first.terminal, [e.terminal for e in there], joint=True
                )
                return
            entry = Terminal(f"{board}.X", node.split(".", 1)[-1])
            self.laid.links += star(node, entry, [e.terminal for e in there], joint=True)
            entries.append(entry)
        order = {"pin": 0} | dict.fromkeys(SWITCHES, 1)
        away.sort(key=lambda e: order.get(e.part.kind.removesuffix("_joined"), 2))
        rest = [*entries, *(e.terminal for e in away)]
        # A pin takes one wire: from it to the board, and from there to the rest; else from the
        # board, else from what switches.
        if away and away[0].part.kind == "pin" and entries:
            self.laid.links.append(Link(node, away[0].terminal, entries[0]))
            rest.remove(away[0].terminal)
        root = away[0].terminal if away and away[0].part.kind == "pin" and not entries else rest[0]
        self.laid.links += star(node, root, rest)


def lay(around: BuildContext, report: Report) -> Laid:
    """
    Lay every node of a build.

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
    >>> lay(BuildContext(bench, load_catalogue()), evaluate(bench)).links
    []
    """
    return Layer(around, report).lay()
