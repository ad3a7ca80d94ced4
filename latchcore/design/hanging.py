"""
What hangs on what: rails that are one piece of metal, what each feeds and what its wires keep, and
who turns which on.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from latchcore.catalogue import Catalogue
from latchcore.catalogue.records import Board
from latchcore.design.wires import Wire, wire_of
from latchcore.document.laid import Block
from latchcore.document.models import Build, Channel, Rail, chain_of
from latchcore.figures.quantity import parse
from latchcore.figures.spread import parse_spread


@dataclass
class Hanging:
    """
    A build's rails and what is on them, as far as it is stated; nothing of it is sized.

    The context of a build is one; it knows its board and the figures of each channel.
    """

    build: Build
    catalogue: Catalogue
    _fed: dict[str, float] = field(default_factory=dict)
    _metal: dict[str, list[Rail]] = field(default_factory=dict)
    _surging: set[str] = field(default_factory=set)

    @property
    def board(self) -> Board | None:
        """The board of the build, or ``None``."""
        raise TypeError("only the context of a build knows its board")

    def channel(self, channel: Channel) -> Any:
        """A channel with what it hangs on."""
        raise TypeError("only the context of a build knows its channels")

    def one_metal(self, rail: Rail) -> list[Rail]:
        """
        A rail with all it is fed by, regulated from or joined with: only a source of its own, such
        as an approved safety-isolating adapter, parts them.
        """
        if rail.id not in self._metal:
            found, wave = {rail.id: rail}, [rail]
            while wave:
                joined = {to for now in wave for to in self._joined_to(now)}
                wave = [
                    r
                    for r in self.build.rails
                    if r.id not in found and (r.id in joined or found.keys() & self._joined_to(r))
                ]
                found |= {r.id: r for r in wave}
            self._metal[rail.id] = list(found.values())
        return self._metal[rail.id]

    def _joined_to(self, rail: Rail) -> set[str]:
        """
        Rails a rail is joined with by its own word or by a piece of metal; an isolating adapter
        parts it.
        """
        fed = rail.fed_by if rail.converter != "isolating" else None
        by_hand = {
            end[:-1]
            for metal in self.build.metals
            if {f"{rail.id}+", f"{rail.id}-"} & set(metal.ends)
            for end in metal.ends
            if end != "board"
        }
        return {to for to in (fed, rail.joined_with, *by_hand) if to} - {rail.id}

    def wire(self, of: Rail | Channel | Block) -> Wire:
        """The wire to something, as far as it is stated."""
        return wire_of(self.build, of)

    def chain(self, channel: Channel) -> list[Block]:
        """Distribution points its load's wires come through, the nearest first."""
        return chain_of(self.build, self.build.block(channel.block)) or []

    def behind(self, block: Block) -> list[Channel]:
        """Channels whose loads hang on a distribution point, or on one behind it."""
        return [c for c in self.build.channels if block in self.chain(c)]

    def feeds(self, rail: Rail, seen: frozenset[str] = frozenset()) -> float:
        """
        Current of everything on a rail by what its loads are stated to take, before any stage is
        sized [A]: what the rail's own wire carries.
        """
        if rail.id in seen:
            return 0.0
        if rail.id in self._fed:
            return self._fed[rail.id]
        seen |= {rail.id}
        # One that turns a rail on waits behind it in the sum: its load is what that rail takes.
        self._fed[rail.id] = 0.0
        loads = (self.channel(c).load.current.max for c in self.on_rail(rail))
        below = (self.feeds(r, seen) for r in self.below(rail))
        board = self.board.peak if self.board and self.build.board_feed == rail.id else 0.0
        always = parse(rail.always, "A") if rail.always else 0.0
        self._fed[rail.id] = sum(loads) + sum(below) + board + always
        return self._fed[rail.id]

    def hazardous_alone(self, channel: Channel) -> bool:
        """Whether a load that hangs on no rail yet is made for volts that are hazardous."""
        kind = self.catalogue.loads[channel.load.kind]
        if channel.rail is not None or kind.model in ("pair", "logic", "analogue"):
            return False
        limits = self.catalogue.limits
        share = limits["hazard_damp"] if self.build.place == "damp" else 1.0
        most = limits["hazard_alternating" if kind.current == "ac" else "hazard_direct"]
        return parse_spread(channel.load.voltage, ("V",))[0].typ > share * most

    def two_lives(self, rail: Rail) -> bool:
        """Whether both conductors of a line are live: as stated, or as every line of the region."""
        region = self.catalogue.regions[self.build.region]
        return rail.lives == "two" or (rail.source == "mains" and region.lives == "two")

    def plug_of(self, rail: Rail) -> str:
        """Which way round its plug goes: as stated, else as every plug of the region."""
        known = rail.plug != "unknown"
        return rail.plug if known else self.catalogue.regions[self.build.region].plug

    def dies_with_board(self, rail: Rail | None) -> bool:
        """
        Whether a rail is dead whenever the board is: a pin of the board, or one source feeds both.
        """
        if rail is None or rail.source == "board_pin":
            return rail is not None
        feed = self.build.rail(self.build.board_feed)
        return feed is not None and self._source_of(feed).id == self._source_of(rail).id

    def _source_of(self, rail: Rail) -> Rail:
        """The rail at the top of the tree a rail hangs on."""
        seen = {rail.id}
        while (above := self.build.rail(rail.fed_by)) is not None and above.id not in seen:
            seen.add(above.id)
            rail = above
        return rail

    def on_rail(self, rail: Rail) -> list[Channel]:
        """Channels whose loads hang on a rail."""
        return [c for c in self.build.channels if c.rail == rail.id]

    def below(self, rail: Rail) -> list[Rail]:
        """Rails fed from one, but for those that are the load of a channel on it."""
        by = {c.id for c in self.on_rail(rail)}
        return [r for r in self.build.rails if r.fed_by == rail.id and r.switched_by not in by]

    def ahead(self, channel: Channel) -> list[Rail]:
        """Rails that a channel turns on; a coil that stands in for its load turns none on."""
        rails = [r for r in self.build.rails if r.switched_by == channel.id]
        own = self.build.channel(channel.id) if rails else None
        return rails if own is not None and own.load is channel.load else []

    def largest_surge(self, rails: list[Rail]) -> tuple[float, float]:
        """How much more the worst load of some rails takes for a moment [A], and how long [s]."""
        here = {rail.id for rail in rails}
        if here & self._surging:
            return 0.0, 0.0
        self._surging |= here
        loads = [self.channel(c).load for rail in rails for c in self.on_rail(rail)]
        self._surging -= here
        more = [(x.surge - x.current.max, x.surge_time or 0.0) for x in loads if x.surge]
        return max(more, default=(0.0, 0.0))

    def block_drop(self, channel: Channel) -> float:
        """Volts left in the wires to the points a load hangs on, each with all behind it [V]."""
        return sum(
            ohms * sum(self.channel(c).load.current.max for c in self.behind(block))
            for block in self.chain(channel)
            if (ohms := self.wire(block).ohms)
        )

    def wire_drop(self, rail: Rail, seen: frozenset[str] = frozenset()) -> float:
        """Volts a rail leaves in its wire, and in those it hangs on without a converter [V]."""
        if rail.id in seen:
            return 0.0
        ohms = self.wire(rail).ohms
        drop = ohms * self.feeds(rail) if ohms else 0.0
        above = self.build.rail(rail.fed_by) if rail.converter is None else None
        return drop + (self.wire_drop(above, seen | {rail.id}) if above else 0.0)
