"""A wish in a line: what was understood, what is missing asked in one row, and the build opened."""

from __future__ import annotations

from dataclasses import dataclass, replace

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views import View

from latchcore.advice.wish_build import open_wish
from latchcore.advice.wishes import (
    MOST_CHARACTERS,
    Wanted,
    Wish,
    WishError,
    name_of,
    read_wish,
)
from latchcore.edits import EditError
from latchcore.figures.typed import quoted, whole
from workbench.actions import creating
from workbench.actions.saving import Stale
from workbench.drawer import catalogue
from workbench.models import Build

#: What is asked of a load that does not say it, with an example.
ASKED = {"voltage": ("Volts", "12 V"), "figure": ("Current, power or resistance", "0.5 A")}
ASKED |= {"rows": ("Rows", "6"), "columns": ("Columns", "10")}


@dataclass(frozen=True)
class Asked:
    """A field for what a load does not say, with what was typed into it."""

    name: str
    label: str
    example: str
    typed: str


@dataclass(frozen=True)
class Row:
    """A load as it was understood, with what is asked of it."""

    load: Wanted
    title: str
    asked: tuple[Asked, ...]


class WishPage(View):
    """Read a wish; open the build where nothing is missing and all was understood."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """An empty line."""
        return self.show(request, "", Wish())

    def post(self, request: HttpRequest) -> HttpResponse:
        """A line, with what was asked of it answered where it was."""
        text, into = request.POST.get("wish", ""), request.POST.get("into", "")
        try:
            read = read_wish(text)
        except WishError as error:
            return self.show(request, text, Wish(), 422, str(error))
        if not read.loads:
            said = "No load was understood in it; name one, such as lamp, coil, motor or strip."
            return self.show(request, text, read, 422, said)
        wish = answered(read, request)
        if not wish.complete or (wish.unknown and request.POST.get("anyway") != "yes"):
            return self.show(request, text, read)
        try:
            document = open_wish(wish, name_of(wish), catalogue())
            build = creating.open_document(document, into_of(into), text)
        except (EditError, WishError) as error:
            return self.show(request, text, read, 422, str(error))
        except Stale as error:
            return redirect("lineup", error.build.pk)
        return redirect("lineup", build.pk)

    def show(
        self, request: HttpRequest, text: str, wish: Wish, status: int = 200, wrong: str = ""
    ) -> HttpResponse:
        """The line, what was understood of it, and one row of questions with their answers."""
        kinds = catalogue().loads
        rows = [
            Row(
                load,
                kinds[load.kind].title,
                tuple(
                    Asked(f"{name}-{n}", *ASKED[name], answer_of(request, f"{name}-{n}"))
                    for name in load.missing
                ),
            )
            for n, load in enumerate(wish.loads)
        ]
        asked = [a for row in rows for a in row.asked]
        # What is refused is an answer where one is quoted, else the line or the board.
        refused = next((a.name for a in asked if a.typed and quoted(a.typed) in wrong), "")
        first = refused or next((a.name for a in asked if not a.typed), "board")
        boards = [p for p in catalogue().parts.values() if p.family == "board"]
        return render(
            request,
            "wish.html",
            {
                "wish": wish,
                "text": text[:MOST_CHARACTERS],
                "rows": rows,
                "boards": boards,
                "board": next((b for b in boards if b.id == wish.board), None),
                "chosen": answer_of(request, "board"),
                "wrong": "" if refused else wrong,
                "answer_wrong": wrong,
                "refused": refused,
                "first": first,
                "into": request.POST.get("into", ""),
            },
            status=status,
        )


def answer_of(request: HttpRequest, name: str) -> str:
    """What was typed into a field of the row of questions."""
    return request.POST.get(name, "").strip()[:60]


def answered(wish: Wish, request: HttpRequest) -> Wish:
    """The wish with what was asked and has been typed."""
    loads = [
        replace(load, **{name: answer_of(request, f"{name}-{n}") or None for name in load.missing})
        for n, load in enumerate(wish.loads)
    ]
    return replace(
        wish, loads=tuple(loads), board=wish.board or answer_of(request, "board") or None
    )


def into_of(typed: str) -> Build | None:
    """The empty build a wish is opened in, or ``None`` for one of its own."""
    key = whole(typed, 1, 2**60)
    build = get_object_or_404(Build.with_head(), pk=key) if key else None
    empty = build is not None and not build.document.channels and not build.document.rails
    return build if empty else None
