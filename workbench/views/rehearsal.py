"""A behaviour rehearsed on the build's own figures, and walked through to its last state."""

from __future__ import annotations

from functools import lru_cache
from urllib.parse import urlencode

from django.http import HttpRequest, HttpResponse
from django.urls import reverse

from drawings.lanes import rehearsal_plan
from latchcore.advice.asked import Asked, ask
from latchcore.advice.rehearsed import Rehearsed, rehearse
from latchcore.behaviour.faults import BehaviourError
from latchcore.behaviour.named import Names
from latchcore.behaviour.script import MOST_LINES, ScriptError, read_script, script_of
from latchcore.document.models import Build as Document
from latchcore.document.texts import LONGEST, seconds
from latchcore.figures.quantity import QuantityError
from latchcore.formats.inputsfile import MOST_BYTES, InputsFileError, read_inputs
from workbench.drawer import catalogue
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage

#: A rehearsal is so long unless stated.
USUAL_LENGTH = "60 s"
#: So many rows of what happened are listed.
MOST_ROWS = 200
#: How long a walk may take on the page [s].
WALK = 8.0
#: What may be put in at the cursor, beside readings.
INJECTED = (
    ("power off", "Power fails"),
    ("power on", "Power returns"),
    ("reset", "Reset"),
    ("hang", "The program hangs"),
    ("alive", "A sign of life"),
)


class Rehearsal(BuildPage):
    """Lanes of inputs, channels and currents over time."""

    page = Page("behaviour/rehearsal/", "rehearsal", "behaviour", "behaviour/rehearsal.html")

    def get(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Show it as the address says."""
        return self.show(request, self.build(pk), asked=request.GET.dict(), **kwargs)

    def post(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """A file of inputs becomes the script; anything else is an edit as on every page."""
        file = request.FILES.get("inputs")
        if file is None:
            return super().post(request, pk, **kwargs)
        build, asked = self.build(pk), {}
        try:
            found = read_inputs(build.document, file.name or "", file.read(MOST_BYTES + 1))
            if len(found) > MOST_LINES:
                raise InputsFileError(
                    f"It holds {len(found)} readings; on this page a script takes up to"
                    f" {MOST_LINES}. zinc-latch rehearse takes them all."
                )
            asked["script"] = script_of(build.document, {}, found)
            asked["seconds"] = f"{max(h.t for h in found) + 10:g} s"
        except InputsFileError as error:
            asked["wrong"] = f"{error} Nothing was taken from it."
        return self.show(request, build, status=422 if "wrong" in asked else 200, asked=asked)

    def content(self, build: Build, **kwargs) -> dict:
        """The run, or what keeps it from running."""
        asked = kwargs.get("asked") or {}
        script = "\n".join(asked.get("script", "").splitlines())
        length = asked.get("seconds", USUAL_LENGTH).strip() or USUAL_LENGTH
        page = {"length": length, "wrong": asked.get("wrong", ""), "injected": INJECTED}
        page["at"] = at = asked.get("at", "0")
        if asked.get("add"):
            script = f"{script}\n{at} {asked['add']}".strip()
        page["script"] = script
        page["senses"] = list(Names.of(build.document).senses.values())
        page["commands"] = build.document.does.commands
        try:
            long = seconds(length)
            if not 0 < long <= LONGEST:
                raise QuantityError(f"“{length}” is no length; expected up to 31 days (744 h).")
            happenings = read_script(build.document, script)
            found = rehearse(build.document, happenings, long, catalogue=catalogue())
        except (QuantityError, ScriptError) as error:
            return page | {"wrong": str(error)}
        except BehaviourError as error:
            return page | {"faults": error.faults}
        return page | _told(build, found, script, length, _number(at))


def _number(text: str) -> float:
    try:
        return max(float(text), 0.0)
    except ValueError:
        return 0.0


def _told(build: Build, found: Rehearsed, script: str, length: str, at: float) -> dict:
    """The run drawn and listed."""
    senses = Names.of(build.document).senses
    channels = [part.name for part in found.program.channels]
    of = {part.id: part.name for part in found.program.channels}
    does = build.document.does
    of |= {p.id: p.name for p in (*does.sequences, *does.macros, *does.queues)}
    rows = [(found.time(w.step), channels[w.channel], _said(found, w.channel, w.level),
             w.reason.replace("_", " "), False) for w in found.run.changes]  # fmt: skip
    alarms = [(found.time(a.step), of.get(a.of, a.of), a.alarm.replace("_", " "))
              for a in found.run.alarms]  # fmt: skip
    rows += [(t, name, f"alarm: {alarm}", "", True) for t, name, alarm in alarms]
    rows.sort(key=lambda row: row[0])
    stops = sorted({round(b.t, 6) for b in found.breaches} | {t for t, *_ in alarms})
    levels = [
        {"name": name, "points": [[found.time(w.step), _said(found, n, w.level)]
                                  for w in found.run.changes if w.channel == n]}
        for n, name in enumerate(channels) if found.program.channels[n].requests
    ]  # fmt: skip
    return {
        "found": found,
        "plan": rehearsal_plan(found, senses, at),
        "rows": rows[:MOST_ROWS],
        "more": max(len(rows) - MOST_ROWS, 0),
        "breaches": [(round(b.t, 6), b.words) for b in found.breaches],
        "stops": stops,
        "levels": levels,
        "span": round(found.run.last * found.run.step, 6),
        "step_s": found.run.step,
        "address": urlencode({"script": script, "seconds": length}),
        "sums": [c for c in found.channels if c.starts],
    }


def _said(found: Rehearsed, channel: int, level: int) -> str:
    if found.program.channels[channel].scaled:
        return f"{level} %"
    return "on" if level else "off"


class Explorer(BuildPage):
    """Every state the behaviour can reach, and what was found among them."""

    page = Page("behaviour/explorer/", "explorer", "behaviour", "behaviour/explorer.html")

    def get(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Show the page; walk only where that was asked for."""
        return self.show(request, self.build(pk), walk="walk" in request.GET, **kwargs)

    def content(self, build: Build, **kwargs) -> dict:
        """What was found, each with a way to replay it."""
        if not kwargs.get("walk", True) or build.document.does.empty:
            return {"asked": None}
        try:
            asked = _walked(build.document.model_dump_json())
        except BehaviourError as error:
            return {"asked": None, "faults": error.faults}
        return {
            "asked": asked,
            "items": [(item, *_way(build, item)) for item in asked.found],
        }


def _way(build: Build, item) -> tuple[list[str], str]:
    """The way to what was found, in words, and the address that replays it."""
    script = script_of(build.document, item.answer.start, item.answer.trace)
    if item.answer.at is None:
        return [], ""
    long = max(item.answer.at * 1.5, item.answer.at + 1)
    address = urlencode(
        {"script": script, "seconds": f"{long:.6g} s", "at": f"{item.answer.at:.6g}"}
    )
    return script.splitlines(), f"{reverse('rehearsal', args=[build.pk])}?{address}"


@lru_cache(maxsize=64)
def _walked(document: str) -> Asked:
    """A walk of a document, once."""
    return ask(Document.model_validate_json(document), WALK)
