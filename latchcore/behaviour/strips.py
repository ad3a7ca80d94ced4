"""What one rule means, run by itself for a short while."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from latchcore.behaviour.choices import every_condition, every_event
from latchcore.behaviour.compiling import compiled
from latchcore.behaviour.faults import BehaviourError
from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.named import Names
from latchcore.behaviour.rehearsal import DAY, Runner
from latchcore.document import behaviour as said
from latchcore.document import conditions as looked
from latchcore.document.models import Build
from latchcore.document.texts import seconds

#: What is looked at stands so many times the longest time of the rule, and begins after this part.
STANDS, BEGINS, LASTS = 1.4, 0.4, 4.2
#: What has no bearing on what one rule means, or would hide it in so short a while.
APART = {
    "returns": "standing",
    "confirm": None,
    "link": "hold",
    "least_off": None,
    "starts": None,
    "share": None,
    "idle": None,
}
#: A rule without any time is shown over this [s].
USUAL_TIME = 1.0


@dataclass(frozen=True, slots=True)
class Strip:
    """
    A short run: for each lane its name and (t [s], level in percent), on from each; ``seconds`` is
    how long it is.
    """

    seconds: float
    lanes: tuple[tuple[str, tuple[tuple[float, int], ...]], ...]


def strip_of(build: Build, request: said.Request) -> Strip | None:
    """
    What a rule does while what it looks at comes and goes once, other rules apart; ``None`` where
    it cannot be run.
    """
    alone = said.Behaviour(
        step=build.does.step,
        commands=build.does.commands,
        conditions=build.does.conditions,
        queues=build.does.queues,
        requests=[request],
        manners=[
            m.model_copy(update=APART) for m in build.does.manners if m.channel == request.channel
        ],
    )
    small = build.model_copy(update={"behaviour": alone})
    names = (tuple((i.id, i.name, i.kind) for i in build.inputs), build.channels[0].id)
    return _run(_Held(small, (alone.model_dump_json(), names)))


class _Held:
    """A build that is told apart by what its strip depends on."""

    def __init__(self, build: Build, key: tuple) -> None:
        self.build, self.key = build, key

    def __hash__(self) -> int:
        return hash(self.key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Held) and other.key == self.key


@lru_cache(maxsize=1024)
def _run(held: _Held) -> Strip | None:
    build = held.build
    behaviour = build.does
    request = behaviour.requests[0]
    try:
        program = compiled(build)
    except BehaviourError:
        return None
    unit = max(_times(behaviour), default=USUAL_TIME)
    begin, end = unit * BEGINS, unit * (BEGINS + STANDS)
    happenings, start = _moved(build, begin, end)
    run = Runner(program, start).run(happenings, unit * LASTS)
    names = Names.of(build).senses
    lanes = []
    for place, key in enumerate(program.inputs):
        points = [(step, value) for step, n, value in run.inputs if n == place]
        if any(h.of == key for h in happenings):
            values = [float(v) for _, v in points]
            low = min(values) if names[key].scaled else 0.0
            span = (max(values) - low) or 1.0
            foot, rise = (15, 75) if names[key].scaled else (0, 100)
            lane = [(t * run.step, foot + round(rise * (float(v) - low) / span)) for t, v in points]
            lanes.append((names[key].name, tuple(lane)))
    place = next(p.place for p in program.channels if p.id == request.channel)
    written = [(w.step * run.step, w.level) for w in run.changes if w.channel == place]
    lanes.append((program.channels[place].name, tuple(written)))
    return Strip(unit * LASTS, tuple(lanes))


def _times(behaviour: said.Behaviour) -> list[float]:
    """The times of a rule and of what it looks at [s]."""
    found: list[str | None] = []
    for condition in every_condition(behaviour):
        found += [condition.for_at_least, condition.lasts]
        if isinstance(condition, looked.Between):
            found.append(f"{_window(condition) / STANDS:g} s")
    for event in every_event(behaviour):
        found += [getattr(event, "within", None), getattr(event, "over", None)]
    for request in behaviour.requests:
        found += [getattr(request, "length", None), getattr(request, "time", None)]
    found += [queue.delay for queue in behaviour.queues]
    for manner in behaviour.manners:
        found += [manner.longest_on, manner.least_on]
    return [seconds(text) for text in found if text]


def _moved(
    build: Build, begin: float, end: float
) -> tuple[list[Happening], dict[str, float | bool]]:
    """What a rule looks at, coming and going once."""
    behaviour, found = build.does, list[Happening]()
    start: dict[str, float | bool] = {}
    for condition in every_condition(behaviour):
        found += _condition(condition, begin, end, start)
    for event in every_event(behaviour):
        found += _event(event, begin, end)
    for request in behaviour.requests:
        if isinstance(request, said.Follow):
            low, high = float(request.low), float(request.high)
            start[request.of] = low
            found.append(Happening(begin, "input", request.of, (low + high) / 2))
            found.append(Happening(end, "input", request.of, high))
    return list({(h.t, h.of): h for h in found}.values()), start


def _condition(
    condition: looked.Condition, begin: float, end: float, start: dict[str, float | bool]
) -> list[Happening]:
    if isinstance(condition, looked.Acted):
        return _contact(condition.of, begin, end)
    if isinstance(condition, looked.Threshold):
        at, over = float(condition.at), condition.kind == "over"
        band = max(float(condition.hysteresis), 1.0) * 1.5
        away, there = (at - band, at + band) if over else (at + band, at - band)
        start[condition.of] = away
        return [
            Happening(begin, "input", condition.of, there),
            Happening(end, "input", condition.of, away),
        ]
    if isinstance(condition, looked.Between):
        clock = (looked.clock_seconds(condition.begin) - begin) % DAY
        return [Happening(0, "clock", value=(clock, None))]
    if isinstance(condition, looked.Commanded):
        return [
            Happening(begin, "command", condition.of, True),
            Happening(end, "command", condition.of, False),
        ]
    return []


def _event(event: looked.Event, begin: float, end: float) -> list[Happening]:
    if isinstance(event, looked.Becomes | looked.Leaves):
        return []
    found = _contact(event.of, begin, end)
    if isinstance(event, looked.Double):
        soon = begin + seconds(event.within) / 2
        found += [
            Happening((begin + soon) / 2, "input", event.of, False),
            Happening(soon, "input", event.of, True),
        ]
    return found


def _window(condition: looked.Between) -> int:
    """How long a window of the day is [s]."""
    return (looked.clock_seconds(condition.end) - looked.clock_seconds(condition.begin)) % DAY


def _contact(key: str, begin: float, end: float) -> list[Happening]:
    return [Happening(begin, "input", key, True), Happening(end, "input", key, False)]
