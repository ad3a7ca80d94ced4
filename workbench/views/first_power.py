"""The power-up plan: by stages on paper, one step a screen on a phone, a reading judged at once."""

from __future__ import annotations

from string import ascii_uppercase as LETTERS
from urllib.parse import urlencode

from django.db import transaction
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404

from drawings.schematic import schematic
from latchcore.bench.hidden import named
from latchcore.bench.undriven import RESET
from latchcore.edits import EditError
from latchcore.figures.typed import whole
from latchcore.procedure.finding import HELD, IN_SERIES
from latchcore.procedure.judging import bare, judge
from latchcore.procedure.plan import LOOK, STAGES, Step
from latchcore.procedure.progress import Progress
from latchcore.procedure.steps import MILLIAMPERES
from workbench.actions import running
from workbench.models import Build, Run, RunEntry
from workbench.stations import Page
from workbench.views.pages import BuildPage

#: Runs listed under the plan.
LISTED = 20


def carried(progress: Progress, channel: str) -> str:
    """What was read of a channel in a run, as the search for a fault asks for it."""
    read = {}
    for step in progress.plan.steps:
        entry = progress.entries.get(step.id)
        if entry is None or not entry.typed or step.channel != channel or not step.between:
            continue
        if step.about == RESET:
            read[f"{HELD}-{step.between[0].lstrip(LETTERS)}"] = entry.typed
        elif step.unit == "V" and step.state:
            read[f"{step.state}-{step.between[0].lstrip(LETTERS)}"] = entry.typed
        elif step.unit == "A" and step.state:
            amps = "" if step.setting == MILLIAMPERES or not bare(entry.typed) else " A"
            read[f"{IN_SERIES}{step.about}-{step.state}"] = entry.typed + amps
    return f"?{urlencode(read)}" if read else ""


def tips(nodes: tuple[str, str] | None) -> dict[str, dict[str, str]]:
    """Marks of a drawing: where the red tip goes, and the black one."""
    return {
        node: {"data_probe": tip}
        for node, tip in zip(nodes or (), ("red", "black"), strict=False) if node
    }  # fmt: skip


