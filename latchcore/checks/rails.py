"""Rails as a whole: board pins, regulators, sag, wire, fuse, battery, what must not be joined or switched."""

from __future__ import annotations

import re
from collections.abc import Iterator

from latchcore.context import BuildContext
from latchcore.document.models import Rail
from latchcore.quantity import digits, parse, show
from latchcore.rails import DROP_OUT, JUNCTION, RailReport, depth_of, parent_of
from latchcore.report import Finding, Remedy
from latchcore.sums import instants, wiring

#: Share of a board pin's budget that loads may take, started.
PIN_SHARE = 0.8
DROP_FIX, DROP_NOTE = 0.05, 0.03
#: What an adapter has across its output where nothing is stated [F].
OWN_CAPACITOR = 470e-6
#: A regulated source limits itself at about so many times what it is printed for.
LIMITED = 1.5
#: Sources that can drive far more than their rating into a short.
UNLIMITED = ("battery", "mains", "mains_derived", "ac_low", "unregulated")


def build(around: BuildContext, reports: list[RailReport], uses) -> list[Finding]:
    """S3 to S7 and S9 to S12 of every rail of a build."""
    found: list[Finding] = []
    for rail, report in zip(around.build.rails, reports, strict=True):
        for check in (_board_pin, _regulator, _sag, _wire, _fuse, _battery, _joined, _pumped):
            found += check(around, rail, report, reports, uses)
    return found + _controller(around) + _board_feed(around)


def _where(rail: Rail) -> str:
    return f"rail:{rail.id}"


def pin_budget(around: BuildContext, rail: Rail) -> tuple[str, float] | None:
    """The board's power pin a rail is, by its name or by its voltage, with what it gives [A]."""
    if around.board is None or rail.source != "board_pin":
        return None
    pins = around.board.power_pins
    if rail.board_pin in pins:
        return rail.board_pin, pins[rail.board_pin]
    volts = around.rail_volts(rail).typ
    named = {name: float(f"{m[1]}.{m[2] or 0}") for name in pins if (m := re.match(r"(\d+)V(\d*)", name))}
    near = min(named, key=lambda n: abs(named[n] - volts), default=None)
    return (near, pins[near]) if near is not None and abs(named[near] - volts) < 0.1 * volts else None


def _board_pin(around, rail, report, reports, uses) -> Iterator[Finding]:
    budget = pin_budget(around, rail)
    if budget and report.worst > PIN_SHARE * budget[1] * (1 + 1e-9):
        yield Finding("S3", "stop", _where(rail), f"{rail.name} asks too much of the board's {budget[0]} pin",
                      f"Started it takes {show(report.worst, 'A')}; the pin gives {show(budget[1], 'A')}, of which {PIN_SHARE * 100:g} % are for use.",
                      "What a coil or motor takes there the board itself lacks: it resets, or its regulator burns.", "everything on, one load starting",
                      remedies=(Remedy("Feed it from an adapter of its own", (("set_rail", {"rail": rail.id, "source": "adapter"}),), "then the board only drives it"),))  # fmt: skip


def _regulator(around, rail, report, reports, uses) -> Iterator[Finding]:
    if rail.converter != "linear" or report.junction is None:
        return
    switching = Remedy("Use a switching regulator", (("set_rail", {"rail": rail.id, "converter": "switching"}),), "then hardly anything is turned into heat")
    if report.drops_out:
        above = around.rail_volts(around.build.rail(report.parent))
        drop = parse(rail.drop_out, "V") if rail.drop_out else DROP_OUT
        yield Finding("S4", "stop", _where(rail), f"The regulator of {rail.name} drops out", f"{show(above.min, 'V')} in, {show(report.volts.typ, 'V')} out: it wants {show(drop, 'V')} between.",
                      "Below its drop-out it gives what is left, ripple and all.", "lowest input", remedies=(switching, Remedy("Feed it from a higher rail, or use one for a small drop.")))  # fmt: skip
    elif report.junction > JUNCTION - around.catalogue.limits["junction_margin"]:
        severity = "stop" if report.junction > JUNCTION else "fix"
        yield Finding("S4", severity, _where(rail), f"The regulator of {rail.name} gets too hot", f"{show(report.heat, 'W')} make {digits(report.junction)} °C of {JUNCTION:g} °C at its junction.",
                      "A linear regulator burns the volts it takes away.", "highest input, everything on", remedies=(switching, Remedy("Give it a heat sink and enter the lower figure.")))  # fmt: skip


