"""
A report with what mends each finding: remedies tried on the build, for channels, inputs, rails and
the whole.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace

from latchcore.advice import inputs
from latchcore.advice.remedies import remedies
from latchcore.advice.waysout import ways_out
from latchcore.catalogue import Catalogue, load_catalogue
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.faults import UNWORKED, guarded
from latchcore.design.memory import Memory
from latchcore.design.report import ChannelReport, Finding, Remedy, Report, StageResult
from latchcore.document.models import Build
from latchcore.edits import EditError, apply
from latchcore.evaluate import channel_keys, evaluate, evaluate_channel
from latchcore.figures.quantity import show
from latchcore.findings import channel_findings, supplies
from latchcore.findings import rails as rail_checks
from latchcore.findings.records import record_of
from latchcore.findings.supplies import LINES
from latchcore.sums.supplies import source_size
from latchcore.whole.pinning import assign, demands
from latchcore.whole.rails import rail_reports

#: A channel that was worked out, with what it hangs on.
Use = tuple[ChannelContext, StageResult]
#: Sizes in which supplies are sold [A].
STOCK_SOURCES = (
    0.25,
    0.5,
    0.75,
    1.0,
    1.25,
    1.5,
    2.0,
    2.5,
    3.0,
    4.0,
    5.0,
    6.0,
    8.0,
    10.0,
    12.5,
    15.0,
    20.0,
    30.0,
)


#: What is said where neither an edit nor a record has a way out.
NO_WAY = "Use a board or a supply that can give more, or split the loads."
#: What of a rail only the checks of rails look at.
RAIL_ALONE = {"rail", "rating", "fuse"}
#: Array packages a channel may be moved to.
PACKAGES = 4
#: A builder wants a choice, not a list.
MOST_RELAYS = 2

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
    keys = channel_keys(build, catalogue) if memory is not None else []
    channels, uses = [], []
    for index, (channel, found) in enumerate(zip(build.channels, report.channels, strict=True)):
        context = around.channel(channel)
        if found.result is not None:
            uses.append((context, found.result))
        known = memory.get(keys[index]) if memory is not None else None
        if known is None:
            known = _channel(context, found)
            if memory is not None:
                memory[keys[index]] = known
        channels.append(replace(found, findings=known))
    told: list[Finding] = []
    findings = [
        guarded(
            lambda f=f: _mended(around, report, uses, f), f, f.where, f"What mends {f.check}", told
        )
        for f in report.findings
    ]
    return replace(report, channels=channels, findings=[*told, *findings])


def _channel(context: ChannelContext, report: ChannelReport) -> list[Finding]:
    """
    Findings of one channel with their remedies; several may be mended by one edit, so each is tried
    once.
    """
    if report.result is None or not report.findings:
        return report.findings
    tried: dict[str, tuple[StageResult, list[Finding]] | None] = {}
    told: list[Finding] = []
    trial, standing = _trial(context.around.catalogue), report.findings
    mended = [
        (
            f
            if f.check == UNWORKED
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


def _trial(catalogue: Catalogue):
    def trial(build: Build, channel_id: str) -> tuple[StageResult, list[Finding]] | None:
        try:
            outcome = evaluate_channel(build, channel_id, catalogue)
            if outcome is None:
                return None
            context, result = outcome
            return result, channel_findings(context, result)
        except (ValueError, ArithmeticError, LookupError, TypeError, AttributeError):
            # What cannot be worked out mends nothing.
            return None

    return trial


@dataclass(frozen=True)
class _Case:
    """A finding of the build with all that its ways out may rest on."""

    around: BuildContext
    report: Report
    uses: list[Use]
    finding: Finding


def _mended(around: BuildContext, report: Report, uses: list[Use], finding: Finding) -> Finding:
    """
    Remedies of findings that belong to the build rather than to one channel; those that bring their
    own keep them.
    """
    if finding.remedies or finding.check == UNWORKED:
        return finding
    sensed = around.build.sense(finding.where)
    if sensed is not None and finding.measure is not None:
        found = inputs.mends(around, sensed, finding.check, finding.measure.key)
    else:
        ways = _WAYS.get(finding.check, lambda case: ())
        case = _Case(around, report, uses, finding)
        found = tuple(r for r in ways(case) if not r.edits or _holds(case, r))
    return replace(finding, remedies=found or (Remedy(record_of(finding.check).advice or NO_WAY),))


def _holds(case: _Case, remedy: Remedy) -> bool:
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
    stood, mended = {_kind(f) for f in case.report.all_findings}, case.finding
    # The same fault about other channels is one of its own, which has ways out of its own.
    stays = any(
        _kind(f) == _kind(mended)
        and (not mended.concerns or not set(mended.concerns).isdisjoint(f.concerns))
        for f in after
    )
    return not stays and all(_kind(f) in stood or f.severity != "stop" for f in after)


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
    rails = rail_reports(around, there, draws)
    return [*supplies.build(around, rails), *rail_checks.build(around, rails, there)]


def _kind(finding: Finding) -> tuple[str, str, str]:
    return finding.check, finding.where, finding.title


def _larger_source(case: _Case) -> Iterator[Remedy]:
    """The smallest stock source that carries all that hangs on a rail."""
    rail = next(r for r in case.report.rails if f"rail:{r.id}" == case.finding.where)
    if case.around.build.rail(rail.id).source in LINES:
        yield Remedy("Hang some of the loads on another circuit; a line is not rated up.")
        return
    least, _ = source_size(rail.all_on, case.around.catalogue.limits["supply_share"], STOCK_SOURCES)
    size = next((s for s in STOCK_SOURCES if s >= max(least, rail.worst)), None)
    if size:
        label, needs = f"Fit a source of {show(size, 'A')}", show(max(least, rail.worst), "A")
        edits = (("set_rail", {"rail": rail.id, "rating": show(size, "A")}),)
        # A source that gives more may ask for a fuse, which the wire did without before.
        stronger, _ = apply(case.around.build, *edits[0], case.around.catalogue)
        fuse = next(_fuses_of(stronger, case), None)
        if fuse is not None:
            # One press is one edit: both are said of the same rail.
            label = f"{label} and {fuse.label[0].lower()}{fuse.label[1:]}"
            edits = (("set_rail", fuse.edit_args | edits[0][1]),)
        yield Remedy(label, edits, f"needs {needs}")


def _fuses_of(build: Build, case: _Case) -> Iterator[Remedy]:
    """Fuses a changed build asks for at the rail of a finding and did not before."""
    if any(f.check == "S7" and f.where == case.finding.where for f in case.report.findings):
        return
    for finding in rails_alone(build, case.around.catalogue, case.report, case.uses):
        if finding.check == "S7" and finding.where == case.finding.where:
            yield from (r for r in finding.remedies[:1] if r.edits)


def _lightest_pin(case: _Case) -> Iterator[Remedy]:
    """A MOSFET in place of the transistor that takes most of the board."""
    heaviest = max(
        (u for u in case.uses if u[1].kind == "npn_low_side"),
        key=lambda u: u[1].pin_current,
        default=None,
    )
    if heaviest:
        yield Remedy(
            f"Drive {heaviest[0].channel.name} by a MOSFET",
            (("set_stage", {"channel": heaviest[0].channel.id, "stage": "nmos_low_side"}),),
            f"saves {show(heaviest[1].pin_current, 'A')}",
        )


def _more_lines(case: _Case) -> Iterator[Remedy]:
    """The ways out where a board has too few lines: those with a press first."""
    around = case.around
    wanted = demands(around.build, around)
    plan = assign(around.board, wanted)
    taken = {c.channel.id: r.pin_current for c, r in case.uses}
    ways = ways_out(around.build, around, wanted, plan, taken)
    yield from (w.remedy for w in ways if w.remedy)
    yield from (Remedy(f"{w.title}: {w.says}") for w in ways if not w.remedy)


def _kept_apart(case: _Case) -> Iterator[Remedy]:
    """
    A bare relay in place of a stage whose barrier is too weak, where one is sound for the load.
    """
    around, offered = case.around, 0
    trial = _trial(around.catalogue)
    for context, result in case.uses:
        channel = context.channel
        if channel.id not in case.finding.concerns or result.kind == "relay_contact":
            continue
        edits = (("set_stage", {"channel": channel.id, "stage": "relay_contact"}),)
        changed, _ = apply(around.build, *edits[0], around.catalogue)
        outcome = trial(changed, channel.id)
        if (
            offered < MOST_RELAYS
            and outcome
            and outcome[0].barrier == "reinforced"
            and not any(f.severity == "stop" for f in outcome[1])
        ):
            offered += 1
            yield Remedy(
                f"{channel.name} by a relay: the {outcome[0].value('relay').text}",
                edits,
                "a reinforced barrier between its coil and its contact",
            )
    yield Remedy(record_of(case.finding.check).advice)


def _by_an_adapter(case: _Case) -> Iterator[Remedy]:
    """An approved adapter in place of whatever hangs a low rail on one that hurts."""
    around = case.around
    for rail in around.build.rails:
        above = around.build.rail(rail.fed_by)
        if above is not None and rail.converter != "isolating" and around.hazardous(above):
            yield Remedy(
                f"{rail.name} comes from an approved safety-isolating adapter",
                (("set_rail", {"rail": rail.id, "converter": "isolating"}),),
                f"nothing of {above.name} is then one piece of metal with it",
            )
    yield Remedy(record_of(case.finding.check).advice)


def _out_of_the_array(case: _Case) -> Iterator[Remedy]:
    """Wire the diode pin, or move the last channel to the next package or to a MOSFET."""
    members = [(c.channel, r.array) for c, r in case.uses if c.channel.id in case.finding.concerns]
    opened = next((channel for channel, array in members if array.common_open), None)
    if opened is not None:
        yield Remedy(
            "Wire the common pin to the coil rail",
            (("set_setting", {"channel": opened.id, "common_pin": "rail"}),),
        )
    last, array = members[-1]
    package = str(int(array.package) % PACKAGES + 1)
    # One that is too hot alone is too hot anywhere.
    if len(members) > 1:
        yield Remedy(
            f"Move {last.name} to array {package}",
            (("set_setting", {"channel": last.id, "package": package}),),
        )
    yield Remedy(
        f"Drive {last.name} by a MOSFET",
        (("set_stage", {"channel": last.id, "stage": "nmos_low_side"}),),
    )


#: What is tried for findings of the whole build, by check; for any other the record has a word.
_WAYS: dict[str, Callable[[_Case], Iterable[Remedy]]] = {
    "D10": _out_of_the_array,
    "I1": _by_an_adapter,
    "I2": _kept_apart,
    "P11": _more_lines,
    "P2": _lightest_pin,
    "S1": _larger_source,
    "S2": _larger_source,
}
