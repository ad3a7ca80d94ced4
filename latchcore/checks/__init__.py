"""Findings, one module a family; each check reads the design and its netlist, never a remembered flag."""

from __future__ import annotations

from latchcore.checks import coils, drive, measured, pins, supplies
from latchcore.context import ChannelContext
from latchcore.report import SEVERITIES, Finding, StageResult

FAMILIES = (pins, drive, coils, supplies)


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
        if known is None or SEVERITIES.index(finding.severity) < SEVERITIES.index(known.severity):
            found[finding.check] = finding
    for loser, winners in measured.YIELDS.items():
        if any(winner in found for winner in winners):
            found.pop(loser, None)
    return sorted(found.values(), key=lambda f: SEVERITIES.index(f.severity))
