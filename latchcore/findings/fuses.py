"""
The fuse of a rail: there, under wire, plug and contact, above the surge, printed for the voltage
and the short it must end.
"""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, Remedy, StageResult
from latchcore.document.models import Rail
from latchcore.figures.quantity import digits, parse, show
from latchcore.figures.slack import exceeds, falls_short, within
from latchcore.findings.fuse_print import UNLIMITED, _printed, hard, printed
from latchcore.sums import ampacity
from latchcore.whole.rails import RailReport

#: A regulated source limits itself at about so many times what it is printed for.
LIMITED = 1.5
#: Window of a fuse in multiples of the running current: everything, and motors, which want an
#: overload of their own besides.
WINDOW, MOTORS = (1.25, 1.6), (2.0, 3.0)


def thinnest(around: BuildContext, rail: Rail, report: RailReport) -> float | None:
    """
    What the thinnest wire behind a source carries, its own and those of its loads; ``None`` while
    no cross-section is known [A].
    """
    table = around.wires(around.hazardous(rail))
    known = [report.ampacity] if report.ampacity else []
    known += [
        ampacity.ampacity(parse(c.wire_area, "mm²") * 1e-6, table) or 0.0
        for c in around.build.channels
        if c.rail == rail.id and c.wire_area and not c.fuse
    ]
    return min(known, default=None)


def fuse(around: BuildContext, rail: Rail, report: RailReport, reports, uses) -> Iterator[Finding]:
    """S7 of one rail: the worst of its rating, then what is printed on it."""
    if report.parent or rail.source in ("board_pin", "usb"):
        return
    short, own = _short(rail, report), _Fit(around, rail, report, uses)
    wire = own.wire
    if rail.fuse is None:
        nothing = not report.shares and not around.on_rail(rail)
        if nothing or _every_branch(around, rail, report):
            return
        held = wire is not None and short is not None and not exceeds(short, wire)
        if not held and (rail.source in around.hard_sources or wire is not None):
            severity = (
                "stop"
                if rail.source in UNLIMITED
                or (short is not None and wire is not None and short > wire)
                else "fix"
            )
            yield Finding(
                "S7",
                severity,
                f"rail:{rail.id}",
                f"No fuse in {rail.name}",
                "A short draws what the source can give"
                + (
                    f", {show(short, 'A')} through a wire for {show(wire, 'A')}."
                    if short and wire
                    else "."
                ),
                "Something must melt before the wire does; near a battery within a hand's breadth"
                " of its plus.",
                "a short at the far end",
                remedies=own.remedies(),
            )
        return
    yield from _rating(rail, report, own)
    yield from _printed(around, rail, report)


def _every_branch(around: BuildContext, rail: Rail, report: RailReport) -> bool:
    """
    Whether each thing a rail feeds has a fuse of its own, so that none is asked for a second time;
    what stands before them is as thick as the source's own lead, or nothing is known of it.
    """
    branches = around.on_rail(rail)
    whole = len(branches) == len(report.shares) and not report.ampacity
    return whole and all(c.fuse for c in branches)


def _short(rail: Rail, report: RailReport) -> float | None:
    """
    What a short draws, as far as it is known [A]; a regulated source limits itself, whatever its
    resistance while it regulates.
    """
    known = [report.volts.max / parse(rail.resistance, "Ω")] if rail.resistance else []
    known += [LIMITED * report.rating] if report.rating and rail.source not in UNLIMITED else []
    return min(known, default=None)


def outlasts(rating: float, report: RailReport) -> bool:
    """
    Whether a slow fuse stands the worst instant of a rail; what is not above its rating it carries
    for good.
    """
    return (
        not exceeds(report.worst, rating)
        or ampacity.melting_time(report.worst / rating) > report.rise_time
    )


