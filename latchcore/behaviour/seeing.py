"""Inputs as they are taken, commands from outside, the link."""

from __future__ import annotations

from latchcore.behaviour.layout import Layout
from latchcore.behaviour.moment import Moment


class Contact:
    """A contact with its debounce: a new reading counts once no step between read otherwise."""

    __slots__ = ("due", "place", "steps", "taken")

    def __init__(self, layout: Layout, place: int, steps: int) -> None:
        self.place, self.steps = place, steps
        self.taken = layout.slot(first=False)
        self.due = layout.due()

    def read(self, m: Moment) -> None:
        """Take the reading of this step, or go on waiting for it."""
        slots, raw = m.slots, bool(m.given.readings[self.place])
        if m.first:
            # What is there at power-up is taken as it is, and nothing happens.
            slots[self.taken] = raw
        elif raw == slots[self.taken]:
            slots[self.due] = None
        else:
            if slots[self.due] is None:
                slots[self.due] = m.now + self.steps
            if m.now >= slots[self.due]:
                slots[self.taken], slots[self.due] = raw, None
                m.pressed[self.place] = raw
        m.taken[self.place] = slots[self.taken]


class Level:
    """A level, taken as it is read; one without a reading for longer than its own time alarms."""

    __slots__ = ("due", "gone", "name", "place", "steps")

    def __init__(self, layout: Layout, place: int, name: str, steps: int | None) -> None:
        self.place, self.name, self.steps = place, name, steps
        self.due, self.gone = layout.due(), layout.slot(first=False)

    def read(self, m: Moment) -> None:
        """Take the reading of this step; ``None`` is none."""
        reading = m.taken[self.place] = m.given.readings[self.place]
        if self.steps is None:
            return
        slots = m.slots
        if reading is not None:
            slots[self.due], slots[self.gone] = None, False
        elif not slots[self.gone]:
            if slots[self.due] is None:
                slots[self.due] = m.now + self.steps
            if m.now >= slots[self.due]:
                slots[self.due], slots[self.gone] = None, True
                m.alarms.append(("no_reading", self.name))


class Link:
    """The link to whoever commands; lost a while after the last sign of life."""

    __slots__ = ("due", "lost", "steps")

    def __init__(self, layout: Layout, steps: int) -> None:
        self.steps = steps
        self.due = layout.due(steps)
        self.lost = layout.slot(first=False)

    def watch(self, m: Moment) -> None:
        """Say whether it is lost in this step; a sign of life in the very step keeps it."""
        slots = m.slots
        if m.given.speaks:
            slots[self.due], slots[self.lost] = m.now + self.steps, False
        elif m.now >= slots[self.due] and not slots[self.lost]:
            slots[self.lost] = True
            m.alarms.append(("link_lost", "link"))
        m.link_lost = slots[self.lost]


class Line:
    """
    Whoever asks for channels by hand over a line; falls silent a while after the last word, and
    then asks for nothing any more.
    """

    __slots__ = ("asks", "due", "steps")

    def __init__(self, layout: Layout, steps: int, asks: list[int]) -> None:
        #: Slots of what is asked of each channel.
        self.steps, self.asks = steps, asks
        self.due = layout.due()

    def watch(self, m: Moment) -> None:
        """Take what is asked in this step; what stood ends where the line fell silent."""
        slots, given = m.slots, m.given
        if given.speaks:
            slots[self.due] = m.now + self.steps
        elif slots[self.due] is not None and m.now >= slots[self.due]:
            slots[self.due] = None
            if any(slots[place] for place in self.asks):
                m.alarms.append(("line_silent", "line"))
            for place in self.asks:
                slots[place] = 0
        for place, level in given.asked:
            slots[self.asks[place]] = level
        if given.all_off:
            for place in self.asks:
                slots[place] = 0
