"""Make a build: empty, as a copy, or from a file."""

from __future__ import annotations

from django.db import transaction

from latchcore.document.models import Build as Document
from latchcore.edits import apply
from latchcore.figures.typed import in_one_line
from latchcore.formats.buildfile import read_build
from workbench.actions.saving import move_head, save
from workbench.drawer import catalogue
from workbench.keeping.writing import judge, write_revision
from workbench.models import Build


@transaction.atomic
def begin(document: Document, summary: str) -> Build:
    """A new build whose first revision is the document."""
    build = Build.objects.create(name=document.name)
    move_head(build, write_revision(build, document, "begin", summary), document.name, 0)
    build.__dict__["document"] = document
    judge(build, new=True)
    return build


def create_empty(name: str) -> Build:
    """A new build with nothing in it; raises ``EditError`` for a name that is none."""
    document, _ = apply(Document(name="new"), "rename_build", {"name": name})
    return begin(document, "begun")


def create_copy(build: Build) -> Build:
    """
    A build of its own with the same document; raises ``Unreadable`` where there is none to copy.
    """
    document = build.document.model_copy(update={"name": f"{build.name} copy"[:60]})
    return begin(document, f"copied from {build.name}")


def open_document(document: Document, into: Build | None, wish: str) -> Build:
    """
    A build of its own with a document a wish asked for, or an empty one that takes it and keeps its
    name; raises ``Stale``.
    """
    summary = f"wished: {wish}"
    if into is None:
        return begin(document, summary)
    kept = document.model_copy(update={"name": into.name})
    save(into, kept, "wish", in_one_line(summary), into.version)
    return into


def create_from_file(content: bytes | str) -> Build:
    """A build from a build file, all or nothing; raises ``BuildFileError``."""
    return begin(read_build(content, catalogue()), "imported")
