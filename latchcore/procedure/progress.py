"""How far a run of the plan has come: which steps passed, what is locked, what is next."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from latchcore.figures.typed import Refusal, in_one_line
from latchcore.procedure.plan import STAGES, Plan, Step

Standing = Literal["open", "passed", "missed", "skipped", "stale"]
#: A reason is at least so long, and at most.
LEAST_REASON, MOST_REASON = 3, 300


class NotSkipped(Refusal):
    """A step that cannot be skipped, or not without a reason."""


@dataclass(frozen=True, slots=True)
class Entry:
    """
    What was entered at a step: its reading with its verdict, or the reason it was skipped for.

    ``stamp`` is that of the step as it stood then.
    """

    step: str
    stamp: str
    typed: str = ""
    good: bool = False
    skipped: str = ""


@dataclass(frozen=True)
class Progress:
    """
    A plan with what was entered; of one step the last entry counts.

    Attributes
    ----------
    plan : Plan
    standing : dict
        Of each step
    entries : dict
        The last entry of each step that has one
    """

    plan: Plan
    standing: Mapping[str, Standing]
    entries: Mapping[str, Entry]

    @cached_property
    def clear(self) -> int:
        """Stages that are done with, counted from the first: the number of the one at work."""
        open_in = [s.stage for s in self.plan.steps if not self.done(s)]
        return min(open_in, default=len(STAGES))

    def done(self, step: Step) -> bool:
        """Whether a step was passed or skipped as it stands now."""
        return self.standing[step.id] in ("passed", "skipped")

    def locked(self, step: Step) -> str:
        """Why a step cannot be done yet; empty where it can."""
        if step.stage > 0 and self.plan.gates:
            return f"{self.plan.gates[0]}. Nothing after stage 0 while that stands."
        if step.stage <= self.clear:
            return ""
        first = next(s for s in self.plan.steps if not self.done(s))
        what = {
            "missed": "was not as expected",
            "stale": "was read before the design moved on",
        }.get(self.standing[first.id], "is still open")
        return f"Stage {first.stage}, “{first.words}”, {what}."

    @property
    def next(self) -> Step | None:
        """The first step that is not done; a missed one only once nothing else of its stage is."""
        stage = [s for s in self.plan.steps if s.stage == self.clear and not self.done(s)]
        if not stage or self.locked(stage[0]):
            return None
        return next((s for s in stage if self.standing[s.id] != "missed"), stage[0])

    @property
    def whole(self) -> bool:
        """Whether every step is done."""
        return bool(self.plan.steps) and all(self.done(s) for s in self.plan.steps)

    @property
    def missed(self) -> list[Step]:
        """Steps whose last reading was not as expected."""
        return [s for s in self.plan.steps if self.standing[s.id] == "missed"]

    def count(self, standing: Standing) -> int:
        """How many steps stand so."""
        return sum(1 for s in self.plan.steps if self.standing[s.id] == standing)


def progress_of(plan: Plan, entries: Iterable[Entry]) -> Progress:
    """
    How far a run has come.

    Examples
    --------
    >>> from latchcore.procedure.plan import LOOK
    >>> plan = Plan((Step("s0", 0, "Look", LOOK, ""), Step("s1", 1, "On", LOOK, "")), (), ())
    >>> found = progress_of(plan, [Entry("s0", plan.steps[0].stamp, "no")])
    >>> found.standing["s0"], found.locked(plan.steps[1])
    ('missed', 'Stage 0, “Look”, was not as expected.')
    """
    last = {e.step: e for e in entries}
    standing: dict[str, Standing] = {}
    for step in plan.steps:
        entry = last.get(step.id)
        if entry is None:
            standing[step.id] = "open"
        elif entry.stamp != step.stamp:
            standing[step.id] = "stale"
        elif entry.skipped:
            standing[step.id] = "skipped"
        else:
            standing[step.id] = "passed" if entry.good else "missed"
    return Progress(plan, standing, last)


def reason_for(step: Step, typed: str) -> str:
    """
    The reason a step is skipped for, in one line.

    Raises
    ------
    NotSkipped
        If it cannot be skipped, or no reason was given
    """
    if step.held:
        raise NotSkipped(
            f"“{step.words}” cannot be skipped: what rests on it can hurt, or cannot be had again."
        )
    reason = in_one_line(typed).strip()
    if not LEAST_REASON <= len(reason) <= MOST_REASON:
        raise NotSkipped(
            f"A skip needs a reason of {LEAST_REASON} to {MOST_REASON} letters, such as “no motor"
            f" here yet”; “{reason[:40]}” was given."
        )
    return reason
