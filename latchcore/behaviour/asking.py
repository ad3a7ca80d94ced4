"""What rules ask of a channel: while, pulse, toggle, ramp, follow."""

from __future__ import annotations

import math
from typing import Protocol

from latchcore.behaviour.layout import Layout
from latchcore.behaviour.moment import Moment

#: A pulse may wait so long to go on unless its rule says otherwise [s].
USUAL_WAIT = 1.0


class Asks(Protocol):
    """Anything that asks for a channel."""

    reason: str

    def advance(self, m: Moment) -> None:
        """Look at the events of this step."""

    def level(self, m: Moment) -> int:
        """What is asked for in percent; 0 for nothing."""

    def use_up(self, m: Moment) -> None:
        """A cut: what stands counts again only once it has been false."""

    def end(self, m: Moment) -> None:
        """Put off: what an event began is over."""

    def lose(self, m: Moment) -> None:
        """What was asked in this step is lost, what stood before stays."""

    def settle(self, m: Moment, is_on: bool) -> None:
        """The outputs of this step are known."""


class Quiet:
    """What most requests have nothing to do at."""

    __slots__ = ()

    def advance(self, m: Moment) -> None:
        """Nothing."""

    def use_up(self, m: Moment) -> None:
        """Nothing."""

    def end(self, m: Moment) -> None:
        """Nothing."""

    def lose(self, m: Moment) -> None:
        """Nothing."""

    def settle(self, m: Moment, is_on: bool) -> None:
        """Nothing."""


class AskedWhile(Quiet):
    """On, or at a level, while a condition counts."""

    __slots__ = ("at", "condition", "reason", "used")

    def __init__(self, layout: Layout, condition: int, level: int) -> None:
        self.condition, self.at, self.reason = condition, level, "while"
        self.used = layout.slot(first=False)

    def level(self, m: Moment) -> int:
        """Its level, unless it was used up and has not been false since."""
        counted = m.counted[self.condition]
        if m.slots[self.used]:
            if counted is False and m.bare[self.condition] is False:
                m.slots[self.used] = False
            return 0
        return self.at if counted else 0

    def use_up(self, m: Moment) -> None:
        """Used up where it asks, or would if its timers were not there."""
        if m.counted[self.condition] or m.bare[self.condition]:
            m.slots[self.used] = True


class Followed(Quiet):
    """A level that follows a reading."""

    __slots__ = ("band", "high", "level_high", "level_low", "low", "place", "reason", "taken",
                 "used")  # fmt: skip

    def __init__(
        self,
        layout: Layout,
        place: int,
        ends: tuple[float, float],
        levels: tuple[int, int],
        band: float,
    ) -> None:
        self.place, self.band, self.reason = place, band, "follow"
        (self.low, self.high), (self.level_low, self.level_high) = ends, levels
        self.taken, self.used = layout.slot(), layout.slot(first=False)

    def advance(self, m: Moment) -> None:
        """Take the reading anew where it moved by the dead band, or stands at an end."""
        reading, taken = m.taken[self.place], m.slots[self.taken]
        if reading is None:
            return
        at_an_end = not min(self.low, self.high) < reading < max(self.low, self.high)
        if taken is None or at_an_end or round(abs(reading - taken), 9) >= self.band:
            m.slots[self.taken] = reading

    def level(self, m: Moment) -> int:
        """The level for the reading taken last; used up until it has been 0."""
        taken = m.slots[self.taken]
        if taken is None or m.taken[self.place] is None:
            return 0
        share = min(max((taken - self.low) / (self.high - self.low), 0.0), 1.0)
        level = self.level_low + (self.level_high - self.level_low) * share
        whole = math.floor(round(level, 6) + 0.5)
        if m.slots[self.used]:
            m.slots[self.used] = whole > 0
            return 0
        return whole

    def use_up(self, m: Moment) -> None:
        """Used up where it asks for anything."""
        if self.level(m):
            m.slots[self.used] = True


