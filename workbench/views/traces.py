"""The plan of every line as a file, and a capture of levels held against it."""

from __future__ import annotations

from urllib.parse import urlencode

from django.http import HttpRequest, HttpResponse

from drawings.captured import captured_plan
from latchcore.advice.rehearsed import rehearse
from latchcore.behaviour.faults import BehaviourError
from latchcore.behaviour.script import ScriptError, read_script
from latchcore.document.texts import LONGEST, seconds
from latchcore.figures.quantity import QuantityError, plain_number
from latchcore.figures.trace import Trace
from latchcore.formats.capturefile import MOST_BYTES, CaptureFileError, read_capture
from latchcore.formats.tracefile import traces_csv, traces_dump
from latchcore.program.compared import compare
from latchcore.program.plan import ProgramPlan
from latchcore.program.traces import called, planned_traces, start_traces
from workbench.drawer import catalogue
from workbench.models import Build
from workbench.stations import Page
from workbench.views.outward import attached, plan_of
from workbench.views.pages import BuildPage
from workbench.views.rehearsal import USUAL_LENGTH

KINDS = {"vcd": "text/plain; charset=ascii", "csv": "text/csv; charset=utf-8"}


class Traces(BuildPage):
    """What each line should do over time, out as a file; what it did, in as one."""

    page = Page("behaviour/traces/", "traces", "behaviour", "behaviour/traces.html")

    def get(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Show it, or give a file of it."""
        build, asked = self.build(pk), request.GET.dict()
        of, _, kind = asked.get("file", "").partition(".")
        if kind in KINDS and of in ("rehearsal", "start"):
            plan = plan_of(build)
            try:
                traces = start_traces(plan) if of == "start" else self._planned(plan, asked)
            except (QuantityError, ScriptError, BehaviourError):
                return self.show(request, build, asked=asked, **kwargs)
            text = traces_csv(traces) if kind == "csv" else traces_dump(traces, of)
            return attached(text, KINDS[kind], f"{plan.slug}-{of}.{kind}")
        return self.show(request, build, asked=asked, **kwargs)

    def post(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Hold a capture against the plan; anything else is an edit."""
        file = request.FILES.get("capture")
        if file is None and request.POST.get("edit"):
            return super().post(request, pk, **kwargs)
        asked = {key: request.POST.get(key, "") for key in ("script", "seconds", "begins")}
        build = self.build(pk)
        if file is None:
            asked["wrong"] = "No file was sent; expected a capture, a table or a dump."
            return self.show(request, build, status=422, asked=asked, **kwargs)
        held = self._held(build, asked, file.name or "", file.read(MOST_BYTES + 1))
        return self.show(
            request, build, status=422 if "wrong" in held else 200, asked=asked | held, **kwargs
        )

    @staticmethod
    def _planned(plan: ProgramPlan, asked: dict) -> list[Trace]:
        long = seconds(asked.get("seconds", "").strip() or USUAL_LENGTH)
        if not 0 < long <= LONGEST:
            raise QuantityError(f"“{asked['seconds']}” is no length; expected up to 31 days.")
        happenings = read_script(plan.build, "\n".join(asked.get("script", "").splitlines()))
        return planned_traces(plan, rehearse(plan.build, happenings, long, catalogue=catalogue()))

    def _held(self, build: Build, asked: dict, name: str, content: bytes) -> dict:
        """A capture beside the plan, with what differs."""
        plan = plan_of(build)
        text = asked["begins"].strip() or "0"
        begins = plain_number(text)
        if begins is None:
            return {"wrong": f"“{text}” is no time; expected seconds, such as “1.2” or “0”."}
        try:
            planned = self._planned(plan, asked)
            found = read_capture(name, content, called(plan))
        except BehaviourError as error:
            return {"wrong": f"It cannot be rehearsed yet: {error}"}
        except (QuantityError, ScriptError, CaptureFileError) as error:
            return {"wrong": f"{error} Nothing was taken from it."}
        captured = [
            Trace(line, "", tuple((t - begins, level) for t, level in points))
            for line, points in found.items()
        ]
        last = max(points[-1][0] for points in found.values()) - begins
        first = min(min(points[0][0] for points in found.values()) - begins, 0.0)
        last = max(last, 1e-3)
        differences = compare(planned, captured, last)
        return {
            "name": name,
            "differences": differences,
            "picture": captured_plan(planned, captured, differences, (first, last)),
            "lines": len(captured),
        }

    def content(self, build: Build, **kwargs) -> dict:
        """The script the plan is of, what was held against it."""
        asked = dict(kwargs.get("asked") or {})
        length = asked.pop("seconds", "").strip() or USUAL_LENGTH
        script = "\n".join(asked.pop("script", "").splitlines())
        page = {"script": script, "length": length, "begins": asked.pop("begins", "") or "0"}
        page |= {"address": urlencode({"script": script, "seconds": length}), "faults": []}
        plan = plan_of(build)
        try:
            page["planned"] = self._planned(plan, {"script": script, "seconds": length})
        except BehaviourError as error:
            page["faults"] = error.faults
        except (QuantityError, ScriptError) as error:
            asked.setdefault("wrong", str(error))
        return page | asked
