"""What is written on a module's sheet: what was seen on it, its photo with named pins, its reworks."""

from __future__ import annotations

import io

from django.db import transaction
from django.utils import timezone
from PIL import Image, ImageOps, UnidentifiedImageError
from pydantic import ValidationError

from latchcore.bench.rework import ReworkError, check, effective
from latchcore.catalogue import read_part
from latchcore.document.edits import EditError
from latchcore.document.edits.registry import plain
from workbench.models import PartPhoto, StockPart

#: Largest photo that is taken [bytes], its most pixels, and the longest side it is kept at.
MOST_BYTES, MOST_PIXELS, KEPT_SIDE = 8_000_000, 40_000_000, 1200
MOST_MARKS, MOST_REWORKS = 40, 40
SEEN = ("header", "terminals", "driver", "rails", "contact_volts", "contact_amperes", "creepage", "neighbour")


def _module(key: str) -> StockPart:
    part = StockPart.objects.filter(key=key, family="module").first()
    if part is None:
        raise EditError("That module is no longer in the drawer.")
    return part


def note_seen(key: str, typed: dict[str, str]) -> None:
    """Write down what was seen on it: header, terminals, driver, what each rail feeds, ratings, distances in millimetres."""
    part = _module(key)
    figures = dict(part.original or part.figures)
    for name in SEEN:
        text = typed.get(name, "").strip()
        if name in ("creepage", "neighbour"):
            figures.pop(name, None)
            if text:
                number = text.removesuffix("mm").strip().replace(",", ".")
                try:
                    figures[name] = float(number)
                except ValueError as error:
                    raise EditError(f"“{text[:40]}” is no distance; expected millimetres such as “3.5 mm”.", name) from error
        elif text or name in ("header", "terminals", "driver", "rails"):
            figures[name] = text[:200]
    try:
        read_part(figures)
    except ValidationError as error:
        first = error.errors()[0]
        said = f"“{typed.get(str(first['loc'][0]), '')[:40]}” is out of range; expected up to 100 mm." if first["type"] in ("greater_than", "less_than_equal") else plain(error)
        raise EditError(said, str(first["loc"][0])) from error
    part.given = sorted({*part.given, *(n for n in SEEN if typed.get(n, "").strip())})
    _keep(part, figures, part.reworks)


@transaction.atomic
def add_rework(key: str, typed: dict[str, str]) -> None:
    """Record a rework with its readings; the part's figures become those after it."""
    part = _module(key)
    if len(part.reworks) >= MOST_REWORKS:
        raise EditError(f"A module keeps up to {MOST_REWORKS} reworks.", "kind")
    try:
        entry = check(typed) | {"when": timezone.now().date().isoformat()}
        _keep(part, part.original or part.figures, [*part.reworks, entry])
    except ReworkError as error:
        raise EditError(str(error), error.field) from error


@transaction.atomic
def undo_rework(key: str) -> None:
    """Take back the last rework, as it was undone on the module."""
    part = _module(key)
    if not part.reworks:
        raise EditError("Nothing has been reworked on this module.")
    _keep(part, part.original, part.reworks[:-1])


def _keep(part: StockPart, original: dict, reworks: list) -> None:
    figures, _ = effective(original, reworks)
    part.figures, part.reworks, part.original = figures, reworks, original if reworks else {}
    part.save()


def rebase(part: StockPart, row) -> None:
    """Other figures for a module that was reworked: they are those before it, its reworks follow on them."""
    for name in ("title", "quantity", "place", "price", "substitutes"):
        setattr(part, name, getattr(row, name))
    part.given = list(row.given)
    _keep(part, row.figures, part.reworks)


def take_photo(key: str, upload) -> None:
    """Keep a photo, made small and stripped of what the camera wrote into it."""
    part = _module(key)
    if upload is None:
        raise EditError("No file was chosen; expected a photo as PNG, JPEG or WebP.", "photo")
    if upload.size > MOST_BYTES:
        raise EditError(f"The file has {upload.size / 1e6:.1f} MB; a photo has up to {MOST_BYTES / 1e6:.0f} MB here.", "photo")
    try:
        with Image.open(upload, formats=("PNG", "JPEG", "WEBP")) as image:
            if image.width * image.height > MOST_PIXELS:
                raise EditError(f"The photo has {image.width}×{image.height} pixels; up to {MOST_PIXELS / 1e6:.0f} million are taken.", "photo")
            small = ImageOps.exif_transpose(image).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise EditError(f"“{upload.name[:40]}” is no photo that can be read; expected PNG, JPEG or WebP.", "photo") from error
    small.thumbnail((KEPT_SIDE, KEPT_SIDE))
    out = io.BytesIO()
    small.save(out, "JPEG", quality=82)
    PartPhoto.objects.update_or_create(part=part, defaults={"image": out.getvalue(), "width": small.width, "height": small.height})


def _share(text: str, field: str) -> float:
    try:
        share = float(text.strip().removesuffix("%").replace(",", "."))
    except ValueError as error:
        raise EditError(f"“{text[:40]}” is no place; expected a share of the photo from 0 to 100 %.", field) from error
    if not 0 <= share <= 100:
        raise EditError(f"“{text[:40]}” lies outside the photo; expected 0 to 100 %.", field)
    return round(share, 1)


def name_pin(key: str, name: str, across: str, down: str) -> None:
    """Name a pin at a place on the photo; a name that is there already moves."""
    photo = PartPhoto.objects.filter(part=_module(key)).first()
    if photo is None:
        raise EditError("There is no photo yet; expected one before its pins are named.", "photo")
    name = name.strip()[:12]
    if not name:
        raise EditError("Nothing was typed; expected the pin's name as printed, such as “IN1”.", "name")
    marks = [m for m in photo.marks if m["name"] != name]
    if len(marks) >= MOST_MARKS:
        raise EditError(f"Up to {MOST_MARKS} pins are named on a photo.", "name")
    photo.marks = [*marks, {"name": name, "x": _share(across, "across"), "y": _share(down, "down")}]
    photo.save()


def unname_pin(key: str, name: str) -> None:
    """Take a pin's name off the photo."""
    photo = PartPhoto.objects.filter(part=_module(key)).first()
    if photo is not None:
        photo.marks = [m for m in photo.marks if m["name"] != name]
        photo.save()