class AskedPulse(Quiet):
    """On for a time upon an event; it may have to wait, and always has its full length."""

    __slots__ = ("again", "at", "bring", "due", "event", "name", "reason", "steps", "wait",
                 "waits", "wanted")  # fmt: skip

    def __init__(
        self, layout: Layout, name: str, event: int, steps: tuple[int, int], again: str, level: int
    ) -> None:
        self.name, self.event, self.again, self.at = name, event, again, level
        self.steps, self.wait = max(steps[0], 1), steps[1]
        self.reason = "pulse"
        #: Says whether it is to be given at all, and to which end; for a load brought to one.
        self.bring: tuple[Brings, str] | None = None
        self.due, self.waits = layout.due(), layout.due()
        self.wanted = layout.slot(first=0)

    def advance(self, m: Moment) -> None:
        """End what is due before the event of the same step is looked at."""
        slots = m.slots
        if slots[self.due] is not None and m.now >= slots[self.due]:
            slots[self.due] = None
        if not m.fired[self.event]:
            return
        if self.bring is not None:
            load, end = self.bring
            if not load.brings(end, m):
                return
        if slots[self.due] is not None:
            if self.again == "extend":
                slots[self.due] += self.steps
            elif self.again == "restart":
                slots[self.due] = m.now + self.steps
        elif slots[self.waits] is None:
            slots[self.waits], slots[self.wanted] = m.now + self.wait, self.steps
        elif self.again == "extend":
            slots[self.wanted] += self.steps

    def level(self, m: Moment) -> int:
        """Its level while it runs or waits."""
        running = m.slots[self.due] is not None or m.slots[self.waits] is not None
        return self.at if running else 0

    def end(self, m: Moment) -> None:
        """Over, or lost."""
        m.slots[self.due] = m.slots[self.waits] = None
        m.slots[self.wanted] = 0

    def lose(self, m: Moment) -> None:
        """A pulse does not outlive being put off."""
        self.end(m)

    def settle(self, m: Moment, is_on: bool) -> None:
        """It runs from the step in which its channel is on; waited too long it is lost."""
        slots = m.slots
        if slots[self.waits] is None:
            return
        if is_on:
            slots[self.due] = m.now + slots[self.wanted]
        elif m.now >= slots[self.waits]:
            m.alarms.append(("pulse_lost", self.name))
        else:
            return
        slots[self.waits], slots[self.wanted] = None, 0


class Brings(Protocol):
    """A load on one pulse line."""

    def brings(self, wanted: str, m: Moment) -> bool:
        """Whether a pulse is to be given to bring it to an end; refused with an alarm."""


class Toggled(Quiet):
    """The one toggle of a channel, however many rules work it."""

    __slots__ = ("events", "reason", "state")

    def __init__(self, layout: Layout, events: list[tuple[int, int]], kept: bool) -> None:
        self.events, self.reason = events, "toggle"
        self.state = layout.slot(first=0, kept=kept)

    def advance(self, m: Moment) -> None:
        """Flip its own state, once for each event."""
        m.before[self.state] = m.slots[self.state]
        for event, level in self.events:
            if m.fired[event]:
                m.slots[self.state] = 0 if m.slots[self.state] else level

    def level(self, m: Moment) -> int:
        """The level of the rule that flipped it on."""
        return m.slots[self.state]

    def use_up(self, m: Moment) -> None:
        """A cut ends it."""
        self.end(m)

    def lose(self, m: Moment) -> None:
        """As it was before."""
        m.slots[self.state] = m.before[self.state]

    def end(self, m: Moment) -> None:
        """Off."""
        m.slots[self.state] = 0


