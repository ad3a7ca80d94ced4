"""The one door: a build document and a catalogue go in, a report comes out."""

from __future__ import annotations

from dataclasses import replace

from latchcore.behaviour.declared import informed
from latchcore.catalogue import Catalogue, load_catalogue
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.faults import guarded, unworked
from latchcore.design.kinds import lines_of
from latchcore.design.memory import Memory
from latchcore.design.report import ChannelReport, Finding, Report, StageResult
from latchcore.document.models import Build, letter
from latchcore.findings import behaviour as behaviour_checks
from latchcore.findings import board as board_checks
from latchcore.findings import chains as chain_checks
from latchcore.findings import (
    channel_findings,
    distribution,
    drive,
    guards,
    isolation,
    mains,
    routing,
    servos,
    supplies,
    vehicles,
)
from latchcore.findings import rails as rail_checks
from latchcore.findings import senses as sense_checks
from latchcore.findings.gathered import gather
from latchcore.findings.records import record_of
from latchcore.metal.netlist import Netlist
from latchcore.pieces.frame import fuse_in
from latchcore.pieces.sensing import VDD
from latchcore.senses import InputReport, sense
from latchcore.stages import STAGES, missing_facts
from latchcore.whole.chains import chain_reports, drawn
from latchcore.whole.pinning import demands
from latchcore.whole.rails import RailReport, rail_reports


def evaluate(build: Build, catalogue: Catalogue | None = None) -> Report:
    """
    Work out a whole build.

    Parameters
    ----------
    build : Build
        A valid document
    catalogue : Catalogue, optional
        Generic parts; those that ship by default

    Returns
    -------
    Report
        The same for the same document and catalogue, and kept, so that nothing is computed twice

    Examples
    --------
    >>> from latchcore.edits import apply
    >>> build = Build(name="Bench")
    >>> for name, args in [("set_board", {"board": "board-radio-3v3"}), ("add_rail",
    ...     {"voltage": "5 V", "rating": "2 A"}),
    ...                    ("add_channel", {"kind": "relay_coil", "voltage": "5 V",
    ...                    "figure": "72 Ω"})]:
    ...     build, _ = apply(build, name, args)
    >>> evaluate(build).channels[0].result.value("base_resistor").text
    '390'
    """
    catalogue = catalogue or load_catalogue()
    key = (build.model_dump_json(), catalogue.version)
    report = _REPORTS.get(key)
    if report is None:
        report = _REPORTS[key] = evaluate_afresh(build, catalogue, _CHANNELS)
    return report


_REPORTS, _CHANNELS = Memory(256), Memory(4096)


def channel_keys(build: Build, catalogue: Catalogue) -> list[tuple[str, str]]:
    """
    What each channel's report rests on: itself, and all that stands around it.

    Around it are the build without its channels, and of the others only those somebody leans on: a
    switch in series with a contact, and what breaks ahead of a rail. What of them shares a line
    or a package is a matter of the whole build.
    """
    leaned = {c.series_switch for c in build.channels} | {r.switched_by for r in build.rails}
    others = [
        (c.id, c.stage.kind, c.stage.settings.get("breaks"))
        for c in build.channels
        if c.id in leaned
    ]
    # Where a rail's wire is stated, what the others take of it lowers the volts of each,
    # and what turns a rail on carries all of them.
    wired = any((r.wire_length and r.wire_area) or r.switched_by for r in build.rails)
    wired = wired or bool(build.blocks)
    taken = [(c.rail, c.block, c.load.model_dump_json()) for c in build.channels] if wired else ()
    around = f"{catalogue.version} {_beside_channels(build)} {others} {taken}"
    return [(channel.model_dump_json(), around) for channel in build.channels]


def remedy_keys(build: Build, catalogue: Catalogue) -> list[tuple[str, str]]:
    """
    What the remedies of each channel rest on: its report, who takes which line by what, and the
    rules a remedy may change.
    """
    others = str([(c.pins, c.id, c.stage.kind) for c in build.channels])
    others += "" if build.behaviour is None else build.behaviour.model_dump_json()
    return [(own, around + others) for own, around in channel_keys(build, catalogue)]


