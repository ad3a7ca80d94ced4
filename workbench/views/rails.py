"""
Supplies: the tree, each rail's sums and what follows from them, an order of switching on for a
limit.
"""

from __future__ import annotations

from drawings.rail_tree import rail_tree
from latchcore.design.context import BuildContext
from latchcore.figures.quantity import QuantityError, digits, parse, show
from latchcore.findings.rails import pin_budget
from latchcore.whole.rails import start_plan
from workbench.actions.calibrating import measured_of
from workbench.drawer import catalogue
from workbench.models import Build, StockPart
from workbench.stations import Page, missing
from workbench.views.pages import BuildPage


def facts_of(around: BuildContext, rail, report) -> list[tuple[str, str]]:
    """What follows from the sums of one rail, as (words, figure)."""
    rows: list[tuple[str, str]] = []
    if report.spare is not None:
        rows.append(
            (
                "still to give, all on",
                (
                    show(report.spare, "A")
                    if report.spare >= 0
                    else f"{show(-report.spare, 'A')} short"
                ),
            )
        )
    if budget := pin_budget(around, rail):
        usable = around.catalogue.limits["board_pin_share"] * budget[1]
        rows.append(
            (
                f"the board's {budget[0]} pin",
                f"{show(report.worst, 'A')} of {show(usable, 'A')}",
            )
        )
    if report.heat is not None:
        rows.append(
            (
                "heat in its regulator",
                f"{show(report.heat, 'W')}, junction {digits(report.junction)} °C",
            )
        )
    if report.sagging is not None:
        rows.append(("with everything on", show(report.before, "V")))
        rows.append(("falls in the worst instant to", show(report.sagging, "V")))
    if report.ampacity is not None:
        rows.append(
            (
                "its wire carries",
                show(report.ampacity, "A") if report.ampacity else "nothing that is listed",
            )
        )
    if report.wire_drop is not None:
        rows.append(
            (
                "stays in the wire",
                (
                    f"{show(report.wire_drop, 'V')},"
                    f" {digits(report.wire_drop / report.volts.typ * 100, 2)} %"
                ),
            )
        )
    if report.lasts is not None:
        rows.append(("lasts about", f"{digits(report.lasts / 3600, 2)} h at typical use"))
    return rows


class Rails(BuildPage):
    """Supplies and their sums."""

    page = Page(
        "rails/",
        "rails",
        "rails",
        "build/rails.html",
        "5",
        "Rails",
        touched=lambda build: bool(build.document.rails),
        unanswered=missing("rail"),
    )

    def content(self, build: Build, **kwargs) -> dict:
        """Rails with their sums, their tree, and the start plan that was asked for."""
        doc, reports = build.document, build.report.rails
        around = build.around
        titles = {r.id: catalogue().sources[r.source].title.lower() for r in doc.rails}
        titles |= {
            r.id: f"{r.converter or 'by a wire'}, from {doc.rail(r.fed_by).name}"
            for r in doc.rails
            if r.fed_by and doc.rail(r.fed_by)
        }
        rows = [
            (
                d,
                r,
                facts_of(around, d, r),
                [(o.id, o.name) for o in doc.rails if o.id != d.id],
                self._plan(r),
            )
            for d, r in zip(doc.rails, reports, strict=True)
        ]
        ids = {one.id for one in build.document.rails}
        measured = [m for m in measured_of(build) if m.of in ids]
        return {
            "measured": measured,
            "rails": rows,
            "own": StockPart.objects.filter(family="supply")[:40],
            "tree": rail_tree(reports, titles) if reports else "",
            "channel_names": [(c.id, c.name) for c in doc.channels],
        }

    def _plan(self, report) -> dict:
        """
        What was asked of a rail's start: the limit as typed, the order that keeps it, or why there
        is none.
        """
        typed = self.request.GET.get(f"limit-{report.id}", "").strip()
        if not typed:
            return {"typed": ""}
        try:
            limit = parse(typed, "A")
        except QuantityError as error:
            return {"typed": typed, "error": str(error)}
        plan = start_plan(report, limit)
        least = max((worst for _, _, worst, _ in report.starts), default=0.0)
        if plan is None:
            return {
                "typed": typed,
                "none": (
                    f"No order keeps it under {show(limit, 'A')}: everything on takes"
                    f" {show(report.all_on, 'A')}, and the largest start alone {show(least, 'A')}."
                ),
            }
        return {
            "typed": typed,
            "plan": plan,
            "together": sum(max(running, worst) for _, running, worst, _ in report.starts),
        }
