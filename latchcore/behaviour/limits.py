"""Limits of one channel: what cuts it, what makes it wait."""

from __future__ import annotations

from latchcore.behaviour.layout import Kind, Layout
from latchcore.behaviour.moment import Moment

#: As many stretches of a share's window are kept apart, for a board has little memory.
MOST_SPANS = 64
Spans = tuple[tuple[int, int | None], ...]


def _bounded(spans: Spans) -> Spans:
    """
    The two oldest as one where there are too many: the time between counts as on, so that it is
    cut rather too early than too late.
    """
    if len(spans) <= MOST_SPANS:
        return spans
    (begin, _), (_, end), *rest = spans
    return ((begin, end), *rest)


class Limits:
    """
    Longest on, least on, least off, starts and share of one channel, and off when idle.

    All that is counted in steps; ``None`` is no such limit.
    """

    __slots__ = (
        "idle",
        "idle_due",
        "idle_steps",
        "idle_while",
        "reduced",
        "room",
        "used_up",
        "least_off",
        "least_off_due",
        "least_on",
        "least_on_due",
        "longest",
        "longest_due",
        "share",
        "share_window",
        "spans",
        "started",
        "starts",
        "starts_window",
    )

    def __init__(
        self,
        layout: Layout,
        longest: int | None = None,
        least_on: int | None = None,
        least_off: int | None = None,
    ) -> None:
        self.longest, self.least_on, self.least_off = longest, least_on, least_off
        self.longest_due, self.least_on_due = layout.due(), layout.due()
        # As if everything had just gone off when power comes up.
        self.least_off_due = layout.due(least_off)
        self.starts: int | None = None
        self.share: int | None = None
        self.idle: int | None = None
        self.idle_while: int | None = None
        self.starts_window = self.share_window = self.idle_steps = 0
        self.started, self.spans = layout.slot(Kind.DUES, ()), layout.slot(Kind.SPANS, ())
        self.idle_due = layout.due()
        #: In a walk with reduced timers: when the share is used up, when there is room again.
        self.reduced = False
        self.used_up, self.room = layout.due(), layout.due()

    def keeps_on(self, m: Moment) -> bool:
        """Whether least on holds it."""
        due = m.slots[self.least_on_due]
        return due is not None and m.now < due

    def cut(self, m: Moment, is_on: bool) -> str | None:
        """What cuts it in this step, of several the one that comes first."""
        slots = m.slots
        idle_due = self._idle(m, is_on)
        if not is_on:
            return None
        if slots[self.longest_due] is not None and m.now >= slots[self.longest_due]:
            return "longest_on"
        if self.share is not None and self._is_used_up(m):
            return "share"
        if idle_due and (self.idle_while is None or m.counted[self.idle_while] is True):
            return "idle_off"
        return None

    def _idle(self, m: Moment, is_on: bool) -> bool:
        """Whether it has been idle long enough, counted from the switch-on at the earliest."""
        if self.idle is None:
            return False
        if not is_on or m.counted[self.idle] is not True:
            m.slots[self.idle_due] = None
            return False
        if m.slots[self.idle_due] is None:
            m.slots[self.idle_due] = m.now + self.idle_steps
        return m.now >= m.slots[self.idle_due]

    def must_wait(self, m: Moment) -> bool:
        """Whether it may not go on in this step."""
        slots = m.slots
        if slots[self.least_off_due] is not None and m.now < slots[self.least_off_due]:
            return True
        if self.starts is not None:
            young = tuple(due for due in slots[self.started] if due > m.now)
            slots[self.started] = young
            if len(young) >= self.starts:
                return True
        if self.share is None:
            return False
        if self.reduced:
            return slots[self.room] is not None and m.now < slots[self.room]
        return self._used(m) + max(self.least_on or 0, 1) > self.share

    def _is_used_up(self, m: Moment) -> bool:
        assert self.share is not None
        if self.reduced:
            return m.slots[self.used_up] is not None and m.now >= m.slots[self.used_up]
        return self._used(m) + 1 > self.share

    def _used(self, m: Moment) -> int:
        """Steps it was on in the window that ends with this step, this one left out."""
        begin = m.now - self.share_window + 1
        spans = tuple((a, b) for a, b in m.slots[self.spans] if b is None or b > begin)
        m.slots[self.spans] = spans
        return sum((m.now if b is None else b) - max(a, begin) for a, b in spans)

    def went_on(self, m: Moment) -> None:
        """Count from its switch-on."""
        slots = m.slots
        if self.longest is not None:
            slots[self.longest_due] = m.now + self.longest
        if self.least_on is not None:
            slots[self.least_on_due] = m.now + self.least_on
        if self.starts is not None:
            slots[self.started] = (*slots[self.started], m.now + self.starts_window)
        if self.share is not None and self.reduced:
            slots[self.used_up], slots[self.room] = m.now + 1, None
        elif self.share is not None:
            slots[self.spans] = _bounded((*slots[self.spans], (m.now, None)))
        if self.idle is not None:
            idle = m.counted[self.idle] is True
            slots[self.idle_due] = m.now + self.idle_steps if idle else None

    def went_off(self, m: Moment) -> None:
        """Count from its switch-off."""
        slots = m.slots
        slots[self.longest_due] = slots[self.least_on_due] = slots[self.idle_due] = None
        if self.least_off is not None:
            slots[self.least_off_due] = m.now + self.least_off
        if self.share is not None and self.reduced:
            slots[self.used_up], slots[self.room] = None, m.now + 1
        elif self.share is not None:
            *closed, (begin, _) = slots[self.spans]
            slots[self.spans] = (*closed, (begin, m.now))

    def cut_at_the_earliest(self, slots: list, now: int, is_on: bool) -> int | None:
        """
        No step before this one can find the share used up, or room for another start; ``None``
        without a share or where nothing of it is used.
        """
        spans = slots[self.spans]
        if self.share is None or not spans:
            return None
        if not is_on:
            # Nothing leaves the window before its oldest step does.
            return max(spans[0][0] + self.share_window, now + 1)
        begin = now - self.share_window + 1
        used = sum((now + 1 if b is None else b) - max(a, begin) for a, b in spans)
        return now + 1 + max(self.share - used, 0)
