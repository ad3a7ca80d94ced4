"""One step while it is done: what came in, what is true in it, what comes out."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

#: True, false, or unknown for want of a reading.
Truth = bool | None


@dataclass(frozen=True, slots=True)
class Given:
    """
    What one step is given.

    Attributes
    ----------
    readings : tuple
        Of each input in order: acted on or not, a level, or ``None`` without a reading
    commands : tuple of (int, bool or None)
        Commands that arrived, by place: given, withdrawn, or ``None`` for one step only
    alive : bool
        Whether a sign of life came over the link
    cleared : tuple of int
        Channels a person cleared
    clock : tuple of (int, int or None), optional
        Steps since midnight, and the day of the week from 0, where a clock is set
    asked : tuple of (int, int)
        Levels asked of channels by hand over a line, by place; 0 puts one off
    all_off : bool
        Everything put off over a line
    """

    readings: tuple[Any, ...]
    commands: tuple[tuple[int, bool | None], ...] = ()
    alive: bool = False
    cleared: tuple[int, ...] = ()
    clock: tuple[int, int | None] | None = None
    asked: tuple[tuple[int, int], ...] = ()
    all_off: bool = False

    def puts_off(self, place: int) -> bool:
        """Whether a channel is put off over a line."""
        return self.all_off or (bool(self.asked) and (place, 0) in self.asked)

    @property
    def speaks(self) -> bool:
        """Whether whoever commands gave a sign of life."""
        return self.alive or bool(self.commands or self.asked) or self.all_off


@dataclass(frozen=True, slots=True)
class Change:
    """One change of a channel: which, the level written in percent, and why."""

    channel: int
    level: int
    reason: str


@dataclass(slots=True)
class Moment:
    """
    The step at work.

    Attributes
    ----------
    slots : list
        What is remembered; changed as the step goes on
    now : int
        Number of the step
    first : bool
        Whether it is the step of a power-up
    given : Given
    counted, bare : list of bool or None
        Of each condition: as it counts, and as if its timers were not there
    fired : list of bool
        Of each event
    taken : list
        Reading of each input, debounced
    pressed : list of bool
        Of each input
    aborted : set of int
        Channels an aborted phase had on
    before : dict
        What slots held that an event of this step changed, by place
    alarms : list of (str, str)
    changes : list of Change
    """

    slots: list[Any]
    now: int
    first: bool
    given: Given
    counted: list[Truth]
    bare: list[Truth]
    fired: list[bool]
    taken: list[Any]
    pressed: list[bool]
    aborted: set[int] = field(default_factory=set)
    before: dict[int, Any] = field(default_factory=dict)
    link_lost: bool = False
    alarms: list[tuple[str, str]] = field(default_factory=list)
    changes: list[Change] = field(default_factory=list)
