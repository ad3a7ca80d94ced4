"""
Findings, one module a family; each check reads the design and its netlist, never a remembered flag.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import SEVERITIES, Finding, StageResult
from latchcore.findings import (
    coils,
    contacts,
    drive,
    guards,
    isolation,
    measured,
    on_time,
    own_fuse,
    pins,
    solid,
    supplies,
    wires,
)
from latchcore.findings.records import record_of

FAMILIES = (
    pins,
    drive,
    coils,
    on_time,
    contacts,
    solid,
    isolation,
    supplies,
    wires,
    own_fuse,
    guards,
)


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
    for loser in [check for check in found if record_of(check).yields_to]:
        # A cause speaks for its consequence only where it is at least as grave.
        grave = [rank(found[cause]) for cause in record_of(loser).yields_to if cause in found]
        if grave and min(grave) <= rank(found[loser]):
            del found[loser]
    for check in [check for check in found if record_of(check).silences_all_but]:
        kept = (check, *record_of(check).silences_all_but)
        found = {other: finding for other, finding in found.items() if other in kept}
    return sorted(found.values(), key=rank)
