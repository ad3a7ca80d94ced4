"""The simulated bench: a build as it was soldered, its supplies, what it is told, and a meter."""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from dataclasses import dataclass, replace

from latchcore.bench.circuit import GROUND, VDD, Corner, NotModelled, circuit_of, rail_source
from latchcore.bench.commands import OFF, commands_of
from latchcore.bench.currents import LEADS, in_lead, reads
from latchcore.bench.hidden import SLIPPED, Hidden, with_fault
from latchcore.bench.looks import DEAD, WEAK, WORKS, does, load_amps
from latchcore.bench.made import LOW
from latchcore.bench.meter import ALTERNATING, HandMeter, usual_meter
from latchcore.bench.solver import NoPoint, Part, Point, solve
from latchcore.bench.undriven import undriven
from latchcore.design.context import BuildContext
from latchcore.design.report import ChannelReport, Report
from latchcore.document.models import Rail
from latchcore.figures.quantity import parse
from latchcore.whole.wire_list import node_numbers

#: What a meter on ohms puts across what it reads: under a junction, behind its own resistance.
PROBE_V, PROBE_OHM, NOTHING_FLOWS = 0.2, 1e3, 1e-11
#: A joint that is sound [Ω]; states nobody knows are told apart by this word.
JOINED, UNDECIDED = 0.2, "undecided"


@dataclass(frozen=True, slots=True)
class Lit:
    """What one load does: its word, and how much of what it should have flows, 0 to 1."""

    word: str
    share: float


