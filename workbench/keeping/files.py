"""Every build and the drawer as files anybody can read, all at once."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable

from latchcore.formats.buildfile import write_build
from latchcore.formats.partsfile import write_parts
from latchcore.program.plan import slug_of
from workbench.models import Build, StockPart, Unreadable

#: What a row of the drawer's file is made of.
COLUMNS = (
    "key",
    "version",
    "family",
    "title",
    "value",
    "quantity",
    "place",
    "price",
    "substitutes",
    "figures",
    "given",
)


def drawer_file() -> str:
    """The drawer as a table."""
    return write_parts(list(StockPart.objects.filter(binned=None).values(*COLUMNS)))


def files_of_everything() -> list[tuple[str, str]]:
    """Names and texts of all files; a build that cannot be read is given as it is stored."""
    found = []
    for build in Build.with_head().filter(binned=None).order_by("id"):
        name = f"builds/{build.pk}-{slug_of(build.name)}.json"
        try:
            found.append((name, write_build(build.document, build.around.catalogue)))
        except Unreadable:
            stored = build.head.text.decode("utf-8", errors="replace")
            found.append((f"{name}.unreadable", stored))
    return [*found, ("drawer.csv", drawer_file())]


def zipped(files: Iterable[tuple[str, str]]) -> bytes:
    """Files in one."""
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w", zipfile.ZIP_DEFLATED) as file:
        for name, text in files:
            file.writestr(name, text)
    return content.getvalue()
