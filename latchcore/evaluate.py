"""The one door: a build document and a catalogue go in, a report comes out."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import replace
from threading import Lock

from latchcore.catalogue import Catalogue, load_catalogue
from latchcore.checks import board as board_checks
from latchcore.checks import channel_findings, drive, guards, isolation, mains, routing, supplies
from latchcore.checks import rails as rail_checks
from latchcore.checks import senses as sense_checks
from latchcore.checks.remedies import remedies
from latchcore.context import BuildContext, ChannelContext
from latchcore.document.models import Build, letter
from latchcore.faults import guarded, unworked
from latchcore.netlist import Netlist
from latchcore.pinning import demands
from latchcore.quantity import show
from latchcore.rails import RailReport, rail_reports
from latchcore.report import ChannelReport, Finding, Remedy, Report, StageResult
from latchcore.senses import InputReport, sense
from latchcore.senses.frame import VDD
from latchcore.stages import STAGES, missing_facts
from latchcore.stages.frame import fuse_in
from latchcore.sums.supplies import source_size

#: Sizes in which supplies are sold [A].
STOCK_SOURCES = (0.25, 0.5, 0.75, 1.0, 1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.5, 15.0, 20.0, 30.0)


MENDS = {
    "S9": "Give the line a pause longer than the slowest release, or wire one contact so that it stops the other; at the loads.",
    "K10": "Put each on a module of its own, or measure the distance and enter it on the module's sheet.",
    "I1": "Find the wire that joins them and take it away; a stage with a reinforced barrier stands between.",
    "I2": "Use a relay, coupler or module with a reinforced barrier, or bond the low side to protective earth and say so at its rail.",
    "P11": "Give the rest another module number at the stage, or choose a module with more channels.",
}


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
    >>> from latchcore.document.edits import apply
    >>> build = Build(name="Bench")
    >>> for name, args in [("set_board", {"board": "board-radio-3v3"}), ("add_rail", {"voltage": "5 V", "rating": "2 A"}),
    ...                    ("add_channel", {"kind": "relay_coil", "voltage": "5 V", "figure": "72 Ω"})]:
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


class Memory:
    """What was computed lately, the least recently wanted forgotten first; several threads may ask it at once."""

    def __init__(self, most: int):
        self.most, self._known, self._lock = most, OrderedDict(), Lock()

    def get(self, key):
        """What is known for a key, or ``None``."""
        with self._lock:
            if key in self._known:
                self._known.move_to_end(key)
            return self._known.get(key)

    def __setitem__(self, key, value):
        with self._lock:
            self._known[key] = value
            while len(self._known) > self.most:
                self._known.popitem(last=False)

    def __len__(self):
        return len(self._known)

    def clear(self):
        """Forget everything."""
        with self._lock:
            self._known.clear()


_REPORTS, _CHANNELS = Memory(256), Memory(4096)


def evaluate_afresh(build: Build, catalogue: Catalogue, memory: Memory | None = None) -> Report:
    """
    The same without looking whether the build is known already.

    ``memory`` holds channels by their own content and that of everything around them, so that an edit of one channel
    leaves the others as they were worked out; without it everything is worked out.
    """
    around = BuildContext(build, catalogue)
    around_text = ""
    if memory is not None:
        # All that a channel's report rests on besides the channel: the build without its channels, and of the others which
        # pins they take, by which stage, and whether they break both poles ahead of a rail.
        shared = build.model_dump_json(exclude={"channels", "name", "note", "serial"})
        around_text = f"{catalogue.version} {shared} {[(c.pin, c.id, c.stage.kind, c.stage.settings.get('breaks')) for c in build.channels]}"
    channels, uses, net = [], [], Netlist()
    for index, channel in enumerate(build.channels):
        context = around.channel(channel)
        key = (channel.model_dump_json(), around_text)
        report = memory.get(key) if memory is not None else None
        if report is None:
            report = _worked(context)
            if memory is not None:
                memory[key] = report
        report = replace(report, letter=letter(index))
        if report.result is not None:
            uses.append((context, report.result))
            net.extend(report.result.netlist)
        channels.append(report)
    told: list[Finding] = []
    inputs = [guarded(lambda i=item: sense(around, i), InputReport(item.id, item.name, item.kind, ["figures"]), item.id, item.name, told) for item in build.inputs]
    for item in inputs:
        net.extend(item.netlist)
    draws = [(i.draws[0], i.name, i.draws[1]) for i in inputs if i.draws]
    rails = guarded(lambda: rail_reports(around, uses, draws), None, "build", "Sums of the rails", told)
    if rails is None:
        rails = [RailReport.unworked(around, rail) for rail in build.rails]
    users: dict[str, list[str]] = {}
    for context, _ in uses:
        if context.channel.pin:
            users.setdefault(context.channel.pin, []).append(context.channel.id)
    for item in build.inputs:
        for pin in filter(None, (item.pin, item.pin_two)):
            users.setdefault(pin, []).append(item.id)
    for rail in build.rails:
        returns = guarded(lambda r=rail: around.return_of(r), "0V", f"rail:{rail.id}", rail.name, told)
        net.add(f"SUPPLY.{rail.id}", "source", rail.voltage, None, **{"+": rail.id, "-": returns})
    if around.board:
        fed = build.rail(build.board_feed)
        feed = {"feed": fed.id, "return": around.return_of(fed)} if fed else {}
        net.add("BOARD.0V", "board", around.board.title, None, gnd="0V", **feed, **({"vdd": VDD} if net.at(VDD) else {}))
    wanted = guarded(lambda: demands(build, around), [], "build", "What wants which line", told)
    checks = [
        ("Lines of the board", lambda: board_checks.build(around, uses, wanted)), ("Packages", lambda: drive.build(around, uses)),
        ("Supplies", lambda: supplies.build(around, rails)), ("Rails", lambda: rail_checks.build(around, rails, uses)),
        ("Shared lines", lambda: routing.build(around, uses)), ("Mains", lambda: mains.build(around)),
        ("Guards", lambda: guards.build(around)), ("Barriers", lambda: isolation.build(around, net)),
        *((f"Checks of {item.name}", lambda i=item, r=sensed: sense_checks.findings(around, i, r, wanted)) for item, sensed in zip(build.inputs, inputs, strict=True)),
    ]  # fmt: skip
    found = [finding for what, check in checks for finding in guarded(lambda c=check: list(c()), [], "build", what, told)]
    findings = [guarded(lambda f=f: _mended(around, rails, uses, f), f, f.where, f"What mends {f.check}", told) for f in found]
    return Report(
        build.name, channels, rails, [*told, *findings], net, users, sum(r.pin_current for _, r in uses), catalogue.version, inputs
    )  # fmt: skip


def _worked(context: ChannelContext) -> ChannelReport:
    """One channel, or its place with what stands in the way of working it out."""
    try:
        return _channel(context)
    except Exception as error:
        channel = context.channel
        return ChannelReport(channel.id, "", channel.name, None, ["figures"], [unworked(channel.id, channel.name, error)])


def _channel(context: ChannelContext) -> ChannelReport:
    channel, catalogue = context.channel, context.around.catalogue
    report = ChannelReport(channel.id, "", channel.name, None, missing_facts(context))
    if report.missing:
        return report
    report.result = STAGES[channel.stage.kind].size(context)
    told: list[Finding] = []
    tried: dict[str, tuple[StageResult, list[Finding]] | None] = {}
    found = guarded(lambda: channel_findings(context, report.result), [], channel.id, f"Checks of {channel.name}", told)
    for finding in found:
        reason = channel.accepted.get(finding.check)
        if reason and finding.acceptable:
            report.accepted.append((finding, reason))
        else:
            mends = guarded(lambda f=finding: remedies(context, report.result, f, found, _trial(catalogue), tried), (), channel.id, f"What mends {finding.check}", told)
            report.findings.append(replace(finding, remedies=mends))
    if channel.pin is None:
        report.missing = ["pin"]
    # Last, so that every check of the channel alone still finds its rail where the stage put it.
    guarded(lambda: fuse_in(context, report.result), None, channel.id, f"Fuse of {channel.name}", told)
    report.findings.extend(told)
    return report


def evaluate_channel(build: Build, channel_id: str, catalogue: Catalogue) -> tuple[ChannelContext, StageResult] | None:
    """One channel alone, without findings; ``None`` while facts are missing."""
    channel = build.channel(channel_id)
    context = BuildContext(build, catalogue).channel(channel)
    if missing_facts(context):
        return None
    return context, STAGES[channel.stage.kind].size(context)


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


def _mended(around: BuildContext, rails, uses, finding: Finding) -> Finding:
    """Remedies of findings that belong to the build rather than to one channel; those that bring their own keep them."""
    if finding.remedies:
        return finding
    if finding.check in ("S1", "S2"):
        rail = next(r for r in rails if f"rail:{r.id}" == finding.where)
        if around.build.rail(rail.id).source in supplies.LINES:
            return replace(finding, remedies=(Remedy("Hang some of the loads on another circuit; a line is not rated up."),))
        least, _ = source_size(rail.all_on, around.catalogue.limits["supply_share"], STOCK_SOURCES)
        size = next((s for s in STOCK_SOURCES if s >= max(least, rail.worst)), None)
        if size:
            edits = (("set_rail", {"rail": rail.id, "rating": show(size, "A")}),)
            return replace(finding, remedies=(Remedy(f"Fit a source of {show(size, 'A')}", edits, f"needs {show(max(least, rail.worst), 'A')}"),))
    if finding.check == "P2":
        heaviest = max((u for u in uses if u[1].kind == "npn_low_side"), key=lambda u: u[1].pin_current, default=None)
        if heaviest:
            edits = (("set_stage", {"channel": heaviest[0].channel.id, "stage": "nmos_low_side"}),)
            label = f"Drive {heaviest[0].channel.name} by a MOSFET"
            return replace(finding, remedies=(Remedy(label, edits, f"saves {show(heaviest[1].pin_current, 'A')}"),))
    if finding.check == "D10":
        return replace(finding, remedies=_array_remedies(uses, finding))
    if finding.check[0] == "X":
        return replace(finding, remedies=(Remedy("Make it so, then state it at the mains station; what cannot be made so is no plan to follow."),))
    if finding.check == "I2" and (apart := _kept_apart(around, uses, finding)):
        return replace(finding, remedies=(*apart, Remedy(MENDS["I2"])))
    if finding.check in MENDS:
        return replace(finding, remedies=(Remedy(MENDS[finding.check]),))
    return replace(finding, remedies=(Remedy("Use a board or a supply that can give more, or split the loads."),))


def _kept_apart(around: BuildContext, uses, finding: Finding) -> tuple[Remedy, ...]:
    """A bare relay in place of a stage whose barrier is too weak, where one is sound for the load."""
    from latchcore.document.edits import apply

    trial, offered = _trial(around.catalogue), []
    for context, result in uses:
        if f" {context.channel.id}." not in finding.sentence or result.kind == "relay_contact":
            continue
        edits = (("set_stage", {"channel": context.channel.id, "stage": "relay_contact"}),)
        changed, _ = apply(around.build, *edits[0], around.catalogue)
        outcome = trial(changed, context.channel.id)
        if outcome and outcome[0].facts.get("barrier") == "reinforced" and not any(f.severity == "stop" for f in outcome[1]):
            offered.append(Remedy(f"{context.channel.name} by a relay: the {outcome[0].value('relay').text}", edits, "a reinforced barrier between its coil and its contact"))
    return tuple(offered[:2])


def _array_remedies(uses, finding: Finding) -> tuple[Remedy, ...]:
    """Wire the diode pin, or move the last channel to the next package or to a MOSFET."""
    members = [c for c, r in uses if r.kind == "array_low_side" and f"array {r.facts['package']}" == finding.where]
    last = members[-1].channel
    if "diode pin" in finding.title:
        opened = next(c.channel for c, r in uses if r.facts.get("common_open") and c in members)
        return (Remedy("Wire the common pin to the coil rail", (("set_setting", {"channel": opened.id, "common_pin": "rail"}),)),)
    package = str(int(finding.where.split()[1]) % 4 + 1)
    move = (Remedy(f"Move {last.name} to array {package}", (("set_setting", {"channel": last.id, "package": package}),)),)
    return (
        # One that is too hot alone is too hot anywhere.
        *(move if len(members) > 1 else ()),
        Remedy(f"Drive {last.name} by a MOSFET", (("set_stage", {"channel": last.id, "stage": "nmos_low_side"}),)),
    )
