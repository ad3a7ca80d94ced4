"""A reading as it stands on the meter, judged against its window."""

from __future__ import annotations

import re
from dataclasses import dataclass

from latchcore.figures.typed import Refusal, quoted
from latchcore.procedure.steps import ALTERNATING_VOLTS, AMPERES, LOOK, MILLIAMPERES, VOLTS, Step

#: What stands on a range of milliamperes [A].
MILLI = 1e-3
#: Settings on which over range is never as expected.
NO_OL = frozenset({VOLTS, ALTERNATING_VOLTS, MILLIAMPERES, AMPERES})
#: Letters behind a figure, as meters print them.
SHARES = {"": 1.0, "k": 1e3, "M": 1e6, "m": 1e-3, "u": 1e-6, "µ": 1e-6}
TYPED = re.compile(r"([+-]?\d+(?:[.,]\d*)?|[+-]?[.,]\d+)\s*([kMmuµ]?)\s*(V|Ω|ohm|ohms|A)?", re.A)
OVER = frozenset({"ol", "o.l", "0l", "over", "1 ."})
#: What is answered to a look.
YES, NO = frozenset({"yes", "as said", "ok", "y"}), frozenset({"no", "not", "n"})


class ReadingError(Refusal):
    """A reading that cannot be understood."""


def volts_typed(typed: str) -> float:
    """
    A voltage as it stands on the meter [V].

    Raises
    ------
    ReadingError
        If it is none

    Examples
    --------
    >>> volts_typed("120 mV"), volts_typed("-12,1")
    (0.12, -12.1)
    """
    found = TYPED.fullmatch(typed.strip())
    if found is None:
        raise ReadingError(
            f"{quoted(typed)} is no reading; expected what stands on the meter, such as “0.74”,"
            " “-12.1”, “1.2k” or “OL”."
        )
    return float(found[1].replace(",", ".")) * SHARES[found[2]]


def bare(typed: str) -> bool:
    """
    Whether a reading stands there without a letter or a unit, as a range has it.

    Examples
    --------
    >>> bare("35.2"), bare("35.2 mA"), bare("0.035 A")
    (True, False, False)
    """
    found = TYPED.fullmatch(typed.strip())
    return found is not None and not found[2] and not found[3]


def typed_as(typed: str, unit: str) -> float:
    """
    A reading in a unit: in volts as it stands, in amperes as milliamperes where it stands bare.

    Raises
    ------
    ReadingError
        If it is none

    Examples
    --------
    >>> typed_as("35.2", "A"), typed_as("1.2 A", "A"), typed_as("35.2", "V")
    (0.0352, 1.2, 35.2)
    """
    value = volts_typed(typed)
    return value * MILLI if unit == "A" and bare(typed) else value


@dataclass(frozen=True, slots=True)
class Verdict:
    """Whether a reading is as expected, and where it lies: ``inside``, ``under``, ``over``."""

    good: bool
    where: str

    @property
    def words(self) -> str:
        """In words."""
        return {"under": "Too low", "over": "Too high", "inside": "As expected"}.get(
            self.where, "Not as said"
        )


def judge(step: Step, typed: str) -> Verdict:
    """
    Judge what was typed.

    Raises
    ------
    ReadingError
        If it is no reading of that kind

    Examples
    --------
    >>> step = Step("s5-A2-on", 5, "", "direct volts", "", ("A2", "0 V"), 0.05, 0.25, "V")
    >>> judge(step, "0.12").where, judge(step, "310m").where, judge(step, "-0,4 V").where
    ('inside', 'over', 'under')
    """
    text = typed.strip()
    if step.setting == LOOK:
        word = text.lower()
        if word in YES | NO:
            return Verdict(word in YES, "inside" if word in YES else "not as said")
        raise ReadingError(f"{quoted(typed)} is no answer to a look; expected “yes” or “no”.")
    if text.lower() in OVER:
        good = step.most is None and step.setting not in NO_OL
        return Verdict(good, "inside" if good else "over")
    value = typed_as(text, "A" if step.setting == MILLIAMPERES else "")
    if step.least is None and step.most is None:
        # Where nothing may get through, any figure is a way through.
        return Verdict(False, "under")
    if step.least is not None and value < step.least:
        return Verdict(False, "under")
    if step.most is not None and value > step.most:
        return Verdict(False, "over")
    return Verdict(True, "inside")
