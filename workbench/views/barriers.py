"""
The barrier map: what is one piece of metal, what stands between, what goes round it; joined or kept
apart on the spot.
"""

from __future__ import annotations

from drawings.barrier_map import barrier_picture
from latchcore.whole.barriers import barrier_map
from workbench.models import Build
from workbench.stations import Page, some
from workbench.views.pages import BuildPage


class Barriers(BuildPage):
    """Islands, gates, pairs and bridges of the whole build."""

    page = Page(
        "barriers/", "barriers", "barriers", "build/barriers.html", "i", "Barriers", touched=some
    )

    def content(self, build: Build, **kwargs) -> dict:
        """The map read off the report's netlist, with what can be changed there and then."""
        around = build.around
        found = barrier_map(around, build.report.netlist)
        letters = {c.id: c.letter for c in build.report.channels} | {
            i.id: f"I{n + 1}" for n, i in enumerate(build.report.inputs)
        }
        modules = [
            (c, r)
            for c, r in zip(build.document.channels, build.report.channels, strict=True)
            if r.result is not None
            and r.result.module.part is not None
            and r.result.module.part.separate
        ]

        def named(ref: str) -> str:
            head, _, rest = ref.partition(".")
            if head == "SUPPLY":
                rail = build.document.rail(rest)
                return rail.name if rail else rest
            if (rail := build.document.rail(head)) is not None:
                # A node of a rail: its plus, or the way back to it.
                return f"{rail.name}, {'its return' if rest else 'its plus'}"
            return f"{letters[head]} {rest}" if head in letters else ref.replace("0V", "0 V")

        bridges = [(named(b.ref), [named(w) for w in b.way]) for b in found.bypasses]
        pairs = [
            (p, [named(w.partition(" (")[0]) + " (" + w.partition(" (")[2] for w in p.way])
            for p in found.pairs
        ]
        return {
            "map": found,
            "picture": barrier_picture(found, letters),
            "pairs": pairs,
            "bridges": bridges,
            "modules": modules,
            "low_rails": [r for r in build.document.rails if not around.hazardous(r)],
        }