def _sag(around, rail, report, reports, uses) -> Iterator[Finding]:
    board = around.board
    if board is None or around.build.board_feed != rail.id:
        return
    low, known, now = report.volts.min, False, rail
    by_id = {r.id: r for r in reports}
    while now is not None:
        mine = by_id[now.id]
        if mine.sagging is not None:
            low, known = low - (mine.volts.min - mine.sagging), True
        above = parent_of(around.build, now)
        now = around.build.rail(above) if above and now.converter is None and depth_of(around.build, now) else None
    if not known or low >= board.brown_out * (1 - 1e-9):
        return
    remedies = []
    if report.before is not None and report.before > board.brown_out and report.rise > 0 and report.rise_time > 0:
        least, size, left = instants.bulk_capacitor(report.before, board.brown_out, report.rise, report.rise_time)
        if size is not None:
            remedies.append(Remedy(f"A capacitor of {show(size, 'F')} across the rail", (("set_rail", {"rail": rail.id, "bulk": show(size, 'F')}),), f"alone it leaves {show(left, 'V')}; at least {show(least, 'F')}"))
    remedies.append(Remedy("Feed the board from a rail of its own, or switch the loads on one after another."))
    yield Finding("S5", "fix", _where(rail), "The board may reset when a load starts", f"{rail.name} falls to {show(low, 'V')}; the board resets below {show(board.brown_out, 'V')}.",
                  "A surge on a source with resistance takes volts from everything on it.", "lowest source, everything on, the largest surge", remedies=tuple(remedies))  # fmt: skip


def _wire(around, rail, report, reports, uses) -> Iterator[Finding]:
    if report.ampacity is None:
        return
    table = wiring.FLEX if around.hazardous(rail) else wiring.SINGLE
    thicker = wiring.least_area(report.all_on, table, rail.laid)
    mend = (Remedy(f"Wire of {digits(thicker * 1e6)} mm²", (("set_rail", {"rail": rail.id, "wire_area": f"{digits(thicker * 1e6)} mm²"}),)),) if thicker else (Remedy("Split the loads over several feeds."),)
    if report.all_on > report.ampacity * (1 + 1e-9):
        shared = len(report.shares) > 1
        carried = show(report.ampacity, "A") if report.ampacity else "nothing that is listed"
        yield Finding("S11" if shared else "S6", "stop", _where(rail), f"The wire of {rail.name} carries more than it may", f"{show(report.all_on, 'A')} through {rail.wire_area}, laid {rail.laid}: it carries {carried}.",
                      "A feed that several loads share carries their sum." if shared else "It warms until its insulation gives.", "everything on", remedies=mend)  # fmt: skip
    elif report.wire_drop is not None and report.wire_drop > DROP_NOTE * report.volts.typ:
        share = report.wire_drop / report.volts.typ
        severity = "fix" if share > DROP_FIX else "note"
        area = parse(rail.wire_area, "mm²")
        need = next((a * 1e6 for a in table if a * 1e6 > area and share * area / (a * 1e6) <= DROP_NOTE), None)
        more = (Remedy(f"Wire of {digits(need)} mm²", (("set_rail", {"rail": rail.id, "wire_area": f"{digits(need)} mm²"}),)),) if need else (Remedy("Shorten the wire, or raise the voltage of the feed."),)
        yield Finding("S6", severity, _where(rail), f"{digits(share * 100)} % of {rail.name} stay in its wire", f"{show(report.wire_drop, 'V')} of {show(report.volts.typ, 'V')} over {rail.wire_length} of {rail.wire_area}, out and back.",
                      "What the wire keeps, coil and lamp go without.", "everything on", remedies=more)  # fmt: skip


def thinnest(around: BuildContext, rail: Rail, report: RailReport) -> float | None:
    """What the thinnest wire behind a source carries, its own and those of its loads; ``None`` while no cross-section is known [A]."""
    table = wiring.FLEX if around.hazardous(rail) else wiring.SINGLE
    known = [report.ampacity] if report.ampacity else []
    known += [wiring.ampacity(parse(c.wire_area, "mm²") * 1e-6, table) or 0.0 for c in around.build.channels if c.rail == rail.id and c.wire_area]
    return min(known, default=None)


