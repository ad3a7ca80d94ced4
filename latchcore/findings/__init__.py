"""
Findings, one module a family; each check reads the design and its netlist, never a remembered flag.
"""

from __future__ import annotations

from dataclasses import replace

from latchcore.design.context import ChannelContext
from latchcore.design.report import SEVERITIES, Finding, StageResult
from latchcore.findings import (
    coils,
    contacts,
    dead,
    drive,
    guards,
    isolation,
    measured,
    modules,
    motion,
    on_time,
    own_fuse,
    packaged,
    pins,
    servos,
    solid,
    sounders,
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
    dead,
    modules,
    solid,
    packaged,
    sounders,
    motion,
    servos,
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
    Every finding of one channel, the worst first; one a cause, since one mistake is one finding.
    """
    found: dict[str, Finding] = {}
    candidates = list(measured.findings(context, result))
    for family in FAMILIES:
        candidates += family.channel(context, result)
    for finding in candidates:
        known = found.get(finding.mistake)
        if known is None or rank(finding) < rank(known):
            found[finding.mistake] = finding
    for loser in [f for f in found.values() if record_of(f.check).yields_to]:
        # A cause speaks for its consequence only where it is at least as grave.
        speaks = record_of(loser.check).yields_to
        grave = [rank(f) for f in found.values() if f.check in speaks]
        if grave and min(grave) <= rank(loser):
            del found[loser.mistake]
    for check in {f.check for f in found.values() if record_of(f.check).silences_all_but}:
        kept = (check, *record_of(check).silences_all_but)
        found = {key: finding for key, finding in found.items() if finding.check in kept}
    kept_open = (_on_the_line(f) if context.dangerous else f for f in found.values())
    return sorted(kept_open, key=rank)


def _on_the_line(finding: Finding) -> Finding:
    """What nobody may accept away where the voltage is hazardous."""
    lasts = finding.lasting or record_of(finding.check).lasts_on_line
    return replace(finding, lasting=lasts) if lasts else finding
