"""Boards of one's own: copy a profile, edit it in a grid, in and out as a table or JSON."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views import View

from latchcore.catalogue.boards import Board
from latchcore.edits import EditError
from latchcore.figures.typed import whole
from latchcore.formats.boardfile import (
    CAN,
    FIGURE_WORDS,
    FIGURES,
    PIN_CELLS,
    BoardDraft,
    BoardFileError,
    board_record,
    draft_of,
    read_board,
    write_csv,
    write_json,
)
from latchcore.formats.partsrow import Row, own_key
from workbench.actions import stocking
from workbench.drawer import catalogue
from workbench.models import StockPart
from workbench.views.files import read_upload

RESETS = (
    ("floating", "floats"),
    ("pull_up", "pulled up"),
    ("pull_down", "pulled down"),
    ("driven_high", "driven high"),
    ("driven_low", "driven low"),
    ("pulses", "pulses"),
)
FORMS = {"csv": (write_csv, "text/csv"), "json": (write_json, "application/json")}
#: Empty rows that wait at the end of the grid.
SPARE = 3


class BoardGrid(View):
    """
    One board of one's own: its figures and a row for each of its lines; nothing is kept before that
    is asked.
    """

    def get(self, request: HttpRequest) -> HttpResponse:
        """The grid of an own board, or a copy of a profile that ships."""
        parts = catalogue()
        key = request.GET.get("key", "")
        base = request.GET.get("base", "")
        source = parts.raw.get(key or base) or parts.raw[parts.boards[0].id]
        if source.get("family") != "board":
            raise Http404("That is no board.")
        draft = draft_of(source)
        own = StockPart.objects.filter(key=key[:64], family="board", binned=None).first()
        if own is None:
            draft.title = ""
        return self.show(request, draft, own, source["id"])

    def post(self, request: HttpRequest) -> HttpResponse:
        """Read a file into the grid, add rows, or judge and keep the board."""
        data = request.POST
        own = StockPart.objects.filter(
            key=data.get("key", "")[:64], family="board", binned=None
        ).first()
        base = (
            data.get("base", "")
            if data.get("base", "") in catalogue().parts
            else catalogue().boards[0].id
        )
        if data.get("do") == "read":
            text = read_upload(request)
            try:
                draft = read_board(text)
            except BoardFileError as error:
                return self.show(
                    request,
                    _typed(data),
                    own,
                    base,
                    422,
                    wrong=str(error),
                    place="file",
                    pasted=text[:20_000],
                )
            return self.show(request, draft, own, base, read=True)
        draft = _typed(data)
        if data.get("do") == "more":
            return self.show(request, draft, own, base, spare=12)
        key = own.key if own else own_key(draft.title, "board")
        seen = stocking.seen_version(data.get("version", ""))
        try:
            if data.get("key") and own is None:
                raise BoardFileError(
                    "That board is no longer in the drawer; it may lie in the bin.", "title"
                )
            if own is not None and own.version != seen:
                raise BoardFileError(
                    "This board was changed since this page was opened, perhaps in another tab."
                    " What you typed stands below; keeping it again replaces what is there.",
                    "title",
                )
            source = own.figures["source"] if own else f"own board, begun from {base}"
            record = board_record(draft, key, source)
        except BoardFileError as error:
            return self.show(request, draft, own, base, 422, wrong=str(error), place=error.place)
        rest = (
            {
                "quantity": own.quantity,
                "place": own.place,
                "price": own.price,
                "substitutes": own.substitutes,
            }
            if own
            else {"quantity": 1}
        )
        row = Row(
            0, key, "board", record["title"], record, tuple(FIGURES), version=max(seen, 0), **rest
        )
        try:
            stocking.take_in([row])
        except EditError as error:
            return self.show(request, draft, own, base, 409, wrong=str(error), place="title")
        return redirect("drawer")

    def show(
        self, request, draft: BoardDraft, own, base, status=200, spare=SPARE, **context
    ) -> HttpResponse:
        """The grid."""
        pins = [*draft.pins, *({} for _ in range(spare))]
        place = context.get("place", "")
        rows = [
            [
                (cell, f"pin-{index}-{cell}", pin.get(cell, ""), place == f"pin:{index}:{cell}")
                for cell in PIN_CELLS
            ]
            for index, pin in enumerate(pins)
        ]
        figures = [
            (name, FIGURE_WORDS[name], draft.figures.get(name, ""), place == name)
            for name in FIGURES
        ]
        power = [
            (f"power-{i}", name, value) for i, (name, value) in enumerate([*draft.power, ("", "")])
        ]
        page = {
            "draft": draft,
            "rows": rows,
            "figures": figures,
            "power": power,
            "own": own,
            "base": base,
            "profiles": catalogue().boards,
            "resets": RESETS,
            "starts": (("", "–"), ("high", "high"), ("low", "low")),
            "can": CAN,
            "cells": PIN_CELLS,
            "count": len(rows),
            **context,
        }
        return render(request, "drawer/board.html", page, status=status)


def _typed(data) -> BoardDraft:
    """The grid as it was sent; rows left wholly empty are no lines of the board."""
    many = min(whole(data.get("count", "0"), 0, 10**6) or 0, 400)
    pins = [
        {cell: data.get(f"pin-{index}-{cell}", "").strip()[:80] for cell in PIN_CELLS}
        for index in range(many)
    ]
    power = [
        (
            data.get(f"power-{i}-name", "").strip()[:20],
            data.get(f"power-{i}-value", "").strip()[:20],
        )
        for i in range(21)
    ]
    figures = {name: data.get(name, "").strip()[:80] for name in FIGURES}
    kept = [
        pin
        for pin in pins
        if any(text for cell, text in pin.items() if cell not in ("reset", "start"))
    ]
    return BoardDraft(
        data.get("title", "").strip()[:120], figures, [pair for pair in power if any(pair)], kept
    )


def export_board(request: HttpRequest, key: str, form: str) -> HttpResponse:
    """A board profile as a file, one of one's own or one that ships."""
    parts = catalogue()
    if form not in FORMS or not isinstance(parts.parts.get(key), Board):
        raise Http404("There is no such board.")
    write, kind = FORMS[form]
    response = HttpResponse(write(parts.raw[key]), content_type=f"{kind}; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{key}.{form}"'
    return response
