"""
Inputs that belong to the job, on a page of their own: what each reads in each state, and which
channel it confirms.
"""

from __future__ import annotations

from latchcore.senses import KINDS
from workbench.actions.calibrating import measured_of
from workbench.drawer import catalogue
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage


class Inputs(BuildPage):
    """Every sense input with its report."""

    page = Page(
        "inputs/",
        "inputs",
        "inputs",
        "build/inputs.html",
        "n",
        "Inputs",
        touched=lambda build: bool(build.document.inputs),
        unanswered=lambda build: sum(bool(set(i.missing) - {"pin"}) for i in build.report.inputs),
    )

    def content(self, build: Build, **kwargs) -> dict:
        """Inputs with the fields that matter for their kind, and the channels each confirms."""
        names = {c.id: f"{c.letter} {c.name}" for c in build.report.channels}
        rows = []
        for item, report in zip(build.document.inputs, build.report.inputs, strict=True):
            confirmed = [names[c.id] for c in build.document.channels if c.confirmed_by == item.id]
            rows.append(
                (
                    item,
                    report,
                    KINDS[item.kind].asks,
                    KINDS[item.kind].upper,
                    confirmed,
                    [f for f in build.report.findings if f.where == item.id],
                )
            )
        ids = {one.id for one in build.document.inputs}
        measured = [m for m in measured_of(build) if m.of in ids]
        return {
            "measured": measured,
            "inputs": rows,
            "kinds": [(key, kind.title) for key, kind in KINDS.items()],
            "rest_choices": (("open", "open at rest (NO)"), ("closed", "closed at rest (NC)")),
            "output_choices": (
                ("push_pull", "drives high and low"),
                ("open_collector", "only pulls low"),
            ),
            "input_names": [(i.id, i.name) for i in build.document.inputs],
            "edge_choices": (
                ("rising", "the rising edge, and half the pulse added"),
                ("middle", "the middle between both edges"),
            ),
            "moved_choices": (("up", "up"), ("down", "down")),
            "channel_names": [(c.id, f"{c.letter} {c.name}") for c in build.report.channels],
            "coupler_names": [(p.id, p.title) for p in catalogue().of_family("coupler")],
            "rail_names": [(r.id, r.name) for r in build.document.rails],
        }
