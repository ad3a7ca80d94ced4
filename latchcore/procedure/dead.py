"""The first stage of a power-up plan: everything dead and unplugged, eyes and meter."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.bench.circuit import GROUND
from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.document.models import Rail
from latchcore.procedure.steps import LOOK, OHMS, Step
from latchcore.whole.barriers import barrier_map

#: Parts that sit one way round only.
POLAR = frozenset({"diode", "zener", "npn", "pnp", "nmos", "pmos", "coupler", "led"})
#: An earth path reads under this [Ω].
EARTH = 0.5
#: What loads measure cold, as a share of what they are at work: that of a filament.
COLD = 0.1


def hurts(around: BuildContext) -> bool:
    """Whether anything of a build hurts."""
    return any(around.hazardous(rail) for rail in around.build.rails)


def low_rails(around: BuildContext) -> list[Rail]:
    """Rails of direct current that do not hurt."""
    return [r for r in around.build.rails
            if not around.hazardous(r) and not around.alternating(r)]  # fmt: skip


def return_said(back: str) -> str:
    """A return as it is called at the bench."""
    return "0 V" if back == GROUND else "its own 0 V"


class Dead:
    """What is looked at and read before anything is plugged in."""

    def __init__(self, around: BuildContext, report: Report) -> None:
        self.around, self.report = around, report

    def steps(self) -> Iterator[Step]:
        """All of them."""
        for told_of in self.report.channels:
            parts = told_of.result.netlist.parts if told_of.result else ()
            drawn = [p for p in parts if p.kind in POLAR]
            if drawn:
                names = ", ".join(p.ref.partition(".")[2] for p in drawn)
                yield Step(
                    f"s0-{told_of.letter}-legs", 0,
                    f"{told_of.letter} {told_of.name}: {names} sit as drawn: bands, notches, legs.",
                    LOOK, "One the wrong way round burns or never switches. Turn it before power.",
                    channel=told_of.id, about="legs",
                )  # fmt: skip
        rails = {r.id: r for r in self.report.rails}
        for rail in low_rails(self.around):
            found, back = rails[rail.id], self.around.return_of(rail)
            # No less than all loads side by side, and a cold filament is a tenth of a hot one.
            least = COLD * found.volts.min / found.all_on if found.all_on else None
            yield Step(
                f"s0-{rail.id}-short", 0, f"{rail.name}: plus against its return, unplugged.",
                OHMS, "Near nothing is a short: take loads off one by one until it rises.",
                (rail.name, return_said(back)), least, None, "Ω",
                nodes=(rail.id, back), about="short",
            )  # fmt: skip
        yield from self._apart()
        if not self.around.build.channels:
            yield Step("s0-empty", 0, "Nothing is planned yet.", LOOK, "Add a load first.")

    def _apart(self) -> Iterator[Step]:
        if not hurts(self.around):
            return
        found = barrier_map(self.around, self.report.netlist)
        for n, pair in enumerate(
            p for p in found.pairs if "hazardous" in (p.one.kind, p.other.kind)
        ):
            one, other = (", ".join(i.titles) or "one side" for i in (pair.one, pair.other))
            yield Step(
                f"s0-apart-{n + 1}", 0, f"{one} and {other} are apart, at the highest ohms range.",
                OHMS, "Anything but OL is a way through: find the wire before anything is plugged.",
                (one, other), None, None, "Ω", about="barrier",
            )  # fmt: skip
        yield from self._line()
        yield Step("s0-earth", 0, "Earth pin of the plug to each metal part that can be touched.",
                   OHMS, "An earth that is not there is found by somebody's hand.",
                   ("earth pin", "metal"), 0.0, EARTH, "Ω", about="earth")  # fmt: skip
        yield Step("s0-fuse", 0, "The fuse is fitted, in the live conductor, of the printed value;"
                   " live, not neutral, goes through the contact; every wire holds a pull.",
                   LOOK, "Put it right before anything is plugged in.", about="fuse")  # fmt: skip

    def _line(self) -> Iterator[Step]:
        """Live against neutral: what all loads together have while they are cold, or more."""
        rails = {r.id: r for r in self.report.rails}
        for rail in self.around.build.rails:
            found = rails.get(rail.id)
            if not self.around.hazardous(rail) or found is None or not found.all_on:
                continue
            yield Step(
                f"s0-{rail.id}-line", 0,
                f"{rail.name}: live against neutral at the plug, unplugged, its switch closed.",
                OHMS, "Near nothing is a short: open the box, and take the loads off one by one.",
                ("live", "neutral"), COLD * found.volts.min / found.all_on, None, "Ω",
                about="line",
            )  # fmt: skip