class _Fit:
    """What a fuse of a rail must fit: running current, surge, wire, plug and contact."""

    def __init__(self, around: BuildContext, rail: Rail, report: RailReport, uses):
        self.rail, self.report, self.wire = rail, report, thinnest(around, rail, report)
        self.printed, self.words = printed(around, rail, report) if hard(around, rail) else ({}, "")
        mine = [(c, r) for c, r in uses if c.channel.rail == rail.id]
        self.open = [
            (amperes, c, r)
            for c, r in mine
            if not c.channel.fuse and (amperes := contact_of(r)) is not None
        ]
        self.contact = min((amperes for amperes, *_ in self.open), default=None)
        self.plug = parse(rail.plug_rating, "A") if rail.plug_rating else None
        self.motors = any(c.load.kind.symbol == "motor" for c, _ in mine)
        self.low, self.high = MOTORS if self.motors else WINDOW

    def usual(self) -> tuple[float, ...]:
        """Slow fuses within the usual window that fit everything."""
        of = self.report
        return ampacity.choose_fuse(
            running=of.all_on,
            surge=of.worst,
            surge_time=of.rise_time,
            wire=self.wire,
            plug=self.plug,
            contact=self.contact,
            low=self.low,
            high=self.high,
        ).admissible

    def wider(self) -> tuple[float, ...]:
        """Slow fuses beyond the window that outlast the surge within wire, plug and contact."""
        return tuple(size for size in self._within() if size >= self.low * self.report.all_on)

    def closer(self) -> tuple[float, ...]:
        """
        Slow fuses under the window that carry what runs, where wire, plug or contact leave no more
        room; the largest.
        """
        return tuple(size for size in self._within() if size >= self.report.all_on)[-1:]

    def _within(self) -> Iterator[float]:
        most = min(
            (a for a in (self.wire, self.plug, self.contact) if a is not None),
            default=ampacity.FUSES[-1],
        )
        return (
            size
            for size in ampacity.FUSES
            if not exceeds(size, most) and outlasts(size, self.report)
        )

    def remedies(self) -> tuple[Remedy, ...]:
        """
        The fuse that fits; else the least that outlasts the surge within wire, plug and contact;
        else what stands in the way.
        """
        running, worst, lasts = self.report.all_on, self.report.worst, self.report.rise_time
        usual = self.usual()
        wider = usual or self.wider() or self.closer()
        if wider:
            times = f"{digits(wider[0] / running, 2)} times the running current" if running else ""
            under = wider[0] < self.low * running
            extra = (
                ""
                if usual
                else (
                    "; closer than usual: more is not for its wire, plug or contact"
                    if under
                    else "; wider than usual, to outlast the surge"
                    + (": the motor wants an overload of its own" if self.motors else "")
                )
            )
            label = f"A slow fuse of {show(wider[0], 'A')}" + (
                f", {self.words}" if self.words else ""
            )
            return (
                Remedy(
                    label,
                    (
                        (
                            "set_rail",
                            {"rail": self.rail.id, "fuse": show(wider[0], "A")} | self.printed,
                        ),
                    ),
                    times + extra,
                ),
            )
        most = {"its wire": self.wire, "its plug": self.plug, "a contact behind it": self.contact}
        most = {words: amperes for words, amperes in most.items() if amperes is not None}
        words, limit = min(
            most.items(),
            key=lambda item: item[1],
            default=("the largest slow fuse", ampacity.FUSES[-1]),
        )
        if limit < running * self.low:
            apart = self.apart() if words == "a contact behind it" else ()
            return apart or (
                Remedy(
                    f"{words[0].upper()}{words[1:]} carries {show(limit, 'A')}, and"
                    f" {show(running, 'A')} run: choose one for more, or split the loads."
                ),
            )
        return (
            Remedy(
                f"No slow fuse up to {show(limit, 'A')} ({words}) outlasts {show(worst, 'A')} for"
                f" {show(lasts, 's')}: measure how long the start lasts, start it softly, or choose"
                " one for more."
            ),
        )

    def apart(self) -> tuple[Remedy, ...]:
        """
        A fuse of its own for the channel whose contact carries least, so that the rail's may be
        larger.
        """
        _, context, result = min(self.open, key=lambda item: item[0])
        sizes = own_fuses(context, result)
        edits = (
            (("set_wire", {"channel": context.channel.id, "fuse": show(sizes[0], "A")}),)
            if sizes
            else ()
        )
        return (
            (
                Remedy(
                    f"Give {context.channel.name} a slow fuse of {show(sizes[0], 'A')} of its own",
                    edits,
                    "then the rail's is for the rest",
                ),
            )
            if sizes
            else ()
        )


def contact_of(result: StageResult) -> float | None:
    """
    What the contact in the load's circuit is printed for [A]; a contactor's poles carry the load,
    the relay before it only its coil.
    """
    main = result.parts.get("contactor")
    return (
        main.heaters
        if main
        else result.contact.relay.contact_amperes
        if result.contact.relay is not None
        else None
    )


def _own_wire(context: ChannelContext) -> float | None:
    """What the wire to a channel's load carries, where its cross-section is known [A]."""
    area = context.channel.wire_area
    return (
        (
            ampacity.ampacity(parse(area, "mm²") * 1e-6, context.around.wires(context.dangerous))
            or 0.0
        )
        if area
        else None
    )


