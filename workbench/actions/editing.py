"""Apply one named edit to a build."""

from latchcore.advice.beginning import settled
from latchcore.edits import apply
from latchcore.edits.kept import keeps, retaken
from workbench.actions.saving import Stale, save
from workbench.drawer import catalogue
from workbench.models import Build

#: Edits after which a channel may want its first stage.
BEGINS = ("add_channel", "add_rail", "set_channel_rail")


def edit_build(build: Build, name: str, args: dict, seen: int) -> str:
    """
    Apply a named edit and write its revision with the figures of the parts it uses.

    Raises
    ------
    EditError
        If the edit is refused; the build is left as it is
    Stale
        If the build has moved on since version ``seen``
    """
    if build.version != seen:
        raise Stale(build, seen)
    drawer, before = catalogue(), build.document
    document, summary = apply(before, name, args, drawer)
    if name in BEGINS and not args.get("stage"):
        document = settled(before, document, drawer)
    if document != before:
        save(build, keeps(document, before, drawer), name, summary, seen)
    return summary


def take_drawer(build: Build, seen: int) -> str:
    """Take figures and stock as the drawer has them now; raises ``Stale``."""
    if build.version != seen:
        raise Stale(build, seen)
    document, summary = retaken(build.document, catalogue())
    if document == build.document:
        return "the drawer knows nothing otherwise"
    save(build, document, "take_drawer", summary, seen)
    return summary
