"""
Mains discipline: what is stated of the build, the region's customs, what guards each load, the
usual cautions.
"""

from __future__ import annotations

from latchcore.design.context import BuildContext
from latchcore.findings.guards import GUARDED, lacking
from latchcore.pieces.contacts import duty_of
from workbench.drawer import catalogue
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage

CHOICES = {
    "unattended": ("While nobody watches", (("no", "never: somebody watches"), ("yes", "it runs"))),
    "limit": (
        "Its limit",
        (
            ("independent", "a cut-out of its own, in series"),
            ("control_relay", "works through the control relay"),
            ("none", "the program alone"),
        ),
    ),
    "second_contactor": (
        "Second contactor",
        (("yes", "in series, with its own control"), ("no", "none")),
    ),
    "on_return": (
        "When power returns",
        (("stays_off", "stays off until asked"), ("as_before", "goes on as before")),
    ),
    "way_out": ("Way out without power", (("yes", "by hand from inside"), ("no", "none"))),
}


def _touched(build: Build) -> bool:
    doc = build.document
    return bool(doc.discipline) or any(c.unattended for c in doc.channels)


class Mains(BuildPage):
    """Everything that has to be stated where a voltage is hazardous, each with why."""

    page = Page(
        "mains/",
        "mains",
        "mains",
        "build/mains_station.html",
        "9",
        "Guards",
        touched=_touched,
        unanswered=lambda build: build.report.unanswered,
    )

    def content(self, build: Build, **kwargs) -> dict:
        """Facts, loads with their guards, region and cautions."""
        around = build.around
        rows = []
        for c in build.document.channels:
            context = around.channel(c)
            hazards = set(context.load.hazards or ())
            if not (hazards & (GUARDED | {"lock"})):
                continue
            asked = [
                (key, words, options, getattr(c, key))
                for key, (words, options) in CHOICES.items()
                if self._asked(key, hazards, context.dangerous)
            ]
            rows.append(
                (
                    c,
                    build.report.channel(c.id),
                    sorted(hazards),
                    asked,
                    lacking(context) if c.unattended == "yes" and hazards & GUARDED else [],
                )
            )
        return {
            "guarded": rows,
            "region": catalogue().regions[build.document.region],
            "cautions": catalogue().cautions,
            "contacts": self._watts(build, around),
            "type_a": (
                [
                    r.name
                    for r in build.report.channels
                    if r.result is not None and r.result.output.control == "phase"
                ]
                + [r.name for r in build.document.rails if r.source == "mains_derived"]
            ),
            "stated": sum(v == "yes" for v in build.document.discipline.values()),
            "all_facts": len(catalogue().discipline),
        }

    @staticmethod
    def _asked(key: str, hazards: set[str], dangerous: bool) -> bool:
        if key == "way_out":
            return "lock" in hazards
        if key == "second_contactor":
            return dangerous and bool(hazards & {"heat", "motion"})
        if key == "on_return":
            return bool(hazards & {"heat", "motion"})
        return bool(hazards & GUARDED)

    @staticmethod
    def _watts(build: Build, around: BuildContext) -> list:
        """What each contact on mains would bear here, in watts of its own kind of load."""
        found = []
        for c, r in zip(build.document.channels, build.report.channels, strict=True):
            context = around.channel(c)
            if (
                r.result is None
                or r.result.contact.allowed is None
                or not context.dangerous
                or not context.alternating
            ):
                continue
            allowed = r.result.contact.allowed
            found.append(
                (
                    r,
                    duty_of(context)[0].replace("_", " "),
                    allowed,
                    allowed * context.volts.typ if allowed else None,
                )
            )
        return found
