"""The reset timeline of the whole build."""

from __future__ import annotations

from drawings.timeline import timeline_picture
from latchcore.whole.timeline import Row, rows
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage


def told(row: Row) -> tuple[Row, list, list[str]]:
    """A row in words: where its load acts unasked, and what its pull resistor changes."""
    unasked = [m for m in row.moments if m.load != "off" and not m.asked]
    turned = [(m, o) for m, o in zip(row.moments, row.other, strict=False) if m.load != o.load]
    gains = list(
        dict.fromkeys(
            f"{m.story.lower()}, {m.words}: {m.load}, {'without' if row.pull else 'with'} it"
            f" {o.load}"
            for m, o in turned
        )
    )
    seen: dict[str, object] = {}
    for m in unasked:
        seen.setdefault(f"{m.words} {m.says}", m)
    return row, list(seen.values()), gains


def times(board) -> dict[str, float]:
    """How long the moments last that have a length [s]."""
    return {"boot": board.boot_time, "upload": board.upload_time} if board else {}


class States(BuildPage):
    """Every channel through the five states."""

    page = Page("states/", "states", "pins", "build/states.html")

    def content(self, build: Build, **kwargs) -> dict:
        """The strips, and the same in words."""
        around = build.around
        found = rows(around, build.report.channels)
        compare = any(r.other for r in found)
        return {
            "rows": found,
            "compare": compare,
            "told": [told(r) for r in found],
            "picture": timeline_picture(found, times(around.board), compare) if found else "",
            "yes_no": (("yes", "yes"), ("no", "no")),
        }
