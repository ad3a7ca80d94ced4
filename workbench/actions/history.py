"""Go back, go forth, or bring an older revision back."""

from __future__ import annotations

from django.db import transaction

from latchcore.document.edits import EditError
from latchcore.document.models import Build as Document
from workbench.actions.saving import move_head, save
from workbench.models import Build, Revision


def redo_target(build: Build) -> Revision | None:
    """What redo leads to: the newest revision that followed the head."""
    return Revision.objects.filter(parent=build.head_id).order_by("-number").first()


def undo(build: Build, seen: int) -> str:
    """Let the revision before the head count again."""
    if build.head.parent_id is None:
        raise EditError("There is nothing to undo; this is the first revision.")
    summary = build.head.summary
    with transaction.atomic():
        move_head(build, Revision.objects.get(pk=build.head.parent_id), seen)
    return f"undone: {summary}"


def redo(build: Build, seen: int) -> str:
    """Let the revision count that was undone last."""
    target = redo_target(build)
    if target is None:
        raise EditError("There is nothing to redo.")
    with transaction.atomic():
        move_head(build, target, seen)
    return f"redone: {target.summary}"


def restore(build: Build, number: str, seen: int) -> str:
    """Bring an older revision back as a new one, so that what came between is kept."""
    found = build.revisions.filter(number=number).first() if str(number).isdigit() else None
    if found is None:
        raise EditError(f"There is no revision {number}.")
    save(build, Document.model_validate(found.document), "restore", f"restored revision {found.number}", seen)
    return f"restored revision {found.number}"
