"""Findings, one module a family; each check reads the design and its netlist, never a remembered flag."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import SEVERITIES, Finding, StageResult
from latchcore.findings import coils, contacts, drive, fuses, guards, isolation, measured, on_time, pins, solid, supplies, wires

FAMILIES = (pins, drive, coils, on_time, contacts, solid, isolation, supplies, wires, fuses, guards)


def rank(finding: Finding) -> int:
    """Place of a finding's severity, 0 the gravest."""
    return SEVERITIES.index(finding.severity)


def channel_findings(context: ChannelContext, result: StageResult) -> list[Finding]:
    """
    Every finding of one channel, the worst first; one a check, since one mistake is one finding.
    """
    found: dict[str, Finding] = {}
    candidates = list(measured.findings(context, result))
    for family in FAMILIES:
        candidates += family.channel(context, result)
    for finding in candidates:
        known = found.get(finding.check)
        if known is None or rank(finding) < rank(known):
            found[finding.check] = finding
    for loser, winners in measured.YIELDS.items():
        # A cause speaks for its consequence only where it is at least as grave.
        grave = [rank(found[w]) for w in winners if w in found]
        if loser in found and grave and min(grave) <= rank(found[loser]):
            del found[loser]
    if "A1" in found:
        # A stage for the other kind of current: its sums mean nothing, only what is wrong with the pin still does.
        found = {check: f for check, f in found.items() if check in ("A1", "P3", "P5", "P10")}
    return sorted(found.values(), key=rank)
