"""Which single fault a channel most likely has, from what was seen and read of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from latchcore.bench.looks import DEAD, TURNED, WEAK, WORKS
from latchcore.bench.meter import HandMeter, usual_meter
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.procedure.ranking import Reading, Window
from latchcore.procedure.shown import Shown
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
#: Ids of readings: in reset, and in front of the rail in series; the ranges of that [A].
HELD, IN_SERIES, AMPERE_SPANS = "held", "amps:", (0.2, 2.0, 20.0)
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
    seen = Shown(context, result, meter)
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
    if seen.held is not None:
        number = node_numbers(result.netlist, context.channel.id)[seen.held]
        read = {c: _window(seen.in_reset.get(c), meter) for c in words}
        readings.append(Reading(f"{HELD}-{number}", VOLTS_EFFORT, False, read, -span, span))
        points[f"{HELD}-{number}"] = f"Point {number} against 0 V, the board held in reset"
    for rail, name in seen.rails.items():
        key = f"{IN_SERIES}{rail}-{seen.states[0]}"
        readings.append(_current(key, seen, rail, meter))
        points[key] = f"Milliamperes in the wire from {name}, commanded {seen.states[0]}"
    return Search(words, weights, tuple(readings), points)


def _current(key: str, seen: Shown, rail: str, meter: HandMeter) -> Reading:
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
