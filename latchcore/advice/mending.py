"""
A report with what mends each finding: remedies tried on the build, for channels, inputs, rails and
the whole.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace

from latchcore.advice import chain_ways, inputs
from latchcore.advice.build_ways import (
    Case,
    Use,
    by_an_adapter,
    kept_apart,
    lightest_pin,
    more_lines,
    out_of_the_array,
    trial_of,
)
from latchcore.advice.remedies import MOST_REMEDIES, NO_EDIT, remedies
from latchcore.advice.whole_build import Whole
from latchcore.catalogue import Catalogue, load_catalogue
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.faults import UNWORKED, guarded
from latchcore.design.memory import Memory
from latchcore.design.report import ChannelReport, Finding, Remedy, Report, StageResult
from latchcore.document.models import Build, Channel
from latchcore.edits import EditError, apply
from latchcore.evaluate import evaluate, remedy_keys
from latchcore.figures.preferred import STOCK_SOURCES
from latchcore.figures.quantity import show
from latchcore.findings import rails as rail_checks
from latchcore.findings import servos, supplies, vehicles
from latchcore.findings.records import record_of
from latchcore.findings.supplies import LINES
from latchcore.sums.supplies import source_size
from latchcore.whole.chains import drawn
from latchcore.whole.rails import rail_reports

#: What is said where neither an edit nor a record has a way out.
NO_WAY = "Use a board or a supply that can give more, or split the loads."
#: Edits that give several channels one thing, where each alone would give one each.
SHARED = ("feed_load", "feed_coil", "regulate_coil")
#: What of a rail only the checks of rails look at.
RAIL_ALONE = {"rail", "rating", "fuse"}

_REPORTS, _CHANNELS = Memory(256), Memory(4096)


def advised(build: Build, catalogue: Catalogue | None = None) -> Report:
    """
    The report of a build, each finding with the edits that mend it.

    Parameters
    ----------
    build : Build
        A valid document
    catalogue : Catalogue, optional
        Generic parts; those that ship by default

    Returns
    -------
    Report
        As :func:`latchcore.evaluate.evaluate` gives it, with remedies that were tried on the build

    Examples
    --------
    >>> from latchcore.edits import apply
    >>> build = Build(name="Bench")
    >>> for name, args in [("set_board", {"board": "board-radio-3v3"}), ("add_rail",
    ...     {"voltage": "12 V", "rating": "2 A"}),
    ...                    ("add_channel", {"kind": "relay_coil", "voltage": "12 V",
    ...                    "figure": "400 Ω"}),
    ...                    ("set_setting", {"channel": "ch2", "clamp": "none"})]:
    ...     build, _ = apply(build, name, args)
    >>> advised(build).channels[0].findings[0].remedies[0].edit_args["clamp"]
    'diode'
    """
    catalogue = catalogue or load_catalogue()
    key = (build.model_dump_json(), catalogue.version)
    report = _REPORTS.get(key)
    if report is None:
        report = _REPORTS[key] = advise_afresh(
            build, evaluate(build, catalogue), catalogue, _CHANNELS
        )
    return report


def advise_afresh(
    build: Build, report: Report, catalogue: Catalogue, memory: Memory | None = None
) -> Report:
    """
    The same without looking whether it is known already; ``memory`` holds channels by what their
    report rests on.
    """
    around = BuildContext(build, catalogue)
    keys = remedy_keys(build, catalogue) if memory is not None else []
    channels, uses, whole = [], [], Whole(build, report, catalogue)
    for index, (channel, found) in enumerate(zip(build.channels, report.channels, strict=True)):
        context = around.channel(channel)
        if found.result is not None:
            uses.append((context, found.result))
        known = memory.get(keys[index]) if memory is not None else None
        if known is None:
            known = _channel(context, found)
            if memory is not None:
                memory[keys[index]] = known
        kept = [_borne(whole, channel, f) for f in known]
        channels.append(replace(found, findings=kept))
    told: list[Finding] = []
    findings = [
        guarded(
            lambda f=f: _mended(around, report, uses, f), f, f.where, f"What mends {f.check}", told
        )
        for f in report.findings
    ]
    changed = replace(report, channels=channels, findings=[*told, *findings])
    once = [
        guarded(
            lambda f=f: _for_all(around, changed, uses, f),
            f,
            f.where,
            f"What mends {f.check}",
            told,
        )
        for f in report.gathered
    ]
    return replace(changed, gathered=once)


def _borne(whole: Whole, channel: Channel, finding: Finding) -> Finding:
    """A finding with those of its remedies that the whole build bears, a few of them."""
    if finding.severity not in ("stop", "fix"):
        # Answers to a question are all offered, whatever follows from one.
        return replace(finding, remedies=finding.remedies[:MOST_REMEDIES])
    borne = [r for r in finding.remedies if whole.bears(channel, finding, r)][:MOST_REMEDIES]
    advice = Remedy(record_of(finding.check).advice or NO_EDIT)
    return replace(finding, remedies=tuple(borne) or (advice,))


def _channel(context: ChannelContext, report: ChannelReport) -> list[Finding]:
    """
    Findings of one channel with their remedies; several may be mended by one edit, so each is tried
    once.
    """
    if report.result is None or not report.findings:
        return report.findings
    tried: dict[str, tuple[StageResult, list[Finding]] | None] = {}
    told: list[Finding] = []
    trial, standing = trial_of(context.around.catalogue), report.findings
    mended = [
        (
            f
            if f.check == UNWORKED or f.remedies
            else replace(
                f,
                remedies=guarded(
                    lambda f=f: remedies(context, report.result, f, standing, trial, tried),
                    (),
                    context.channel.id,
                    f"What mends {f.check}",
                    told,
                ),
            )
        )
        for f in standing
    ]
    return [*mended, *told]


def _mended(around: BuildContext, report: Report, uses: list[Use], finding: Finding) -> Finding:
    """
    Remedies of findings that belong to the build rather than to one channel; those that bring their
    own keep them.
    """
    if finding.remedies or finding.check == UNWORKED:
        return finding
    chain = around.chains.get(finding.where.removeprefix("chain:"))
    if chain is not None:
        case = Case(around, report, uses, finding)
        tried = chain_ways.ways(chain, finding.check, finding.cause)
        borne = tuple(r for r in tried if _holds(case, r))[:MOST_REMEDIES]
        advice = Remedy(record_of(finding.check).advice or NO_WAY)
        return replace(finding, remedies=borne or (advice,))
    sensed = around.build.sense(finding.where)
    if sensed is not None and finding.measure is not None:
        found = inputs.mends(around, sensed, finding.check, finding.measure.key)
    else:
        ways = _WAYS.get(finding.check, lambda case: ())
        case = Case(around, report, uses, finding)
        found = tuple(r for r in ways(case) if not r.edits or _holds(case, r))
    return replace(finding, remedies=found or (Remedy(record_of(finding.check).advice or NO_WAY),))


def _for_all(around: BuildContext, report: Report, uses: list[Use], finding: Finding) -> Finding:
    """
    What mends a finding of several channels at once: what mends it at the first, done at each and
    tried on the whole build.
    """
    first = report.channel(finding.where)
    same = next((f for f in first.findings if f.mistake == finding.mistake), finding)
    case, found = Case(around, report, uses, finding), []
    for remedy in same.remedies:
        here = [e for e in remedy.edits if e[1].get("channel") == finding.where]
        edits = tuple(
            (name, args | {"channel": channel})
            for name, args in here
            for channel in ([finding.of] if name in SHARED else finding.concerns)
        ) + tuple(e for e in remedy.edits if e not in here)
        many = bool(here)
        label = f"{remedy.label}, at all {len(finding.concerns)}" if many else remedy.label
        wider = replace(remedy, label=label, edits=edits, result="" if many else remedy.result)
        if not edits or _holds(case, wider):
            found.append(wider)
    return replace(finding, remedies=tuple(found) or (Remedy(NO_WAY),))


def _holds(case: Case, remedy: Remedy) -> bool:
    """Whether after its edits the finding is gone from the build and no other stop has come."""
    changed, catalogue = case.around.build, case.around.catalogue
    try:
        for name, args in remedy.edits:
            changed, _ = apply(changed, name, args, catalogue)
    except EditError:
        return False
    if all(name == "set_rail" and args.keys() <= RAIL_ALONE for name, args in remedy.edits):
        after = rails_alone(changed, catalogue, case.report, case.uses)
    else:
        after = evaluate(changed, catalogue).all_findings
    report, mended = case.report, case.finding
    own = (f for c in report.channels for f in c.findings)
    stood = {_kind(f) for f in (*report.all_findings, *own)}
    stays = any(_same(mended, f, mended in report.gathered) for f in after)
    return not stays and all(_kind(f) in stood or f.severity != "stop" for f in after)


def _same(mended: Finding, after: Finding, gathered: bool) -> bool:
    """
    Whether a finding of the changed build is the one that was to be mended. The same fault about
    other channels is one of its own, which has ways out of its own.
    """
    if gathered:
        about = {after.where, *after.concerns}
        return after.sort == mended.sort and not about.isdisjoint(mended.concerns)
    return _kind(after) == _kind(mended) and (
        not mended.concerns or not set(mended.concerns).isdisjoint(after.concerns)
    )


def rails_alone(
    build: Build, catalogue: Catalogue, report: Report, uses: list[Use]
) -> list[Finding]:
    """
    Findings of the rails of a changed build whose channels are as they were worked out: enough
    where only :data:`RAIL_ALONE` was changed, for no channel looks at that.
    """
    around = BuildContext(build, catalogue)
    there = [(around.channel(build.channel(c.channel.id)), result) for c, result in uses]
    draws = [(i.draws[0], i.name, i.draws[1]) for i in report.inputs if i.draws]
    draws += drawn(around, report.chains)
    rails = rail_reports(around, there, draws)
    return servos.speak(
        [
            *supplies.build(around, rails),
            *rail_checks.build(around, rails, there),
            *servos.build(around, rails, there),
            *vehicles.build(around, rails, there),
        ]
    )


def _kind(finding: Finding) -> tuple[str, str, str]:
    return finding.check, finding.where, finding.title


def _larger_source(case: Case) -> Iterator[Remedy]:
    """The smallest stock source that carries all that hangs on a rail."""
    rail = next(r for r in case.report.rails if f"rail:{r.id}" == case.finding.where)
    if case.around.build.rail(rail.id).source in LINES:
        yield Remedy("Hang some of the loads on another circuit; a line is not rated up.")
        return
    least, _ = source_size(rail.all_on, case.around.catalogue.limits["supply_share"], STOCK_SOURCES)
    stalled = servos.stalled(case.around, rail, case.uses)
    pair = vehicles.stalled(case.around, rail, case.uses)
    together = max(stalled[0].stalled if stalled else 0.0, pair[1] if pair else 0.0)
    most = max(least, rail.worst, together)
    size = next((s for s in STOCK_SOURCES if s >= most), None)
    if size:
        label, needs = f"Fit a source of {show(size, 'A')}", show(most, "A")
        edits = (("set_rail", {"rail": rail.id, "rating": show(size, "A")}),)
        if case.around.build.rail(rail.id).source == "board_pin":
            label = f"Feed it from an adapter of {show(size, 'A')}"
            edits = (("set_rail", edits[0][1] | {"source": "adapter"}),)
        # A source that gives more may ask for a fuse, which the wire did without before.
        stronger, _ = apply(case.around.build, *edits[0], case.around.catalogue)
        fuse = next(_fuses_of(stronger, case), None)
        if fuse is not None:
            # One press is one edit: both are said of the same rail.
            label = f"{label} and {fuse.label[0].lower()}{fuse.label[1:]}"
            edits = (("set_rail", fuse.edit_args | edits[0][1]),)
        yield Remedy(label, edits, f"needs {needs}")


def _fuses_of(build: Build, case: Case) -> Iterator[Remedy]:
    """Fuses a changed build asks for at the rail of a finding and did not before."""
    if any(f.check == "S7" and f.where == case.finding.where for f in case.report.findings):
        return
    for finding in rails_alone(build, case.around.catalogue, case.report, case.uses):
        if finding.check == "S7" and finding.where == case.finding.where:
            yield from (r for r in finding.remedies[:1] if r.edits)


#: What is tried for findings of the whole build, by check; for any other the record has a word.
_WAYS: dict[str, Callable[[Case], Iterable[Remedy]]] = {
    "D10": out_of_the_array,
    "I1": by_an_adapter,
    "I2": kept_apart,
    "P11": more_lines,
    "P2": lightest_pin,
    "M5": _larger_source,
    "S1": _larger_source,
    "S2": _larger_source,
}
