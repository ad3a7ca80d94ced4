"""Steps of a power-up plan, and the plan they make."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass, replace

from latchcore.bench.readings import window_words
from latchcore.figures.quantity import show
from latchcore.procedure.misses import MOST_NAMED, Miss

STAGES = (
    "Dead and unplugged: eyes and meter",
    "Supplies alone",
    "Logic only",
    "Dummy load",
    "Inputs",
    "Low voltage with a current limit",
    "The real load",
    "Acceptance",
    "Mains, last",
)
VOLTS, OHMS, LOOK = "direct volts", "ohms, circuit dead", "look"
#: Of a rail of alternating current that does not hurt.
ALTERNATING_VOLTS = "alternating volts"
#: In series; what is typed without a letter is in what the range is called.
MILLIAMPERES, AMPERES = "milliamperes, in the opened lead", "amperes, in the opened lead"
#: What a supply at the bench is limited to, beside what is expected.
LIMIT = 1.2
#: What a check of one's own says of a miss.
OWN = "It happened once, and this was to prevent it: put it right before any power."


@dataclass(frozen=True, slots=True)
class Step:
    """
    One step.

    Attributes
    ----------
    id : str
    stage : int
    words : str
        What to do
    setting : str
        Of the meter, or ``look``
    between : (str, str), optional
        The two points
    least, most : float, optional
        Expected window, in ``unit``; a look has none
    unit : str
    miss : str
        What a miss means and what to look at next
    channel : str
        Id of the channel it belongs to, if any
    nodes : (str, str), optional
        The nodes of the two points
    state : str
        What the channel is told
    about : str
        What a look or a reading is about: a rail, an input, ``walk``, ``contact``, ``heat``
    """

    id: str
    stage: int
    words: str
    setting: str
    miss: str
    between: tuple[str, str] | None = None
    least: float | None = None
    most: float | None = None
    unit: str = ""
    channel: str = ""
    #: The nodes of both points, how the channel is commanded, what a look is about.
    nodes: tuple[str, str] | None = None
    state: str = ""
    about: str = ""
    #: Whether it cannot be skipped; what else is to be known of it.
    held: bool = False
    note: str = ""
    #: Faults that would put a reading outside, where they were worked out.
    causes: Miss | None = None

    @property
    def stamp(self) -> str:
        """What was asked and expected, so that a reading of a design that moved on is known."""
        asked = (self.words, self.setting, self.between, self.least, self.most, self.state)
        return hashlib.sha256(repr(asked).encode()).hexdigest()[:8]

    def meant(self, where: str) -> str:
        """What a miss on one side means: ``under`` or ``over``."""
        if self.causes is None or where not in ("under", "over"):
            return self.miss
        named = self.causes.under if where == "under" else self.causes.over
        if not named:
            return "No single fault that is looked for reads so: look at it with the board dead."
        return f"What would do that: {', '.join(named[:MOST_NAMED])}."

    @property
    def window(self) -> str:
        """What is expected, in words."""
        if self.setting == LOOK:
            return "as said"
        if self.most is None:
            return "OL" if self.least is None else f"over {show(self.least, self.unit)}"
        if self.unit == "V" and self.least is not None:
            return window_words(self.least, self.most)
        low = show(self.least, self.unit) if self.least else f"0 {self.unit}"
        return f"{low} to {show(self.most, self.unit)}"


@dataclass(frozen=True)
class Plan:
    """
    Steps in the order of stages; ``gates`` are findings that stop all after the first stage while
    they stand; ``left_out`` what could not be worked out, in words.
    """

    steps: tuple[Step, ...]
    gates: tuple[str, ...]
    left_out: tuple[str, ...]

    def step(self, step_id: str) -> Step | None:
        """The step of that id."""
        return next((s for s in self.steps if s.id == step_id), None)


def with_own(plan: Plan, own: Iterable[tuple[str, str]]) -> Plan:
    """
    A plan with checks of one's own, by id and words, behind what is looked at with the board dead.

    Examples
    --------
    >>> plan = Plan((Step("s0-a", 0, "A", LOOK, ""), Step("s1-b", 1, "B", LOOK, "")), (), ())
    >>> [s.id for s in with_own(plan, [("7", "The strain relief is tight")]).steps]
    ['s0-a', 's0-own-7', 's1-b']
    """
    made = tuple(Step(f"s0-own-{key}", 0, words, LOOK, OWN, about="own") for key, words in own)
    if not made:
        return plan
    dead = tuple(s for s in plan.steps if s.stage == 0)
    return replace(plan, steps=(*dead, *made, *plan.steps[len(dead) :]))
