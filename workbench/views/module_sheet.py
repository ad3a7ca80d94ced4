"""
The sheet of one module: what it is, what was seen on it, its photo with named pins, its reworks.
"""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views import View

from latchcore.bench.rework import KINDS, READINGS, effective, on_current
from latchcore.edits import EditError
from latchcore.formats.partsrecord import FIGURE_WORDS
from workbench.actions import module_sheet, stocking
from workbench.drawer import catalogue
from workbench.models import PartPhoto, StockPart

SEEN_WORDS = {
    "header": ("Pins of its header, in order", "GND | IN1 | IN2 | VCC"),
    "terminals": ("Screw terminals, in order", "NO | COM | NC"),
    "driver": ("Driver of the coils", "one small NPN a coil"),
    "rails": ("What each rail feeds", "VCC: inputs; JD: coils"),
    "contact_volts": ("Contact, printed volts", "250 V"),
    "contact_amperes": ("Contact, printed amperes", "10 A"),
    "creepage": ("Contact to low side, along the board", "6 mm"),
    "neighbour": ("From one contact to the next", "3 mm"),
}


class ModuleSheet(View):
    """Everything known of one module of one's own."""

    def get(self, request: HttpRequest, key: str) -> HttpResponse:
        """The sheet."""
        return self.show(request, key)

    def post(self, request: HttpRequest, key: str) -> HttpResponse:
        """One of the things that can be written on it."""
        data, what = request.POST, request.POST.get("do", "")
        seen = stocking.seen_version(data.get("version", ""))
        typed = {
            name: value
            for name, value in data.items()
            if name not in ("csrfmiddlewaretoken", "do", "version")
        }
        try:
            if what == "seen":
                module_sheet.note_seen(key, typed, seen)
            elif what == "rework":
                module_sheet.add_rework(key, typed, seen)
            elif what == "undo_rework":
                module_sheet.undo_rework(key, seen)
            elif what == "photo":
                module_sheet.take_photo(key, request.FILES.get("photo"), seen)
            elif what == "name":
                module_sheet.name_pin(
                    key, data.get("name", ""), data.get("across", ""), data.get("down", ""), seen
                )
            elif what == "unname":
                module_sheet.unname_pin(key, data.get("name", ""), seen)
            else:
                raise EditError(f"“{what[:40]}” is nothing that can be written on a sheet.")
        except stocking.StalePart as error:
            return self.show(request, key, 409, wrong=str(error))
        except EditError as error:
            return self.show(
                request, key, 422, did=what, wrong=str(error), wrong_field=error.field, typed=typed
            )
        return redirect("module-sheet", key)

    def show(self, request: HttpRequest, key: str, status: int = 200, **context) -> HttpResponse:
        """The sheet with whatever was refused."""
        part = get_object_or_404(StockPart, key=key, family="module", binned=None)
        typed, did, bad = context.get("typed", {}), context.get("did"), context.get("wrong_field")
        base = part.original or part.figures
        seen = [
            (
                n,
                words,
                example,
                typed.get(n, "") if did == "seen" else _shown(n, base.get(n, "")),
                did == "seen" and bad == n,
            )
            for n, (words, example) in SEEN_WORDS.items()
        ]
        readings = [
            (f"{m}_{n}", f"{words}, {m}", typed.get(f"{m}_{n}", ""), bad == f"{m}_{n}")
            for n, (words, _) in READINGS.items()
            for m in ("before", "after")
        ]
        _, steps = effective(base, part.reworks)
        photo = PartPhoto.objects.filter(part=part).defer("image").first()
        figures = [
            (FIGURE_WORDS.get(n, n.replace("_", " ")), _shown(n, v))
            for n, v in part.figures.items()
            if n not in ("id", "family", "title", "source", *SEEN_WORDS)
        ]
        page = {
            "part": part,
            "seen": seen,
            "kinds": KINDS,
            "readings": readings,
            "steps": list(zip(part.reworks, steps, strict=True)),
            "photo": photo,
            "marks": _placed(photo),
            "figures": figures,
            "limits": catalogue().limits,
            "takes": on_current(part.figures),
            "header": [h.strip() for h in part.figures.get("header", "").split("|") if h.strip()],
            **context,
        }
        return render(request, "drawer/module.html", page, status=status)


def _placed(photo: PartPhoto | None) -> list[dict]:
    """Marks in the photo's own pixels."""
    if photo is None:
        return []
    return [
        {
            "name": m["name"],
            "x": round(m["x"] * photo.width / 100),
            "y": round(m["y"] * photo.height / 100),
            "turn": _turn(m),
            "across": m["x"],
            "down": m["y"],
        }
        for m in photo.marks
    ]


def _turn(mark: dict) -> int:
    """
    The way a name leans, so that neighbours of a header stay apart and none leaves the photo
    [degrees].
    """
    up = mark["y"] > 25
    return (-55 if up else 55) if mark["x"] < 85 else (-125 if up else 125)


def _shown(name: str, value) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g} mm" if name in ("creepage", "neighbour") and value else str(value)


def photo(request: HttpRequest, key: str) -> HttpResponse:
    """The photo itself."""
    found = PartPhoto.objects.filter(part__key=key).first()
    if found is None:
        raise Http404("There is no photo of it.")
    return HttpResponse(
        bytes(found.image), content_type="image/jpeg", headers={"Cache-Control": "no-cache"}
    )
