"""
What is written on a module's sheet: what was seen on it, its photo with named pins, its reworks.
"""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone
from pydantic import ValidationError

from latchcore.bench.rework import ReworkError, check, effective
from latchcore.catalogue import read_part
from latchcore.edits import EditError
from latchcore.edits.registry import field_of, plain
from latchcore.figures.quantity import plain_number
from latchcore.figures.typed import can_be_kept, quoted
from workbench.actions.photos import made_small
from workbench.actions.stocking import StalePart, change, the_part
from workbench.models import PartPhoto, StockPart

MOST_MARKS, MOST_REWORKS = 40, 40
SEEN = (
    "header",
    "terminals",
    "driver",
    "rails",
    "contact_volts",
    "contact_amperes",
    "creepage",
    "neighbour",
)


def _module(key: str) -> StockPart:
    return the_part(key, "module")


def note_seen(key: str, typed: dict[str, str], seen: int) -> None:
    """
    Write down what was seen on it: header, terminals, driver, what each rail feeds, ratings,
    distances in millimetres.
    """
    part = _module(key)
    figures = dict(part.original or part.figures)
    for name in SEEN:
        text = typed.get(name, "").strip()
        if name in ("creepage", "neighbour"):
            figures.pop(name, None)
            if text:
                figures[name] = plain_number(text.removesuffix("mm"))
                if figures[name] is None:
                    raise EditError(
                        f"{quoted(text)} is no distance; expected millimetres such as “3.5 mm”.",
                        name,
                    )
        elif text or name in ("header", "terminals", "driver", "rails"):
            figures[name] = text[:200]
    try:
        read_part(figures)
    except ValidationError as error:
        first = error.errors()[0]
        said = (
            f"“{typed.get(str(first['loc'][0]), '')[:40]}” is out of range; expected up to 100 mm."
            if first["type"] in ("greater_than", "less_than_equal")
            else plain(error)
        )
        raise EditError(said, field_of(error)) from error
    given = sorted({*part.given, *(n for n in SEEN if typed.get(n, "").strip())})
    _keep(part, seen, f"what was seen on {part.title}", figures, part.reworks, given=given)


def add_rework(key: str, typed: dict[str, str], seen: int) -> None:
    """Record a rework with its readings; the part's figures become those after it."""
    part = _module(key)
    if len(part.reworks) >= MOST_REWORKS:
        raise EditError(f"A module keeps up to {MOST_REWORKS} reworks.", "kind")
    try:
        entry = check(typed) | {"when": timezone.now().date().isoformat()}
        _keep(
            part,
            seen,
            f"rework of {part.title}",
            part.original or part.figures,
            [*part.reworks, entry],
        )
    except ReworkError as error:
        raise EditError(str(error), error.field) from error


def undo_rework(key: str, seen: int) -> None:
    """Take back the last rework, as it was undone on the module."""
    part = _module(key)
    if not part.reworks:
        raise EditError("Nothing has been reworked on this module.")
    _keep(part, seen, f"rework of {part.title} taken back", part.original, part.reworks[:-1])


def _keep(
    part: StockPart, seen: int, summary: str, original: dict, reworks: list, **fields
) -> None:
    figures, _ = effective(original, reworks)
    change(
        part,
        seen,
        summary,
        figures=figures,
        reworks=reworks,
        original=original if reworks else {},
        **fields,
    )


def rebase(part: StockPart, row) -> None:
    """
    Other figures for a module that was reworked: they are those before it, its reworks follow on
    them.
    """
    fields = {
        name: getattr(row, name) for name in ("title", "quantity", "place", "price", "substitutes")
    }
    _keep(
        part,
        row.version,
        f"changed {row.title}",
        row.figures,
        part.reworks,
        given=list(row.given),
        **fields,
    )


def _touch(part: StockPart, seen: int) -> None:
    """Count a change of what hangs on a part; inside a transaction, raises :class:`StalePart`."""
    if not StockPart.objects.filter(pk=part.pk, version=seen).update(version=seen + 1):
        raise StalePart(part)


def take_photo(key: str, upload, seen: int) -> None:
    """Keep a photo, made small and stripped of what the camera wrote into it."""
    part = _module(key)
    image, width, height = made_small(upload)
    with transaction.atomic():
        _touch(part, seen)
        PartPhoto.objects.update_or_create(
            part=part,
            defaults={"image": image, "width": width, "height": height},
        )


def _share(text: str, field: str) -> float:
    share = plain_number(text.strip().removesuffix("%"))
    if share is None:
        raise EditError(
            f"{quoted(text)} is no place; expected a share of the photo from 0 to 100 %.", field
        )
    if not 0 <= share <= 100:
        raise EditError(f"“{text[:40]}” lies outside the photo; expected 0 to 100 %.", field)
    return round(share, 1)


def name_pin(key: str, name: str, across: str, down: str, seen: int) -> None:
    """Name a pin at a place on the photo; a name that is there already moves."""
    part = _module(key)
    photo = PartPhoto.objects.filter(part=part).first()
    if photo is None:
        raise EditError("There is no photo yet; expected one before its pins are named.", "photo")
    name = name.strip()[:12]
    if not name or not can_be_kept(name):
        raise EditError(
            "Nothing was typed that can be shown; expected the pin's name as printed, such as"
            " “IN1”.",
            "name",
        )
    marks = [m for m in photo.marks if m["name"] != name]
    if len(marks) >= MOST_MARKS:
        raise EditError(f"Up to {MOST_MARKS} pins are named on a photo.", "name")
    photo.marks = [*marks, {"name": name, "x": _share(across, "across"), "y": _share(down, "down")}]
    with transaction.atomic():
        _touch(part, seen)
        photo.save()


def unname_pin(key: str, name: str, seen: int) -> None:
    """Take a pin's name off the photo."""
    part = _module(key)
    photo = PartPhoto.objects.filter(part=part).first()
    if photo is not None:
        photo.marks = [m for m in photo.marks if m["name"] != name]
        with transaction.atomic():
            _touch(part, seen)
            photo.save()