def own_fuses(context: ChannelContext, result: StageResult) -> tuple[float, ...]:
    """Slow fuses for one channel alone, within its own wire and contact, the least first."""
    low, _ = MOTORS if context.load.kind.symbol == "motor" else WINDOW
    surge, lasts = max(result.surge, result.running), result.surge_time or 0.0
    most = min(
        (a for a in (_own_wire(context), contact_of(result)) if a is not None),
        default=ampacity.FUSES[-1],
    )
    return tuple(
        f
        for f in ampacity.FUSES
        if within(low * result.running, f, most)
        and (surge <= f or ampacity.melting_time(surge / f) > lasts)
    )


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """S7 of a channel's own fuse."""
    if not context.channel.fuse or context.rail is None:
        return []
    held, running, lasts, where, rail = (
        parse(context.channel.fuse, "A"),
        result.running,
        result.surge_time or 0.0,
        context.channel.id,
        context.rail,
    )
    grave = "stop" if rail.source in UNLIMITED else "fix"
    surge = max(result.surge, running)
    for most, what in (
        (_own_wire(context), "its wire"),
        (contact_of(result), "its contact"),
        (parse(rail.fuse, "A") if rail.fuse else None, "the fuse of its rail"),
    ):
        if most is not None and exceeds(held, most):
            return [
                Finding(
                    "S7",
                    grave,
                    where,
                    f"Its own fuse is above {what}",
                    f"{show(held, 'A')}, and {what} is for {show(most, 'A')}.",
                    "It then protects nothing that is thinner than itself.",
                    "an overload short of a short",
                    lasting=context.dangerous,
                )
            ]
    if falls_short(held, running):
        return [
            Finding(
                "S7",
                "fix",
                where,
                "Its own fuse is under what runs",
                f"{show(held, 'A')}, and {show(running, 'A')} run.",
                "It melts of itself, sooner or later.",
                "highest current",
            )
        ]
    if surge > held and ampacity.melting_time(surge / held) <= lasts:
        return [
            Finding(
                "S7",
                "fix",
                where,
                "Its own fuse melts in the surge",
                f"{show(surge, 'A')} for {show(lasts, 's')}; a slow {show(held, 'A')} bears that"
                f" for {show(ampacity.melting_time(surge / held), 's')} at the least.",
                "It must stand every start and melt on every fault.",
                "start of the load",
            )
        ]
    return []


def _rating(rail: Rail, report: RailReport, own: _Fit) -> Iterator[Finding]:
    held, running, severity, where = (
        parse(rail.fuse, "A"),
        report.all_on,
        "stop" if rail.source in UNLIMITED else "fix",
        f"rail:{rail.id}",
    )
    for most, what in (
        (own.wire, "its wire"),
        (own.plug, "its plug"),
        (own.contact, "a contact behind it"),
    ):
        if most is not None and exceeds(held, most):
            yield Finding(
                "S7",
                severity,
                where,
                f"The fuse of {rail.name} is above {what}",
                f"{show(held, 'A')}, and {what} carries {show(most, 'A')}.",
                "It then protects nothing that is thinner than itself.",
                "an overload short of a short",
                remedies=own.remedies(),
            )
            return
    if falls_short(held, running):
        yield Finding(
            "S7",
            "fix",
            where,
            f"The fuse of {rail.name} is under what runs",
            f"{show(held, 'A')}, and {show(running, 'A')} run with everything on.",
            "It melts of itself, sooner or later, and is then replaced by one that is too large.",
            "everything on",
            remedies=own.remedies(),
        )
    elif running > 0 and report.rise > 0 and not outlasts(held, report):
        bears = ampacity.melting_time(report.worst / held)
        yield Finding(
            "S7",
            "fix",
            where,
            f"The fuse of {rail.name} melts in the surge",
            f"{show(report.worst, 'A')} for {show(report.rise_time, 's')}; a slow {show(held, 'A')}"
            f" bears that for {show(bears, 's')} at the least.",
            "It must stand every start and melt on every fault.",
            "everything on, the largest surge",
            remedies=own.remedies(),
        )
    elif running > 0 and not within(own.low * running, held, own.high * running):
        yield Finding(
            "S7",
            "note",
            where,
            f"The fuse of {rail.name} is outside the usual window",
            f"{show(held, 'A')} where {show(own.low * running, 'A')} to"
            f" {show(own.high * running, 'A')} is usual for {show(running, 'A')}.",
            "Too close it melts of itself in time; too far it lets a small overload pass.",
            "everything on",
            remedies=own.remedies(),
        )
