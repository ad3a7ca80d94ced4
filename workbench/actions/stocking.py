"""Put parts into the drawer, take them out, count them."""

from __future__ import annotations

from dataclasses import replace

from django.db import transaction

from latchcore.document.edits import EditError
from latchcore.formats.partsfile import Row
from workbench.models import StockPart

FIELDS = ("family", "title", "figures", "given", "value", "quantity", "place", "price", "substitutes")


def compared(rows: list[Row]) -> list[tuple[Row, str]]:
    """What taking in each row would do: added, changed, same, or refused."""
    known = {p.key: p for p in StockPart.objects.all()}
    told = []
    for row in rows:
        if row.error:
            told.append((row, "refused"))
        elif row.key not in known:
            told.append((row, "added"))
        else:
            part = known[row.key]
            same = all(_plain(getattr(part, name)) == _plain(getattr(row, name)) for name in FIELDS)
            if part.reworks and not same and _plain(row.figures) != part.figures:
                row = replace(row, column="figures", error="This module was reworked since; change it on its sheet, so that its record stays true.")
                told.append((row, "refused"))
            else:
                told.append((row, "same" if same else "changed"))
    return told


def _plain(value):
    return list(value) if isinstance(value, tuple) else value


@transaction.atomic
def take_in(rows: list[Row]) -> int:
    """Take in judged rows, all or nothing; raises ``EditError`` where one is refused."""
    wrong = next((row for row in rows if row.error), None)
    if wrong is not None:
        raise EditError(f"Line {wrong.line}, column {wrong.column or '?'}: {wrong.error} Nothing was taken in.")
    reworked = {p.key: p.figures for p in StockPart.objects.exclude(reworks=[])}
    lost = next((row for row in rows if row.key in reworked and _plain(row.figures) != reworked[row.key]), None)
    if lost is not None:
        raise EditError(f"“{lost.title}” was reworked since; change it on its sheet. Nothing was taken in.")
    parts = [StockPart(key=row.key, **{name: _plain(getattr(row, name)) for name in FIELDS}) for row in rows]
    StockPart.objects.bulk_create(parts, batch_size=500, update_conflicts=True, unique_fields=["key"], update_fields=[*FIELDS])
    return len(parts)


def discard(key: str) -> str:
    """Take a part out of the drawer; designs that fixed it keep its figures in their own file."""
    part = StockPart.objects.filter(key=key).first()
    if part is None:
        raise EditError("That part is no longer in the drawer.")
    part.delete()
    return f"{part.title} is out of the drawer"


def count(key: str, quantity: str) -> str:
    """Set how many there are."""
    part = StockPart.objects.filter(key=key).first()
    if part is None:
        raise EditError("That part is no longer in the drawer.")
    if not quantity.strip().isdigit() or int(quantity) > 1_000_000:
        raise EditError(f"“{quantity}” is no count; expected a whole number.", "quantity")
    part.quantity = int(quantity)
    part.save(update_fields=["quantity", "changed"])
    return f"{part.quantity} × {part.title}"
