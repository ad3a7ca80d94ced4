"""Apply one named edit to a build."""

from latchcore.document.edits import apply
from workbench.actions.saving import Stale, save
from workbench.drawer import catalogue
from workbench.models import Build


def edit_build(build: Build, name: str, args: dict, seen: int) -> str:
    """
    Apply a named edit and write its revision.

    Raises
    ------
    EditError
        If the edit is refused; the build is left as it is
    Stale
        If the build has moved on since version ``seen``
    """
    if build.version != seen:
        raise Stale(build, seen)
    document, summary = apply(build.document, name, args, catalogue())
    if document != build.document:
        save(build, document, name, summary, seen)
    return summary
