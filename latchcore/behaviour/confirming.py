"""What really happened, against what was commanded."""

from __future__ import annotations

from abc import ABC, abstractmethod

from latchcore.behaviour.layout import Layout
from latchcore.behaviour.moment import Moment

ON, OFF, MOVING = "confirmed_on", "confirmed_off", "moving"
OVERDUE, CONTRADICTING, UNKNOWN = "overdue", "contradicting", "unknown"
BY_HAND_ON, BY_HAND_OFF = "on_by_hand", "off_by_hand"


class Confirm(ABC):
    """
    The confirmed state of one channel.

    ``overdue_next`` tells the next step to put the channel off; ``blocked`` stands until a person
    clears it, through power cut and reset, as does the count of each way overdue.
    """

    __slots__ = ("blocked", "counts", "due", "name", "overdue_next", "state", "within")

    ways: tuple[str, ...] = ()

    def __init__(self, layout: Layout, name: str, within: int) -> None:
        self.name, self.within = name, within
        self.state, self.due = layout.slot(first=UNKNOWN), layout.due()
        self.overdue_next = layout.slot(first=False)
        self.blocked = layout.slot(first=False, kept=True)
        self.counts = {way: layout.slot(first=0, kept=True) for way in self.ways}

    def clear(self, m: Moment) -> None:
        """A person looked after it."""
        m.slots[self.blocked] = False
        for slot in self.counts.values():
            m.slots[slot] = 0

    def seen_on(self, m: Moment) -> bool:
        """Whether it is seen on, whatever is commanded."""
        return False

    def _late(self, m: Moment, way: str) -> None:
        slots = m.slots
        slots[self.state], slots[self.due] = OVERDUE, None
        slots[self.overdue_next] = True
        m.alarms.append(("overdue", self.name))
        slots[self.counts[way]] += 1
        if slots[self.counts[way]] >= 2 and not slots[self.blocked]:
            slots[self.blocked] = True
            m.alarms.append(("blocked", self.name))

    def _settled(self, m: Moment, state: str, way: str) -> None:
        m.slots[self.state], m.slots[self.due] = state, None
        m.slots[self.counts[way]] = 0

    def _contradicts(self, m: Moment) -> None:
        if m.slots[self.state] != CONTRADICTING:
            m.alarms.append(("contradicting", self.name))
        m.slots[self.state], m.slots[self.due] = CONTRADICTING, None

    @abstractmethod
    def watch(self, m: Moment, level: int, before: int) -> None:
        """Compare at the end of a step, with the level written now and that of the last step."""


class SameConfirm(Confirm):
    """An input that is acted on while the channel is on."""

    __slots__ = ("agreed", "parallel", "place", "series")

    ways = ("on", "off")

    def __init__(self, layout: Layout, name: str, within: int, place: int, hand: str) -> None:
        super().__init__(layout, name, within)
        self.place = place
        self.parallel, self.series = hand in ("parallel", "both"), hand in ("series", "both")

    def seen_on(self, m: Moment) -> bool:
        """As its input says."""
        return bool(m.taken[self.place])

    def watch(self, m: Moment, level: int, before: int) -> None:
        """Moving after a change until it agrees, then overdue; afterwards contradicting."""
        slots, is_on, seen = m.slots, level > 0, self.seen_on(m)
        if is_on != (before > 0) or m.first:
            slots[self.due] = m.now + self.within
            slots[self.state] = UNKNOWN if m.first and not is_on else MOVING
        if seen == is_on:
            self._settled(m, ON if is_on else OFF, "on" if is_on else "off")
        elif self.parallel and seen:
            slots[self.state], slots[self.due] = BY_HAND_ON, None
        elif self.series and is_on:
            slots[self.state], slots[self.due] = BY_HAND_OFF, None
        elif slots[self.state] in (BY_HAND_ON, BY_HAND_OFF, ON, OFF):
            self._contradicts(m)
        elif slots[self.due] is not None and m.now >= slots[self.due]:
            self._late(m, "on" if is_on else "off")


