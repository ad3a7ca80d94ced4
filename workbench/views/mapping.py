"""Mapping a keypad one did not make: its precondition, the matrix of pairs, its buttons."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect

from latchcore.edits import EditError
from latchcore.figures.typed import whole
from latchcore.procedure.mapping import halves, pattern_of, propose
from workbench.actions import mapping
from workbench.actions.saving import Stale
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage


class MappingPage(BuildPage):
    """The keypad or handset of one machine."""

    page = Page("mapping/<slug:machine>/", "mapping", "loads", "build/mapping.html")

    def post(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Do one thing to the map; an edit of the build goes the way of all edits."""
        if "do" not in request.POST:
            return super().post(request, pk, **kwargs)
        build, args = self.build(pk), request.POST.dict()
        version = whole(args.get("version", ""), 0, 2**31)
        seen = build.version if version is None else version
        try:
            mapping.do(build, kwargs["machine"], args["do"], args, seen)
        except EditError as error:
            told = {"wrong": str(error), "about": error.field, "typed": args}
            return self.show(request, self.build(pk), status=422, **told, **kwargs)
        except Stale:
            told = {"wrong": "The build was changed in another tab; look at it, then again.",
                    "typed": args}  # fmt: skip
            return self.show(request, self.build(pk), status=409, **told, **kwargs)
        return HttpResponseRedirect(request.path)

    def content(self, build: Build, machine: str = "", **kwargs) -> dict:
        """What is known, what to try next and why."""
        try:
            found = mapping.machine_of(build, machine)
        except EditError as error:
            raise Http404(str(error)) from error
        keypad = mapping.keypad_of(build, machine)
        may = mapping.precondition_of(found, keypad)
        pairs = keypad.pairs
        pattern = pattern_of([p for p, did in pairs.items() if did])
        proposed = propose(keypad.left, pairs)
        one, other = halves(keypad.left)
        numbers = range(1, keypad.conductors + 1)
        matrix = [(n, [_cell(keypad, n, m) for m in numbers]) for n in numbers]
        typed = kwargs.get("typed") or {}
        return {
            "one_is": typed.get("one", proposed[0][0] if proposed else ""),
            "other_is": typed.get("other", proposed[0][1] if proposed else ""),
            "conductors_are": typed.get("conductors", keypad.conductors),
            "machine": found,
            "keypad": keypad,
            "may": may,
            "may_icon": "check" if may.way == "live" else "stop",
            "earth": " ".join(f"{v:g}" for v in keypad.to_earth.values()),
            "pattern": pattern,
            "proposed": proposed,
            "numbers": numbers,
            "matrix": matrix,
            "one": " ".join(map(str, one)),
            "other": " ".join(map(str, other)),
            "all": " ".join(map(str, numbers)),
            "buttons": [(k, t) for k, t in keypad.tried.items() if t.get("effect")],
        }


def _cell(keypad: mapping.Keypad, n: int, m: int) -> tuple[str, str]:
    """What stands in the matrix: a mark and its words."""
    if n >= m:
        return "", ""
    told = keypad.tried.get(f"{n}-{m}")
    if told is None:
        return "·", "not tried"
    return ("●", told["effect"]) if told.get("effect") else ("–", "nothing")
