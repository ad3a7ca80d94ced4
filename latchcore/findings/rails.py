"""
Rails as a whole: board pins, regulators, sag, wire, fuse, battery, what must not be joined or
switched.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from latchcore.design.context import BuildContext
from latchcore.design.report import Finding, Remedy
from latchcore.document.models import Rail
from latchcore.figures.quantity import digits, parse, show
from latchcore.figures.slack import exceeds, falls_short
from latchcore.findings import fuses
from latchcore.findings.board_feed import _board_feed, _controller, _where
from latchcore.sums import ampacity, instants
from latchcore.whole.rails import RailReport, depth_of, parent_of

DROP_FIX, DROP_NOTE = 0.05, 0.03
#: What an adapter has across its output where nothing is stated [F].
OWN_CAPACITOR = 470e-6


def build(around: BuildContext, reports: list[RailReport], uses) -> list[Finding]:
    """S3 to S7 and S9 to S12 of every rail of a build."""
    found: list[Finding] = []
    for rail, report in zip(around.build.rails, reports, strict=True):
        for check in (_board_pin, _regulator, _sag, _wire, fuses.fuse, _battery, _joined, _pumped):
            found += check(around, rail, report, reports, uses)
    lines = [f for rail in around.build.rails for f in _of_the_region(around, rail)]
    return found + _controller(around) + _board_feed(around) + lines


def _of_the_region(around: BuildContext, rail: Rail) -> Iterator[Finding]:
    """S8 of a line whose volts are not those of the region it is said to be in."""
    if rail.source != "mains":
        return
    volts, region = around.rail_volts(rail).typ, around.region
    fits = [r for r in around.catalogue.regions.values() if _near(around, r, rail, volts)]
    if any(r.id == region.id for r in fits):
        return
    yield Finding(
        "S8",
        "fix",
        _where(rail),
        f"{rail.name} is no line of {region.title}",
        f"{show(volts, 'V')}; the build is set in {region.title}.",
        "Colours, fuses, frequency and classes of parts follow the region: with the wrong one they"
        " are wrong.",
        remedies=(
            *(
                Remedy(f"Set the build in {r.title}", (("set_conditions", {"region": r.id}),))
                for r in fits
            ),
            *_two_lives(around, region, rail, volts),
        )
        or (Remedy("Say the volts that are measured there, or the region they are found in."),),
    )


def _two_lives(around: BuildContext, region, rail: Rail, volts: float) -> Iterator[Remedy]:
    """What a line of twice the region's volts is: two lives and no neutral."""
    both = rail.model_copy(update={"lives": "two"})
    if not around.two_lives(rail) and _near(around, region, both, volts):
        yield Remedy(
            "Say that both its conductors are live",
            (("set_rail", {"rail": rail.id, "lives": "two"}),),
        )


def _near(around: BuildContext, region, rail: Rail, volts: float) -> bool:
    """Whether a region's line has so many volts, between its two lives where that is said."""
    nominal = region.mains.typ * (2.0 if rail.lives == "two" and region.mains.typ < 150 else 1.0)
    share = around.catalogue.limits["region_volts"]
    return not exceeds(abs(volts - nominal), share * nominal)


def pin_budget(around: BuildContext, rail: Rail) -> tuple[str, float] | None:
    """The board's power pin a rail is, by its name or by its voltage, with what it gives [A]."""
    if around.board is None or rail.source != "board_pin":
        return None
    pins = around.board.power_pins
    if rail.board_pin in pins:
        return rail.board_pin, pins[rail.board_pin]
    volts = around.rail_volts(rail).typ
    named = {
        name: float(f"{m[1]}.{m[2] or 0}") for name in pins if (m := re.match(r"(\d+)V(\d*)", name))
    }
    near = min(named, key=lambda n: abs(named[n] - volts), default=None)
    return (
        (near, pins[near]) if near is not None and abs(named[near] - volts) < 0.1 * volts else None
    )


def _board_pin(around, rail, report, reports, uses) -> Iterator[Finding]:
    budget = pin_budget(around, rail)
    share = around.catalogue.limits["board_pin_share"]
    if budget and exceeds(report.worst, share * budget[1]):
        yield Finding(
            "S3",
            "stop",
            _where(rail),
            f"{rail.name} asks too much of the board's {budget[0]} pin",
            f"Started it takes {show(report.worst, 'A')}; the pin gives {show(budget[1], 'A')}, of"
            f" which {share * 100:g} % are for use.",
            "What a coil or motor takes there the board itself lacks: it resets, or its regulator"
            " burns.",
            "everything on, one load starting",
            cause="instant",
            remedies=(
                Remedy(
                    "Feed it from an adapter of its own",
                    (("set_rail", {"rail": rail.id, "source": "adapter"}),),
                    "then the board only drives it",
                ),
            ),
        )


