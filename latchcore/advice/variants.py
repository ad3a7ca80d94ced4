"""
The same build on another board or with a rail at another voltage: worked out as a whole and held
beside the present one.
"""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.catalogue import Catalogue
from latchcore.design.report import Finding, Report
from latchcore.document.models import Build
from latchcore.edits import apply
from latchcore.evaluate import evaluate


@dataclass(frozen=True)
class Line:
    """One channel in both: its pin, its verdict and its tightest margin, before and after."""

    id: str
    letter: str
    name: str
    pins: tuple[str | None, str | None]
    verdicts: tuple[str, str]
    headroom: tuple[float | None, float | None]


@dataclass(frozen=True)
class Variant:
    """A variant and what it changes; ``gone`` and ``come`` are findings by check and place."""

    build: Build
    report: Report
    says: str
    lines: tuple[Line, ...]
    gone: tuple[Finding, ...]
    come: tuple[Finding, ...]
    rails: tuple[tuple[str, float, float, float | None], ...]

    @property
    def better(self) -> bool:
        """Whether fewer stops and fixes stand than before, or as many."""
        return sum(f.severity in ("stop", "fix") for f in self.come) <= sum(
            f.severity in ("stop", "fix") for f in self.gone
        )


def variant(
    build: Build, catalogue: Catalogue, board: str = "", rail: str = "", voltage: str = ""
) -> Variant:
    """
    Work out a variant.

    Parameters
    ----------
    build : Build
        Left as it is
    catalogue : Catalogue
    board : str
        Id of the other board; empty to keep the present one
    rail, voltage : str
        A rail and the voltage it gets; empty to keep all

    Raises
    ------
    EditError
        If there is no such board or rail, or the voltage is no voltage

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> build, _ = apply(Build(name="Bench"), "set_board", {"board": "board-radio-3v3"})
    >>> variant(build, load_catalogue(), board="board-8bit-5v-20").build.board
    'board-8bit-5v-20'
    """
    changed, says = apply(
        build, "take_variant", {"board": board, "rail": rail, "voltage": voltage}, catalogue
    )
    before, after = evaluate(build, catalogue), evaluate(changed, catalogue)
    lines = tuple(
        Line(
            a.id,
            a.letter,
            a.name,
            (build.channel(a.id).pin, changed.channel(a.id).pin),
            (b.verdict, a.verdict),
            tuple(r.tightest.headroom if r.tightest else None for r in (b, a)),
        )
        for b, a in zip(before.channels, after.channels, strict=True)
    )
    # Told apart by check, place and severity: what stands at another line than before is gone here
    # and new there.
    known, fresh = (
        {(f.check, f.where, f.severity): f for f in r.all_findings} for r in (before, after)
    )
    rails = tuple(
        (r.name, o.all_on, r.all_on, r.rating)
        for o, r in zip(before.rails, after.rails, strict=True)
    )
    return Variant(
        changed,
        after,
        says,
        lines,
        tuple(f for k, f in known.items() if k not in fresh),
        tuple(f for k, f in fresh.items() if k not in known),
        rails,
    )
