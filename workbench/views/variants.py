"""The same build otherwise, side by side."""

from __future__ import annotations

from latchcore.advice.variants import variant
from latchcore.edits import EditError
from workbench.drawer import catalogue
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage


class Variants(BuildPage):
    """A variant that was asked for, held beside the build as it is."""

    page = Page("variants/", "variants", "at-hand", "build/variants.html")

    def content(self, build: Build, **kwargs) -> dict:
        """What was asked, and the outcome or why there is none."""
        asked = {key: self.request.GET.get(key, "").strip() for key in ("board", "rail", "voltage")}
        page = {
            "asked": asked,
            "boards": [(b.id, b.title) for b in catalogue().boards],
            "rail_names": [(r.id, f"{r.name}, {r.voltage}") for r in build.document.rails],
            "found": None,
        }
        if not any(asked.values()):
            return page
        try:
            return page | {"found": variant(build.document, build.around.catalogue, **asked)}
        except EditError as error:
            return page | {"wrong": str(error)}
