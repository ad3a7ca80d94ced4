"""The power-up plan: by stages on paper, one step a screen on a phone, a reading judged at once."""

from __future__ import annotations

from string import ascii_uppercase as LETTERS
from urllib.parse import urlencode

from django.http import HttpRequest, HttpResponse

from drawings.schematic import schematic
from latchcore.procedure.judging import ReadingError, judge
from latchcore.procedure.plan import LOOK, STAGES, Plan, Step, plan_of
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage


def carried(step: Step, typed: str) -> str:
    """What was read at a step, as the search for a fault asks for it."""
    if step.between is None or step.unit != "V":
        return ""
    state, point = step.id.rpartition("-")[2], step.between[0].lstrip(LETTERS)
    return f"?{urlencode({f'{state}-{point}': typed})}"


class FirstPower(BuildPage):
    """What to look at and to read before anything is trusted."""

    page = Page("first-power/", "first-power", "first-power", "build/first_power.html", "t",
                "First power")  # fmt: skip

    def get(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """The whole plan, or the step asked for with what was read."""
        return self.show(request, self.build(pk), asked=request.GET.dict(), **kwargs)

    def content(self, build: Build, **kwargs) -> dict:
        """Stages with their steps; of one step its neighbours and its verdict."""
        asked = kwargs.get("asked") or {}
        plan = plan_of(build.around, build.report)
        stages = [(n, title, [s for s in plan.steps if s.stage == n])
                  for n, title in enumerate(STAGES)]  # fmt: skip
        page = {"plan": plan, "stages": [s for s in stages if s[2]], "looks": LOOK}
        step = plan.step(asked.get("step", ""))
        if step is None:
            return page | {"lost_step": bool(asked.get("step"))}
        page["picture"] = self._drawn(build, step)
        return page | self._one(plan, step, asked.get("reading", ""))

    @staticmethod
    def _drawn(build: Build, step: Step) -> str:
        """The drawing of the channel a step is about, with its points as numbers."""
        channel = build.document.channel(step.channel) if step.channel else None
        told = build.report.channel(channel.id) if channel else None
        if channel is None or told is None or told.result is None:
            return ""
        return schematic(told.result, build.around, channel)

    @staticmethod
    def _one(plan: Plan, step: Step, typed: str) -> dict:
        at = plan.steps.index(step)
        found = {
            "step": step,
            "title": STAGES[step.stage],
            "number": at + 1,
            "before": plan.steps[at - 1] if at else None,
            "after": plan.steps[at + 1] if at + 1 < len(plan.steps) else None,
            "typed": typed,
            "gated": bool(plan.gates) and step.stage > 0,
        }
        if typed.strip() and not found["gated"]:
            try:
                verdict = judge(step, typed)
                found |= {"verdict": verdict, "meant": step.meant(verdict.where)}
                found["carried"] = carried(step, typed)
            except ReadingError as error:
                found["wrong"] = str(error)
        return found