class Rig:
    """
    A build on the simulated bench, each part somewhere inside its tolerance.

    Attributes
    ----------
    states : dict
        What each channel is told
    powered : bool
        Whether the supplies are on
    limits : dict
        Current limit of each rail's supply [A], where one is set
    """

    def __init__(
        self,
        around: BuildContext,
        report: Report,
        fault: Hidden | None = None,
        seed: int = 0,
        meter: HandMeter | None = None,
    ) -> None:
        self.around, self.report, self.fault = around, report, fault
        self.meter = meter or usual_meter()
        chance = random.Random(seed)
        self.at = Corner(*(chance.uniform(0.15, 0.85) for _ in range(3)))
        self.powered = True
        self.limits: dict[str, float] = {}
        self.told = {c.id: c for c in report.channels if c.result is not None}
        self.commands: dict[str, list[str]] = {}
        self.not_modelled: dict[str, str] = {}
        for key, told in self.told.items():
            try:
                found = commands_of(self._context(key), told.result)
                circuit_of(self._context(key), told.result, OFF, self.at)
                self.commands[key] = list(found)
            except NotModelled as error:
                self.not_modelled[key] = str(error)
                self.commands[key] = [OFF, "on"]
        self.states = dict.fromkeys(self.told, OFF)
        self._known: dict[str, tuple[list[Part], Point]] = {}
        self._sound_amps: dict[str, dict[str, float]] = {}
        self._loose: dict[str, set[str]] = {}

    def _context(self, key: str):
        return self.around.channel(self.around.build.channel(key))

    def tell(self, key: str, state: str) -> None:
        """
        Command one channel; a line that drives its neighbour commands that. Raises ``KeyError`` for
        a channel or a state there is not.
        """
        if state not in self.commands[key]:
            raise KeyError(state)
        if self.fault is not None and self.fault.what == SLIPPED:
            order = list(self.told)
            key = order[(order.index(key) + 1) % len(order)]
            state = state if state in self.commands[key] else self.commands[key][-1]
        self.states[key] = state

    def all_off(self) -> None:
        """Every channel off."""
        self.states = dict.fromkeys(self.told, OFF)

    @property
    def points(self) -> dict[str, str]:
        """What a probe can be put on, by what it is called: numbered points, rails, 0 V."""
        found = {"0 V": GROUND, "logic supply": VDD}
        for rail in self.rails:
            found[rail.name] = rail.id
        for key, told in self.told.items():
            if key not in self.not_modelled:
                there = {n for p in self._channel(key, OFF) for n in p.at.values()}
                for node, number in node_numbers(told.result.netlist, key).items():
                    if node in there:
                        found[f"{told.letter}{number}"] = node
        return found

    @property
    def rails(self) -> list[Rail]:
        """Rails of direct current that do not hurt."""
        around = self.around
        return [r for r in around.build.rails if not around.hazardous(r)
                and not around.alternating(r)]  # fmt: skip

    def _channel(self, key: str, state: str) -> list[Part]:
        """One channel's own parts with its fault, its low level a node of its own."""
        own = circuit_of(self._context(key), self.told[key].result, state, self.at)
        if self.fault is not None and self.fault.of == key:
            own = with_fault(own, self.fault, shared=False)
        low = f"{LOW}:{key}"
        return [
            replace(p, id=f"{p.id}:{key}" if p.id == "V_OL" else p.id,
                    at={t: low if n == LOW else n for t, n in p.at.items()})
            if LOW in p.at.values() else p
            for p in own
        ]  # fmt: skip

    def parts(self) -> list[Part]:
        """Everything on the bench, supplies once, with the fault in it."""
        found: dict[str, Part] = {}
        for key, state in self.states.items():
            if key not in self.not_modelled:
                for part in self._channel(key, state):
                    found.setdefault(part.id, part)
        for rail in self.rails:
            found.setdefault(rail.id, rail_source(self.around, rail, self.at))
        made = list(found.values())
        if self.fault is not None and self.fault.part in {r.id for r in self.rails}:
            made = with_fault(made, self.fault, shared=True)
        return [self._limited(part) for part in made]

    def _limited(self, part: Part) -> Part:
        """A rail's supply with its limit: what was set, and never more than it is rated for."""
        rail = self.around.build.rail(part.id) if part.kind == "source" else None
        if rail is None:
            return part
        set_to = self.limits.get(part.id, math.inf)
        most = min(set_to, parse(rail.rating, "A") if rail.rating else math.inf)
        return replace(part, figures={**part.figures, "limit_a": most if most < math.inf else None})

    def solved(self) -> tuple[list[Part], Point | None]:
        """What stands now: parts and their point; none where no rest is found."""
        key = repr((self.states, self.limits))
        if key not in self._known:
            parts = self.parts()
            try:
                point = solve(parts)
                self._loose[key] = {p.partition(".")[0] for p in point.undecided + point.chatters}
                if self._loose[key]:
                    # What finds no rest is told of its own channel; the others go on.
                    parts = [p for p in parts if p.id.partition(".")[0] not in self._loose[key]]
                    point = solve(parts)
            except NoPoint:
                return parts, None
            self._known[key] = (parts, point)
        return self._known[key]

    @property
    def loose(self) -> set[str]:
        """Channels that find no rest as they are told now."""
        self.solved()
        return self._loose.get(repr((self.states, self.limits)), set())

    def volts(self, node: str, against: str) -> str:
        """What the meter shows on direct volts."""
        if not self.powered:
            return self.meter.shown(0.0)
        parts, point = self.solved()
        return self.meter.shown(0.0) if point is None else self._shown(parts, node, against)

    def _shown(self, parts: list[Part], node: str, against: str) -> str:
        """
        A display across two nodes of a circuit. The meter's own resistance lies across what is
        read: what nothing else ties is where that pulls.
        """
        there = {n for p in parts for n in p.at.values()}
        if node == against or not {node, against} <= there:
            return self.meter.shown(0.0)
        ends = {"a": node, "b": against}
        across = Part("meter", "resistor", ends, {"ohm": self.meter.input_ohms})
        for circuit in ([*parts, across], parts):
            try:
                return self.meter.shown(solve(circuit).volts(node, against) or 0.0)
            except NoPoint:
                continue
        return self.meter.shown(0.0)

    def alternating(self, rail: str) -> str:
        """What the meter shows on alternating volts across a rail that does not hurt."""
        found = self.around.build.rail(rail)
        if found is None or not self.powered:
            return self.meter.shown(0.0, ALTERNATING)
        volts = self.at.of(self.around.rail_volts(found), self.at.supply)
        return self.meter.shown(volts, ALTERNATING)

    def ohms(self, node: str, against: str) -> str:
        """What the meter shows on ohms, everything unplugged."""
        return self.meter.shown(self._ohms(node, against), "Ω")

    def _ohms(self, node: str, against: str) -> float | None:
        dead = []
        for part in self.parts():
            if part.kind in ("source", "package"):
                continue
            if part.kind == "pin":
                part = replace(part, figures={**part.figures, "mode": "floating"})
            dead.append(part)
        probe = {"volts_v": PROBE_V, "ohm": PROBE_OHM, "limit_a": None, "one_way": True}
        dead.append(Part("meter", "source", {"plus": node, "minus": against}, probe))
        try:
            point = solve(dead)
        except NoPoint:
            return None
        amps = -point.amps_into("meter.plus") if not point.undecided else 0.0
        if abs(amps) < NOTHING_FLOWS:
            return None
        return max(PROBE_V / amps - PROBE_OHM, 0.0)

    def contact(self, key: str, side: str) -> str:
        """Ohms between common and one side of a relay's contact, its own circuit dead."""
        parts, point = self.solved()
        own = (p for p in parts if p.id.startswith(f"{key}."))
        relay = next((p for p in own if "contact_ohm" in p.figures), None)
        if relay is None or point is None:
            return self.meter.shown(None, "Ω")
        made = relay.figures.get("welded") or ("no" if point.states.get(relay.id) == "in" else "nc")
        return self.meter.shown(JOINED if made == side else None, "Ω")

    def lit(self) -> dict[str, Lit]:
        """What every load does now."""
        parts, point = self.solved()
        return {key: self._lit(key, told, parts, point) for key, told in self.told.items()}

    def _lit(self, key: str, told: ChannelReport, parts: list[Part], point: Point | None) -> Lit:
        if not self.powered:
            return Lit(DEAD, 0.0)
        if key in self.not_modelled:
            acts = self.states[key] != OFF
            return Lit(WORKS if acts else DEAD, float(acts))
        if point is None or key in self.loose:
            return Lit(UNDECIDED, 0.5)
        amps = load_amps(point, parts, key, told.result)
        whole = self.whole(key)
        word = does(amps, self.sound_amps(key)[self.states[key]], whole)
        return Lit(word, min(abs(amps) / whole, 1.0) if whole else 0.0)

    def sound_amps(self, key: str) -> dict[str, float]:
        """What flows in a load of the build without its fault, by what it is told [A]."""
        if key not in self._sound_amps:
            result, context, found = self.told[key].result, self._context(key), {}
            for state in self.commands[key]:
                parts = circuit_of(context, result, state, self.at)
                found[state] = load_amps(solve(parts), parts, key, result)
            self._sound_amps[key] = found
        return self._sound_amps[key]

    def whole(self, key: str) -> float:
        """The most that flows in a load of a sound build [A]."""
        return max(map(abs, self.sound_amps(key).values()))

    def sound(self) -> Rig:
        """The same bench, each part where it lies here, without the fault."""
        twin = Rig(self.around, self.report, meter=self.meter)
        twin.at = self.at
        return twin

    def amps(self, rail: str) -> float:
        """What a rail's supply gives now [A]."""
        _, point = self.solved()
        return 0.0 if point is None or point.undecided else -point.amps_into(f"{rail}.plus")

    def read_amps(self, rail: str) -> str:
        """What the meter shows in the lead of a supply, with what it keeps for itself."""
        if not self.powered:
            return self.meter.said(0.0, "A")
        kept, parts = self.meter.keeps(self.amps(rail)), self.solved()[0]
        burdened = [
            replace(p, figures={**p.figures, "ohm": p.figures["ohm"] + kept}) if p.id == rail else p
            for p in parts
        ]
        try:
            point = solve(burdened)
        except NoPoint:
            return self.meter.said(self.amps(rail), "A")
        return self.meter.said(-point.amps_into(f"{rail}.plus"), "A")

    def read_lead(self, key: str, rail: str) -> str:
        """What the meter shows between a rail and all that one channel has on it."""
        if not self.powered:
            return self.meter.said(0.0, "A")
        parts, _ = self.solved()
        amps = self._lead(parts, key, rail, LEADS)
        kept = self.meter.keeps(amps)
        return self.meter.said(self._lead(parts, key, rail, kept) if kept else amps, "A")

    @staticmethod
    def _lead(parts: list[Part], key: str, rail: str, ohms: float) -> float:
        try:
            point = solve(in_lead(parts, key, rail, ohms))
        except NoPoint:
            return 0.0
        return 0.0 if point.undecided or point.chatters else reads(point)

    @property
    def _leak(self) -> float:
        """What flows out of a pin nobody drives [A]."""
        board = self.around.board
        return board.leakage if board is not None else 0.0

    def volts_in_reset(self, node: str) -> str:
        """What the meter shows at a node against 0 V while the board is held in reset."""
        return self._shown(undriven(self.parts(), self._leak), node, GROUND)

    def on_when_all_float(self) -> Iterator[str]:
        """Channels whose load comes on, or might, while no pin of the board is driven."""
        parts = undriven(self.parts(), self._leak)
        point = solve(parts)
        loose = {p.partition(".")[0] for p in point.undecided}
        for key, told in self.told.items():
            if key in self.not_modelled:
                continue
            certain = not point.undecided and not point.chatters
            if key in loose or (certain and self._acts(key, told, parts, point)):
                yield key

    def _acts(self, key: str, told: ChannelReport, parts: list[Part], point: Point) -> bool:
        amps = load_amps(point, parts, key, told.result)
        return does(amps, amps, self.whole(key)) in (WORKS, WEAK)

    def first_way(self, key: str) -> str:
        """What a channel is told to come on."""
        return next((state for state in self.commands[key] if state != OFF), OFF)
