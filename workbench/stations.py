"""The station spine: where the work stands, from the report."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.findings.records import record_of
from workbench.models import Build


@dataclass(frozen=True)
class Station:
    """One station of the work with its state and what is open there."""

    key: str
    slug: str
    title: str
    state: str
    count: int

    @property
    def says(self) -> str:
        """The state in words."""
        return {
            "untouched": "untouched",
            "open": "open questions",
            "settled": "settled",
            "short": "falls short",
        }[self.state]


def own_first(findings: list, station: str) -> list:
    """Findings with those a station answers for in front, the worst first in either part."""
    return sorted(findings, key=lambda f: record_of(f.check).station != station)


def spine(build: Build) -> list[Station]:
    """The stations that work, each untouched, open, settled or falling short."""
    doc, report = build.document, build.report
    short = {"pins": 0, "sizes": 0, "rails": 0, "barriers": 0, "mains": 0}
    open_facts = report.unanswered
    for finding in report.all_findings:
        if finding.severity in ("stop", "fix"):
            short[record_of(finding.check).station] += 1
    missing = [what for channel in report.channels for what in channel.missing]
    some = bool(doc.channels)

    def state(slug: str, touched: bool, unanswered: int) -> tuple[str, int]:
        if short.get(slug):
            return "short", short[slug]
        if unanswered:
            return "open", unanswered
        return ("settled" if touched else "untouched"), 0

    rows = [
        ("1", "loads", "Loads", some, 0),
        ("2", "at-hand", "At hand", doc.board is not None, int(some and doc.board is None)),
        ("3", "stages", "Stages", some, 0),
        ("4", "sizes", "Sizes", some, 0),
        ("5", "rails", "Rails", bool(doc.rails), missing.count("rail")),
        ("6", "pins", "Pins", any(c.pin for c in doc.channels), missing.count("pin")),
        ("7", "barriers", "Barriers", some, 0),
        ("8", "wiring", "Wiring", False, 0),
        (
            "9",
            "mains",
            "Mains",
            bool(doc.discipline) or any(c.unattended for c in doc.channels),
            open_facts,
        ),
        ("0", "keeping", "Keeping", build.head.number > 1, 0),
    ]
    return [
        Station(key, slug, title, *state(slug, touched, unanswered))
        for key, slug, title, touched, unanswered in rows
    ]
