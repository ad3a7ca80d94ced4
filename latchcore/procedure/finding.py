"""Which single fault a channel most likely has, from what was seen and read of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from latchcore.bench.circuit import CORNERS, GROUND, circuit_of
from latchcore.bench.commands import acting, commands_of
from latchcore.bench.faults import single_faults
from latchcore.bench.looks import DEAD, TURNED, WEAK, WORKS, does, load_amps
from latchcore.bench.meter import HandMeter, usual_meter
from latchcore.bench.solver import NoPoint, Part, solve
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.procedure.misses import short_name
from latchcore.procedure.ranking import Reading, Window
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
#: Effort of a look and of volts.
LOOK_EFFORT, VOLTS_EFFORT = 1.0, 2.0
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
    seen = _Seen(context, result)
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
    return Search(words, weights, tuple(readings), points)


def _window(volts: list[float | None] | None, meter: HandMeter) -> Window | None:
    """Over all corners; none where any of them leaves the point drifting."""
    known = [v for v in volts or [] if v is not None]
    if not known or len(known) < len(volts or []):
        return None
    return Window(*meter.widened(min(known), max(known)))


class _Seen:
    """Voltages and what the load does under every fault, in all states at every corner."""

    def __init__(self, context: ChannelContext, result: StageResult) -> None:
        self.words: dict[str, str] = {}
        self.what: dict[str, str] = {}
        self.volts: dict[tuple[str, str, str], list[float | None]] = {}
        self.loads: dict[tuple[str, str], set[str]] = {}
        self.all_volts: list[float] = []
        self.result, self.channel = result, context.channel.id
        self.nodes = list(node_numbers(result.netlist, self.channel))
        self.names = {rail.id: rail.name for rail in context.around.build.rails}
        commands = commands_of(context, result)
        self.states = [*acting(commands), "off"]
        for corner in CORNERS:
            sound = {s: circuit_of(context, result, s, corner) for s in self.states}
            flows = {s: self._amps(parts) for s, parts in sound.items()}
            whole = max(map(abs, flows.values()))
            for state, parts in sound.items():
                self._state(parts, state, flows[state], whole)

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
            for node in self.nodes:
                volts = point.volts(node, GROUND) if node in there else None
                self.volts.setdefault((key, state, node), []).append(volts)
                self.all_volts += [] if volts is None else [volts]
        for key in self.words:
            self.loads.setdefault((key, state), set())
