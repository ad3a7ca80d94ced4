"""Conditions, events and queues of a behaviour compiled, each only once."""

from __future__ import annotations

from typing import Any

from latchcore.behaviour import looking
from latchcore.behaviour.confirming import ON, OVERDUE
from latchcore.behaviour.layout import steps_of
from latchcore.behaviour.looking import EventPlan, Happens, Look, LookPlan
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
        #: Slot of the confirmed state of each channel, by its place.
        self.confirmed: dict[int, int] = {}
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
            plan = self._plan(wanted, parts)
            look = self._look(plan)
            layout = self.program.layout
            if plan.held is not None:
                look = looking.at_least(layout, look, plan.held)
            if plan.lasts is not None:
                look = looking.lasting(layout, look, plan.lasts)
            self.program.looks.append(look)
            self.program.look_plans.append(plan)
            self._known[key] = len(self.program.looks) - 1
            self.program.order.append(("condition", self._known[key]))
        return self._known[key]

    def _plan(self, wanted: said.Condition, parts: list[int]) -> LookPlan:
        held = None if wanted.for_at_least is None else self.steps(wanted.for_at_least)
        lasts = None if wanted.lasts is None else self.steps(wanted.lasts)
        return LookPlan(*self._words(wanted, parts), wanted, held, lasts)

    def _words(self, wanted: said.Condition, parts: list[int]) -> tuple[str, tuple[Any, ...]]:
        """What a condition looks at: a word, and its figures."""
        if isinstance(wanted, said.Joined):
            return wanted.kind, (tuple(parts),)
        if isinstance(wanted, said.Not):
            return "not", (parts[0],)
        if isinstance(wanted, said.Acted):
            return "input", (self.names.places[wanted.of],)
        if isinstance(wanted, said.Threshold):
            at, back, over = float(wanted.at), float(wanted.hysteresis), wanted.kind == "over"
            returned = round(at - back if over else at + back, 9)
            return "threshold", (self.names.places[wanted.of], over, at, returned)
        if isinstance(wanted, said.Between):
            return "between", self._window(wanted)
        if isinstance(wanted, said.SincePower):
            return "since_power", (self.steps(wanted.time),)
        if isinstance(wanted, said.Commanded):
            return "command", (self.program.commands.index(wanted.of),)
        if isinstance(wanted, said.Named):
            return "same", (self.named[wanted.of],)
        return "channel", (self.names.channels[wanted.of], wanted.state)

    def _window(self, wanted: said.Between) -> tuple[int, int, frozenset[int]]:
        begin, end = (
            steps_of(said.clock_seconds(t), self.step) for t in (wanted.begin, wanted.end)
        )
        self.program.windows += [begin, end]
        return begin, end, frozenset(WEEK.index(day) for day in wanted.days)

    def _look(self, plan: LookPlan) -> Look:
        layout, figures = self.program.layout, plan.figures
        match plan.word:
            case "all" | "any":
                join = looking.together if plan.word == "all" else looking.either
                return looking.joined(list(figures[0]), join)
            case "not":
                return looking.negated(*figures)
            case "input":
                return looking.acted(*figures)
            case "threshold":
                return looking.threshold(layout, *figures)
            case "between":
                return looking.between(*figures)
            case "since_power":
                return looking.since_power(layout, *figures)
            case "command":
                return self._commanded(*figures)
            case "same":
                return looking.same_as(*figures)
        return self._channel(*figures)

    def _commanded(self, place: int) -> Look:
        standing = self.program.standing[place]

        def look(m):
            once = any(p == place and value is None for p, value in m.given.commands)
            value = bool(m.slots[standing]) or once
            return value, value

        return look

    def _channel(self, place: int, state: str) -> Look:
        if state == "on":
            return looking.slot_is(self.program.channels[place].written, bool)
        wanted = ON if state == "confirmed" else OVERDUE
        confirmed = self.confirmed

        def look(m):
            value = m.slots[confirmed[place]] == wanted
            return value, value

        return look

    def event(self, wanted: said.Event) -> int:
        """The place of an event."""
        if isinstance(wanted, said.Leaves):
            return self._queues[wanted.of]
        key = wanted.model_dump_json()
        if key not in self._happening:
            self._happening[key] = self._add(*self._happens(wanted))
            self.program.order.append(("event", self._happening[key]))
        return self._happening[key]

    def _happens(self, wanted: said.Event) -> tuple[Happens, EventPlan]:
        layout, places = self.program.layout, self.names.places
        figures: tuple[int, ...]
        if isinstance(wanted, said.Becomes):
            figures = (self.condition(wanted.condition),)
            return looking.becomes(layout, *figures), EventPlan("becomes", figures, wanted)
        if isinstance(wanted, said.Double):
            figures = (places[wanted.of], self.steps(wanted.within))
            return looking.double(layout, *figures), EventPlan("double", figures, wanted)
        if isinstance(wanted, said.Held):
            figures = (places[wanted.of], self.steps(wanted.over))
            return looking.hold(layout, *figures), EventPlan("hold", figures, wanted)
        figures = (places[wanted.of],)
        return looking.press(*figures), EventPlan("press", figures, wanted)

    def _add(self, happens: Happens, plan: EventPlan) -> int:
        self.program.happens.append(happens)
        self.program.event_plans.append(plan)
        return len(self.program.happens) - 1

    def queue(self, queue: Queue) -> None:
        """A queue; what leaves it is an event for what comes after."""
        asked = self.event(queue.event)
        clear = None if queue.clear is None else self.event(queue.clear)
        event = self._add(lambda m: False, EventPlan("queue", (), None))
        waiting = looking.Waiting(
            self.program.layout, queue.id, event, asked, self.steps(queue.delay), queue.length
        )
        waiting.clear = clear
        self.program.queues.append(waiting)
        self._queues[queue.id] = event
        self.program.order.append(("queue", len(self.program.queues) - 1))
