"""One mistake, one finding: what one rail or module does to several channels is said once."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import replace

from latchcore.design.context import ChannelContext
from latchcore.design.report import ChannelReport, Finding, StageResult
from latchcore.findings.records import record_of


def gather(
    uses: list[tuple[ChannelContext, StageResult]], channels: list[ChannelReport]
) -> list[Finding]:
    """Findings that several channels of one rail or one module have in common."""
    groups: dict[tuple, list[Finding]] = defaultdict(list)
    reports = {report.id: report for report in channels}
    for context, result in uses:
        for finding in reports[context.channel.id].findings:
            thing = _thing(finding, context, result)
            if thing is not None:
                groups[finding.sort, finding.title, thing].append(finding)
    names = {report.id: report.name for report in channels}
    return [_once(found, names) for found in groups.values() if len(found) > 1]


def _thing(finding: Finding, context: ChannelContext, result: StageResult) -> tuple | None:
    """The rail or module whose fault a finding is, or ``None`` where it is the channel's own."""
    by = record_of(finding.check).done_by
    module = result.module.part
    if module is not None and "module" in by:
        return "module", module.id, context.setting("board_no") or "1"
    if "rail" in by and context.channel.rail:
        return "rail", context.channel.rail
    return None


def _once(found: list[Finding], names: dict[str, str]) -> Finding:
    first = found[0]
    alike = all(f.sentence == first.sentence for f in found)
    others = ", ".join(names[f.where] for f in found[1:])
    sentence = first.sentence
    if not alike:
        sentence += f" With figures of their own the same holds for {others}."
    return replace(first, sentence=sentence, concerns=tuple(f.where for f in found))
