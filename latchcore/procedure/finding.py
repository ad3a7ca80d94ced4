"""Which single fault a channel most likely has, from what was seen and read of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from latchcore.bench.circuit import CORNERS, GROUND, circuit_of
from latchcore.bench.faults import single_faults
from latchcore.bench.meter import Meter
from latchcore.bench.solver import NoPoint, Part, Point, solve
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.procedure.misses import short_name
from latchcore.procedure.ranking import Reading, Window
from latchcore.whole.wire_list import node_numbers

#: What a load does of what it should, from which share of its sound current on.
WORKS, WEAK, DEAD = "works", "weak", "dead"
MOSTLY, HARDLY = 0.7, 0.1
#: Priors by what is wrong: a connection, the wrong way round, a supply, a part, a level.
WEIGHTS = {
    "open or not joined": 5.0,
    "not joined": 5.0,
    "the wrong way round": 3.0,
    "missing": 3.0,
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


def search_of(context: ChannelContext, result: StageResult, meter: Meter | None = None) -> Search:
    """
    Everything a channel's single faults would show, at all corners and widened by the meter.

    Raises
    ------
    NotModelled
        If a part of the channel has no law
    """
    meter = meter or Meter()
    seen = _Seen(context, result)
    words = dict(seen.words)
    weights = {key: WEIGHTS.get(what, PART_DEAD) for key, what in seen.what.items()}
    highest = max((abs(v) for v in seen.all_volts), default=0.0)
    span = next((s for s in SPANS if highest < s), SPANS[-1])
    readings: list[Reading] = []
    points: dict[str, str] = {}
    for state in ("on", "off"):
        key = f"load-{state}"
        looks = {c: frozenset(seen.loads[c, state]) for c in words}
        readings.append(
            Reading(key, LOOK_EFFORT, False,
                    {c: Window(words=w) if w else None for c, w in looks.items()},
                    words=(WORKS, WEAK, DEAD))
        )  # fmt: skip
        points[key] = f"The load, commanded {state}"
    for node, number in node_numbers(result.netlist, context.channel.id).items():
        for state in ("on", "off"):
            windows = {c: _window(seen.volts.get((c, state, node)), meter) for c in words}
            if any(w is not None for w in windows.values()):
                key = f"{state}-{number}"
                readings.append(Reading(key, VOLTS_EFFORT, False, windows, -span, span))
                points[key] = f"Point {number} against 0 V, commanded {state}"
    return Search(words, weights, tuple(readings), points)


def _window(volts: list[float | None] | None, meter: Meter) -> Window | None:
    """Over all corners; none where any of them leaves the point drifting."""
    known = [v for v in volts or [] if v is not None]
    if not known or len(known) < len(volts or []):
        return None
    return Window(*meter.widened(min(known), max(known)))


class _Seen:
    """Voltages and what the load does under every fault, in both states at every corner."""

    def __init__(self, context: ChannelContext, result: StageResult) -> None:
        self.words: dict[str, str] = {}
        self.what: dict[str, str] = {}
        self.volts: dict[tuple[str, str, str], list[float | None]] = {}
        self.loads: dict[tuple[str, str], set[str]] = {}
        self.all_volts: list[float] = []
        self.nodes = list(node_numbers(result.netlist, context.channel.id))
        self.load = next((p.ref for p in result.netlist.parts if p.kind == "load"), "")
        for corner in CORNERS:
            on = circuit_of(context, result, "on", corner)
            whole = abs(self._current(solve(on), on))
            for state in ("on", "off"):
                self._state(circuit_of(context, result, state, corner), state, whole)

    def _current(self, point: Point, parts: list[Part] | tuple[Part, ...]) -> float:
        """What flows in the load, or in a relay's coil where the load is not in the circuit."""
        there = {p.id: p for p in parts}
        coil = next((p for p in parts if p.kind == "relay"), None)
        part = there.get(self.load) or coil
        return 0.0 if part is None else point.amps_into(f"{part.id}.a")

    def _state(self, sound: list[Part], state: str, whole: float) -> None:
        for fault in single_faults(sound):
            if fault.part == "V_OL":
                continue
            key = f"{fault.part}:{fault.words}"
            self.words[key] = f"{short_name(fault.part)} {fault.words}"
            self.what[key] = fault.words
            try:
                point = solve(fault.parts)
            except NoPoint:
                continue
            does = self.loads.setdefault((key, state), set())
            if point.undecided or point.chatters:
                does |= {WORKS, WEAK, DEAD}
                continue
            share = abs(self._current(point, fault.parts)) / whole if whole else 0.0
            does.add(WORKS if share >= MOSTLY else DEAD if share <= HARDLY else WEAK)
            there = {node for part in fault.parts for node in part.at.values()}
            for node in self.nodes:
                volts = point.volts(node, GROUND) if node in there else None
                self.volts.setdefault((key, state, node), []).append(volts)
                self.all_volts += [] if volts is None else [volts]
        for key in self.words:
            self.loads.setdefault((key, state), set())