def _beside_channels(build: Build) -> str:
    # What the rules say of a channel stands in the channel by then.
    return build.model_dump_json(exclude={"channels", "name", "note", "serial", "behaviour"})


def evaluate_afresh(build: Build, catalogue: Catalogue, memory: Memory | None = None) -> Report:
    """
    The same without looking whether the build is known already.

    ``memory`` holds channels by their own content and that of everything around them, so that an
    edit of one channel
    leaves the others as they were worked out; without it everything is worked out.
    """
    stated, build = build, informed(build)
    around = BuildContext(build, catalogue)
    keys = channel_keys(build, catalogue) if memory is not None else []
    channels, uses, net = [], [], Netlist()
    for index, channel in enumerate(build.channels):
        context = around.channel(channel)
        report = memory.get(keys[index]) if memory is not None else None
        if report is None:
            report = _worked(context)
            if memory is not None:
                memory[keys[index]] = report
        report = replace(report, letter=letter(index))
        if report.result is not None:
            uses.append((context, report.result))
            net.extend(report.result.netlist)
        channels.append(report)
    told: list[Finding] = []
    inputs = _inputs(around, memory, told)
    for item in inputs:
        net.extend(item.netlist)
    chains = guarded(lambda: chain_reports(around, uses), [], "build", "Chains", told)
    for chain in chains:
        net.extend(chain.netlist)
    draws = [(i.draws[0], i.name, i.draws[1]) for i in inputs if i.draws]
    draws += drawn(around, chains)
    rails = guarded(
        lambda: rail_reports(around, uses, draws), None, "build", "Sums of the rails", told
    )
    if rails is None:
        rails = [RailReport.unworked(around, rail) for rail in build.rails]
    _join_supplies(around, net, told)
    wanted = guarded(lambda: demands(build, around), [], "build", "What wants which line", told)
    checks = [
        ("Lines of the board", lambda: board_checks.build(around, uses, wanted)),
        ("Chains", lambda: chain_checks.build(around, chains, uses)),
        ("Packages", lambda: drive.build(around, uses)),
        ("Supplies", lambda: supplies.build(around, rails)),
        ("Rails", lambda: rail_checks.build(around, rails, uses)),
        ("Vehicles", lambda: vehicles.build(around, rails, uses)),
        ("Servos", lambda: servos.build(around, rails, uses)),
        ("Points and cables", lambda: distribution.build(around, uses)),
        ("Shared lines", lambda: routing.build(around, uses)),
        ("Mains", lambda: mains.build(around)),
        ("Guards", lambda: guards.build(around)),
        ("Behaviour", lambda: behaviour_checks.build(stated)),
        ("Barriers", lambda: isolation.build(around, net)),
        *(
            (
                f"Checks of {item.name}",
                lambda i=item, r=sensed: sense_checks.findings(around, i, r, wanted),
            )
            for item, sensed in zip(build.inputs, inputs, strict=True)
        ),
    ]
    found = [
        finding
        for what, check in checks
        for finding in guarded(lambda c=check: list(c()), [], "build", what, told)
    ]
    found = servos.speak(found)
    once = guarded(lambda: gather(uses, channels), [], "build", "What is said once", told)
    everything = [*told, *found, *(finding for report in channels for finding in report.findings)]
    unanswered = sum(
        f.severity == "check" and record_of(f.check).must_be_answered for f in everything
    )
    return Report(
        build.name,
        channels,
        rails,
        [*told, *found],
        net,
        _pin_users(build, uses),
        sum(
            r.pin_current * sum(around.of_line(pin) is None for pin in c.channel.pins)
            for c, r in uses
        ),
        catalogue.version,
        inputs,
        unanswered,
        once,
        chains,
    )


