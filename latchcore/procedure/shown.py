"""What every single fault of a channel would show: volts, currents, and what its load does."""

from __future__ import annotations

from collections.abc import Sequence

from latchcore.bench.circuit import CORNERS, GROUND, MIDDLE, circuit_of
from latchcore.bench.commands import OFF, acting, commands_of
from latchcore.bench.currents import given, in_lead, rails_of, reads
from latchcore.bench.faults import single_faults
from latchcore.bench.looks import DEAD, WEAK, WORKS, does, load_amps
from latchcore.bench.meter import HandMeter
from latchcore.bench.solver import NoPoint, Part, Point, solve
from latchcore.bench.undriven import in_reset, undriven
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.procedure.misses import short_name
from latchcore.whole.wire_list import node_numbers


class Shown:
    """Voltages and what the load does under every fault, in all states at every corner."""

    def __init__(self, context: ChannelContext, result: StageResult, meter: HandMeter) -> None:
        self.words: dict[str, str] = {}
        self.what: dict[str, str] = {}
        self.volts: dict[tuple[str, str, str], list[float | None]] = {}
        self.loads: dict[tuple[str, str], set[str]] = {}
        self.all_volts: list[float] = []
        self.amps: dict[tuple[str, str], list[float]] = {}
        self.sound_amps: dict[str, list[float]] = {}
        self.in_reset: dict[str, list[float | None]] = {}
        self.meter, self.fed = meter, list[str]()
        self.result, self.channel = result, context.channel.id
        self.nodes = list(node_numbers(result.netlist, self.channel))
        held = in_reset(context, result, meter)
        self.held = held.node if held is not None and held.node in self.nodes else None
        self.names = {rail.id: rail.name for rail in context.around.build.rails}
        commands = commands_of(context, result)
        self.states = [*acting(commands), OFF]
        for corner in CORNERS:
            sound = {s: circuit_of(context, result, s, corner) for s in self.states}
            flows = {s: self._amps(parts) for s, parts in sound.items()}
            whole = max(map(abs, flows.values()))
            self.fed = rails_of(context, sound[self.states[0]])
            self._sound(sound[self.states[0]])
            for state, parts in sound.items():
                self._state(parts, state, flows[state], whole)
        self._lowered(context, result)
        if self.held is not None and context.around.board is not None:
            self._undriven(context, result, self.held, context.around.board.leakage)

    def _undriven(
        self, context: ChannelContext, result: StageResult, node: str, leakage: float
    ) -> None:
        """The control node while nobody drives the line, at both ends of all corners."""
        for corner in (CORNERS[0], CORNERS[-1]):
            off = circuit_of(context, result, OFF, corner)
            for leak in (-leakage, leakage):
                for fault in single_faults(undriven(off, leak)):
                    key = f"{fault.part}:{fault.words}"
                    there = any(node in p.at.values() for p in fault.parts)
                    try:
                        point = solve(fault.parts)
                    except NoPoint:
                        continue
                    loose = point.undecided or point.chatters or not there
                    volts = None if loose else point.volts(node, GROUND)
                    self.in_reset.setdefault(key, []).append(volts)

    @property
    def rails(self) -> dict[str, str]:
        """Rails in whose lead a current is read, with their names."""
        return {rail: self.names[rail] for rail in self.fed if any(self.sound_amps[rail])}

    def _lowered(self, context: ChannelContext, result: StageResult) -> None:
        """
        Currents are lower by what the meter keeps for itself: in the share it takes of each at the
        middle of all corners.
        """
        for fault in single_faults(circuit_of(context, result, self.states[0], MIDDLE)):
            for rail in self.fed:
                known = self.amps.get((f"{fault.part}:{fault.words}", rail))
                kept = self.meter.keeps(max(self.sound_amps[rail]))
                if not known or not kept or not any(known):
                    continue
                try:
                    bare = given(solve(fault.parts), fault.parts, self.channel, rail)
                    point = solve(in_lead(fault.parts, self.channel, rail, kept))
                except NoPoint:
                    continue
                if point.undecided or point.chatters:
                    continue
                low = reads(point)
                if bare > low > 0:
                    known.append(min(known) * low / bare)

    def _sound(self, parts: list[Part]) -> None:
        point = solve(parts)
        for rail in self.fed:
            self.sound_amps.setdefault(rail, []).append(self._given(point, parts, rail))

    def _given(self, point: Point, parts: Sequence[Part], rail: str) -> float:
        return given(point, parts, self.channel, rail)

    def _amps(self, parts: list[Part]) -> float:
        return load_amps(solve(parts), parts, self.channel, self.result)

    def _state(self, sound: list[Part], state: str, flows: float, whole: float) -> None:
        for fault in single_faults(sound):
            key = f"{fault.part}:{fault.words}"
            self.words[key] = f"{short_name(fault.part, self.names)} {fault.words}"
            self.what[key] = fault.words
            try:
                point = solve(fault.parts)
            except NoPoint:
                continue
            shows = self.loads.setdefault((key, state), set())
            if point.undecided or point.chatters:
                shows |= {WORKS, WEAK, DEAD}
                continue
            amps = load_amps(point, fault.parts, self.channel, self.result)
            shows.add(does(amps, flows, whole))
            there = {node for part in fault.parts for node in part.at.values()}
            if state == self.states[0]:
                for rail in self.fed:
                    self.amps.setdefault((key, rail), []).append(
                        self._given(point, fault.parts, rail)
                    )
            for node in self.nodes:
                volts = point.volts(node, GROUND) if node in there else None
                self.volts.setdefault((key, state, node), []).append(volts)
                self.all_volts += [] if volts is None else [volts]
        for key in self.words:
            self.loads.setdefault((key, state), set())
