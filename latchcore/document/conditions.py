"""What a behaviour looks at: conditions true or false now, events that happen once."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from latchcore.document.texts import (
    ClockText,
    Id,
    LastingText,
    Model,
    NumberText,
)

#: An input, or the second of a pair of end switches.
InputRef = Annotated[str, Field(pattern=r"^[a-z]{1,8}[0-9]{1,6}(\.2)?$")]
#: A channel, or the second way of one that turns both ways.
OutputRef = InputRef
#: How deep all-of, any-of and not go within one condition.
MOST_DEEP = 3
MOST_PARTS = 12
Day = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]


class Timed(Model):
    """
    Anything that is true or false now. ``for_at_least`` is how long it must hold before it counts,
    ``lasts`` how long it goes on counting after it ended.
    """

    for_at_least: LastingText | None = None
    lasts: LastingText | None = None


class Acted(Timed):
    """A contact that is acted on."""

    kind: Literal["input"] = "input"
    of: InputRef


class Threshold(Timed):
    """A level over or under a threshold in its own scale; ``hysteresis`` is the way back."""

    kind: Literal["over", "under"]
    of: InputRef
    at: NumberText
    hysteresis: NumberText = "0"


class Between(Timed):
    """A window of the time of day; ``begin`` belongs to it, ``end`` does not."""

    kind: Literal["between"] = "between"
    begin: ClockText
    end: ClockText
    days: Annotated[list[Day], Field(max_length=7)] = []

    @model_validator(mode="after")
    def _is_a_window(self) -> Between:
        if clock_seconds(self.begin) == clock_seconds(self.end):
            raise ValueError(
                f"A window from {self.begin} to {self.end} is no window; expected two different"
                " times of day."
            )
        return self


class SincePower(Timed):
    """At least so long since power came up."""

    kind: Literal["since_power"] = "since_power"
    time: LastingText


class Commanded(Timed):
    """A command from outside that stands."""

    kind: Literal["command"] = "command"
    of: Id


class ChannelIs(Timed):
    """A channel commanded on, confirmed on, or overdue, as the last step left it."""

    kind: Literal["channel"] = "channel"
    of: OutputRef
    state: Literal["on", "confirmed", "overdue"] = "on"


class Named(Timed):
    """Another condition of the list, one that stands before."""

    kind: Literal["named"] = "named"
    of: Id


class Joined(Timed):
    """All of several, or any of them."""

    kind: Literal["all", "any"]
    parts: Annotated[list[Condition], Field(min_length=1, max_length=MOST_PARTS)]


class Not(Timed):
    """The opposite."""

    kind: Literal["not"] = "not"
    part: Condition


Condition = Annotated[
    Acted | Threshold | Between | SincePower | Commanded | ChannelIs | Named | Joined | Not,
    Field(discriminator="kind"),
]
for _model in (Joined, Not):
    _model.model_rebuild()


class Becomes(Model):
    """A condition becoming true."""

    kind: Literal["becomes"] = "becomes"
    condition: Condition


class Press(Model):
    """A contact acted on, counted once."""

    kind: Literal["press"] = "press"
    of: InputRef


class Double(Model):
    """A second press at most ``within`` after the first."""

    kind: Literal["double"] = "double"
    of: InputRef
    within: LastingText


class Held(Model):
    """A press held for ``over``."""

    kind: Literal["hold"] = "hold"
    of: InputRef
    over: LastingText


class Leaves(Model):
    """What waited in a queue leaves it."""

    kind: Literal["queue"] = "queue"
    of: Id


Event = Annotated[Becomes | Press | Double | Held | Leaves, Field(discriminator="kind")]


def depth(condition: Condition) -> int:
    """
    How deep joins stand within each other.

    Examples
    --------
    >>> depth(Acted(of="in1")), depth(Not(part=Joined(kind="all", parts=[Acted(of="in1")])))
    (0, 2)
    """
    inner = parts_of(condition)
    return 1 + max(map(depth, inner)) if inner else 0


def parts_of(condition: Condition) -> list[Condition]:
    """The conditions a join is made of; none of any other."""
    if isinstance(condition, Joined):
        return condition.parts
    return [condition.part] if isinstance(condition, Not) else []


def walk(condition: Condition) -> list[Condition]:
    """A condition with all that stand within it, the outermost first."""
    return [condition] + [found for part in parts_of(condition) for found in walk(part)]


def clock_seconds(text: str) -> int:
    """
    A time of day as seconds after midnight.

    Examples
    --------
    >>> clock_seconds("06:30"), clock_seconds("23:59:58")
    (23400, 86398)
    """
    hours, minutes, *rest = text.split(":")
    return int(hours) * 3600 + int(minutes) * 60 + (int(rest[0]) if rest else 0)
