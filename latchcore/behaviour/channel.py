"""One channel of a behaviour: what asks for it, what holds it off, what it was last written."""

from __future__ import annotations

from dataclasses import dataclass, field

from latchcore.behaviour.asking import Asks
from latchcore.behaviour.confirming import Confirm, SameConfirm
from latchcore.behaviour.layout import Layout
from latchcore.behaviour.limits import Limits
from latchcore.behaviour.moment import Moment


@dataclass(slots=True)
class ChannelPart:
    """
    A channel, compiled.

    Attributes
    ----------
    place : int
    id, name : str
    scaled : bool
        Whether it has levels between off and full
    returns : str
        How it comes back: ``anew``, ``standing``, ``as_was``
    link : int, str
        What it does without link: ``hold``, ``off``, or a level that takes the place of all
        requests
    written : int
        Slot of the level written last
    waits : int, optional
        Slot of the step since which it has waited to go on, where it takes turns
    requests : list of Asks
        In the order in which a reason is given
    bars : list of int
        Conditions under which it is off
    hardware : int, optional
        Steps after which hardware ends it
    """

    place: int
    id: str
    name: str
    scaled: bool
    returns: str
    link: int | str
    limits: Limits
    written: int
    waits: int | None
    hardware: int | None = None
    requests: list[Asks] = field(default_factory=list)
    bars: list[int] = field(default_factory=list)
    confirm: Confirm | None = None

    def seen_on(self, m: Moment) -> bool:
        """Whether its sense input says that it is on."""
        return isinstance(self.confirm, SameConfirm) and self.confirm.seen_on(m)

    def asked(self, m: Moment) -> tuple[int, str]:
        """The highest level asked for and the first reason for it; 0 with none."""
        best, why = 0, "ended"
        for request in self.requests:
            level = request.level(m)
            if level > best:
                best, why = level, request.reason
        if m.link_lost and isinstance(self.link, int):
            best, why = self.link, "link"
        return (100 if best and not self.scaled else best), why

    def use_up(self, m: Moment) -> None:
        """A cut: every request that stands is used up."""
        for request in self.requests:
            request.use_up(m)

    def end(self, m: Moment) -> None:
        """Put off: pulse, toggle and ramp are over."""
        for request in self.requests:
            request.end(m)

    def stopped(self, m: Moment) -> str | None:
        """What holds it off whatever is asked: a block, overdue, the link, a person."""
        for bar in self.bars:
            if m.counted[bar] is not False:
                return "block"
        confirm = self.confirm
        if confirm is not None and (
            m.slots[confirm.blocked] or (m.slots[confirm.overdue_next] and m.slots[self.written])
        ):
            return "overdue"
        if m.link_lost and self.link == "off":
            return "link"
        return "line" if m.given.puts_off(self.place) else None

    def put_off(self, m: Moment, by: str) -> None:
        """What a stop does to the requests of its channel."""
        if by == "link" and self.returns == "as_was":
            for request in self.requests:
                request.lose(m)
        else:
            self.end(m)
        if by in ("overdue", "line") or (by == "link" and self.returns == "anew"):
            self.use_up(m)


@dataclass(slots=True)
class InterlockPart:
    """
    Channels never on together: for each the slot of when its gap is over, and whether it lived,
    commanded or seen, at the end of the last step.
    """

    channels: list[int]
    gap: int
    due: dict[int, int]
    lived: dict[int, int]

    @classmethod
    def of(cls, layout: Layout, channels: list[int], gap: int) -> InterlockPart:
        """With slots of its own; gaps count from power-up too."""
        due = {c: layout.due(gap) for c in channels}
        return cls(channels, gap, due, {c: layout.slot(first=False) for c in channels})

    def may_go_on(self, m: Moment, channel: int, levels: list[int], lives: list[bool]) -> bool:
        """
        Whether a channel may go on: no other lives, none named earlier is wanted, every gap is
        over.
        """
        earlier = True
        for other in self.channels:
            if other == channel:
                earlier = False
                continue
            if lives[other] or (earlier and levels[other]):
                return False
            goes_off = m.slots[self.lived[other]]
            due = m.now + self.gap if goes_off else m.slots[self.due[other]]
            if m.now < due:
                return False
        return True

    def settle(self, m: Moment, lives: list[bool]) -> None:
        """The outputs of this step are known."""
        slots = m.slots
        for channel in self.channels:
            if slots[self.lived[channel]] and not lives[channel]:
                slots[self.due[channel]] = m.now + self.gap
            slots[self.lived[channel]] = lives[channel]


@dataclass(slots=True)
class StaggerPart:
    """Channels of one rail with the least steps between two switch-ons."""

    channels: list[int]
    steps: int
    due: int

    @classmethod
    def of(cls, layout: Layout, channels: list[int], steps: int) -> StaggerPart:
        """With a slot of its own."""
        return cls(channels, steps, layout.due())

    def free(self, m: Moment) -> bool:
        """Whether one may go on in this step."""
        due = m.slots[self.due]
        return due is None or m.now >= due
