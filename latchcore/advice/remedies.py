"""
What mends a finding: candidate edits, each tried on a copy and offered only where the finding then
is gone.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from latchcore.advice.tries import TRIES
from latchcore.advice.tries.table import Candidate, Case, Edits
from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, Remedy, StageResult
from latchcore.document.models import Build
from latchcore.edits import EditError, apply
from latchcore.figures.quantity import show
from latchcore.findings.records import record_of

#: What is said where no edit mends a finding and its record has no word for it.
NO_EDIT = "Change the load, the supply or the part; no single change of this stage mends it."
#: A builder wants a choice, not a list.
MOST_REMEDIES = 3
#: So many are looked for: some of them the whole build may not bear.
MOST_TRIED = 5


def candidates(
    context: ChannelContext, result: StageResult, finding: Finding
) -> Iterator[Candidate]:
    """
    Edits that might mend a finding, in the order its record names them; they are tried before they
    are shown.
    """
    case = Case(context, result, finding)
    for name in record_of(finding.check).tries:
        yield from TRIES[name](case)


def remedies(
    context: ChannelContext,
    result: StageResult,
    finding: Finding,
    standing: list[Finding],
    trial: Callable[[Build, str], tuple[StageResult, list[Finding]] | None],
    tried: dict[str, tuple[StageResult, list[Finding]] | None] | None = None,
) -> tuple[Remedy, ...]:
    """
    The candidates that work: after the edit the finding is gone, no stop has come, and a fix only
    in the place of a stop.

    Parameters
    ----------
    context, result, finding
        The channel, its result, and what is to be mended
    standing : list of Finding
        What stands at the channel now
    trial : callable
        Evaluates one channel of a changed build to its result and findings
    tried : dict, optional
        What was tried at this channel already, for several findings may be mended by one edit
    """

    def attempt(edits: Edits) -> tuple[StageResult, list[Finding]] | None:
        changed = context.around.build
        try:
            for name, args in edits:
                changed, _ = apply(changed, name, args, context.around.catalogue)
        except EditError:
            return None
        return trial(changed, context.channel.id)

    working, tried = [], {} if tried is None else tried
    for label, edits in candidates(context, result, finding):
        known = repr(edits)
        if known not in tried:
            tried[known] = attempt(edits)
        outcome = tried[known]
        if outcome is None or not _holds(context, result, finding, standing, outcome):
            continue
        after, _ = outcome
        text = label.format_map(_Texts(after))
        if not any(r.label == text for r in working):
            working.append(Remedy(text, edits, _outcome(after, finding)))
        if len(working) == MOST_TRIED:
            break
    if not working:
        working.append(Remedy(record_of(finding.check).advice or NO_EDIT))
    return tuple(working)


def _holds(
    context: ChannelContext,
    result: StageResult,
    finding: Finding,
    standing: list[Finding],
    outcome: tuple[StageResult, list[Finding]],
) -> bool:
    """
    Whether the finding is gone, with less to mend in all, nothing as bad in its place and what
    hurts kept apart.
    """
    after, found = outcome
    return (
        all(f.mistake != finding.mistake for f in found)
        and weight(found) < weight(standing)
        and not _worsens(standing, found, finding)
        and (after.kind == result.kind or not context.dangerous or keeps_apart(context, after))
    )


def _worsens(before: list[Finding], after: list[Finding], mended: Finding) -> bool:
    """
    Whether a stop has come that did not stand before, or a fix that is not the lesser evil in the
    place of a stop.
    """
    stood = {(f.check, f.severity) for f in before}
    return any(
        f.severity == "stop"
        and (f.check, "stop") not in stood
        or f.severity == "fix"
        and mended.severity != "stop"
        and stood.isdisjoint({(f.check, "stop"), (f.check, "fix")})
        for f in after
    )


def weight(findings: list[Finding]) -> int:
    """Stops over fixes over the rest, to tell better from worse."""
    return sum({"stop": 1000, "fix": 10}.get(f.severity, 1) for f in findings)


class _Texts(dict):
    """Fills a label from the sized values of the tried design."""

    def __init__(self, result: StageResult):
        self.update({"load_diode": "", "snubber": ""})
        self.update({v.key: v.brief for v in result.values})

    def __missing__(self, key: str) -> str:
        return "part"


def _outcome(result: StageResult, finding: Finding) -> str:
    if finding.measure is not None:
        after = result.measure(finding.measure.key)
        if after is not None:
            return (
                f"then {after.label[0].lower()}{after.label[1:]} {show(after.worst, after.unit)},"
                f" {after.limit_name} {show(after.limit, after.unit)}"
            )
    if finding.check in ("C4", "C5") and (clamped := result.measure("blocking")):
        release = result.coil.release_time
        text = f"then the switch sees {show(clamped.worst, 'V')}"
        return text + (f", release about {show(release, 's', 2)}" if release else "")
    state = next(
        (s for s in result.states if s.key in ("floating", "weakly_pulled") and s.voltage), None
    )
    if finding.check in ("P6", "P5") and state:
        return (
            f"then the input stays at {show(state.voltage, 'V')}, off up to"
            f" {show(state.limit, 'V')}"
        )
    return ""


def keeps_apart(context: ChannelContext, result: StageResult) -> bool:
    """
    Whether a stage's barrier is enough between a hazardous rail and what is touched: reinforced, or
    basic with the low side bonded to earth.
    """
    barrier = result.barrier
    return barrier == "reinforced" or (
        barrier == "basic"
        and any(r.earthed for r in context.around.build.rails if not context.around.hazardous(r))
    )
