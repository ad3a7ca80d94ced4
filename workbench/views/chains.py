"""Chains of a build as cells with their channels, and what one clock edge too many does."""

from __future__ import annotations

from itertools import islice

from drawings.chain_row import chain_row
from latchcore.findings.slips import slips
from latchcore.whole.chains import RISING, ChainReport
from workbench.drawer import catalogue
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage

#: A list of slips is read, not searched: so many of them stand on the page.
MOST_SLIPS = 12


class Chains(BuildPage):
    """Every chain with its cells, its lines and what one edge too many does to it."""

    page = Page("chains/", "chains", "pins", "build/chains.html")

    def content(self, build: Build, **kwargs) -> dict:
        """Chains with who hangs where; channels that could move to one."""
        letters = {c.id: c.letter for c in build.report.channels}
        rows = [
            (
                chain,
                report,
                chain_row(report, letters),
                [f for f in build.report.findings if f.where == f"chain:{chain.id}"],
                _told(report, letters),
                _free(report),
            )
            for chain, report in zip(build.document.chains, build.report.chains, strict=True)
        ]
        sinks = {c.id for c in build.document.channels if c.stage.kind == "register_output"}
        return {
            "chains": rows,
            "rising": RISING,
            "parts": [(p.id, p.title) for p in catalogue().of_family("chain")],
            "rail_names": [(r.id, r.name) for r in build.document.rails],
            "base_choices": ((0, "from 0"), (1, "from 1")),
            "first_choices": (
                ("nearest", "nearest to the data input"),
                ("farthest", "farthest from it"),
            ),
            "enable_choices": (
                ("line", "on a line of the board"),
                ("tied", "tied: the outputs always drive"),
            ),
            "idle_choices": (("low", "rests low"), ("high", "rests high")),
            "edge_choices": (("first", "first edge"), ("second", "second edge")),
            "rest_choices": (
                ("keeps", "at the last bit"),
                ("0", "low"),
                ("1", "high"),
            ),
            "movable": [
                (c.id, f"{letters[c.id]} {c.name}", c.id in sinks)
                for c in build.document.channels
                if not c.pin_locked and not c.moves_with and not c.pwm
            ],
        }


def _free(report: ChainReport) -> int:
    return sum(not cell.holders for cell in report.cells)


def _told(report: ChainReport, letters: dict[str, str]) -> list[tuple[str, str, str, str]]:
    """Commands one place off: what was told, which way, what stands then, what it does."""
    if report.context.part.bus != "shift":
        return []
    found = []
    for one in islice(slips(report), MOST_SLIPS):
        who, _, state = one.wanted.partition(" ")
        wrong = one.wrong
        says = [f"{letters[w]} comes to a code of nobody's" for w in wrong.forbidden]
        says += [f"{letters[w]} acts unasked" for w in wrong.on]
        says += [f"{letters[w]} does not act" for w in wrong.at_rest]
        told = f"{letters[who]} {state}" if who in letters else one.wanted
        found.append((told, one.way, wrong.contents, "; ".join(says[:4])))
    return found
