"""Times and levels of a behaviour as the user typed them."""

from __future__ import annotations

import math

from latchcore.document.behaviour import Behaviour, Pulse
from latchcore.document.texts import NOTHING, seconds
from latchcore.figures.quantity import parse

#: Length of a step unless stated, and where a pulse asks for a finer one [s].
USUAL_STEP, FINE_STEP = 0.01, 0.001
#: A pulse shorter than this that is no whole steps long asks for the finer one [s].
SHORT_PULSE = 0.1


def percent(text: str | None) -> int:
    """
    A level in whole percent, halves rounded up; on without a level is full.

    Examples
    --------
    >>> percent(None), percent("0 %"), percent("12.5 %")
    (100, 0, 13)
    """
    if text is None:
        return 100
    if NOTHING.fullmatch(text.strip()):
        return 0
    return math.floor(round(parse(text, "%"), 6) + 0.5)


def step_of(behaviour: Behaviour) -> float:
    """
    The time of one step: as stated, else 10 ms, or 1 ms where a pulse asks for it [s].

    Examples
    --------
    >>> step_of(Behaviour()), step_of(Behaviour(step="50 ms"))
    (0.01, 0.05)
    """
    if behaviour.step is not None:
        return seconds(behaviour.step)
    lengths = [seconds(r.length) for r in behaviour.requests if isinstance(r, Pulse)]
    lengths += [seconds(p.hold) for macro in behaviour.macros for p in macro.presses]
    fine = any(length < SHORT_PULSE and not _whole(length) for length in lengths)
    return FINE_STEP if fine else USUAL_STEP


def _whole(length: float) -> bool:
    steps = length / USUAL_STEP
    return abs(steps - round(steps)) < 1e-6
