"""Resistors and parts of a stage that may be sized again."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried
from latchcore.stages import STAGES

#: Resistors in series with what drives a stage, with what they are called in a label.
SERIES = (("base_resistor", "base"), ("gate_resistor", "gate"), ("series_resistor", "series"))
#: Watts a resistor can be bought in above the usual quarter.
LARGER = ("0.5 W", "1 W", "2 W")


@tried
def resistors(case: Case) -> Iterator[Candidate]:
    """The series resistor as it would be sized."""
    for key, words in SERIES:
        if key in case.fixed:
            yield f"Use {{{key}}} Ω as the {words} resistor", case.setting(**{key: "auto"})


@tried
def pull(case: Case) -> Iterator[Candidate]:
    """The pull resistor as it would be sized."""
    if "pull_resistor" in case.fixed:
        yield "Fit a pull resistor of {pull_resistor} Ω", case.setting(pull_resistor="auto")


@tried
def pull_side(case: Case) -> Iterator[Candidate]:
    """A pull-down on the pin side takes nothing from the gate."""
    if case.fixed.get("pull_side") == "gate":
        yield "Move the pull-down to the pin side", case.setting(pull_side="pin")


@tried
def part(case: Case) -> Iterator[Candidate]:
    """The smallest class of switch that holds."""
    if "transistor" in case.fixed:
        yield "Use the {transistor}", case.setting(transistor="auto")


@tried
def school(case: Case) -> Iterator[Candidate]:
    """The build's own school of sizing."""
    if case.fixed.get("school"):
        yield "Size by the build's own school", case.setting(school="auto")


@tried
def watts(case: Case) -> Iterator[Candidate]:
    """A larger resistor."""
    for size in LARGER:
        yield f"Fit a {size} resistor", case.setting(resistor_watts=size)


@tried
def let_be_sized(case: Case) -> Iterator[Candidate]:
    """
    Whatever the user fixed may be what stands in the way: let it be sized again, one thing at a
    time.
    """
    for setting in STAGES[case.result.kind].settings:
        # A fact that was stated is sized by nobody: taken back it would only be forgotten.
        sized = case.result.value(setting.key) is not None or setting.key in case.result.parts
        if setting.key in case.fixed and setting.kind != "choice" and sized:
            yield (
                f"Let the {setting.label.lower()} be sized: {{{setting.key}}}",
                case.setting(**{setting.key: "auto"}),
            )