class EndConfirm(Confirm):
    """A channel that drives to one end, with an end switch there and perhaps one at the other."""

    __slots__ = ("end", "left", "other")

    ways = ("travel",)

    def __init__(self, layout: Layout, name: str, within: int, end: int, other: int | None) -> None:
        super().__init__(layout, name, within)
        self.end, self.other = end, other
        self.left = layout.slot(first=False)

    def watch(self, m: Moment, level: int, before: int) -> None:
        """Moving until its end is reached, then overdue; the other end is the wrong one."""
        slots, is_on = m.slots, level > 0
        at_end = bool(m.taken[self.end])
        at_other = self.other is not None and bool(m.taken[self.other])
        if is_on and not before:
            slots[self.state], slots[self.due] = MOVING, m.now + self.within
            slots[self.left] = False
        wrong = at_other and slots[self.left] and is_on
        slots[self.left] = is_on and (slots[self.left] or not at_other)
        if at_end and at_other:
            self._contradicts(m)
        elif at_end:
            self._settled(m, ON, "travel")
        elif wrong:
            self._contradicts(m)
        elif is_on and slots[self.due] is not None and m.now >= slots[self.due]:
            self._late(m, "travel")
        elif slots[self.state] == ON or (slots[self.state] == MOVING and not is_on):
            # Left without being driven there, or stopped half way.
            slots[self.state], slots[self.due] = UNKNOWN, None


class ToggleConfirm(Confirm):
    """A load on one pulse line: each pulse sets it going or stops it, by turns."""

    __slots__ = ("closed", "direction", "left", "open", "parallel")

    ways = ("travel",)

    def __init__(
        self, layout: Layout, name: str, within: int, ends: tuple[int, int], hand: str
    ) -> None:
        super().__init__(layout, name, within)
        self.open, self.closed = ends
        self.parallel = hand in ("parallel", "both")
        self.direction, self.left = layout.slot(), layout.slot(first=True)

    def brings(self, wanted: str, m: Moment) -> bool:
        """Whether a pulse is to be given to bring it to an end; refused with an alarm."""
        state, direction = m.slots[self.state], m.slots[self.direction]
        here = ON if wanted == "open" else OFF
        if state == here or (state == MOVING and direction == wanted):
            return False
        if state in (ON, OFF):
            return True
        m.alarms.append(("state_unknown", self.name))
        return False

    def watch(self, m: Moment, level: int, before: int) -> None:
        """A pulse first, then what the ends say."""
        slots = m.slots
        ends = (bool(m.taken[self.open]), bool(m.taken[self.closed]))
        if level and not before:
            self._pulsed(m)
        if all(ends):
            self._contradicts(m)
        elif any(ends):
            self._at_end(m, "open" if ends[0] else "closed")
        else:
            slots[self.left] = True
            if slots[self.state] in (ON, OFF):
                self._left_alone(m)
        if slots[self.state] == MOVING and slots[self.due] is not None and m.now >= slots[self.due]:
            self._late(m, "travel")

    def _pulsed(self, m: Moment) -> None:
        slots, state = m.slots, m.slots[self.state]
        if state == MOVING:
            slots[self.state], slots[self.due] = UNKNOWN, None
            return
        if state in (ON, OFF):
            slots[self.direction], slots[self.left] = "closed" if state == ON else "open", False
        elif slots[self.direction] is not None:
            slots[self.direction] = "open" if slots[self.direction] == "closed" else "closed"
        slots[self.state], slots[self.due] = MOVING, m.now + self.within

    def _at_end(self, m: Moment, end: str) -> None:
        slots = m.slots
        here = ON if end == "open" else OFF
        if slots[self.state] == here:
            return
        if slots[self.state] in (MOVING, UNKNOWN, OVERDUE) and not slots[self.left]:
            # Still where it was set going; only an end that is reached makes it known.
            return
        if slots[self.state] == MOVING and slots[self.direction] not in (None, end):
            m.alarms.append(("contradicting", self.name))
        slots[self.direction] = end
        self._settled(m, here, "travel")

    def _left_alone(self, m: Moment) -> None:
        """It left its end without a pulse; by hand where a switch is in parallel."""
        if self.parallel:
            m.slots[self.state], m.slots[self.due] = UNKNOWN, None
        else:
            self._contradicts(m)
