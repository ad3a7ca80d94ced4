"""
Small answers for fields: what was understood, the next preferred value, the version of a build,
light or dark.
"""

from __future__ import annotations

from django.http import HttpResponse, HttpResponseRedirect, JsonResponse
from django.shortcuts import get_object_or_404
from django.utils.html import escape
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_GET, require_POST

from latchcore.figures import preferred
from latchcore.figures.quantity import QuantityError, parse, resistor_code, show
from latchcore.figures.resistance import MOST_TOLERANCE, read_resistor
from latchcore.figures.spread import parse_spread
from workbench.models import Build
from workbench.progress import told


@require_GET
def echo(request):
    """What a quantity field understood, or what it expected."""
    units = tuple(u for u in request.GET.get("unit", "").split("|") if u)
    typed = next((v for k, v in request.GET.items() if k not in ("unit",)), "")
    if not typed.strip() or typed.strip().lower() in ("auto", "none") or not units:
        return HttpResponse("")
    try:
        if units == ("Ω",):
            return HttpResponse(escape(f"= {_as_fitted(typed)}"))
        spread, unit, _ = parse_spread(typed, units)
    except (QuantityError, KeyError) as error:
        return HttpResponse(
            f'<span class="wrong">{escape(str(error))}</span>'
            if isinstance(error, QuantityError)
            else ""
        )
    return HttpResponse(escape(f"= {spread.shown(unit)}"))


def _as_fitted(typed: str) -> str:
    """A resistor as it was understood: its value, and what was said beside it."""
    resistor = read_resistor(typed, NOT_SAID)
    said = show(resistor, "Ω")
    if resistor.tolerance != NOT_SAID:
        said += f" ±{resistor.tolerance * 100:g} %"
    return f"{said}, {show(resistor.watts, 'W')}" if resistor.watts else said


@require_GET
def step(request):
    """The next preferred value up or down."""
    series, text = request.GET.get("series", "E12"), request.GET.get("text", "")
    try:
        value = preferred.step(
            series, parse(text, "Ω"), 1 if request.GET.get("way") == "up" else -1
        )
    except (QuantityError, KeyError) as error:
        return JsonResponse({"error": str(error)}, status=422)
    return JsonResponse({"text": resistor_code(value), "echo": f"= {show(value, 'Ω')}"})


@require_GET
def progress(request):
    """How far a waiting page's import has come."""
    done, of = told(request.GET.get("token", "")) or (0, 0)
    return JsonResponse({"done": done, "of": of})


#: Stands for a tolerance nobody typed.
NOT_SAID = MOST_TOLERANCE


@require_GET
def version(request, pk: int):
    """The version of a build, for a tab that was left open."""
    build = get_object_or_404(Build.objects.only("version", "name"), pk=pk)
    return JsonResponse({"version": build.version})


@require_POST
def look(request):
    """Choose light, dark or as the device says."""
    back = request.POST.get("next", "/")
    if not url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()}):
        back = "/"
    response = HttpResponseRedirect(back)
    chosen = request.POST.get("look", "auto")
    response.set_cookie(
        "look",
        chosen if chosen in ("light", "dark") else "auto",
        max_age=5 * 365 * 86400,
        samesite="Lax",
    )
    return response
