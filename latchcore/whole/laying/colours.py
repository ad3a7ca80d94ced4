"""Colours of conductors: the region's where it is hazardous, habit elsewhere."""

from __future__ import annotations

from latchcore.design.context import BuildContext
from latchcore.design.report import Report

#: Colours by habit, in order; one that means something on the mains side is not used on the low
#: side.
GROUND, PLUS, SIGNAL, SWITCHED = (
    ("black", "grey", "violet"),
    ("red", "pink", "orange", "violet"),
    ("yellow", "white", "grey", "orange"),
    ("white", "grey", "yellow"),
)
LOGIC = "orange"
#: Ends of the names of nodes on the way back: the neutral, behind its fuse, behind a second pole.
RETURNS = (".N", ".BACK")


class Colours:
    """
    What colour each node of a build is wired in.

    Parameters
    ----------
    around : BuildContext
    report : Report
        For the letters of its channels
    hazardous : set of str
        Nodes joined by metal with a hazardous rail
    """

    def __init__(self, around: BuildContext, report: Report, hazardous: set[str]):
        self.around, self.build = around, around.build
        self.region = around.catalogue.regions[self.build.region]
        self.letters = {c.id: c.letter for c in report.channels} | {
            i.id: f"I{n + 1}" for n, i in enumerate(report.inputs)
        }
        region = self.region
        self.taken = " ".join((region.live, region.neutral, region.earth)) if hazardous else ""

    @property
    def earth(self) -> str:
        """Of protective earth."""
        return self.region.earth

    def _free(self, colours: tuple[str, ...]) -> list[str]:
        return [c for c in colours if c not in self.taken] or list(colours)

    def of(self, node: str, domain: str) -> str:
        """Of one node."""
        if domain == "hazardous":
            return self._of_line(node)
        if node == "0V":
            return self._free(GROUND)[0]
        if node == "board.VDD":
            return LOGIC
        low = [r.id for r in self.build.rails if not self.around.hazardous(r)]
        if node in low:
            colours = [c for c in self._free(PLUS) if c != LOGIC]
            return colours[low.index(node) % len(colours)]
        if node.endswith(".0V"):
            rail = self.build.rail(node.removesuffix(".0V"))
            return f"{self._free(GROUND)[1]}, tagged {rail.name if rail else node} 0 V"
        letter = self.letters.get(node.split(".")[0], "")
        colours = self._free(SWITCHED if domain == "low voltage" else SIGNAL)
        place = list(self.letters.values()).index(letter) if letter else 0
        return f"{colours[place % len(colours)]}, tagged {letter}"

    def _of_line(self, node: str) -> str:
        """
        A neutral is what comes back on a line of one live, behind a pole that breaks it or a fuse
        in it too; of two lives both are live.
        """
        returns = node.endswith(RETURNS)
        channel = self.build.channel(node.split(".")[0])
        rail = self.build.rail(channel.rail if channel else node.removesuffix(".N"))
        neutral = returns and rail is not None and not self.around.two_lives(rail)
        return self.region.neutral if neutral else self.region.live
