"""
What a fuse must fit: running current, every surge for its own time, wire, plug, contacts; the sizes
that do.
"""

from __future__ import annotations

from collections.abc import Iterator
from math import inf

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Remedy, StageResult
from latchcore.document.models import Rail
from latchcore.figures.quantity import digits, parse, show
from latchcore.figures.slack import exceeds
from latchcore.findings.fuse_print import UNLIMITED, hard, printed
from latchcore.sums import ampacity, contacts
from latchcore.whole.rails import RailReport

#: A regulated source limits itself at about so many times what it is printed for.
LIMITED = 1.5
#: Window of a fuse in multiples of the running current: everything, and motors, which want an
#: overload of their own besides.
WINDOW, MOTORS = (1.25, 1.6), (2.0, 3.0)


def window(around: BuildContext, motors: bool) -> tuple[float, float]:
    """Usual window of a fuse in multiples of what runs, by the region's custom."""
    least = 1 / around.region.fuse_share
    low, high = MOTORS if motors else WINDOW
    return max(low, least), high


def thinnest(around: BuildContext, rail: Rail, report: RailReport) -> float | None:
    """
    What the thinnest wire behind a source carries, its own and those of its loads; ``None`` while
    no cross-section is known [A].
    """
    known = [report.ampacity] if report.ampacity else []
    unfused = [c for c in around.on_rail(rail) if not c.fuse]
    blocks = [b for b in around.build.blocks if b.rail == rail.id]
    wires = (around.wire(of) for of in (*unfused, *blocks))
    known += [around.carries(wire, rail) for wire in wires if wire.area]
    return min(known, default=None)


def weakest_of(result: StageResult) -> tuple[float, str] | None:
    """
    What the switch in the load's circuit bears for good, and what it is [A].

    A contactor's poles carry the load, the relay before it only its coil; a break contact presses
    half as hard, a cheap board's tracks carry half.
    """
    main, relay = result.parts.get("contactor"), result.contact.relay
    if main is not None:
        return main.heaters, "its contact"
    if relay is not None:
        closed = result.contact.which == "NC"
        bears = relay.contact_amperes * (contacts.NC_SHARE if closed else 1.0)
        what = "its break contact" if closed else "its contact"
        if relay.cheap_board:
            return bears * contacts.BOARD_SHARE, f"the board of {what}"
        return bears, what
    if result.output.kind is None:
        return None
    module = result.module.part
    if module is not None:
        share = contacts.BOARD_SHARE if module.cheap_board else 1.0
        return module.contact_amperes * share, "its solid-state output"
    part = result.parts.get("switch")
    bears = getattr(part, "i_rms", None)
    return None if bears is None else (bears, "its solid-state output")


def short_of(rail: Rail, report: RailReport) -> float | None:
    """
    What a short draws, as stated, else as far as it is known [A]; a regulated source limits itself,
    whatever its resistance while it regulates.
    """
    if rail.short_circuit:
        return parse(rail.short_circuit, "A")
    known = [report.volts.max / parse(rail.resistance, "Ω")] if rail.resistance else []
    known += [LIMITED * report.rating] if report.rating and rail.source not in UNLIMITED else []
    return min(known, default=None)


def bears(rating: float, amperes: float) -> float:
    """How long a slow fuse bears a current at the least [s]; for good what is not above it."""
    return ampacity.melting_time(amperes / rating) if exceeds(amperes, rating) else inf


def melts_in(rating: float, report: RailReport) -> tuple[float, float] | None:
    """
    The surge that melts a slow fuse of a rail, with everything else on: its amperes and how long it
    lasts; the one that is over its time by most, ``None`` where none does.
    """
    over = [
        (lasts / bears(rating, report.all_on + more), report.all_on + more, lasts)
        for _, more, lasts in report.surges
        if bears(rating, report.all_on + more) <= lasts
    ]
    return max(over)[1:] if over else None


