"""Move a build's head to a document, unless somebody else moved it first."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone

from latchcore.document.models import Build as Document
from workbench.keeping.writing import follow_uses, judge, write_revision
from workbench.models import Build, Revision, Verdict

#: A conflict names no more of what happened meanwhile than this.
MOST_TOLD = 12


class Stale(Exception):
    """
    The build has moved on since the page was opened; ``since`` lists the last of what happened
    meanwhile.
    """

    def __init__(self, build: Build, seen: int):
        super().__init__("The build has changed since this page was opened.")
        self.build = build
        many = min(max(build.version - seen, 1), MOST_TOLD) if seen >= 0 else 1
        self.since = list(build.revisions.only("number", "summary", "created")[:many])


def move_head(build: Build, revision: Revision, name: str, seen: int) -> None:
    """Make a revision count, if the build is still at the version that was seen."""
    moved = Build.objects.filter(pk=build.pk, version=seen).update(
        head=revision, version=seen + 1, name=name, changed=timezone.now()
    )
    if not moved:
        raise Stale(Build.with_head().get(pk=build.pk), seen)
    build.head, build.version, build.name = revision, seen + 1, name
    for known in ("document", "around", "report", "findings"):
        build.__dict__.pop(known, None)


def save(build: Build, document: Document, action: str, summary: str, seen: int) -> None:
    """
    Append a revision, make it count and keep what was found of it; raises :class:`Stale` and leaves
    nothing behind where it is too late.
    """
    with transaction.atomic():
        if build.version != seen:
            raise Stale(build, seen)
        move_head(build, write_revision(build, document, action, summary), document.name, seen)
        # The document was validated to be saved; it need not be read back for the answer.
        build.__dict__["document"] = document
        judge(build, new=True)


def follow_verdict(build: Build) -> None:
    """
    After the head moved to an older revision: what uses which part follows, from what was found of
    it then.
    """
    known = Verdict.objects.filter(revision=build.head_id).first()
    if known is None:
        judge(build)
    else:
        follow_uses(build, known.uses)