def _fuse(around, rail, report, reports, uses) -> Iterator[Finding]:
    if report.parent or rail.source in ("board_pin", "usb"):
        return
    grave = rail.source in UNLIMITED
    # A regulated source limits itself, whatever its resistance while it regulates.
    known = [report.volts.max / parse(rail.resistance, "Ω")] if rail.resistance else []
    known += [LIMITED * report.rating] if report.rating and not grave else []
    short = min(known, default=None)
    wire = thinnest(around, rail, report)
    if rail.fuse is None:
        held = wire is not None and short is not None and short <= wire * (1 + 1e-9)
        if not held and (rail.source in ("battery", "mains", "mains_derived") or wire is not None):
            fit = _fuse_for(rail, report, uses, wire)
            severity = "stop" if grave or (short is not None and wire is not None and short > wire) else "fix"
            yield Finding("S7", severity, _where(rail), f"No fuse in {rail.name}", "A short draws what the source can give" + (f", {show(short, 'A')} through a wire for {show(wire, 'A')}." if short and wire else "."),
                          "Something must melt before the wire does; near a battery within a hand's breadth of its plus.", "a short at the far end", remedies=fit)  # fmt: skip
        return
    fuse, running = parse(rail.fuse, "A"), report.all_on
    contact = _least_contact(rail, uses)
    fit = _fuse_for(rail, report, uses, wire)
    for most, what in ((wire, "its wire"), (contact, "a contact behind it")):
        if most is not None and fuse > most * (1 + 1e-9):
            yield Finding("S7", "stop" if grave else "fix", _where(rail), f"The fuse of {rail.name} is above {what}", f"{show(fuse, 'A')}, and {what} carries {show(most, 'A')}.",
                          "It then protects nothing that is thinner than itself.", "an overload short of a short", remedies=fit)  # fmt: skip
            return
    if running > 0 and report.rise > 0 and wiring.melting_time(max(report.worst / fuse, 1e-3)) <= report.rise_time:
        yield Finding("S7", "fix", _where(rail), f"The fuse of {rail.name} melts in the surge", f"{show(report.worst, 'A')} for {show(report.rise_time, 's')}; a slow {show(fuse, 'A')} bears that for {show(wiring.melting_time(report.worst / fuse), 's')} at the least.",
                      "It must stand every start and melt on every fault.", "everything on, the largest surge", remedies=fit)  # fmt: skip
        return
    low, high = (2.0, 3.0) if any(c.load.kind.symbol == "motor" for c, _ in uses if c.channel.rail == rail.id) else (1.25, 1.6)
    if running > 0 and not low * running * (1 - 1e-9) <= fuse <= high * running * (1 + 1e-9):
        yield Finding("S7", "note", _where(rail), f"The fuse of {rail.name} is outside the usual window", f"{show(fuse, 'A')} where {show(low * running, 'A')} to {show(high * running, 'A')} is usual for {show(running, 'A')}.",
                      "Too close it melts of itself in time; too far it lets a small overload pass.", "everything on", remedies=fit)  # fmt: skip


def _least_contact(rail: Rail, uses) -> float | None:
    ratings = [r.facts["relay"].contact_amperes for c, r in uses if c.channel.rail == rail.id and "relay" in r.facts]
    return min(ratings, default=None)


def _fuse_for(rail: Rail, report: RailReport, uses, wire) -> tuple[Remedy, ...]:
    motors = any(c.load.kind.symbol == "motor" for c, _ in uses if c.channel.rail == rail.id)
    low, high = (2.0, 3.0) if motors else (1.25, 1.6)
    found = wiring.choose_fuse(running=report.all_on, surge=report.worst, surge_time=report.rise_time, wire=wire, contact=_least_contact(rail, uses), low=low, high=high)
    if found.admissible:
        size = found.admissible[0]
        return (Remedy(f"A slow fuse of {show(size, 'A')}", (("set_rail", {"rail": rail.id, "fuse": show(size, 'A')}),), f"{digits(size / report.all_on, 2)} times the running current" if report.all_on else ""),)
    words = {"running_low": "the running current", "running_high": "the running current", "wire": "the wire", "contact": "the contact", "surge": "the surge", "plug": "the plug"}
    return (Remedy("No slow fuse satisfies " + " and ".join(dict.fromkeys(words[c] for c in found.cures)) + " at once: change one of them." if found.cures else "No slow fuse fits running current, surge and wire together."),)


def _battery(around, rail, report, reports, uses) -> Iterator[Finding]:
    if rail.lithium == "bare":
        yield Finding("S10", "stop", _where(rail), f"{rail.name} is lithium without protection", "Neither over-charge nor deep discharge nor a short is stopped.", "It burns: a protected pack, a low-voltage cut-off and its own charger.",
                      remedies=(Remedy("Use a protected pack", (("set_rail", {"rail": rail.id, "lithium": "protected"}),)),), lasting=True)  # fmt: skip
    if report.lasts is not None and rail.wanted and report.lasts < parse(rail.wanted, "h") * 3600:
        yield Finding("S10", "note", _where(rail), f"{rail.name} is empty before it is wanted to be", f"About {digits(report.lasts / 3600)} h at {show(report.typical, 'A')}; wanted are {rail.wanted}.",
                      "Four fifths of what is printed, at the typical current.", "typical use", remedies=(Remedy("A larger battery, or less that is on while it waits."),))  # fmt: skip