class FirstPower(BuildPage):
    """What to look at and to read before anything is trusted."""

    page = Page("first-power/", "first-power", "first-power", "build/first_power.html", "t",
                "First power", touched=lambda build: build.runs.exists())  # fmt: skip

    def get(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """The whole plan, or the step asked for with what was read."""
        return self.show(request, self.build(pk), asked=request.GET.dict(), **kwargs)

    def post(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Begin a run, read, skip or end; an edit of the build goes the way of all edits."""
        if "do" not in request.POST:
            return super().post(request, pk, **kwargs)
        build, asked = self.build(pk), request.POST.dict()
        try:
            # A run that begins with what is then refused has not begun.
            with transaction.atomic():
                run, on = self._done(build, asked)
        except EditError as error:
            refused = {"wrong": str(error), "about": error.field, **kwargs}
            return self.show(request, build, status=422, asked=asked, **refused)
        then = {"run": str(run.pk)} | ({"step": on} if on else {})
        address = f"{request.path}?{urlencode(then)}"
        if not request.htmx:
            return HttpResponseRedirect(address)
        answer = self.show(request, self.build(pk), asked=then, **kwargs)
        answer["HX-Push-Url"] = address
        return answer

    def _done(self, build: Build, asked: dict[str, str]) -> tuple[Run, str]:
        """The run after what was asked, and the step to go on with."""
        do = asked["do"]
        if do == "start":
            run = running.start_run(build, asked.get("kind", ""), asked.get("fault", ""),
                                    asked.get("meter", ""))  # fmt: skip
            return run, self._next(build, run)
        run = self._run(build, asked) or running.start_run(build, Run.BENCH)
        if do in ("end", "reveal"):
            running.end(run, "shown" if do == "reveal" else "left")
            return run, ""
        step = running.plan_for(build, run).step(asked.get("step", ""))
        if step is None:
            raise EditError("That step is no longer in the plan; choose one from the list.")
        if do == "skip":
            running.skip(build, run, step, asked.get("reason", ""))
        elif do == "simulate":
            entry = running.read_simulated(build, run, step)
            return run, self._next(build, run) if entry.good else step.id
        elif do == "read":
            entry = running.enter(build, run, step, asked.get("reading", ""))
            return run, self._next(build, run) if entry.good else step.id
        else:
            raise EditError(f"“{do[:40]}” is nothing that can be done here.")
        return run, self._next(build, run)

    @staticmethod
    def _next(build: Build, run: Run) -> str:
        run.refresh_from_db()
        step = running.progress_for(build, run).next
        return step.id if step is not None and run.ended is None else ""

    @staticmethod
    def _run(build: Build, asked: dict[str, str]) -> Run | None:
        """The run asked for, else the last that is not over."""
        number = whole(asked.get("run", ""), 1, 2**62)
        if number is not None:
            return get_object_or_404(Run, pk=number, build=build)
        return build.runs.filter(ended=None).first()

    def content(self, build: Build, **kwargs) -> dict:
        """Stages with their steps; of one step its neighbours and its verdict."""
        asked = kwargs.get("asked") or {}
        run = self._run(build, asked)
        progress = running.progress_for(build, run)
        plan = progress.plan
        last = {e.step: e for e in run.entries.all()} if run is not None else {}
        stages = [
            (n, title, [(s, progress.standing[s.id], last.get(s.id))
                        for s in plan.steps if s.stage == n])
            for n, title in enumerate(STAGES)
        ]  # fmt: skip
        meter = running.meter_of(run)
        page = {
            "plan": plan, "stages": [s for s in stages if s[2]], "looks": LOOK, "run": run,
            "progress": progress, "meter": meter, "runs": build.runs.all()[:LISTED],
            "passed": progress.count("passed"), "skipped": progress.count("skipped"),
            "hid": self._hid(build, run),
        }  # fmt: skip
        page["meters"] = sorted((m.id, m.title) for m in build.around.catalogue.of_family("meter"))
        step = plan.step(asked.get("step", ""))
        if step is None:
            return page | {"lost_step": bool(asked.get("step"))}
        page["picture"] = self._drawn(build, step)
        return page | self._one(progress, step, asked, last)

    @staticmethod
    def _hid(build: Build, run: Run | None) -> str:
        """What a run hid, once it is over."""
        if run is None or not run.fault or run.ended is None:
            return ""
        found = named(build.around, build.report, run.fault)
        return found.words if found is not None else f"“{run.fault}”, which is no longer there"

    @staticmethod
    def _drawn(build: Build, step: Step) -> str:
        """The drawing of the channel a step is about, both points marked."""
        channel = build.document.channel(step.channel) if step.channel else None
        told = build.report.channel(channel.id) if channel else None
        if channel is None or told is None or told.result is None:
            return ""
        return schematic(told.result, build.around, channel, tips(step.nodes))

    @staticmethod
    def _one(
        progress: Progress, step: Step, asked: dict[str, str], last: dict[str, RunEntry]
    ) -> dict:
        plan, entry = progress.plan, last.get(step.id)
        at = plan.steps.index(step)
        before = plan.steps[at - 1] if at else None
        found = {
            "step": step,
            "title": STAGES[step.stage],
            "number": at + 1,
            "before": before,
            "after": plan.steps[at + 1] if at + 1 < len(plan.steps) else None,
            "typed": asked.get("reading", ""),
            "reason": asked.get("reason", ""),
            "locked": progress.locked(step),
            "standing": progress.standing[step.id],
            "entry": entry,
            "done_before": last.get(before.id) if before is not None else None,
        }
        if entry is not None and entry.typed and progress.standing[step.id] == "missed":
            verdict = judge(step, entry.typed)
            found |= {"verdict": verdict, "meant": step.meant(verdict.where)}
            found["carried"] = carried(progress, step.channel)
        return found
