"""What leaves the screen as a file: lists, drawings, the sheet, everything at once."""

from __future__ import annotations

from collections.abc import Callable

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_GET

from drawings.alone import alone
from drawings.build_plan import build_plan
from drawings.paper import PAPERS, paper_sheet
from drawings.points_plan import points_plan
from drawings.schematic import schematic
from latchcore.advice.substitutes import substitutes_table
from latchcore.behaviour.faults import BehaviourError
from latchcore.bench.readings import readings_table
from latchcore.figures.table import Table
from latchcore.program.plan import ProgramPlan, slug_of
from latchcore.program.settings import pins_table, settings_table
from latchcore.whole.laying.conductors import conductors
from latchcore.whole.tables import parts_table, wires_table
from latchcore.whole.wire_list import letters_of
from workbench.drawer import meter_at_hand
from workbench.keeping.files import files_of_everything, zipped
from workbench.models import Build, Unreadable

#: Lists of a build, each from the build as it is worked out.
LISTS: dict[str, Callable[..., Table]] = {
    "wires": wires_table,
    "parts": parts_table,
    "readings": lambda around, report: readings_table(around, report, meter_at_hand()),
    "substitutes": substitutes_table,
}
PROGRAM_LISTS: dict[str, Callable[[ProgramPlan], Table]] = {
    "pins": pins_table,
    "settings": settings_table,
}


def plan_of(build: Build) -> ProgramPlan:
    """What a program of the build as it stands is made of."""
    return ProgramPlan(build.document, str(build.head.number), build.around, build.report)


def the_build(pk: int) -> Build:
    """A build whose document can be read; 404 for any other."""
    build = get_object_or_404(Build.with_head(), pk=pk)
    try:
        _ = build.document
    except Unreadable as error:
        raise Http404("Its document cannot be read.") from error
    return build


def attached(content: str | bytes, kind: str, name: str) -> HttpResponse:
    """A file under a name every system takes."""
    response = HttpResponse(content, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@require_GET
def table(request: HttpRequest, pk: int, name: str) -> HttpResponse:
    """One list of a build as CSV."""
    build = the_build(pk)
    of = f"revision-{build.head.number}"
    if name in LISTS:
        found = LISTS[name](build.around, build.report)
    elif name in PROGRAM_LISTS:
        try:
            plan = plan_of(build)
            found, of = PROGRAM_LISTS[name](plan), f"{of}-{plan.content}"
        except BehaviourError as error:
            raise Http404("Its behaviour cannot be done as it stands.") from error
    else:
        raise Http404("There is no such list.")
    file = f"{slug_of(build.name)}-{name}-{of}.csv"
    return attached(found.as_csv(), "text/csv; charset=utf-8", file)


@require_GET
def drawing(request: HttpRequest, pk: int, name: str) -> HttpResponse:
    """One drawing of a build as an SVG file: a channel's, the plan, the points of its rails."""
    build = the_build(pk)
    around, report = build.around, build.report
    told = build.report.channel(name) if build.document.channel(name) else None
    if name == "plan":
        text = build_plan(around, report)
    elif name == "points":
        laid = conductors(around, report)
        text = points_plan(around, report, laid, letters_of(around, report))
    elif told is not None and told.result is not None:
        text = schematic(told.result, around, build.document.channel(name))
    else:
        text = ""
    if not text:
        raise Http404("There is no such drawing yet.")
    return attached(alone(text), "image/svg+xml", f"{slug_of(build.name)}-{name}.svg")


@require_GET
def paper(request: HttpRequest, pk: int) -> HttpResponse:
    """The whole sheet as one HTML file."""
    build = the_build(pk)
    size = request.GET.get("paper", "a4")
    if size not in PAPERS:
        raise Http404("There is no such paper.")
    text = paper_sheet(build.around, size, meter_at_hand())
    return attached(text, "text/html; charset=utf-8", f"{slug_of(build.name)}-{size}.html")


@require_GET
def everything(request: HttpRequest) -> HttpResponse:
    """Every build and the drawer as files, all at once."""
    return attached(zipped(files_of_everything()), "application/zip", "zinc-latch-files.zip")
