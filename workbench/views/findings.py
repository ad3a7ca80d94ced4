"""What each finding catches, why it matters and what mends it, from the records themselves."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from latchcore.advice.tries import TRIES
from latchcore.findings.records import FAMILIES, RECORDS


def ways_of(check: str) -> list[str]:
    """What is tried for a finding, in words, the least change first."""
    return [(TRIES[name].__doc__ or name).strip().rstrip(".") for name in RECORDS[check].tries]


@require_GET
def every(request: HttpRequest) -> HttpResponse:
    """Every finding there is, by family."""
    families = [((family.__doc__ or "").strip(), family.RECORDS) for family in FAMILIES]
    return render(request, "findings/every.html", {"families": families})


@require_GET
def one(request: HttpRequest, check: str) -> HttpResponse:
    """One finding, explained."""
    record = RECORDS.get(check)
    if record is None:
        raise Http404("There is no such finding.")
    causes = [RECORDS[cause] for cause in record.yields_to]
    return render(
        request, "findings/one.html", {"record": record, "ways": ways_of(check), "causes": causes}
    )
