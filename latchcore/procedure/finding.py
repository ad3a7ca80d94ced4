"""Which single fault a channel most likely has, from what was seen and read of it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from latchcore.bench.circuit import CORNERS, GROUND, MIDDLE, circuit_of
from latchcore.bench.commands import acting, commands_of
from latchcore.bench.currents import given, in_lead, rails_of, reads
from latchcore.bench.faults import single_faults
from latchcore.bench.looks import DEAD, TURNED, WEAK, WORKS, does, load_amps
from latchcore.bench.meter import HandMeter, usual_meter
from latchcore.bench.solver import NoPoint, Part, Point, solve
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.procedure.misses import short_name
from latchcore.procedure.ranking import Reading, Window
from latchcore.procedure.steps import LIMIT
from latchcore.whole.wire_list import node_numbers

#: Priors by what is wrong: a connection, the wrong way round, a wrong value, a supply, a level.
WEIGHTS = {
    "open or not joined": 5.0,
    "not joined": 5.0,
    "the wrong way round": 3.0,
    "missing": 3.0,
    "too low": 3.0,
    "has its ends changed": 3.0,
    "ten times its value": 2.0,
    "stays low": 4.0,
    "stays high": 4.0,
}
PART_DEAD = 1.0
#: Effort of a look, of volts, and of milliamperes, for which the circuit is opened.
LOOK_EFFORT, VOLTS_EFFORT, AMPERES_EFFORT = 1.0, 2.0, 4.0
#: What stands in front of the rail in the id of a reading in series; the ranges of that [A].
IN_SERIES, AMPERE_SPANS = "amps:", (0.2, 2.0, 20.0)
#: A hand meter is left on one range so wide [V]; the next where a supply is higher.
SPANS = (20.0, 200.0)


@dataclass(frozen=True)
class Search:
    """
    Causes with their words and priors, and the readings that tell them apart.

    ``points`` are the readings by id as they are asked for: state, point, or a look at the load.
    """

    words: Mapping[str, str]
    weights: Mapping[str, float]
    readings: tuple[Reading, ...]
    points: Mapping[str, str]


def search_of(
    context: ChannelContext, result: StageResult, meter: HandMeter | None = None
) -> Search:
    """
    Everything a channel's single faults would show, at all corners and widened by the meter.

    Raises
    ------
    NotModelled
        If a part of the channel has no law
    """
    meter = meter or usual_meter()
    seen = _Seen(context, result, meter)
    words = dict(seen.words)
    weights = {key: WEIGHTS.get(what, PART_DEAD) for key, what in seen.what.items()}
    highest = max((abs(v) for v in seen.all_volts), default=0.0)
    span = next((s for s in SPANS if highest < s), SPANS[-1])
    looks = (WORKS, WEAK, DEAD, TURNED) if result.motion is not None else (WORKS, WEAK, DEAD)
    readings: list[Reading] = []
    points: dict[str, str] = {}
    for state in seen.states:
        key = f"load-{state}"
        shows = {c: frozenset(seen.loads[c, state]) for c in words}
        windows = {c: Window(words=w) if w else None for c, w in shows.items()}
        readings.append(Reading(key, LOOK_EFFORT, False, windows, words=looks))
        points[key] = f"The load, commanded {state}"
    for node, number in node_numbers(result.netlist, context.channel.id).items():
        for state in seen.states:
            read = {c: _window(seen.volts.get((c, state, node)), meter) for c in words}
            if any(w is not None for w in read.values()):
                key = f"{state}-{number}"
                readings.append(Reading(key, VOLTS_EFFORT, False, read, -span, span))
                points[key] = f"Point {number} against 0 V, commanded {state}"
    for rail, name in seen.rails.items():
        key = f"{IN_SERIES}{rail}-{seen.states[0]}"
        readings.append(_current(key, seen, rail, meter))
        points[key] = f"Milliamperes in the wire from {name}, commanded {seen.states[0]}"
    return Search(words, weights, tuple(readings), points)


def _current(key: str, seen: _Seen, rail: str, meter: HandMeter) -> Reading:
    """
    What a rail gives under each cause. The supply is limited meanwhile: what would be more than
    that reads anything from its limit up.
    """
    sound = max(abs(a) for a in seen.sound_amps[rail])
    limit = LIMIT * sound
    span = next((s for s in AMPERE_SPANS if limit < s), AMPERE_SPANS[-1])
    windows: dict[str, Window | None] = {}
    for cause in seen.words:
        known = seen.amps.get((cause, rail))
        if not known:
            windows[cause] = None
            continue
        low, high = meter.widened(min(known), max(known), "A")
        over = high > limit
        windows[cause] = Window(min(low, sound) if over else low, None if over else high, over)
    return Reading(key, AMPERES_EFFORT, False, windows, -span, span, True, unit="A")


def _window(volts: list[float | None] | None, meter: HandMeter) -> Window | None:
    """Over all corners; none where any of them leaves the point drifting."""
    known = [v for v in volts or [] if v is not None]
    if not known or len(known) < len(volts or []):
        return None
    return Window(*meter.widened(min(known), max(known)))


class _Seen:
    """Voltages and what the load does under every fault, in all states at every corner."""

    def __init__(self, context: ChannelContext, result: StageResult, meter: HandMeter) -> None:
        self.words: dict[str, str] = {}
        self.what: dict[str, str] = {}
        self.volts: dict[tuple[str, str, str], list[float | None]] = {}
        self.loads: dict[tuple[str, str], set[str]] = {}
        self.all_volts: list[float] = []
        self.amps: dict[tuple[str, str], list[float]] = {}
        self.sound_amps: dict[str, list[float]] = {}
        self.meter, self.fed = meter, list[str]()
        self.result, self.channel = result, context.channel.id
        self.nodes = list(node_numbers(result.netlist, self.channel))
        self.names = {rail.id: rail.name for rail in context.around.build.rails}
        commands = commands_of(context, result)
        self.states = [*acting(commands), "off"]
        for corner in CORNERS:
            sound = {s: circuit_of(context, result, s, corner) for s in self.states}
            flows = {s: self._amps(parts) for s, parts in sound.items()}
            whole = max(map(abs, flows.values()))
            self.fed = rails_of(context, sound[self.states[0]])
            self._sound(sound[self.states[0]])
            for state, parts in sound.items():
                self._state(parts, state, flows[state], whole)
        self._lowered(context, result)

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
