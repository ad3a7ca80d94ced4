"""What the loads do: rules, sequences and limits, as the user stated them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from latchcore.document.conditions import Condition, Event, InputRef, OutputRef
from latchcore.document.texts import (
    DutyText,
    Id,
    LastingText,
    Model,
    Name,
    NumberText,
    PauseText,
    PercentText,
    StepText,
)

#: How many of each piece a behaviour holds.
MOST_PIECES = 64


class Command(Model):
    """Something that is asked from outside, by name."""

    id: Id
    name: Name


class NamedCondition(Model):
    """A condition with a name, so that others may rest on it."""

    id: Id
    name: Name
    condition: Condition


class While(Model):
    """A channel on, or at a level, while a condition counts."""

    id: Id
    kind: Literal["while"] = "while"
    channel: OutputRef
    condition: Condition
    level: PercentText | None = None


class Pulse(Model):
    """
    A channel on for ``length`` upon an event.

    ``again`` is what a further event does to a pulse that runs, ``wait`` how long it may have to
    wait before it is lost (1 s unless stated), ``bring`` the end a load on one pulse line is to be
    brought to.
    """

    id: Id
    kind: Literal["pulse"] = "pulse"
    channel: OutputRef
    event: Event
    length: LastingText
    again: Literal["extend", "restart", "ignore"] = "ignore"
    wait: PauseText | None = None
    level: PercentText | None = None
    bring: Literal["open", "closed"] | None = None


class Toggle(Model):
    """A channel on and off by turns, upon an event."""

    id: Id
    kind: Literal["toggle"] = "toggle"
    channel: OutputRef
    event: Event
    level: PercentText | None = None


class Ramp(Model):
    """A channel brought to a level in ``time``, upon an event."""

    id: Id
    kind: Literal["ramp"] = "ramp"
    channel: OutputRef
    event: Event
    time: LastingText
    to: PercentText


class Follow(Model):
    """
    A channel whose level follows an input, from two ends of its scale to two levels; less than
    ``dead_band`` away from the reading last taken is no change.
    """

    id: Id
    kind: Literal["follow"] = "follow"
    channel: OutputRef
    of: InputRef
    low: NumberText
    high: NumberText
    level_low: PercentText = "0 %"
    level_high: PercentText = "100 %"
    dead_band: NumberText = "0"


Request = Annotated[While | Pulse | Toggle | Ramp | Follow, Field(discriminator="kind")]


class Bar(Model):
    """A condition under which a channel is off whatever is requested."""

    id: Id
    channel: OutputRef
    condition: Condition


class Interlock(Model):
    """Channels never on together, the first named first; ``gap`` passes between two of them."""

    id: Id
    name: Name = Field(default="Interlock")
    channels: Annotated[list[OutputRef], Field(max_length=32)] = []
    gap: PauseText = "0 s"


class Stagger(Model):
    """The least time between two switch-ons on one rail."""

    id: Id
    rail: Id
    least: LastingText


class Phase(Model):
    """
    One phase of a sequence.

    ``states`` says what each channel it names is asked to do (``on``, ``off`` or a level). It
    lasts a time, or until an event, or until a condition is true; with one of the latter
    ``longest`` is the longest it may take and ``then`` what follows.
    """

    name: Name
    states: Annotated[dict[OutputRef, StepText], Field(max_length=64)] = {}
    lasts: PauseText | None = None
    until: Event | None = None
    until_true: Condition | None = None
    longest: LastingText | None = None
    then: Literal["next", "stop", "abort", "phase"] = "abort"
    then_phase: Name | None = None


class Sequence(Model):
    """Phases in a row; ``repeat`` 0 is until it is aborted."""

    id: Id
    name: Name
    start: Event | None = None
    abort: Event | None = None
    repeat: Annotated[int, Field(ge=0, le=100_000)] = 1
    after_abort: Annotated[dict[OutputRef, StepText], Field(max_length=64)] = {}
    phases: Annotated[list[Phase], Field(max_length=MOST_PIECES)] = []


class MacroPress(Model):
    """One press of a macro."""

    channel: OutputRef
    hold: LastingText
    gap: PauseText


class Macro(Model):
    """Presses in a row, as on a keypad or a handset."""

    id: Id
    name: Name
    start: Event | None = None
    presses: Annotated[list[MacroPress], Field(max_length=MOST_PIECES)] = []
    wait: PauseText | None = None


class Queue(Model):
    """A delay between asking and doing, with room for ``length`` that wait."""

    id: Id
    name: Name
    event: Event
    delay: LastingText
    length: Annotated[int, Field(ge=1, le=1000)] = 1
    clear: Event | None = None


class Manner(Model):
    """
    What holds for a channel whatever asks for it.

    ``returns`` is how it comes back after power, reset or link; ``link`` what it does when the
    link is lost; ``hand`` a switch beside the program's; the limits as in the handbook's table;
    ``sense`` the input that says what happened, ``other`` its other end, ``within`` how long it
    may take.
    """

    channel: OutputRef
    returns: Literal["anew", "standing", "as_was"] = "anew"
    link: Literal["hold", "off", "state"] = "hold"
    link_level: PercentText | None = None
    hand: Literal["none", "parallel", "series", "both"] = "none"
    hardware_limit: LastingText | None = None
    longest_on: LastingText | None = None
    least_on: LastingText | None = None
    least_off: LastingText | None = None
    starts: Annotated[int, Field(ge=1, le=100_000)] | None = None
    starts_in: LastingText | None = None
    share: DutyText | None = None
    share_of: LastingText | None = None
    idle: Condition | None = None
    idle_for: LastingText | None = None
    idle_while: Condition | None = None
    confirm: Literal["same", "end", "toggle_load"] | None = None
    sense: InputRef | None = None
    other: InputRef | None = None
    within: LastingText | None = None


#: The lists of a behaviour whose entries have an id of their own.
LISTS = (
    "commands",
    "conditions",
    "requests",
    "bars",
    "interlocks",
    "staggers",
    "sequences",
    "macros",
    "queues",
)


class Behaviour(Model):
    """
    What the loads of a build do; the order within each list counts.

    ``step`` is the time of one step (10 ms unless stated, 1 ms where a pulse asks for it),
    ``link_time_out`` after how long without a command the link counts as lost, ``watchdog`` after
    how long a hung program is reset, ``access`` who may command.
    """

    step: LastingText | None = None
    link_time_out: LastingText | None = None
    watchdog: LastingText | None = None
    access: Literal["inputs", "local", "further"] = "inputs"
    secret_changed: Literal["yes", "no"] | None = None
    commands: Annotated[list[Command], Field(max_length=MOST_PIECES)] = []
    conditions: Annotated[list[NamedCondition], Field(max_length=MOST_PIECES)] = []
    requests: Annotated[list[Request], Field(max_length=4 * MOST_PIECES)] = []
    bars: Annotated[list[Bar], Field(max_length=MOST_PIECES)] = []
    interlocks: Annotated[list[Interlock], Field(max_length=MOST_PIECES)] = []
    staggers: Annotated[list[Stagger], Field(max_length=32)] = []
    sequences: Annotated[list[Sequence], Field(max_length=MOST_PIECES)] = []
    macros: Annotated[list[Macro], Field(max_length=MOST_PIECES)] = []
    queues: Annotated[list[Queue], Field(max_length=MOST_PIECES)] = []
    manners: Annotated[list[Manner], Field(max_length=128)] = []

    def manner(self, channel: str) -> Manner:
        """What holds for a channel; that of one nobody said anything of where it has none."""
        return next((m for m in self.manners if m.channel == channel), Manner(channel=channel))

    @property
    def empty(self) -> bool:
        """Whether nobody said anything of what the loads do."""
        return not (self.requests or self.sequences or self.macros)
