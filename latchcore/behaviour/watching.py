"""Conditions, events and queues of a behaviour compiled, each only once."""

from __future__ import annotations

from latchcore.behaviour import looking
from latchcore.behaviour.confirming import ON, OVERDUE
from latchcore.behaviour.layout import steps_of
from latchcore.behaviour.looking import Happens, Look
from latchcore.behaviour.named import Names
from latchcore.behaviour.step import Program
from latchcore.document import conditions as said
from latchcore.document.behaviour import Queue
from latchcore.document.texts import seconds

WEEK = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
DAY = 86400


class Watching:
    """
    What a program looks at. The same words twice are worked out once, so that a phase and a rule
    that wait for one thing agree, and less is remembered.
    """

    def __init__(self, program: Program, names: Names, step: float) -> None:
        self.program, self.names, self.step = program, names, step
        self.named: dict[str, int] = {}
        self.confirmed: dict[str, int] = {}
        self._known: dict[str, int] = {}
        self._happening: dict[str, int] = {}
        self._queues: dict[str, int] = {}

    def steps(self, text: str) -> int:
        """A time in whole steps."""
        steps = steps_of(seconds(text), self.step)
        self.program.longest = max(self.program.longest, steps)
        return steps

    def condition(self, wanted: said.Condition) -> int:
        """The place of a condition; those it is made of come before it."""
        key = wanted.model_dump_json()
        if key not in self._known:
            parts = [self.condition(part) for part in said.parts_of(wanted)]
            look = self._look(wanted, parts)
            layout = self.program.layout
            if wanted.for_at_least is not None:
                look = looking.at_least(layout, look, self.steps(wanted.for_at_least))
            if wanted.lasts is not None:
                look = looking.lasting(layout, look, self.steps(wanted.lasts))
            self.program.looks.append(look)
            self._known[key] = len(self.program.looks) - 1
            self.program.order.append(("condition", self._known[key]))
        return self._known[key]

    def _look(self, wanted: said.Condition, parts: list[int]) -> Look:
        layout = self.program.layout
        if isinstance(wanted, said.Joined):
            return looking.joined(
                parts, looking.together if wanted.kind == "all" else looking.either
            )
        if isinstance(wanted, said.Not):
            return looking.negated(parts[0])
        if isinstance(wanted, said.Acted):
            return looking.acted(self.names.places[wanted.of])
        if isinstance(wanted, said.Threshold):
            return looking.threshold(
                layout,
                self.names.places[wanted.of],
                wanted.kind == "over",
                float(wanted.at),
                float(wanted.hysteresis),
            )
        if isinstance(wanted, said.Between):
            return self._window(wanted)
        if isinstance(wanted, said.SincePower):
            return looking.since_power(layout, self.steps(wanted.time))
        if isinstance(wanted, said.Commanded):
            return self._commanded(wanted.of)
        if isinstance(wanted, said.Named):
            return looking.same_as(self.named[wanted.of])
        return self._channel(wanted)

    def _window(self, wanted: said.Between) -> Look:
        begin, end = (
            steps_of(said.clock_seconds(t), self.step) for t in (wanted.begin, wanted.end)
        )
        self.program.windows += [begin, end]
        days = frozenset(WEEK.index(day) for day in wanted.days)
        return looking.between(begin, end, days, steps_of(DAY, self.step))

    def _commanded(self, command: str) -> Look:
        place = self.program.commands.index(command)
        standing = self.program.standing[place]

        def look(m):
            once = any(p == place and value is None for p, value in m.given.commands)
            value = bool(m.slots[standing]) or once
            return value, value

        return look

    def _channel(self, wanted: said.ChannelIs) -> Look:
        if wanted.state == "on":
            part = self.program.channels[self.names.channels[wanted.of]]
            return looking.slot_is(part.written, bool)
        state = ON if wanted.state == "confirmed" else OVERDUE
        confirmed, of = self.confirmed, wanted.of

        def look(m):
            value = m.slots[confirmed[of]] == state
            return value, value

        return look

    def event(self, wanted: said.Event) -> int:
        """The place of an event."""
        if isinstance(wanted, said.Leaves):
            return self._queues[wanted.of]
        key = wanted.model_dump_json()
        if key not in self._happening:
            self._happening[key] = self._add(self._happens(wanted))
            self.program.order.append(("event", self._happening[key]))
        return self._happening[key]

    def _happens(self, wanted: said.Event) -> Happens:
        layout, places = self.program.layout, self.names.places
        if isinstance(wanted, said.Becomes):
            return looking.becomes(layout, self.condition(wanted.condition))
        if isinstance(wanted, said.Double):
            return looking.double(layout, places[wanted.of], self.steps(wanted.within))
        if isinstance(wanted, said.Held):
            return looking.hold(layout, places[wanted.of], self.steps(wanted.over))
        return looking.press(places[wanted.of])

    def _add(self, happens: Happens) -> int:
        self.program.happens.append(happens)
        return len(self.program.happens) - 1

    def queue(self, queue: Queue) -> None:
        """A queue; what leaves it is an event for what comes after."""
        asked = self.event(queue.event)
        clear = None if queue.clear is None else self.event(queue.clear)
        event = self._add(lambda m: False)
        waiting = looking.Waiting(
            self.program.layout, queue.id, event, asked, self.steps(queue.delay), queue.length
        )
        waiting.clear = clear
        self.program.queues.append(waiting)
        self._queues[queue.id] = event
        self.program.order.append(("queue", len(self.program.queues) - 1))
