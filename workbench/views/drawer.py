"""The parts drawer: own parts with the figures the sums need, in and out as a table."""

from __future__ import annotations

from django.db.models import Q
from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views import View

from latchcore.bench.rework import ReworkError
from latchcore.edits import EditError
from latchcore.figures.quantity import show
from latchcore.figures.typed import quoted
from latchcore.formats.partsfile import PartsFileError, read_parts
from latchcore.formats.partsrecord import FAMILIES, FIGURE_WORDS, fields_of
from latchcore.formats.partsrow import (
    CellError,
    Row,
    figures_of,
    kept_of,
    ohms_of,
    own_key,
    resistor_key,
)
from workbench import progress
from workbench.actions import module_sheet, stocking
from workbench.actions.binning import KEPT_DAYS
from workbench.drawer import catalogue, trouble_with
from workbench.keeping.files import drawer_file
from workbench.models import PartUse, StockPart
from workbench.paging import listed, search_of
from workbench.views.files import read_upload

#: Families whose records are filled in as a form; a board has its own grid.
FORM_FAMILIES = {key: words for key, words in FAMILIES.items() if key != "board"}


#: What is said of a figure the form does not give.
MISSING_IN_THE_FORM = "Not stated; give it, or choose a class to stand in."
#: What is kept of a part besides its figures: name, words, longest, hint.
REST = (
    ("place", "place", 60, "Box, shelf, bag."),
    ("price", "price", 20, ""),
    ("substitutes", "substitutes", 200, "What else would do."),
)


def uses(keys: list[str]) -> dict[str, list[str]]:
    """
    Which builds use the parts of these keys, with their channels; read from what was found of each,
    nothing is worked out.
    """
    found: dict[str, list[str]] = {}
    for key, name, letters in (
        PartUse.objects.filter(key__in=keys, build__binned=None)
        .order_by("-build__changed")
        .values_list("key", "build__name", "letters")
    ):
        found.setdefault(key, []).append(f"{name} {letters}")
    return found


