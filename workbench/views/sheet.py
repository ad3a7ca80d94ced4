"""The build sheet: all that is wanted at the bench, on paper, with nothing left out."""

from __future__ import annotations

from drawings.build_plan import build_plan
from drawings.paper import sheet_tables
from drawings.points_plan import points_plan
from drawings.schematic import schematic
from latchcore.behaviour.telling import told
from latchcore.design.fuse_words import as_stated
from latchcore.whole.laying.conductors import conductors
from latchcore.whole.wire_list import WIRE, letters_of, totals, wire_list
from workbench.actions import history
from workbench.actions.calibrating import measured_of
from workbench.drawer import meter_at_hand
from workbench.models import Build
from workbench.shopping import shopping_list
from workbench.stations import Page
from workbench.views.outward import LISTS, PROGRAM_LISTS
from workbench.views.pages import BuildPage
from workbench.views.wiring import crowded_words, points


class Sheet(BuildPage):
    """The build sheet for the wall over the bench."""

    page = Page("sheet/", "sheet", "lineup", "build/sheet.html")

    def content(self, build: Build, **kwargs) -> dict:
        """Findings, drawings, wires, joints, lists: everything of a build."""
        doc, around, report = build.document, build.around, build.report
        laid = conductors(around, report)
        groups = wire_list(around, report, laid)
        drawn = [
            (c, r, schematic(r.result, around, c) if r.result else None)
            for c, r in zip(doc.channels, report.channels, strict=True)
        ]
        line = any(around.hazardous(rail) for rail in doc.rails)
        return {
            "drawn": drawn,
            "accepted": [(f, why) for c in report.channels for f, why in c.accepted],
            "facts": self._facts(build) if line else [],
            "fuses": {rail.id: as_stated(rail) for rail in doc.rails},
            "redo": history.redo_target(build),
            "plan": build_plan(around, report) if groups else "",
            "stars": points_plan(around, report, laid, letters_of(around, report)),
            "wires": [(g, [r for r in g.rows if r.kind == WIRE]) for g in groups],
            "joints": [(g, there) for g in groups if (there := _joints(g))],
            "crowded": crowded_words(around, report, laid),
            "wanted": totals(groups),
            "points": points(around, report) if groups else [],
            "shopping": shopping_list(report, doc),
            "sentences": told(doc),
            "tables": sheet_tables(around, report, meter_at_hand()),
            "measured": measured_of(build),
            "lists": (*LISTS, *PROGRAM_LISTS),
        }

    @staticmethod
    def _facts(build: Build) -> list[tuple[str, str]]:
        """Facts of the discipline, each as it is stated."""
        words = {"yes": "yes", "no": "no, see above", "": "not stated"}
        stated = build.document.discipline
        return [
            (fact["words"], words.get(stated.get(key, ""), stated.get(key, "")))
            for key, fact in build.around.catalogue.discipline.items()
        ]


def _joints(group) -> list:
    return [row for row in group.rows if row.kind != WIRE]
