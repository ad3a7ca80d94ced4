"""
The pages of a build, one record each, and the spine of stations made from those that are stations.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from latchcore.findings.records import record_of
from workbench.models import Build

#: Stations in the order of the work, by their keys: inputs and barriers behind the pins, zero
#: behind the nine.
ORDER = "123456ni78tg90"


def _never(build: Build) -> bool:
    return False


def _nothing(build: Build) -> int:
    return 0


def some(build: Build) -> bool:
    """Whether it has a channel."""
    return bool(build.document.channels)


def missing(what: str) -> Callable[[Build], int]:
    """How many channels wait for something to be said."""

    def count(build: Build) -> int:
        return [w for channel in build.report.channels for w in channel.missing].count(what)

    return count


@dataclass(frozen=True)
class Page:
    """
    A page of a build: where it is, what it is called, what it stands for on the spine.

    Attributes
    ----------
    address : str
        Below the build's own, such as ``rails/``
    name : str
        Of its address, for links
    station : str
        Station it belongs to, which is marked while it is shown
    template : str
    key : str
        Of the keyboard, and its place on the spine, for a station of the work
    title : str
        On the spine
    touched : callable
        Whether anything was done there
    unanswered : callable
        How many questions are open there
    """

    address: str
    name: str
    station: str
    template: str
    key: str = ""
    title: str = ""
    touched: Callable[[Build], bool] = _never
    unanswered: Callable[[Build], int] = _nothing


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


def spine(build: Build, pages: list[Page]) -> list[Station]:
    """The stations of the work, each untouched, open, settled or falling short."""
    short: dict[str, int] = {}
    for finding in build.report.all_findings:
        if finding.severity in ("stop", "fix"):
            station = record_of(finding.check).station
            short[station] = short.get(station, 0) + 1

    def stands(page: Page) -> Station:
        count = short.get(page.station, 0)
        state = "short"
        if not count:
            count = page.unanswered(build)
            state = "open" if count else "settled" if page.touched(build) else "untouched"
        return Station(page.key, page.station, page.title, state, count)

    stations = sorted((p for p in pages if p.key), key=lambda p: (ORDER.find(p.key[0]), p.key))
    return [stands(page) for page in stations]
