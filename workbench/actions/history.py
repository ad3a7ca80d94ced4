"""Go back, go forth, or bring an older revision back."""

from __future__ import annotations

from django.db import transaction

from latchcore.edits import EditError
from latchcore.edits.kept import keeps
from latchcore.figures.typed import whole
from workbench.actions.saving import follow_verdict, move_head, save
from workbench.drawer import catalogue
from workbench.models import Build, Revision, Unreadable


def redo_target(build: Build) -> Revision | None:
    """What redo leads to: the newest revision that followed the head."""
    return (
        Revision.objects.filter(parent=build.head_id)
        .only("id", "number", "summary")
        .order_by("-number")
        .first()
    )


def _go(build: Build, revision: int, seen: int) -> None:
    """
    Let a revision count; one that cannot be read can be left again, so its name stays the build's.
    """
    with transaction.atomic():
        found = Revision.objects.select_related("base").get(pk=revision)
        try:
            name = str(found.stored.get("name", build.name))[:60]
        except (ValueError, AttributeError):
            name = build.name
        move_head(build, found, name, seen)
        follow_verdict(build)


def undo(build: Build, seen: int) -> str:
    """Let the revision before the head count again."""
    if build.head.parent_id is None:
        raise EditError("There is nothing to undo; this is the first revision.")
    summary = build.head.summary
    _go(build, build.head.parent_id, seen)
    return f"undone: {summary}"


def redo(build: Build, seen: int) -> str:
    """Let the revision count that was undone last."""
    target = redo_target(build)
    if target is None:
        raise EditError("There is nothing to redo.")
    _go(build, target.pk, seen)
    return f"redone: {target.summary}"


def restore(build: Build, number: str, seen: int) -> str:
    """Bring an older revision back as a new one, so that what came between is kept."""
    wanted = whole(number, 1, 2**31)
    found = build.revisions.select_related("base").filter(number=wanted).first() if wanted else None
    if found is None:
        raise EditError(f"There is no revision {number[:20]}.")
    try:
        document = found.read()
    except Unreadable as error:
        raise EditError(f"Revision {number} cannot be read: {error}") from error
    save(
        build,
        keeps(document, document, catalogue()),
        "restore",
        f"restored revision {found.number}",
        seen,
    )
    return f"restored revision {found.number}"
