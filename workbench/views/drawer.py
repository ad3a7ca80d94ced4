"""The parts drawer: own parts with the figures the sums need, in and out as a table."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views import View
from pydantic import ValidationError

from latchcore.bench.rework import ReworkError
from latchcore.document.edits import EditError
from latchcore.document.edits.registry import plain
from latchcore.formats.partsfile import (
    FAMILIES,
    FIGURE_WORDS,
    PartsFileError,
    Row,
    build_record,
    fields_of,
    own_key,
    read_parts,
    resistor_key,
    typed,
    write_parts,
)
from latchcore.quantity import QuantityError, parse, show
from workbench import progress
from workbench.actions import module_sheet, stocking
from workbench.drawer import catalogue
from workbench.models import Build, StockPart
from workbench.views.files import read_upload

#: Families whose records are filled in as a form; a board has its own grid.
FORM_FAMILIES = {key: words for key, words in FAMILIES.items() if key != "board"}


def uses() -> dict[str, list[str]]:
    """Which designs use a part: by key, the builds with their channels."""
    found: dict[str, list[str]] = {}
    for build in Build.objects.select_related("head").filter(binned=None)[:100]:
        for channel in build.report.channels:
            if channel.result is None:
                continue
            keys = [part.id for part in channel.result.parts.values()]
            keys += {resistor_key(v.value) for v in channel.result.values if v.unit == "Ω" and v.value}
            for key in keys:
                found.setdefault(key, []).append(f"{build.name} {channel.letter}")
    return found


class Drawer(View):
    """The list of own parts by kind."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """The list."""
        return self.show(request)

    def post(self, request: HttpRequest) -> HttpResponse:
        """Count a part, or take it out."""
        what, key = request.POST.get("do", ""), request.POST.get("key", "")
        try:
            if what == "count":
                stocking.count(key, request.POST.get("quantity", ""))
            elif what == "discard":
                stocking.discard(key)
            else:
                raise EditError(f"“{what[:40]}” is nothing that can be done with a part.")
        except EditError as error:
            return self.show(request, 422, wrong=str(error), wrong_key=key, typed=request.POST.get("quantity", ""))
        return redirect("drawer")

    def show(self, request: HttpRequest, status: int = 200, **context) -> HttpResponse:
        """The list, with whatever was refused."""
        used = uses()
        groups: dict[str, list] = {}
        for part in StockPart.objects.all()[:6000]:
            groups.setdefault(FAMILIES[part.family], []).append((part, used.get(part.key, [])))
        page = {"groups": groups, "families": FAMILIES.items(), "generic": catalogue().datasheet, **context}
        return render(request, "drawer/list.html", page, status=status)


class PartForm(View):
    """Enter or change one part, with help for each figure of its data sheet."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """The form, of a kind or for a part that is there."""
        part = StockPart.objects.filter(key=request.GET.get("key", "")).first()
        family = part.family if part else request.GET.get("family", "")
        if family == "board":
            return redirect(f"{reverse('board')}?{request.GET.urlencode()}")
        if family not in FORM_FAMILIES:
            return redirect("drawer")
        now = (part.original or part.figures) if part else {}
        values = {name: _shown(now.get(name, "")) for name in part.given} if part else {}
        return self.show(request, family, part, values, part.title if part else "", request.GET.get("base", ""))

    def post(self, request: HttpRequest) -> HttpResponse:
        """Judge the figures and keep the part."""
        family, data = request.POST.get("family", ""), request.POST
        if family not in FORM_FAMILIES:
            return redirect("drawer")
        part = StockPart.objects.filter(key=data.get("key", "")).first()
        title, base = data.get("title", "").strip()[:120], data.get("base", "")
        names = ["value"] if family == "resistor" else fields_of(family)
        values = {name: data.get(name, "").strip() for name in names if data.get(name, "").strip()}
        quantity = data.get("quantity", "").strip() or "0"

        def wrong(column: str, message: str) -> HttpResponse:
            return self.show(request, family, part, values, title, base, 422, wrong_field=column, wrong=message)

        if not quantity.isdigit():
            return wrong("quantity", f"“{quantity}” is no count; expected a whole number.")
        rest = {"quantity": int(quantity), "place": data.get("place", "")[:60], "price": data.get("price", "")[:20], "substitutes": data.get("substitutes", "")[:200]}
        if family == "resistor":
            try:
                value = parse(values.get("value", ""), "Ω")
            except QuantityError as error:
                return wrong("value", str(error))
            key = part.key if part else resistor_key(value)
            row = Row(0, key, family, title or show(value, "Ω"), value=value, **rest)
        else:
            if not title:
                return wrong("title", "Nothing was typed; expected what the part is called.")
            key = part.key if part else own_key(title, family)
            try:
                figures = build_record(family, key, title, typed(family, values), base, catalogue())
            except ValidationError as error:
                first = error.errors()[0]
                message = "Not stated; give it, or choose a class to stand in." if first["type"] == "missing" else plain(error)
                return wrong(str(first["loc"][0]), message)
            except ValueError as error:
                return wrong("base", str(error))
            row = Row(0, key, family, title, figures, tuple(values), **rest)
        try:
            if part is not None and part.reworks:
                module_sheet.rebase(part, row)
            else:
                stocking.take_in([row])
        except ReworkError as error:
            return wrong("title", f"Its rework does not fit these figures any more: {error}")
        return redirect("drawer")

    def show(self, request, family, part, values, title, base, status=200, **context) -> HttpResponse:
        """The form with help and with what stands in."""
        parts = catalogue()
        classes = [p for p in parts.parts.values() if getattr(p, "family", "") == family and not p.id.startswith("own-")]
        base = base or (classes[0].id if classes and not part else "")
        stand_in = parts.raw.get(base, {})
        names = ["value"] if family == "resistor" else fields_of(family)
        help_ = parts.datasheet.get(family, {}) or parts.datasheet.get(_kin(family), {})
        rows = [(n, FIGURE_WORDS.get(n, n.replace("_", " ")), values.get(n, ""), _shown(stand_in.get(n, "")), help_.get(n)) for n in names]
        page = {"family": family, "words": FAMILIES[family], "part": part, "rows": rows, "classes": classes, "base": base, "title": title,
                "quantity": request.POST.get("quantity", part.quantity if part else ""), **context}  # fmt: skip
        return render(request, "drawer/part.html", page, status=status)


def _kin(family: str) -> str:
    return {"pmos": "nmos", "pnp": "npn", "npn_darlington": "npn", "pnp_darlington": "npn"}.get(family, family)


def _shown(value) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return "|".join(str(v) for v in value) if isinstance(value, list) else str(value)


class ImportParts(View):
    """A table of parts: first what it would do, row by row, then all of it or none."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """The form stands in the drawer."""
        return redirect("drawer")

    def post(self, request: HttpRequest) -> HttpResponse:
        """Judge the table; take it in where that was asked for and nothing is refused."""
        text, token = read_upload(request), request.POST.get("token", "")
        try:
            rows = read_parts(text, catalogue(), lambda done, of: progress.tell(token, done, of))
        except PartsFileError as error:
            return Drawer().show(request, 422, import_error=str(error), pasted=text[:200_000])
        told = stocking.compared(rows)
        counts = {word: sum(t == word for _, t in told) for word in ("added", "changed", "same", "refused")}
        if request.POST.get("confirm") == "yes" and not counts["refused"]:
            stocking.take_in(rows)
            return redirect("drawer")
        first = sorted(told, key=lambda pair: ("refused", "changed", "added", "same").index(pair[1]))[:400]
        page = {"told": first, "counts": counts, "text": text, "total": len(rows)}
        return render(request, "drawer/preview.html", page, status=422 if counts["refused"] else 200)


def export(request: HttpRequest) -> HttpResponse:
    """The drawer as a table."""
    rows = list(StockPart.objects.values("key", "family", "title", "value", "quantity", "place", "price", "substitutes", "figures", "given"))
    response = HttpResponse(write_parts(rows), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="drawer.csv"'
    return response
