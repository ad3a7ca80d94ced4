"""
The wire list with its ticks, the plan of the whole build, and what is seen to while it is put
together.
"""

from __future__ import annotations

from drawings.build_plan import build_plan
from drawings.points_plan import points_plan
from latchcore.design.context import BuildContext
from latchcore.edits import EditError
from latchcore.whole.laying.boards import Places
from latchcore.whole.laying.conductors import conductors, crowded
from latchcore.whole.laying.words import Ends, pole_words
from latchcore.whole.wire_list import letters_of, totals, wire_list
from workbench.actions.ticking import set_ticks, state_of
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage


def points(around: BuildContext, report) -> list[tuple[str, dict[str, str]]]:
    """Points of the assembly that apply to this build."""
    there = {
        "hazardous": any(around.hazardous(r) for r in around.build.rails),
        "module": any(c.result and c.result.module.part is not None for c in report.channels),
    }
    return [
        (key, point)
        for key, point in around.catalogue.assembly.items()
        if there.get(point.get("when", ""), True)
    ]


#: Edits of what wires are led through end so; the fold they stand in stays open after one.
LAID = ("_block", "_cable", "_metal")


def crowded_words(around: BuildContext, report, laid) -> list[tuple[str, int]]:
    """Where more wires meet than one screw takes, as printed there, with how many."""
    ends = Ends(Places(around, report), letters_of(around, report))
    return [(ends.of(end), many) for end, many in crowded(laid)]


def _poles(around: BuildContext) -> list[tuple[str, str]]:
    """What metal can be joined to: the board's ground, and both poles of each rail."""
    found = [("board", "0 V of the board")] if around.board else []
    for rail in around.build.rails:
        one, other = pole_words(around, rail) if around.alternating(rail) else ("+", "−")
        found += [(f"{rail.id}+", f"{rail.name} {one}"), (f"{rail.id}-", f"{rail.name} {other}")]
    return found


class Wiring(BuildPage):
    """Every connection by channel, ticked off while wiring."""

    page = Page("wiring/", "wiring", "wiring", "build/wiring.html", "7", "Wiring")

    def carry_out(self, build: Build, name: str, args: dict, seen: int) -> str:
        """Ticks are the bench's, not the design's: they make no revision."""
        if name != "tick":
            return super().carry_out(build, name, args, seen)
        group = args.get("group", "")
        known = {g.id: [r.key for r in g.rows] for g in wire_list(build.around, build.report)}
        known["assembly"] = list(build.around.catalogue.assembly)
        if group not in known:
            raise EditError(
                "That part of the wire list is no longer there; the build was changed, perhaps in"
                " another tab."
            )
        return set_ticks(
            build, known[group], self.request.POST.getlist("done"), args.get("seen", "")
        )

    @staticmethod
    def _opened(groups: list) -> list:
        """
        Groups with whether they are unfolded: all of a small build, of a large one the first that
        is not done.
        """
        first = next((g.id for g, count in groups if count < len(g.rows)), None)
        return [
            (g, count, count < len(g.rows) and (len(groups) <= 4 or g.id == first))
            for g, count in groups
        ]

    def content(self, build: Build, **kwargs) -> dict:
        """Groups with their ticks, what wire is wanted in all, and how far the work is."""
        around = build.around
        ticked = set(build.ticks.values_list("key", flat=True))
        laid = conductors(around, build.report)
        groups = wire_list(around, build.report, laid)
        keys = {r.key for g in groups for r in g.rows}
        seen = points(around, build.report)
        return {
            "groups": self._opened([(g, sum(r.key in ticked for r in g.rows)) for g in groups]),
            "ticked": ticked,
            "wanted": totals(groups),
            "of": len(keys),
            "done": len(keys & ticked),
            "plan": build_plan(around, build.report) if groups else "",
            "stars": points_plan(around, build.report, laid, letters_of(around, build.report)),
            "crowded": crowded_words(around, build.report, laid),
            "poles": _poles(around),
            "laid_open": bool(self.request.POST.get("edit", "").endswith(LAID)),
            "points": seen,
            "seen": sum(key in ticked for key, _ in seen),
            "assembly_state": state_of(around.catalogue.assembly, ticked),
        }
