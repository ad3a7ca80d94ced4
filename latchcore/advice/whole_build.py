"""Whether what mends a channel leaves the rest of the build as sound as it was."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable

from latchcore.catalogue import Catalogue
from latchcore.design.memory import Memory
from latchcore.design.report import SEVERITIES, Finding, Remedy, Report
from latchcore.document.models import Build, Channel
from latchcore.edits import EditError, apply
from latchcore.evaluate import evaluate

#: What was tried on a whole build, by all that the trial rests on.
_TRIED = Memory(8192)


class Whole:
    """
    A build with its report, against which remedies of its channels are tried.

    Parameters
    ----------
    build : Build
    report : Report
        As it was evaluated
    catalogue : Catalogue
    """

    def __init__(self, build: Build, report: Report, catalogue: Catalogue):
        self.build, self.report, self.catalogue = build, report, catalogue
        self.stood = worst_of(every(report))
        rests = [
            (
                c.id,
                r.result and (f"{r.result.running:.4g}", f"{r.result.surge:.4g}", r.result.kind),
                r.result and (r.result.coil.rail, f"{r.result.coil.draws or 0:.3g}"),
                (c.rail, c.pin, c.block, c.cable, c.fuse, c.wire_area, c.wire_length),
            )
            for c, r in zip(build.channels, report.channels, strict=True)
        ]
        aside = build.model_dump_json(exclude={"channels", "name", "note", "serial"})
        text = f"{catalogue.version} {aside} {rests} {sorted(self.stood.items())}"
        self.rests_on = hashlib.blake2b(text.encode(), digest_size=16).hexdigest()

    def bears(self, channel: Channel, finding: Finding, remedy: Remedy) -> bool:
        """
        Whether after a remedy nothing as bad as what it mends stands anywhere that did not stand
        before, and what it mends is gone.
        """
        if not remedy.edits:
            return True
        key = (channel.model_dump_json(), repr(remedy.edits), finding.mistake, self.rests_on)
        known = _TRIED.get(key)
        if known is None:
            known = _TRIED[key] = self._tried(finding, remedy)
        return known

    def _tried(self, finding: Finding, remedy: Remedy) -> bool:
        changed = self.build
        try:
            for name, args in remedy.edits:
                changed, _ = apply(changed, name, args, self.catalogue)
        except EditError:
            return False
        after = every(evaluate(changed, self.catalogue))
        if any(f.mistake == finding.mistake for f in after):
            return False
        bad = SEVERITIES.index(finding.severity)
        return all(
            rank > min(bad, FIX) or self.stood.get(place, len(SEVERITIES)) <= rank
            for place, rank in worst_of(after).items()
        )


#: Place of a fix among the severities: anything lesser is no harm.
FIX = SEVERITIES.index("fix")


def every(report: Report) -> list[Finding]:
    """Every finding at its own place, none gathered."""
    return [*report.findings, *(f for c in report.channels for f in c.findings)]


def worst_of(findings: Iterable[Finding]) -> dict[tuple[str, str], int]:
    """How grave each check stands at each place, 0 the gravest."""
    found: dict[tuple[str, str], int] = {}
    for f in findings:
        rank, place = SEVERITIES.index(f.severity), (f.check, f.where)
        found[place] = min(rank, found.get(place, rank))
    return found
