"""
What could not be worked out: said at its place, and traced under a number that the log holds too.
"""

from __future__ import annotations

import hashlib
import logging
import traceback
from collections.abc import Callable

from latchcore.design.report import Finding
from latchcore.figures.typed import Refusal, in_one_line

LOG = logging.getLogger("zinc_latch.faults")
#: The id of the finding that says so.
UNWORKED = "E1"


def number_of(error: BaseException) -> str:
    """
    The number of a fault: the same for the same fault at the same line, so that it can be found
    again.

    Examples
    --------
    >>> number_of(ZeroDivisionError("division by zero")).startswith("F-")
    True
    """
    frames = traceback.extract_tb(error.__traceback__)
    trail = "|".join(
        f"{frame.filename.rpartition('/')[2]}:{frame.name}:{frame.lineno}" for frame in frames[-4:]
    )
    return f"F-{hashlib.sha256(f'{type(error).__name__} {trail}'.encode()).hexdigest()[:6].upper()}"


def unworked(where: str, what: str, error: Exception) -> Finding:
    """
    The finding for a piece of a build that could not be worked out.

    Parameters
    ----------
    where : str
        Id of the channel or input, ``rail:ID``, or ``build``
    what : str
        What was worked out, in the words of the build
    error : Exception
        A refusal speaks for itself; anything else is a fault of the program and goes to the log
    """
    if isinstance(error, Refusal):
        cause = str(error)
    else:
        number = number_of(error)
        LOG.error("%s while working out %s", number, in_one_line(what), exc_info=error)
        cause = (
            "The figures lie so far from any the sums were made for that one of them failed (fault"
            f" {number}, in the log)."
        )
    return Finding(
        UNWORKED,
        "check",
        where,
        f"{what[:60]} is not worked out",
        in_one_line(cause),
        "Everything else of the build is worked out; this piece is not, so nothing is said for it.",
        "as entered",
    )


def guarded(work: Callable, instead, where: str, what: str, told: list[Finding]):
    """
    The outcome of a piece of work, or ``instead`` with a finding told where it fails.

    Examples
    --------
    >>> told = []
    >>> guarded(lambda: 1 / 0, None, "ch1", "Lamp", told), told[0].check, told[0].where
    (None, 'E1', 'ch1')
    """
    try:
        return work()
    except Exception as error:
        told.append(unworked(where, what, error))
        return instead