class Ramped(Quiet):
    """The one ramp of a channel: the last event counts."""

    __slots__ = ("begin", "due", "events", "reason", "rest", "steps", "to", "written")

    def __init__(
        self, layout: Layout, events: list[tuple[int, int, int]], written: int, kept: bool
    ) -> None:
        #: Event, steps and level of each rule, in the order of the list.
        self.events, self.written, self.reason = events, written, "ramp"
        self.rest = layout.slot(first=0, kept=kept)
        self.begin, self.to = layout.slot(first=0), layout.slot(first=0)
        self.steps, self.due = layout.slot(first=0), layout.due()

    def advance(self, m: Moment) -> None:
        """Begin anew from the level written last, and say where it stands in this step."""
        slots = m.slots
        m.before[self.rest] = slots[self.rest]
        for event, steps, level in self.events:
            if m.fired[event]:
                slots[self.begin], slots[self.to] = slots[self.written], level
                slots[self.steps], slots[self.due] = steps, m.now + steps
        if slots[self.due] is None:
            return
        total, left = slots[self.steps], slots[self.due] - m.now
        if left > total:
            # Its time is not known, in a walk with reduced timers: on where either end is.
            slots[self.rest] = max(slots[self.begin], slots[self.to])
            return
        if left <= 0:
            slots[self.rest], slots[self.due] = slots[self.to], None
            slots[self.begin] = slots[self.to] = slots[self.steps] = 0
            return
        rise = (slots[self.to] - slots[self.begin]) * (total - left)
        # Halves are rounded up, also on the way down.
        slots[self.rest] = (2 * (slots[self.begin] * total + rise) + total) // (2 * total)

    def level(self, m: Moment) -> int:
        """Where it stands."""
        return m.slots[self.rest]

    def use_up(self, m: Moment) -> None:
        """A cut ends it."""
        self.end(m)

    def lose(self, m: Moment) -> None:
        """It stays at the level it had."""
        rest = m.before[self.rest]
        self.end(m)
        m.slots[self.rest] = rest

    def end(self, m: Moment) -> None:
        """Nothing is asked for."""
        slots = m.slots
        slots[self.rest] = slots[self.begin] = slots[self.to] = slots[self.steps] = 0
        slots[self.due] = None


class AskedByLine(Quiet):
    """A level asked for by hand over a line, until it is put off or the line falls silent."""

    __slots__ = ("reason", "state")

    def __init__(self, layout: Layout) -> None:
        self.reason, self.state = "line", layout.slot(first=0)

    def level(self, m: Moment) -> int:
        """As asked for."""
        return m.slots[self.state]

    def use_up(self, m: Moment) -> None:
        """A cut ends it."""
        self.end(m)

    def lose(self, m: Moment) -> None:
        """So does anything that puts it off."""
        self.end(m)

    def end(self, m: Moment) -> None:
        """Nothing is asked for."""
        m.slots[self.state] = 0


class Held(Quiet):
    """What a sequence asks of one channel."""

    __slots__ = ("after", "levels", "phase", "reason", "used")

    def __init__(self, layout: Layout, phase: int, levels: list[int], after: int | None) -> None:
        #: Level asked for in each phase, and the slot of the state after an abort.
        self.phase, self.levels, self.after, self.reason = phase, levels, after, "sequence"
        self.used = layout.slot(first=False)

    def level(self, m: Moment) -> int:
        """What its phase asks for, or the state after an abort; used up until it asks nothing."""
        phase = m.slots[self.phase]
        level = self.levels[phase] if phase is not None else 0
        if m.slots[self.used]:
            m.slots[self.used] = level > 0
            level = 0
        return max(level, m.slots[self.after] if self.after is not None else 0)

    def use_up(self, m: Moment) -> None:
        """A cut: until it has not asked for the channel; the state after an abort is over."""
        phase = m.slots[self.phase]
        m.slots[self.used] = phase is not None and self.levels[phase] > 0
        if self.after is not None:
            m.slots[self.after] = 0


class Pressed(Quiet):
    """What a macro asks of one channel."""

    __slots__ = ("channel", "macro", "reason")

    def __init__(self, macro: Presses, channel: int) -> None:
        self.macro, self.channel, self.reason = macro, channel, "macro"

    def level(self, m: Moment) -> int:
        """Full while its key is asked for."""
        return 100 if self.macro.asks_for(self.channel, m) else 0


class Presses(Protocol):
    """A macro."""

    def asks_for(self, channel: int, m: Moment) -> bool:
        """Whether its key of that channel is to be down."""
