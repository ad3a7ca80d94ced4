"""What happens to a build while it runs, in order of time."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

What = Literal[
    "input",
    "command",
    "alive",
    "clear",
    "clock",
    "power",
    "reset",
    "hang",
    "stuck",
    "freed",
    "line",
    "all_off",
]


@dataclass(frozen=True, slots=True)
class Happening:
    """
    One thing that happens.

    Attributes
    ----------
    t : float
        When [s]; 0 is the first power-up
    what : str
        An input's reading, a command, a sign of life, a person who clears a channel, the clock
        being set, power going or coming, a reset, a hang; a sensor stuck at its reading, or freed;
        a level asked of a channel by hand over a line, everything put off over it
    of : str
        Id of the input, command or channel
    value : object
        Of an input: acted on or at rest, a level, or ``None`` without a reading; of a command:
        given, withdrawn, or ``None`` for one step; of power whether it comes; of the clock the
        seconds since midnight with the day of the week from 0, or ``None`` for it
    """

    t: float
    what: What
    of: str = ""
    value: Any = None
