"""Move a build's head to a document, unless somebody else moved it first."""

from __future__ import annotations

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from latchcore.document.models import Build as Document
from workbench.models import Build, Revision


class Stale(Exception):
    """The build has moved on since the page was opened; ``since`` lists what happened meanwhile."""

    def __init__(self, build: Build, seen: int):
        super().__init__("The build has changed since this page was opened.")
        self.build = build
        self.since = list(build.revisions.filter(created__lte=timezone.now())[: max(build.version - seen, 1)])


def write_revision(build: Build, document: Document, action: str, summary: str) -> Revision:
    """Append a revision after the head; inside a transaction of the caller's."""
    number = (build.revisions.aggregate(most=Max("number"))["most"] or 0) + 1
    return Revision.objects.create(
        build=build, number=number, parent=build.head, document=document.model_dump(mode="json", exclude_none=True), action=action,
        summary=summary[:300],
    )  # fmt: skip


def move_head(build: Build, revision: Revision, seen: int) -> None:
    """Make a revision count, if the build is still at the version that was seen."""
    moved = Build.objects.filter(pk=build.pk, version=seen).update(
        head=revision, version=seen + 1, name=revision.document["name"], changed=timezone.now()
    )
    if not moved:
        raise Stale(Build.objects.select_related("head").get(pk=build.pk), seen)
    build.head, build.version, build.name = revision, seen + 1, revision.document["name"]
    for known in ("document", "report"):
        build.__dict__.pop(known, None)


def save(build: Build, document: Document, action: str, summary: str, seen: int) -> None:
    """Append a revision and make it count; raises :class:`Stale` and leaves nothing behind where it is too late."""
    with transaction.atomic():
        if build.version != seen:
            raise Stale(build, seen)
        move_head(build, write_revision(build, document, action, summary), seen)
    # The document was validated to be saved; it need not be read back for the answer.
    build.__dict__["document"] = document