class Drawer(View):
    """The list of own parts by kind."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """The list."""
        return self.show(request)

    def post(self, request: HttpRequest) -> HttpResponse:
        """Count a part, put it in the bin or take it out, take the last change back."""
        what, key, seen = (
            request.POST.get("do", ""),
            request.POST.get("key", ""),
            stocking.seen_version(request.POST.get("version", "")),
        )
        try:
            if what == "count":
                stocking.count(key, request.POST.get("quantity", ""), seen)
            elif what == "discard":
                stocking.discard(key, seen)
            elif what == "put_back":
                stocking.put_back(key)
            elif what == "undo":
                return self.show(request, says=stocking.undo(request.POST.get("step", "")))
            elif what == "empty_bin":
                gone = stocking.erase_bin()
                return self.show(
                    request, says=f"{gone} part{'s' * (gone != 1)} erased from the bin."
                )
            else:
                raise EditError(f"{quoted(what)} is nothing that can be done with a part.")
        except stocking.StalePart as error:
            return self.show(request, 409, wrong=str(error))
        except EditError as error:
            return self.show(
                request,
                422,
                wrong=str(error),
                wrong_key=key,
                typed=request.POST.get("quantity", "")[:40],
            )
        return redirect("drawer")

    def show(self, request: HttpRequest, status: int = 200, **context) -> HttpResponse:
        """A page of the list, with whatever was refused."""
        parts = StockPart.objects.filter(binned=None)
        if search := search_of(request):
            parts = parts.filter(
                Q(title__icontains=search) | Q(place__icontains=search) | Q(key__icontains=search)
            )
        now = listed(request, parts.defer("original"), per_page=60)
        bin_ = listed(
            request,
            StockPart.objects.exclude(binned=None)
            .order_by("-binned", "key")
            .only("key", "title", "binned"),
            "bin",
        )
        used = uses([p.key for p in now.page])
        groups: dict[str, list] = {}
        for part in now.page:
            groups.setdefault(FAMILIES.get(part.family, part.family), []).append(
                (part, used.get(part.key, []), trouble_with(part.figures) if part.figures else None)
            )
        page = {
            "groups": groups,
            "listing": now,
            "bin": bin_,
            "families": FAMILIES.items(),
            "generic": catalogue().datasheet,
            "last": stocking.last_step(),
            "kept_days": KEPT_DAYS,
            **context,
        }
        return render(request, "drawer/list.html", page, status=status)


def _row(
    family: str,
    part: StockPart | None,
    title: str,
    base: str,
    values: dict[str, str],
    data: QueryDict,
) -> Row:
    """The part that was typed; ``CellError`` at what does not do."""
    rest = kept_of(data) | {"version": max(stocking.seen_version(data.get("version", "")), 0)}
    if data.get("key") and part is None:
        raise CellError(
            "title",
            "That part is no longer in the drawer; kept now, it would be a new one. Open “Put in a"
            " part” for that.",
        )
    if family == "resistor":
        value = ohms_of(values)
        key = part.key if part else resistor_key(value)
        if part is None and (twin := StockPart.objects.filter(key=key).first()):
            says = (
                "lies in the bin; take it out"
                if twin.binned
                else "is in the drawer already; change its count"
            )
            raise CellError("value", f"{show(value, 'Ω')} {says} there.")
        return Row(0, key, family, title or show(value, "Ω"), value=value, **rest)
    key = part.key if part else own_key(title, family)
    figures = figures_of(family, key, title, values, base, catalogue(), MISSING_IN_THE_FORM)
    return Row(0, key, family, title, figures, tuple(values), **rest)


class PartForm(View):
    """Enter or change one part, with help for each figure of its data sheet."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """The form, of a kind or for a part that is there."""
        part = StockPart.objects.filter(key=request.GET.get("key", "")[:64], binned=None).first()
        family = part.family if part else request.GET.get("family", "")
        if family == "board":
            return redirect(f"{reverse('board')}?{request.GET.urlencode()}")
        if family not in FORM_FAMILIES:
            return redirect("drawer")
        now = (part.original or part.figures) if part else {}
        values = {name: _shown(now.get(name, "")) for name in part.given} if part else {}
        return self.show(
            request, family, part, values, part.title if part else "", request.GET.get("base", "")
        )

    def post(self, request: HttpRequest) -> HttpResponse:
        """Judge the figures and keep the part."""
        family, data = request.POST.get("family", ""), request.POST
        if family not in FORM_FAMILIES:
            return redirect("drawer")
        part = StockPart.objects.filter(key=data.get("key", "")[:64], binned=None).first()
        seen = stocking.seen_version(data.get("version", ""))
        title, base = (
            data.get("title", "").strip()[:120],
            data.get("base", "") or (part.key if part else ""),
        )
        names = ["value"] if family == "resistor" else fields_of(family)
        values = {name: data.get(name, "").strip() for name in names if data.get(name, "").strip()}

        def wrong(column: str, message: str, status: int = 422) -> HttpResponse:
            return self.show(
                request,
                family,
                part,
                values,
                title,
                base,
                status,
                wrong_field=column,
                wrong=message,
            )

        if part is not None and part.version != seen:
            stale = (
                f"“{part.title[:60]}” was changed since this page was opened. What you typed stands"
                " below; keeping it again replaces what is there."
            )
            return wrong("title", stale, 409)
        try:
            row = _row(family, part, title, base, values, data)
            if part is not None and part.reworks:
                module_sheet.rebase(part, row)
            else:
                stocking.take_in([row])
        except CellError as error:
            return wrong(error.column, str(error))
        except EditError as error:
            return wrong("title", str(error), 409)
        except ReworkError as error:
            return wrong("title", f"Its rework does not fit these figures any more: {error}")
        return redirect("drawer")

    def show(
        self, request, family, part, values, title, base, status=200, **context
    ) -> HttpResponse:
        """The form with help and with what stands in."""
        parts = catalogue()
        classes = [
            p
            for p in parts.parts.values()
            if getattr(p, "family", "") == family and not p.id.startswith("own-")
        ]
        base = base or (part.key if part else classes[0].id if classes else "")
        stand_in = parts.raw.get(base, {})
        names = ["value"] if family == "resistor" else fields_of(family)
        help_ = parts.datasheet.get(family, {}) or parts.datasheet.get(_kin(family), {})
        rows = [
            (
                n,
                FIGURE_WORDS.get(n, n.replace("_", " ")),
                values.get(n, ""),
                _shown(stand_in.get(n, "")),
                help_.get(n),
            )
            for n in names
        ]
        page = {
            "family": family,
            "words": FAMILIES[family],
            "part": part,
            "rows": rows,
            "classes": classes,
            "base": base,
            "title": title,
            "quantity": request.POST.get("quantity", part.quantity if part else ""),
            "wrong_words": FIGURE_WORDS.get(context.get("wrong_field", ""), ""),
            "rest": [
                (n, words, request.POST.get(n, getattr(part, n, "")), most, hint)
                for n, words, most, hint in REST
            ],
            **context,
        }
        return render(request, "drawer/part.html", page, status=status)


def _kin(family: str) -> str:
    return {"pmos": "nmos", "pnp": "npn", "npn_darlington": "npn", "pnp_darlington": "npn"}.get(
        family, family
    )


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
        counts = {
            word: sum(t == word for _, t in told)
            for word in ("added", "changed", "same", "refused")
        }
        if request.POST.get("confirm") == "yes" and not counts["refused"]:
            try:
                stocking.take_in(rows)
            except EditError as error:
                return Drawer().show(request, 409, import_error=str(error), pasted=text[:200_000])
            return redirect("drawer")
        first = sorted(
            told, key=lambda pair: ("refused", "changed", "added", "same").index(pair[1])
        )[:400]
        page = {"told": first, "counts": counts, "text": text, "total": len(rows)}
        return render(
            request, "drawer/preview.html", page, status=422 if counts["refused"] else 200
        )


def export(request: HttpRequest) -> HttpResponse:
    """The drawer as a table."""
    response = HttpResponse(drawer_file(), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="drawer.csv"'
    return response
