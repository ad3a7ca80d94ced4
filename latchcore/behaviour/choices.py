"""What may come in from outside in any one step, for a walk over all of it."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import product
from typing import Any, Literal

from latchcore.behaviour.moment import Given
from latchcore.behaviour.named import Names, Sense
from latchcore.behaviour.step import Program
from latchcore.document import behaviour as said
from latchcore.document import conditions as looked
from latchcore.document.models import Build

#: Up to so many combinations are all tried in every step; of more, one input changes at a time.
MOST_TOGETHER = 64

#: One value for each dimension.
Choice = tuple[Any, ...]


@dataclass(frozen=True, slots=True)
class Dimension:
    """One thing that may change from outside: an input, a command, the link, the clock."""

    kind: Literal["input", "command", "alive", "clock"]
    of: str
    values: tuple[Any, ...]


@dataclass
class Choices:
    """All that may come in; ``together`` tells whether several may change in one step."""

    program: Program
    dimensions: list[Dimension]

    def __post_init__(self) -> None:
        self.count = 1
        for dimension in self.dimensions:
            self.count *= len(dimension.values)
        self.together = self.count <= MOST_TOGETHER

    def starts(self) -> list[Choice]:
        """What may be there at power-up; commands have not been given."""
        values = [
            (d.values[:1] if d.kind in ("command", "alive") else d.values) for d in self.dimensions
        ]
        if self.together:
            return list(product(*values))
        first = tuple(v[0] for v in values)
        return [first, *self._changed(first, values)]

    def after(self, choice: Choice) -> list[Choice]:
        """What may come in the step after that."""
        values = [d.values for d in self.dimensions]
        if self.together:
            return list(product(*values))
        return [choice, *self._changed(choice, values)]

    def _changed(self, choice: Choice, values: list[tuple[Any, ...]]) -> list[Choice]:
        return [
            (*choice[:n], value, *choice[n + 1 :])
            for n, options in enumerate(values)
            for value in options
            if value != choice[n]
        ]

    def given(self, choice: Choice, slots: list[Any]) -> Given:
        """What a step is given of it."""
        readings: list[Any] = [None] * len(self.program.inputs)
        commands: list[tuple[int, bool | None]] = []
        alive, clock = False, None
        for dimension, value in zip(self.dimensions, choice, strict=True):
            if dimension.kind == "input":
                readings[self.program.inputs.index(dimension.of)] = value
            elif dimension.kind == "command":
                place = self.program.commands.index(dimension.of)
                if slots[self.program.standing[place]] != value:
                    commands.append((place, value))
            elif dimension.kind == "alive":
                alive = value
            else:
                clock = value
        return Given(tuple(readings), tuple(commands), alive, (), clock)


def choices_of(
    build: Build, program: Program, alphabet: dict[str, list[Any]] | None = None
) -> Choices:
    """
    What may come into a build: each contact acted on or not, each level on either side of every
    threshold it is held against, each command given or not.

    ``alphabet`` says it for inputs by id instead.
    """
    names, found = Names.of(build), []
    for key, sense in names.senses.items():
        if alphabet is not None:
            values = alphabet.get(key, [0.0 if sense.scaled else False])
            found.append(
                Dimension("input", key, tuple(v if sense.scaled else bool(v) for v in values))
            )
        elif not sense.scaled:
            found.append(Dimension("input", key, (False, True)))
        else:
            found.append(Dimension("input", key, _levels(build, sense)))
    called = {c.of for c in every_condition(build.does) if isinstance(c, looked.Commanded)}
    found += [Dimension("command", key, (False, True)) for key in program.commands if key in called]
    if program.link is not None:
        found.append(Dimension("alive", "", (False, True)))
    if program.windows:
        found.append(Dimension("clock", "", (None, *_times(program))))
    used = _used(build)
    still = [
        d if d.kind != "input" or d.of in used else Dimension("input", d.of, d.values[:1])
        for d in found
    ]
    return Choices(program, still)


def _levels(build: Build, sense: Sense) -> tuple[float, ...]:
    """A reading for each way a level can be told from another, none off its scale."""
    marks, kinds = set[float](), set[str]()
    for condition in every_condition(build.does):
        if isinstance(condition, looked.Threshold) and condition.of == sense.key:
            at, band = float(condition.at), float(condition.hysteresis)
            # Rounded as the step has it.
            marks |= {at, round(at - band if condition.kind == "over" else at + band, 9)}
            kinds.add(condition.kind)
    for request in build.does.requests:
        if isinstance(request, said.Follow) and request.of == sense.key:
            marks |= {float(request.low), float(request.high)}
            kinds.add("follow")
    low, high = min(sense.low, sense.high), max(sense.low, sense.high)
    if not marks:
        return (low,)
    ordered = sorted(marks)
    below, above = (low + ordered[0]) / 2, (ordered[-1] + high) / 2
    if kinds == {"over"}:
        # A reading on a mark is as good as any between it and the mark below.
        found = {*ordered, above}
    elif kinds == {"under"}:
        found = {below, *ordered}
    else:
        between = {(a + b) / 2 for a, b in zip(ordered, ordered[1:], strict=False)}
        found = {below, *ordered, *between, above}
    return tuple(sorted(found))


def _times(program: Program) -> list[tuple[int, int | None]]:
    """A time of day in the middle of each stretch between the marks of the windows."""
    day = round(86400 / program.step)
    marks = sorted({mark % day for mark in program.windows})
    ends = [*marks[1:], marks[0] + day]
    return [((a + (b - a) // 2) % day, None) for a, b in zip(marks, ends, strict=True)]


def _used(build: Build) -> set[str]:
    """Inputs that anything of the behaviour looks at."""
    behaviour = build.does
    found = {
        c.of for c in every_condition(behaviour) if isinstance(c, looked.Acted | looked.Threshold)
    }
    found |= {e.of for e in every_event(behaviour) if not isinstance(e, looked.Becomes)}
    found |= {r.of for r in behaviour.requests if isinstance(r, said.Follow)}
    for manner in behaviour.manners:
        found |= {key for key in (manner.sense, manner.other) if key is not None}
    return found


def every_event(behaviour: said.Behaviour) -> list[looked.Event]:
    """Every event of a behaviour."""
    found: list[looked.Event | None] = []
    for request in behaviour.requests:
        if isinstance(request, said.Pulse | said.Toggle | said.Ramp):
            found.append(request.event)
    for plan in behaviour.sequences:
        found += [plan.start, plan.abort, *(phase.until for phase in plan.phases)]
    found += [macro.start for macro in behaviour.macros]
    for queue in behaviour.queues:
        found += [queue.event, queue.clear]
    return [event for event in found if event is not None]


def every_condition(behaviour: said.Behaviour) -> list[looked.Condition]:
    """Every condition of a behaviour, those within others too."""
    found: list[looked.Condition | None] = [c.condition for c in behaviour.conditions]
    found += [r.condition for r in behaviour.requests if isinstance(r, said.While)]
    found += [bar.condition for bar in behaviour.bars]
    for plan in behaviour.sequences:
        found += [phase.until_true for phase in plan.phases]
    for manner in behaviour.manners:
        found += [manner.idle, manner.idle_while]
    events = every_event(behaviour)
    found += [e.condition for e in events if isinstance(e, looked.Becomes)]
    return [inner for c in found if c is not None for inner in looked.walk(c)]