def _pumped(around, rail, report, reports, uses) -> Iterator[Finding]:
    """S12: energy that comes back from what is braked or runs on lifts the rail; a battery takes it, an adapter does not."""
    energy = sum(parse(c.channel.load.returned, "J") for c, _ in uses if c.channel.rail == rail.id and c.channel.load.returned)
    if not energy or rail.source == "battery" or around.alternating(rail):
        return
    limits = [(c.load.maximum, c.channel.name) for c, _ in uses if c.channel.rail == rail.id and c.load.maximum]
    # A relay's transistor hangs on the coil's rail, every other switch on its load's.
    switches = [(c.channel.name, m.stop) for c, r in uses for m in r.measures if m.key == "blocking" and rail.id == (r.facts["coil_draw"][0] if "relay" in r.facts else c.channel.rail)]
    limits += [(volts, f"the switch of {name}") for name, volts in switches]
    if around.board is not None and around.build.board_feed == rail.id:
        limits.append((around.board.feed.max, "the board"))
    if not limits:
        return
    most, what = min(limits)
    held = parse(rail.bulk, "F") if rail.bulk else OWN_CAPACITOR
    volts = instants.pumped_up(report.volts.max, energy, held, report.working)
    if volts <= most * (1 + 1e-9):
        return
    size = next((size for size in instants.BULK if most > report.volts.max and size >= 2 * energy / (most**2 - report.volts.max**2)), None)
    remedies = [Remedy(f"A capacitor of {show(size, 'F')} across the rail", (("set_rail", {"rail": rail.id, "bulk": show(size, "F")}),), f"then it rises to {show(instants.pumped_up(report.volts.max, energy, size), 'V')}")] if size else []
    yield Finding("S12", "fix", _where(rail), f"{rail.name} is lifted by what comes back", f"{show(energy, 'J')} into {show(held, 'F')} raise it to {show(volts, 'V')}; {what} bears {show(most, 'V')}.",
                  "An adapter takes nothing back: what is braked or runs on charges whatever hangs on the rail.", "highest supply, all of it returned",
                  remedies=(*remedies, Remedy("A resistor that is switched across the rail above its highest volts, or a battery in place of the adapter.")))  # fmt: skip


def _joined(around, rail, report, reports, uses) -> Iterator[Finding]:
    other = around.build.rail(rail.joined_with)
    if other is not None:
        yield Finding("S9", "stop", _where(rail), f"{rail.name} and {other.name} are joined at their plus", "The higher one feeds the lower one backwards, or fights it.", "Two sources share nothing by being wired together.", "any",
                      remedies=(Remedy("Take the wire away", (("set_rail", {"rail": rail.id, "joined_with": ""}),)),))  # fmt: skip


def _board_feed(around: BuildContext) -> list[Finding]:
    """S8: what feeds the board must be direct current within what the board takes."""
    rail, board = around.build.rail(around.build.board_feed), around.board
    if rail is None or board is None:
        return []
    volts, lasting = around.rail_volts(rail), around.hazardous(rail)
    own = Remedy("Feed the board from another rail", (("set_board_feed", {"rail": ""}),), "then say which")
    if around.alternating(rail):
        return [Finding("S8", "stop", _where(rail), "The board is fed with alternating current", f"{rail.name} carries alternating current.", "A board wants direct current.", "any", remedies=(own,), lasting=lasting)]
    if volts.max > board.feed.max * (1 + 1e-9):
        return [Finding("S8", "stop", _where(rail), "The board is fed with too many volts", f"{rail.name} reaches {show(volts.max, 'V')}; the board takes up to {show(board.feed.max, 'V')}.", "Its regulator dies, and takes the board along.", "highest supply", remedies=(own,), lasting=lasting)]
    if volts.min < board.brown_out * (1 - 1e-9):
        return [Finding("S8", "stop", _where(rail), "The board is fed with too few volts", f"{rail.name} falls to {show(volts.min, 'V')}; the board resets below {show(board.brown_out, 'V')}.", "It starts, works for a while, and resets when something is switched on.", "lowest supply", remedies=(own,), lasting=lasting)]
    return []


def _controller(around: BuildContext) -> list[Finding]:
    """S11: the board must not hang on a rail that one of its own channels turns off."""
    build = around.build
    now = build.rail(build.board_feed) if build.board_feed else None
    seen: set[str] = set()
    while now is not None and now.id not in seen:
        seen.add(now.id)
        if now.switched_by and build.channel(now.switched_by):
            return [Finding("S11", "stop", _where(now), "The board switches its own supply off", f"{build.channel(now.switched_by).name} turns {now.name} off, and the board hangs on it.",
                            "It starts, switches, dies, and starts again.", "switched off", remedies=(Remedy("Feed the board from another rail", (("set_board_feed", {"rail": ""}),)),))]  # fmt: skip
        above = parent_of(build, now)
        now = build.rail(above) if above else None
    return []
