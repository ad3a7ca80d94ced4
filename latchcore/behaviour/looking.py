"""Conditions and events, each worked out once a step."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from latchcore.behaviour.layout import Kind, Layout
from latchcore.behaviour.moment import Moment, Truth


@dataclass(frozen=True, slots=True)
class LookPlan:
    """
    A condition in words and figures, as a program text says it too: places of inputs, commands,
    channels and of conditions before it; its timers in steps.
    """

    word: str
    figures: tuple[Any, ...]
    said: Any
    held: int | None = None
    lasts: int | None = None


@dataclass(frozen=True, slots=True)
class EventPlan:
    """An event in words and figures, places of inputs and conditions, times in steps."""

    word: str
    figures: tuple[int, ...]
    said: Any


#: Gives a condition in a step: as it counts, and as if its timers were not there.
Look = Callable[[Moment], tuple[Truth, Truth]]


def opposite(value: Truth) -> Truth:
    """Not; unknown stays unknown."""
    return None if value is None else not value


def together(values: list[Truth]) -> Truth:
    """All of several: false where any is false, else unknown where any is."""
    if False in values:
        return False
    return None if None in values else True


def either(values: list[Truth]) -> Truth:
    """Any of several: true where any is true, else unknown where any is."""
    if True in values:
        return True
    return None if None in values else False


def acted(place: int) -> Look:
    """A contact that is acted on."""

    def look(m: Moment) -> tuple[Truth, Truth]:
        return m.taken[place], m.taken[place]

    return look


def threshold(layout: Layout, place: int, over: bool, at: float, back: float) -> Look:
    """A level over or under, until it comes ``back``; on the threshold itself it is neither."""
    held = layout.slot(first=False)

    def look(m: Moment) -> tuple[Truth, Truth]:
        level = m.taken[place]
        if level is None:
            return None, None
        beyond, returned = (level > at, level <= back) if over else (level < at, level >= back)
        if beyond:
            m.slots[held] = True
        elif returned:
            m.slots[held] = False
        return m.slots[held], m.slots[held]

    return look


def between(begin: int, end: int, days: frozenset[int]) -> Look:
    """
    A window of the time of day in steps since midnight; one over midnight belongs to the day it
    began on.
    """

    def look(m: Moment) -> tuple[Truth, Truth]:
        clock = m.given.clock
        if clock is None:
            return False, False
        time, weekday = clock
        if begin < end:
            inside, began = begin <= time < end, weekday
        else:
            inside = time >= begin or time < end
            began = weekday if weekday is None or time >= begin else (weekday - 1) % 7
        counts = inside and (not days or began in days)
        return counts, counts

    return look


def since_power(layout: Layout, steps: int) -> Look:
    """At least so long since power came up; timers apart it has long been up."""
    due = layout.due(steps)

    def look(m: Moment) -> tuple[Truth, Truth]:
        return m.now >= m.slots[due], True

    return look


def slot_is(place: int, wanted: Callable[[object], bool]) -> Look:
    """What the last step left in a slot."""

    def look(m: Moment) -> tuple[Truth, Truth]:
        value = wanted(m.slots[place])
        return value, value

    return look


def same_as(index: int) -> Look:
    """Another condition, worked out before."""

    def look(m: Moment) -> tuple[Truth, Truth]:
        return m.counted[index], m.bare[index]

    return look


def joined(parts: list[int], join: Callable[[list[Truth]], Truth]) -> Look:
    """Several conditions worked out before, joined."""

    def look(m: Moment) -> tuple[Truth, Truth]:
        return join([m.counted[n] for n in parts]), join([m.bare[n] for n in parts])

    return look


def negated(part: int) -> Look:
    """The opposite of a condition worked out before."""

    def look(m: Moment) -> tuple[Truth, Truth]:
        return opposite(m.counted[part]), opposite(m.bare[part])

    return look


def at_least(layout: Layout, look: Look, steps: int) -> Look:
    """A condition that must hold so long before it counts; one step false starts over."""
    due = layout.due()

    def held(m: Moment) -> tuple[Truth, Truth]:
        value, bare = look(m)
        if not value:
            m.slots[due] = None
            return value, bare
        if m.slots[due] is None:
            m.slots[due] = m.now + steps
        return m.now >= m.slots[due], bare

    return held


def lasting(layout: Layout, look: Look, steps: int) -> Look:
    """A condition that goes on counting so long after it ended; true in between forgets that."""
    was, due = layout.slot(first=False), layout.due()

    def lasts(m: Moment) -> tuple[Truth, Truth]:
        value, bare = look(m)
        slots = m.slots
        if value is not False:
            slots[was], slots[due] = value is True, None
            return value, bare
        if slots[was]:
            slots[was], slots[due] = False, m.now + steps
        if slots[due] is not None and m.now >= slots[due]:
            slots[due] = None
        return slots[due] is not None, bare

    return lasts


#: Says whether an event is in a step.
Happens = Callable[[Moment], bool]


def becomes(layout: Layout, condition: int) -> Happens:
    """A condition becoming true, once it has been false since power-up, timers apart."""
    before, been_false = layout.slot(first=False), layout.slot(first=False)

    def happens(m: Moment) -> bool:
        slots, value = m.slots, m.counted[condition]
        new = value is True and not slots[before] and slots[been_false] and not m.first
        if value is not None:
            slots[before] = value
        if m.bare[condition] is False:
            slots[been_false] = True
        return bool(new)

    return happens


def press(place: int) -> Happens:
    """A contact taken as acted on in this step."""

    def happens(m: Moment) -> bool:
        return m.pressed[place]

    return happens


def double(layout: Layout, place: int, steps: int) -> Happens:
    """A second press in time; the pair is used up."""
    until = layout.due()

    def happens(m: Moment) -> bool:
        slots = m.slots
        if slots[until] is not None and m.now > slots[until]:
            slots[until] = None
        if not m.pressed[place]:
            return False
        second = slots[until] is not None
        slots[until] = None if second else m.now + steps
        return second

    return happens


def hold(layout: Layout, place: int, steps: int) -> Happens:
    """A press held so long, once."""
    due = layout.due()

    def happens(m: Moment) -> bool:
        slots = m.slots
        if m.pressed[place]:
            slots[due] = m.now + steps
        elif not m.taken[place]:
            slots[due] = None
        if slots[due] is not None and m.now >= slots[due]:
            slots[due] = None
            return True
        return False

    return happens


class Waiting:
    """A queue: what is due leaves first, then what is asked enters; clearing beats both."""

    __slots__ = ("asked", "clear", "delay", "event", "length", "name", "waits")

    def __init__(
        self, layout: Layout, name: str, event: int, asked: int, delay: int, length: int
    ) -> None:
        self.name, self.event, self.asked = name, event, asked
        self.delay, self.length = delay, length
        self.clear: int | None = None
        self.waits = layout.slot(Kind.DUES, ())

    def run(self, m: Moment) -> None:
        """Say whether something leaves it in this step."""
        waits = m.slots[self.waits]
        leaves = any(due <= m.now for due in waits)
        waits = tuple(due for due in waits if due > m.now)
        asked = m.fired[self.asked]
        if m.given.all_off or (self.clear is not None and m.fired[self.clear]):
            waits, leaves, asked = (), False, False
        if asked:
            if len(waits) >= self.length:
                m.alarms.append(("queue_full", self.name))
            else:
                waits = (*waits, m.now + self.delay)
        m.slots[self.waits] = waits
        m.fired[self.event] = leaves
