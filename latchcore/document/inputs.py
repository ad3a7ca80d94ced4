"""What the board senses for the job."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from latchcore.document.texts import (
    DutyText,
    Id,
    Key,
    LastingText,
    MetresText,
    Model,
    Name,
    Note,
    NumberText,
    OhmsText,
    PauseText,
    PlainVoltsText,
    SecondsText,
    VoltsText,
)


class SenseInput(Model):
    """
    One thing the board senses for the job.

    ``rest`` is the state of a contact when nothing happens; ``pull`` is ``auto``, ``internal``,
    ``none``, or ohms that were
    fitted; ``voltage`` what is on the far side (a divided voltage, the high level of a sensor, the
    supply of an opto
    input); ``rail`` the rail that is sensed or that feeds the sensor; ``lowest`` and ``highest``
    the ends of a knob's scale;
    ``series`` a resistor and ``clamp`` a zener at the pin, ``pulled_to`` the rail its pull-up leads
    to; ``dark`` and ``bright`` what a light-dependent resistor has there, ``holds`` how long a
    motion sensor's output stays, ``warm_up`` how long it tells nothing; ``per_ampere`` volts a
    current sensor gives for an ampere of the channel it ``watches``; ``part`` its coupler;
    ``edge`` what of a zero detector's pulse the program counts from, ``shift`` how much later its
    transformer's zero comes; ``gone_after`` how long it may be without a reading before that is an
    alarm; ``moved_by`` the channel that moves what it reads, which way, and by how much in its own
    scale.
    """

    id: Id
    name: Name
    kind: Literal[
        "button",
        "micro_switch",
        "reed",
        "end_pair",
        "knob",
        "divider",
        "opto",
        "sensor",
        "tachometer",
        "serial",
        "zero_transformer",
        "zero_coupler",
        "analogue",
        "light",
        "motion",
        "presence",
        "current",
    ]
    pin: Annotated[str, Field(max_length=12)] | None = None
    pin_two: Annotated[str, Field(max_length=12)] | None = None
    pin_locked: bool = False
    rail: Id | None = None
    rest: Literal["open", "closed"] = "open"
    pull: Annotated[str, Field(max_length=20)] = "auto"
    output: Literal["push_pull", "open_collector"] = "push_pull"
    shifter: bool = False
    debounce: PauseText | None = None
    sampled: SecondsText | None = None
    lead_length: MetresText | None = None
    voltage: VoltsText | None = None
    upper: OhmsText | None = None
    lower: OhmsText | None = None
    lowest: Annotated[str, Field(max_length=20)] = "0"
    highest: Annotated[str, Field(max_length=20)] = "100"
    dead_end: DutyText | None = None
    series: OhmsText | None = None
    clamp: PlainVoltsText | None = None
    pulled_to: Id | None = None
    dark: OhmsText | None = None
    bright: OhmsText | None = None
    holds: SecondsText | None = None
    warm_up: SecondsText | None = None
    per_ampere: PlainVoltsText | None = None
    watches: Id | None = None
    part: Key | None = None
    edge: Literal["rising", "middle"] = "rising"
    shift: SecondsText | None = None
    gone_after: LastingText | None = None
    moved_by: Id | None = None
    moved: Literal["up", "down"] | None = None
    moved_by_much: NumberText | None = None
    note: Note = ""