def _regulator(around, rail, report, reports, uses) -> Iterator[Finding]:
    if rail.converter != "linear" or report.junction is None:
        return
    switching = Remedy(
        "Use a switching regulator",
        (("set_rail", {"rail": rail.id, "converter": "switching"}),),
        "then hardly anything is turned into heat",
    )
    limit = around.catalogue.limits["regulator_junction"]
    if report.drops_out:
        above = around.rail_volts(around.build.rail(report.parent))
        drop = (
            parse(rail.drop_out, "V")
            if rail.drop_out
            else around.catalogue.limits["regulator_drop_out"]
        )
        yield Finding(
            "S4",
            "stop",
            _where(rail),
            f"The regulator of {rail.name} drops out",
            f"{show(above.min, 'V')} in, {show(report.volts.typ, 'V')} out: it wants"
            f" {show(drop, 'V')} between.",
            "Below its drop-out it gives what is left, ripple and all.",
            "lowest input",
            remedies=(
                switching,
                Remedy("Feed it from a higher rail, or use one for a small drop."),
            ),
        )
    elif report.junction > limit - around.catalogue.limits["junction_margin"]:
        severity = "stop" if report.junction > limit else "fix"
        yield Finding(
            "S4",
            severity,
            _where(rail),
            f"The regulator of {rail.name} gets too hot",
            f"{show(report.heat, 'W')} make {digits(report.junction)} °C of {limit:g} °C at its"
            " junction.",
            "A linear regulator burns the volts it takes away.",
            "highest input, everything on",
            remedies=(switching, Remedy("Give it a heat sink and enter the lower figure.")),
        )


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
        now = (
            around.build.rail(above)
            if above and now.converter is None and depth_of(around.build, now)
            else None
        )
    if not known or not falls_short(low, board.brown_out):
        return
    remedies = []
    if (
        report.before is not None
        and report.before > board.brown_out
        and report.rise > 0
        and report.rise_time > 0
    ):
        least, size, left = instants.bulk_capacitor(
            report.before, board.brown_out, report.rise, report.rise_time
        )
        if size is not None:
            remedies.append(
                Remedy(
                    f"A capacitor of {show(size, 'F')} across the rail",
                    (("set_rail", {"rail": rail.id, "bulk": show(size, "F")}),),
                    f"alone it leaves {show(left, 'V')}; at least {show(least, 'F')}",
                )
            )
    remedies.append(
        Remedy("Feed the board from a rail of its own, or switch the loads on one after another.")
    )
    yield Finding(
        "S5",
        "fix",
        _where(rail),
        "The board may reset when a load starts",
        f"{rail.name} falls to {show(low, 'V')}; the board resets below"
        f" {show(board.brown_out, 'V')}.",
        "A surge on a source with resistance takes volts from everything on it.",
        "lowest source, everything on, the largest surge",
        remedies=tuple(remedies),
    )


def _wire(around, rail, report, reports, uses) -> Iterator[Finding]:
    table = around.wires(around.hazardous(rail))
    carries, made = report.ampacity, rail.wire_area
    if carries is None:
        carries, made = around.thickest(rail), "the thickest wire that is listed"
    thicker = ampacity.least_area(report.all_on, table, rail.laid)
    mend = (
        (
            Remedy(
                f"Wire of {ampacity.area_words(thicker, table)}",
                (
                    (
                        "set_rail",
                        {"rail": rail.id, "wire_area": ampacity.area_words(thicker, table)},
                    ),
                ),
            ),
        )
        if thicker
        else (Remedy("Split the loads over several feeds."),)
    )
    if exceeds(report.all_on, carries):
        shared = len(report.shares) > 1
        carried = show(carries, "A") if carries else "nothing that is listed"
        yield Finding(
            "S11" if shared else "S6",
            "stop",
            _where(rail),
            f"The wire of {rail.name} carries more than it may",
            f"{show(report.all_on, 'A')} through {made}, laid {rail.laid}: it carries {carried}.",
            (
                "A feed that several loads share carries their sum."
                if shared
                else "It warms until its insulation gives."
            ),
            "everything on",
            remedies=mend,
        )
    elif report.wire_drop is not None and report.wire_drop > DROP_NOTE * report.volts.typ:
        share = report.wire_drop / report.volts.typ
        severity = "fix" if share > DROP_FIX else "note"
        area = parse(rail.wire_area, "mm²")
        need = next(
            (a for a in table if a * 1e6 > area and share * area / (a * 1e6) <= DROP_NOTE), None
        )
        more = (
            (
                Remedy(
                    f"Wire of {ampacity.area_words(need, table)}",
                    (
                        (
                            "set_rail",
                            {"rail": rail.id, "wire_area": ampacity.area_words(need, table)},
                        ),
                    ),
                ),
            )
            if need
            else (Remedy("Shorten the wire, or raise the voltage of the feed."),)
        )
        yield Finding(
            "S6",
            severity,
            _where(rail),
            f"{digits(share * 100)} % of {rail.name} stay in its wire",
            f"{show(report.wire_drop, 'V')} of {show(report.volts.typ, 'V')} over"
            f" {rail.wire_length} of {rail.wire_area}, out and back.",
            "What the wire keeps, coil and lamp go without.",
            "everything on",
            remedies=more,
        )


