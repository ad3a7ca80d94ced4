"""The first channel in fields: what a wish says in a line, chosen and typed one by one."""

from __future__ import annotations

from dataclasses import dataclass, field

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views import View

from latchcore.advice.wish_build import open_wish
from latchcore.advice.wishes import Wanted, Wish, WishError
from latchcore.catalogue import Catalogue
from latchcore.edits import EditError
from latchcore.figures.quantity import QuantityError, parse_any
from latchcore.figures.typed import quoted
from latchcore.stages import STAGES
from workbench.actions import creating
from workbench.actions.saving import Stale
from workbench.drawer import catalogue
from workbench.views.wishes import answer_of, into_of

#: Units of what a load draws.
DRAWS = ("A", "W", "Ω")


@dataclass(frozen=True)
class FirstForm:
    """What the form offers, what stands in it, and what is wrong with it by field."""

    boards: list
    kinds: list
    stages: list
    typed: dict[str, str] = field(default_factory=dict)
    wrong: dict[str, str] = field(default_factory=dict)
    into: str = ""


def first_form(
    drawer: Catalogue,
    typed: dict[str, str] | None = None,
    wrong: dict[str, str] | None = None,
    into: str = "",
) -> FirstForm:
    """The form as it stands."""
    boards = [p for p in drawer.parts.values() if p.family == "board"]
    stages = [(kind, stage.title) for kind, stage in STAGES.items()]
    return FirstForm(boards, list(drawer.loads.values()), stages, typed or {}, wrong or {}, into)


def wanted(typed: dict[str, str], drawer: Catalogue) -> tuple[Wish, dict[str, str]]:
    """The wish the fields make, and what is wrong with them, by field."""
    wrong: dict[str, str] = {}
    kind = drawer.loads.get(typed["kind"])
    if kind is None:
        wrong["kind"] = "No load is chosen yet; expected one of the list."
    if getattr(drawer.parts.get(typed["board"]), "family", "") != "board":
        wrong["board"] = "No board is chosen yet; expected one of the list."
    for name, units, example in (("voltage", ("V",), "12 V"), ("figure", DRAWS, "0.5 A")):
        try:
            parse_any(typed[name], units)
        except QuantityError as error:
            said = (
                str(error) if typed[name] else f"Nothing was typed; expected such as “{example}”."
            )
            wrong[name] = said
    if typed["stage"] and typed["stage"] not in STAGES:
        wrong["stage"] = f"{quoted(typed['stage'])} is no stage."
    if wrong or kind is None:
        return Wish(), wrong
    line = kind.current == "ac" or (kind.current == "either" and typed["current"] == "ac")
    load = Wanted(
        kind.id,
        typed["name"] or kind.title,
        typed["voltage"],
        typed["figure"],
        stage=typed["stage"] or None,
        needs=("dims",) if typed["dims"] else (),
        line=line,
    )
    return Wish((load,), typed["board"]), {}


class FirstFormPage(View):
    """Open a build from the fields; what is refused stands in its own field with the reason."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """An empty form."""
        return render(request, "first.html", {"first_form": first_form(catalogue())})

    def post(self, request: HttpRequest) -> HttpResponse:
        """A form that was sent."""
        names = ("kind", "board", "voltage", "figure", "stage", "current", "dims", "name")
        typed, drawer = {name: answer_of(request, name) for name in names}, catalogue()
        into = request.POST.get("into", "")
        wish, wrong = wanted(typed, drawer)
        if not wrong:
            try:
                document = open_wish(wish, wish.loads[0].words, drawer)
                build = creating.open_document(document, into_of(into), wish.loads[0].words)
                return redirect("lineup", build.pk)
            except Stale as error:
                return redirect("lineup", error.build.pk)
            except (EditError, WishError) as error:
                wrong = {getattr(error, "field", None) or "name": str(error)}
        form = first_form(drawer, typed, wrong, into)
        return render(request, "first.html", {"first_form": form}, status=422)
