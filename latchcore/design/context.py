"""A channel with everything around it resolved: board, pin, rail, load figures, limits."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from latchcore.catalogue.records import Board, Pin, Record, Region
from latchcore.design.chains import ChainContext
from latchcore.design.channel_context import ChannelContext, Missing
from latchcore.design.hanging import Hanging
from latchcore.design.own_parts import read_own
from latchcore.design.wires import Wire
from latchcore.document.chains import part_of
from latchcore.document.models import Channel, Rail
from latchcore.figures.quantity import parse
from latchcore.figures.spread import Spread, parse_spread
from latchcore.figures.typed import Refusal
from latchcore.sums import ampacity

__all__ = ["BuildContext", "ChannelContext", "Missing"]


@dataclass
class BuildContext(Hanging):
    """
    A build against a catalogue: parts that travel with the build come before the catalogue's own.
    """

    _own: dict[str, Record] = field(default_factory=dict)

    def part(self, key: str | None) -> Any:
        """Part record by id, or ``None``."""
        if key is None:
            return None
        if key in self.build.parts:
            if key not in self._own:
                self._own[key] = read_own(key, self.build.parts[key])
            return self._own[key]
        return self.catalogue.parts.get(key)

    def family(self, family: str) -> list[Any]:
        """
        Every part of a family that may be chosen, the smallest first.

        A part that travels with the build stands in the place of the catalogue's own of the same
        id, so that
        packing parts into a file never changes which one is chosen; parts only the build knows come
        last.
        """
        found = self._family(family)
        stock = self.catalogue.stock
        if self.build.prefer_stock and stock is not None:
            return sorted(found, key=lambda part: part.id not in stock.parts)
        return found

    def _family(self, family: str) -> list[Any]:
        own = {
            key: self.part(key)
            for key, raw in self.build.parts.items()
            if raw.get("family") == family and self._readable(key)
        }
        generic = self.catalogue.of_family(family)
        return [own.pop(part.id, part) for part in generic] + list(own.values())

    def _readable(self, key: str) -> bool:
        """
        Whether a record that travels with the build can be used; one that cannot is nobody's
        choice.
        """
        try:
            return self.part(key) is not None
        except Refusal:
            return False

    @cached_property
    def chains(self) -> dict[str, ChainContext]:
        """Its chains, by id."""
        return {chain.id: ChainContext(self, chain) for chain in self.build.chains}

    def of_line(self, name: str | None) -> ChainContext | None:
        """The chain a line belongs to, ``None`` for one of the board."""
        named = part_of(name) if name else None
        return self.chains.get(named[0]) if named else None

    def line(self, name: str | None) -> Pin | None:
        """The pin of that name, of the board or of a chain; ``None`` where there is none."""
        return self._lines.get(name) if name else None

    @cached_property
    def _lines(self) -> dict[str, Pin]:
        return {pin.id: pin for pin in self.deck.pins} if self.deck else {}

    def giver(self, names: list[str]) -> Board:
        """
        Who gives the level of some lines, by what it says of itself; the weaker high level where
        they come from several.
        """
        known = self._givers.get(key := tuple(names))
        if known is None:
            known = self._givers[key] = self._giver(names)
        return known

    @cached_property
    def _givers(self) -> dict[tuple[str, ...], Board]:
        return {}

    def _giver(self, names: list[str]) -> Board:
        chains = {c.id: c for c in map(self.of_line, names) if c}
        beside = [self.board] if any(self.of_line(n) is None for n in names) or not names else []
        boards: list[Board] = [b for b in beside if b] + [c.board for c in chains.values()]
        return min(boards, key=lambda board: board.voh_rated_min)

    @cached_property
    def deck(self) -> Board | None:
        """The board with the lines of every chain after its own."""
        if self.board is None or not self.chains:
            return self.board
        more = [pin for chain in self.chains.values() for pin in chain.pins]
        return self.board.model_copy(update={"pins": [*self.board.pins, *more]})

    @cached_property
    def board(self) -> Board | None:
        """The board of the build, or ``None``."""
        found = self.part(self.build.board)
        return found if isinstance(found, Board) else None

    def rail_volts(self, rail: Rail) -> Spread:
        """Voltage of a rail with the tolerance of its source where the text states none."""
        source = self.catalogue.sources.get(rail.source)
        minus, plus = (source.minus, source.plus) if source else (0.0, 0.0)
        return parse_spread(rail.voltage, ("V",), minus, plus)[0]

    def alternating(self, rail: Rail | None) -> bool:
        """Whether a rail carries alternating current, its voltage then rms."""
        source = self.catalogue.sources.get(rail.source) if rail else None
        return source is not None and source.current == "ac"

    def hazardous(self, rail: Rail | None) -> bool:
        """
        Whether a rail is a hazardous domain: mains, over 60 V direct, or over 30 V rms, half of
        that in a damp place; or one piece of metal with such a rail, whatever it is called.
        """
        return rail is not None and any(self._hurts(r) for r in self.one_metal(rail))

    def _hurts(self, rail: Rail) -> bool:
        """Whether a rail is hazardous by its own source and volts."""
        source = self.catalogue.sources.get(rail.source)
        if source is None:
            return False
        limits = self.catalogue.limits
        share = limits["hazard_damp"] if self.damp else 1.0
        return source.hazardous or self.rail_volts(rail).max > share * (
            limits["hazard_alternating"] if source.current == "ac" else limits["hazard_direct"]
        )

    @property
    def damp(self) -> bool:
        """Whether it stands where skin and boards get wet."""
        return self.build.place == "damp"

    @property
    def creepage(self) -> float:
        """Least way along a surface between what is hazardous and what is not [mm]."""
        return self.catalogue.limits["creepage_damp" if self.damp else "creepage"]

    #: Sources whose short takes a fuse of high breaking capacity.
    hard_sources = ("battery", "mains", "mains_derived")

    @property
    def region(self) -> Region:
        """Customs of where the build is."""
        return self.catalogue.regions[self.build.region]

    def carries(self, wire: Wire, rail: Rail) -> float:
        """What a wire of a stated cross-section on a rail carries [A]; nothing unlisted."""
        table = self.wires(self.hazardous(rail))
        return ampacity.ampacity(wire.area or 0.0, table, wire.laid) or 0.0

    def thickest(self, rail: Rail) -> float:
        """What the thickest wire that is listed carries, laid as the rail's is [A]."""
        return max(self.wires(self.hazardous(rail)).values()) * ampacity.LAYING[rail.laid]

    def wires(self, hazardous: bool) -> dict[float, float]:
        """
        Ampacities that hold: single wires on low voltage, elsewhere the flexes of the region [m² to
        A].
        """
        if not hazardous:
            return ampacity.SINGLE
        return ampacity.GAUGE_FLEX if self.region.flex == "gauge" else ampacity.FLEX

    def return_of(self, rail: Rail) -> str:
        """The node a rail returns to: its neutral, a 0 V of its own, or the common one."""
        if self.alternating(rail):
            return f"{rail.id}.N"
        return f"{rail.id}.0V" if rail.ground == "own" or self.hazardous(rail) else "0V"

    @property
    def frequency(self) -> float:
        """Line frequency of the region [Hz]."""
        return self.catalogue.regions[self.build.region].frequency

    @property
    def ambient(self) -> float:
        """Highest ambient [°C]."""
        return parse(self.build.ambient, "°C", signed=True)

    def channel(self, channel: Channel) -> ChannelContext:
        """The channel with its surroundings."""
        return ChannelContext(self, channel)
