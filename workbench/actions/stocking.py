"""
Put parts into the drawer, take them out, count them; every change is one step that can be taken
back.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from copy import copy
from dataclasses import replace
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from latchcore.catalogue import read_part
from latchcore.edits import EditError
from latchcore.figures.typed import quoted, whole
from latchcore.formats.partsrow import Row
from workbench.keeping import packing
from workbench.models import DrawerStep, StockPart

PLAIN_FIELDS = ("family", "title", "value", "quantity", "place", "price", "substitutes")
FIELDS = (*PLAIN_FIELDS, "figures", "given")
#: All that is put back when a step is undone.
WHOLE = (*FIELDS, "original", "reworks", "binned")
#: Steps that can be taken back; older ones are forgotten, the parts stay.
MOST_STEPS = 200


class StalePart(EditError):
    """A part was changed since the page was opened; nothing is replaced."""

    def __init__(self, part: StockPart | None):
        title = part.title if part else "That part"
        super().__init__(
            f"“{title[:60]}” was changed since this page was opened, perhaps in another tab. It is"
            " shown as it is now; nothing of yours was kept."
        )


def the_part(key: str, family: str | None = None) -> StockPart:
    """A part that is in the drawer, or word that it is gone."""
    part = StockPart.objects.filter(
        key=key[:64], binned=None, **({"family": family} if family else {})
    ).first()
    if part is None:
        raise EditError("That part is no longer in the drawer; it may lie in the bin.")
    return part


def seen_version(text: str) -> int:
    """The version a page was opened at, or -1 where it says none."""
    number = whole(text, 1, 2**31)
    return -1 if number is None else number


def _snapshot(part: StockPart | None) -> dict | None:
    if part is None:
        return None
    kept = {name: getattr(part, name) for name in WHOLE}
    return kept | {"binned": part.binned.isoformat() if part.binned else None}


def note_step(summary: str, changes: Iterable[tuple[StockPart | None, StockPart]]) -> None:
    """
    Remember one change of the drawer; pairs of a part before and after, inside the transaction that
    made it.
    """
    entries = [(after.key, _snapshot(before), _snapshot(after)) for before, after in changes]
    DrawerStep.objects.create(
        summary=summary[:200], entries=packing.pack(json.dumps(entries).encode())
    )
    old = DrawerStep.objects.order_by("-id").values_list("pk", flat=True)[
        MOST_STEPS : MOST_STEPS + 1
    ]
    if old:
        DrawerStep.objects.filter(pk__lte=old[0]).delete()


@transaction.atomic
def change(part: StockPart, seen: int, summary: str, **fields) -> StockPart:
    """
    Change a part that is still at the version that was seen, as one step; raises
    :class:`StalePart`.
    """
    before = StockPart.objects.get(pk=part.pk)
    if before.version != seen:
        raise StalePart(before)
    after = copy(before)
    for name, value in (fields | {"version": seen + 1}).items():
        setattr(after, name, value)
    after.save()
    note_step(summary, [(before, after)])
    return after


def compared(rows: list[Row]) -> list[tuple[Row, str]]:
    """What taking in each row would do: added, changed, same, or refused."""
    known = {p.key: p for p in StockPart.objects.filter(key__in={row.key for row in rows})}
    return [(row, "refused") if row.error else _compare(row, known.get(row.key)) for row in rows]


def _compare(row: Row, part: StockPart | None) -> tuple[Row, str]:
    if part is None:
        return row, "added"
    if part.binned:
        return (
            replace(
                row,
                column="key",
                error=(
                    "This part lies in the bin; take it out there first, or leave the key empty for"
                    " a new one."
                ),
            ),
            "refused",
        )
    if all(getattr(part, name) == getattr(row, name) for name in PLAIN_FIELDS) and _mean_the_same(
        part.figures, row.figures
    ):
        return row, "same"
    if part.reworks and _plain(row.figures) != part.figures:
        return (
            replace(
                row,
                column="figures",
                error=(
                    "This module was reworked since; change it on its sheet, so that its record"
                    " stays true."
                ),
            ),
            "refused",
        )
    if row.version != part.version:
        says = (
            f"The drawer has it at version {part.version}, the table"
            f" {'at ' + str(row.version) if row.version else 'says none'}; export the drawer anew,"
            " or leave the key empty for a new part."
        )
        return replace(row, column="version", error=says), "refused"
    return row, "changed"


def _mean_the_same(kept: dict, read: dict) -> bool:
    """
    Whether two records are the same part, however their figures are written; where one came from is
    no figure.
    """
    if kept == read or not (kept and read):
        return kept == read
    try:
        return read_part(kept | {"source": ""}) == read_part(read | {"source": ""})
    except ValueError:
        return False


def _plain(value):
    return list(value) if isinstance(value, tuple) else value


@transaction.atomic
def take_in(rows: list[Row], summary: str = "") -> int:
    """
    Take in judged rows as one step, all or nothing; raises ``EditError`` where one is refused.
    """
    told = compared(rows)
    wrong = next((row for row, word in told if word == "refused"), None)
    if wrong is not None:
        raise EditError(
            f"Line {wrong.line}, column {wrong.column or '?'}: {wrong.error} Nothing was taken in."
        )
    moved = [(row, word) for row, word in told if word != "same"]
    known = (
        {
            p.key: p
            for p in StockPart.objects.filter(
                key__in=[row.key for row, word in moved if word == "changed"]
            )
        }
        if moved
        else {}
    )
    fresh = {row.key: {name: _plain(getattr(row, name)) for name in FIELDS} for row, _ in moved}
    new = [StockPart(key=key, **fields) for key, fields in fresh.items() if key not in known]
    StockPart.objects.bulk_create(new, batch_size=500)
    changes: list[tuple[StockPart | None, StockPart]] = [(None, part) for part in new]
    for key, part in known.items():
        after = copy(part)
        for name, value in (fresh[key] | {"version": part.version + 1}).items():
            setattr(after, name, value)
        changes.append((part, after))
    StockPart.objects.bulk_update(
        [after for before, after in changes if before is not None],
        [*FIELDS, "version"],
        batch_size=200,
    )
    if changes:
        note_step(summary or _said(changes), changes)
    return len(rows)


def _said(changes) -> str:
    if len(changes) == 1:
        before, after = changes[0]
        return f"{'put in' if before is None else 'changed'} {after.title}"
    counts = (
        (sum(b is None for b, _ in changes), "put in"),
        (sum(b is not None for b, _ in changes), "changed"),
    )
    return "parts: " + ", ".join(f"{many} {what}" for many, what in counts if many)


def discard(key: str, seen: int) -> str:
    """Put a part in the bin; builds that use it have kept its figures."""
    part = the_part(key)
    change(part, seen, f"took out {part.title}", binned=timezone.now())
    return f"{part.title} lies in the bin"


def put_back(key: str) -> str:
    """Take a part out of the bin."""
    part = StockPart.objects.filter(key=key[:64]).exclude(binned=None).first()
    if part is None:
        raise EditError("That part is not in the bin any more.")
    change(part, part.version, f"took {part.title} out of the bin", binned=None)
    return f"{part.title} is in the drawer again"


def count(key: str, quantity: str, seen: int) -> str:
    """Set how many there are."""
    part, many = the_part(key), whole(quantity, 0, 1_000_000)
    if many is None:
        raise EditError(
            f"{quoted(quantity)} is no count; expected a whole number up to a million.", "quantity"
        )
    change(part, seen, f"{many} × {part.title}", quantity=many)
    return f"{many} × {part.title}"


def last_step() -> DrawerStep | None:
    """The step that would be taken back next."""
    return DrawerStep.objects.filter(undone=False).only("id", "summary", "created").first()


@transaction.atomic
def undo(number: str) -> str:
    """
    Take the last step back, if it is the one that was seen and nothing happened to its parts since.

    Raises
    ------
    EditError
        Where there is none, another came since, or a part has moved on
    """
    step = DrawerStep.objects.filter(undone=False).first()
    if step is None:
        raise EditError("There is nothing to take back in the drawer.")
    if str(step.pk) != number:
        raise EditError(
            f"The last change of the drawer is another one by now: {step.summary}. Look at it, then"
            " take it back."
        )
    entries = json.loads(packing.unpack(step.entries))
    there = {p.key: p for p in StockPart.objects.filter(key__in=[key for key, _, _ in entries])}
    for key, _, after in entries:
        # Versions only ever rise, an undone one included, so it is the content that tells.
        if key not in there or _snapshot(there[key]) != after:
            raise EditError(
                f"“{after['title'][:60]}” was changed on its sheet since; take it back there."
            )
    for key, before, _ in entries:
        part = there[key]
        if before is None:
            part.delete()
            continue
        for name in WHOLE:
            setattr(part, name, before[name])
        part.binned = datetime.fromisoformat(before["binned"]) if before["binned"] else None
        part.version += 1
        part.save()
    DrawerStep.objects.filter(pk=step.pk).update(undone=True)
    return f"taken back: {step.summary}"


def erase_bin() -> int:
    """Erase every part that lies in the bin."""
    gone, _ = StockPart.objects.exclude(binned=None).delete()
    return gone