def _battery(around, rail, report, reports, uses) -> Iterator[Finding]:
    if rail.lithium == "bare":
        yield Finding(
            "S10",
            "stop",
            _where(rail),
            f"{rail.name} is lithium without protection",
            "Neither over-charge nor deep discharge nor a short is stopped.",
            "It burns: a protected pack, a low-voltage cut-off and its own charger.",
            remedies=(
                Remedy(
                    "Use a protected pack",
                    (("set_rail", {"rail": rail.id, "lithium": "protected"}),),
                ),
            ),
            lasting=True,
        )
    if report.lasts is not None and rail.wanted and report.lasts < parse(rail.wanted, "h") * 3600:
        yield Finding(
            "S10",
            "note",
            _where(rail),
            f"{rail.name} is empty before it is wanted to be",
            f"About {digits(report.lasts / 3600)} h at {show(report.typical, 'A')}; wanted are"
            f" {rail.wanted}.",
            "Four fifths of what is printed, at the typical current.",
            "typical use",
            remedies=(Remedy("A larger battery, or less that is on while it waits."),),
        )


def _pumped(around, rail, report, reports, uses) -> Iterator[Finding]:
    """
    S12: energy that comes back from what is braked or runs on lifts the rail; a battery takes it,
    an adapter does not.
    """
    energy = sum(
        parse(c.channel.load.returned, "J")
        for c, _ in uses
        if c.channel.rail == rail.id and c.channel.load.returned
    )
    if not energy or rail.source == "battery" or around.alternating(rail):
        return
    limits = [
        (c.load.maximum, c.channel.name)
        for c, _ in uses
        if c.channel.rail == rail.id and c.load.maximum
    ]
    # A relay's transistor hangs on the coil's rail, every other switch on its load's.
    switches = [
        (c.channel.name, m.stop)
        for c, r in uses
        for m in r.measures
        if m.key in ("blocking", "bridge_supply_most")
        and rail.id == (r.coil.rail if r.contact.relay is not None else c.channel.rail)
    ]
    limits += [(volts, f"the switch of {name}") for name, volts in switches]
    if around.board is not None and around.build.board_feed == rail.id:
        limits.append((around.board.feed.max, "the board"))
    if not limits:
        return
    most, what = min(limits)
    held = parse(rail.bulk, "F") if rail.bulk else OWN_CAPACITOR
    volts = instants.pumped_up(report.volts.max, energy, held, report.working)
    if not exceeds(volts, most):
        return
    size = next(
        (
            size
            for size in instants.BULK
            if most > report.volts.max and size >= 2 * energy / (most**2 - report.volts.max**2)
        ),
        None,
    )
    remedies = (
        [
            Remedy(
                f"A capacitor of {show(size, 'F')} across the rail",
                (("set_rail", {"rail": rail.id, "bulk": show(size, "F")}),),
                f"then it rises to {show(instants.pumped_up(report.volts.max, energy, size), 'V')}",
            )
        ]
        if size
        else []
    )
    yield Finding(
        "S12",
        "fix",
        _where(rail),
        f"{rail.name} is lifted by what comes back",
        f"{show(energy, 'J')} into {show(held, 'F')} raise it to {show(volts, 'V')}; {what} bears"
        f" {show(most, 'V')}.",
        "An adapter takes nothing back: what is braked or runs on charges whatever hangs on the"
        " rail.",
        "highest supply, all of it returned",
        remedies=(
            *remedies,
            Remedy(
                "A resistor that is switched across the rail above its highest volts, or a battery"
                " in place of the adapter."
            ),
        ),
    )


def _joined(around, rail, report, reports, uses) -> Iterator[Finding]:
    other = around.build.rail(rail.joined_with)
    if other is not None:
        yield Finding(
            "S9",
            "stop",
            _where(rail),
            f"{rail.name} and {other.name} are joined at their plus",
            "The higher one feeds the lower one backwards, or fights it.",
            "Two sources share nothing by being wired together.",
            "any",
            remedies=(
                Remedy("Take the wire away", (("set_rail", {"rail": rail.id, "joined_with": ""}),)),
            ),
        )