class Fit:
    """What a fuse of a rail must fit: running current, surges, wire, plug and contacts."""

    def __init__(self, around: BuildContext, rail: Rail, report: RailReport, uses):
        self.around, self.rail, self.report = around, rail, report
        self.wire = thinnest(around, rail, report)
        self.thickest = around.thickest(rail)
        self.printed, self.words = printed(around, rail) if hard(around, rail) else ({}, "")
        mine = [(c, r) for c, r in uses if c.channel.rail == rail.id]
        self.open = [
            (*weakest, c, r)
            for c, r in mine
            if not c.channel.fuse and (weakest := weakest_of(r)) is not None
        ]
        least = min(self.open, key=lambda item: item[0], default=None)
        self.contact, self.switch = (least[0], least[1]) if least else (None, "")
        self.behind = f"{self.switch} of {least[2].channel.name}" if least else ""
        self.plug = parse(rail.plug_rating, "A") if rail.plug_rating else None
        self.motors = any(c.load.kind.symbol == "motor" for c, _ in mine)
        self.low, self.high = window(around, self.motors)

    def limits(self) -> tuple[tuple[float | None, str], ...]:
        """What it must not be above, each with its words."""
        return (
            (self.wire, "its wire"),
            (self.thickest, "the thickest wire that is listed"),
            (self.plug, "its plug"),
            (self.contact, self.behind.replace("its", "the", 1)),
        )

    def usual(self) -> tuple[float, ...]:
        """Slow fuses within the usual window that fit everything."""
        running = self.report.all_on
        return tuple(
            size
            for size in self._within()
            if not exceeds(self.low * running, size) and not exceeds(size, self.high * running)
        )

    def wider(self) -> tuple[float, ...]:
        """Slow fuses beyond the window that outlast the surge within wire, plug and contact."""
        return tuple(size for size in self._within() if size >= self.low * self.report.all_on)

    def closer(self) -> tuple[float, ...]:
        """
        Slow fuses under the window that carry what runs, where wire, plug or contact leave no more
        room; the largest.
        """
        return tuple(size for size in self._within() if size >= self.report.all_on)[-1:]

    def beside(self) -> tuple[float, ...]:
        """What is outside the window and fits all the same, the nearest first."""
        return self.wider() or self.closer()

    def nearest(self, size: float) -> bool:
        """Whether nothing is in the window, and of what fits beside it a size is the nearest."""
        return not self.usual() and size in self.beside()[:1]

    def _within(self) -> Iterator[float]:
        stock = self.around.region.fuses
        most = min((a for a, _ in self.limits() if a is not None), default=stock[-1])
        return (
            size
            for size in stock
            if not exceeds(size, most) and melts_in(size, self.report) is None
        )

    def remedies(self) -> tuple[Remedy, ...]:
        """
        The fuse that fits; else the least that outlasts the surge within wire, plug and contact;
        else what stands in the way.
        """
        running, usual = self.report.all_on, self.usual()
        fitting = usual or self.beside()
        if fitting:
            return (self._fit(fitting[0], bool(usual)),)
        most = [(amperes, words) for amperes, words in self.limits() if amperes is not None]
        limit, words = min(most, default=(self.around.region.fuses[-1], "the largest slow fuse"))
        apart = self.apart() if limit == self.contact else ()
        if apart:
            return apart
        if limit < running * self.low:
            return (
                Remedy(
                    f"{words[0].upper()}{words[1:]} carries {show(limit, 'A')}, and"
                    f" {show(running, 'A')} run: choose one for more, or split the loads."
                ),
            )
        amperes, lasts = melts_in(limit, self.report) or (self.report.worst, self.report.rise_time)
        return (
            Remedy(
                f"No slow fuse up to {show(limit, 'A')} ({words}) outlasts {show(amperes, 'A')} for"
                f" {show(lasts, 's')}: measure how long the start lasts, start it softly, or choose"
                " one for more."
            ),
        )

    def _fit(self, size: float, usual: bool) -> Remedy:
        running = self.report.all_on
        times = f"{digits(size / running, 2)} times the running current" if running else ""
        extra = ""
        if not usual and size < self.low * running:
            extra = "; closer than usual: more is not for its wire, plug or contact"
        elif not usual:
            extra = "; wider than usual, to outlast the surge"
            extra += ": the motor wants an overload of its own" if self.motors else ""
        label = f"A slow fuse of {show(size, 'A')}" + (f", {self.words}" if self.words else "")
        fields = {"rail": self.rail.id, "fuse": show(size, "A")} | self.printed
        return Remedy(label, (("set_rail", fields),), times + extra)

    def apart(self) -> tuple[Remedy, ...]:
        """
        A fuse of its own for the channel whose contact carries least, so that the rail's may be
        larger.
        """
        _, _, context, result = min(self.open, key=lambda item: item[0])
        sizes = own_fuses(context, result)
        if not sizes:
            return ()
        fields = {"channel": context.channel.id, "fuse": show(sizes[0], "A")} | self.printed
        return (
            Remedy(
                f"Give {context.channel.name} a slow fuse of {show(sizes[0], 'A')} of its own",
                (("set_wire", fields),),
                "then the rail's is for the rest",
            ),
        )


def own_wire(context: ChannelContext) -> float | None:
    """What the wire to a channel's load carries, where its cross-section is known [A]."""
    wire = context.around.wire(context.channel)
    return context.around.carries(wire, context.rail) if wire.area and context.rail else None


def own_fuses(context: ChannelContext, result: StageResult) -> tuple[float, ...]:
    """Slow fuses for one channel alone, within its own wire and switch, the least first."""
    low, _ = window(context.around, context.load.kind.symbol == "motor")
    surge, lasts = max(result.surge, result.running), result.surge_time or 0.0
    weakest, stock = weakest_of(result), context.around.region.fuses
    rail = context.rail
    thickest = context.around.thickest(rail) if rail else None
    limits = (own_wire(context), weakest[0] if weakest else None, thickest)
    most = min((a for a in limits if a is not None), default=stock[-1])
    return tuple(
        size
        for size in stock
        if not exceeds(low * result.running, size)
        and not exceeds(size, most)
        and bears(size, surge) > lasts
    )