def _inputs(around: BuildContext, memory: Memory | None, told: list[Finding]) -> list[InputReport]:
    """Every input; none of them looks at a channel, so that an edit of one leaves them known."""
    shared = f"{around.catalogue.version} {_beside_channels(around.build)}"
    found = []
    for item in around.build.inputs:
        key = (item.model_dump_json(), shared)
        report = memory.get(key) if memory is not None else None
        if report is None:
            unworked_yet = InputReport(item.id, item.name, item.kind, ["figures"])
            count = len(told)
            report = guarded(
                lambda i=item: sense(around, i), unworked_yet, item.id, item.name, told
            )
            # What could not be worked out is tried again, with its finding.
            if memory is not None and len(told) == count:
                memory[key] = report
        found.append(report)
    return found


def _join_supplies(around: BuildContext, net: Netlist, told: list[Finding]) -> None:
    """The sources and the board, which belong to no channel."""
    build = around.build
    for rail in build.rails:
        returns = guarded(
            lambda r=rail: around.return_of(r), "0V", f"rail:{rail.id}", rail.name, told
        )
        net.add(f"SUPPLY.{rail.id}", "source", rail.voltage, None, **{"+": rail.id, "-": returns})
    for metal in build.metals:
        rails = {end: build.rail(end[:-1]) for end in metal.ends if end != "board"}
        poles = {
            end: rail.id if end.endswith("+") else around.return_of(rail)
            for end, rail in rails.items()
            if rail is not None
        }
        board = {"board": "0V"} if "board" in metal.ends else {}
        own = {"metal": f"{metal.id}.METAL"}
        net.add(f"METAL.{metal.id}", "metal", metal.name, None, **own, **board, **poles)
    if around.board:
        fed = build.rail(build.board_feed)
        feed = {"feed": fed.id, "return": around.return_of(fed)} if fed else {}
        logic = {"vdd": VDD} if net.at(VDD) else {}
        net.add("BOARD.0V", "board", around.board.title, None, gnd="0V", **feed, **logic)


def _pin_users(
    build: Build, uses: list[tuple[ChannelContext, StageResult]]
) -> dict[str, list[str]]:
    """Which channels and inputs hang on each line of the board."""
    taken = [(pin, c.channel.id) for c, _ in uses for pin in c.channel.pins]
    taken += [(pin, c.id) for c in build.chains for pin in c.lines.values()]
    taken += [(pin, item.id) for item in build.inputs for pin in (item.pin, item.pin_two)]
    users: dict[str, list[str]] = {}
    for pin, who in taken:
        if pin:
            users.setdefault(pin, []).append(who)
    return users


def _worked(context: ChannelContext) -> ChannelReport:
    """One channel, or its place with what stands in the way of working it out."""
    try:
        return _channel(context)
    except Exception as error:
        channel = context.channel
        return ChannelReport(
            channel.id,
            "",
            channel.name,
            None,
            ["figures"],
            [unworked(channel.id, channel.name, error)],
        )


def _channel(context: ChannelContext) -> ChannelReport:
    channel = context.channel
    report = ChannelReport(channel.id, "", channel.name, None, missing_facts(context))
    if report.missing:
        return report
    report.result = STAGES[channel.stage.kind].size(context)
    told: list[Finding] = []
    for finding in guarded(
        lambda: channel_findings(context, report.result),
        [],
        channel.id,
        f"Checks of {channel.name}",
        told,
    ):
        reason = channel.accepted.get(finding.check)
        if reason and finding.acceptable:
            report.accepted.append((finding, reason))
        else:
            report.findings.append(finding)
    if any(name is None for _, name in lines_of(context)):
        report.missing = ["pin"]
    # Last, so that every check of the channel alone still finds its rail where the stage put it.
    guarded(
        lambda: fuse_in(context, report.result), None, channel.id, f"Fuse of {channel.name}", told
    )
    report.findings.extend(told)
    return report


def evaluate_channel(
    build: Build, channel_id: str, catalogue: Catalogue
) -> tuple[ChannelContext, StageResult] | None:
    """One channel alone, without findings; ``None`` while facts are missing."""
    channel = build.channel(channel_id)
    context = BuildContext(build, catalogue).channel(channel)
    if missing_facts(context):
        return None
    return context, STAGES[channel.stage.kind].size(context)
