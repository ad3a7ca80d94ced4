"""
Rails as a tree: what hangs on each, what its regulator takes from the one above, what its source
and wire stand.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import StageResult
from latchcore.document.models import Build, Channel, Rail
from latchcore.figures.quantity import parse
from latchcore.figures.spread import Spread
from latchcore.figures.working import Working
from latchcore.sums import ampacity, instants
from latchcore.sums.supplies import rail_sum

#: Surges shorter than this do not count against a source: its own capacitor serves them [s].
SHORT_SURGE = 1e-3


@dataclass
class RailReport:
    """
    Sums of one rail [A], and what follows from them.

    ``shares`` are (name, running, worst, kind); ``rises`` the surge over the running current of the
    load with the largest
    step and how long it lasts. Figures that cannot be known without a fact are ``None``.
    """

    id: str
    name: str
    volts: Spread
    rating: float | None
    idle: float
    typical: float
    all_on: float
    worst: float
    working: Working
    shares: list[tuple[str, float, float]] = field(default_factory=list)
    parent: str | None = None
    depth: int = 0
    rise: float = 0.0
    rise_time: float = 0.0
    heat: float | None = None
    junction: float | None = None
    drops_out: bool = False
    before: float | None = None
    sagging: float | None = None
    lasts: float | None = None
    ampacity: float | None = None
    wire_drop: float | None = None
    starts: list[tuple[str, float, float, float]] = field(default_factory=list)
    #: Every surge, the shortest too: whose, how much more than it runs at [A], how long [s].
    surges: list[tuple[str, float, float]] = field(default_factory=list)
    #: What each rail below takes, by its id: with everything on, at the worst instant [A].
    below: dict[str, tuple[float, float]] = field(default_factory=dict)

    @classmethod
    def unworked(cls, around: BuildContext, rail: Rail) -> RailReport:
        """
        A rail whose sums could not be worked out: its name and its volts as far as they can be
        read, and no sums.
        """
        try:
            volts = around.rail_volts(rail)
        except ValueError:
            volts = Spread(0.0, 0.0, 0.0)
        return cls(rail.id, rail.name, volts, None, 0.0, 0.0, 0.0, 0.0, Working())

    @property
    def spare(self) -> float | None:
        """What the source could still give with everything on [A]."""
        return None if self.rating is None else self.rating - self.all_on


def parent_of(build: Build, rail: Rail) -> str | None:
    """
    The rail above: the one it is fed by, or the board's own feed for a rail on one of its pins.
    """
    if rail.fed_by:
        return rail.fed_by
    if rail.source == "board_pin" and build.board_feed and build.board_feed != rail.id:
        return build.board_feed
    return None


def depth_of(build: Build, rail: Rail) -> int:
    """How many rails stand above; a circle counts as the first turn of it."""
    seen, depth, now = {rail.id}, 0, rail
    while (above := parent_of(build, now)) and above not in seen and build.rail(above):
        seen.add(above)
        now, depth = build.rail(above), depth + 1
    return depth


def rail_reports(
    around: BuildContext,
    uses: list[tuple[ChannelContext, StageResult]],
    inputs: list[tuple[str, str, float]] = (),
) -> list[RailReport]:
    """
    Every rail of a build, in its order; the sums run from the leaves to the sources.

    Parameters
    ----------
    around : BuildContext
    uses : list of (ChannelContext, StageResult)
    inputs : list of (rail, name, current)
        What sense inputs draw [A]
    """
    build, found = around.build, {}
    for rail in sorted(build.rails, key=lambda r: depth_of(build, r), reverse=True):
        found[rail.id] = _rail(
            around,
            rail,
            uses,
            _children(around, rail, found),
            [i for i in inputs if i[0] == rail.id],
        )
    return [found[rail.id] for rail in build.rails]


def kept_apart(build: Build, loads: list[tuple[Channel, float]]) -> set[str]:
    """
    Names of loads that never run together with a larger one: all but the largest of the sources of
    one line that something keeps apart.
    """
    running = {channel.id: (current, channel.name) for channel, current in loads}
    left_out: set[str] = set()
    for route in build.routes:
        members = [m for m in route.members if m in running]
        if route.interlock != "none" and len(members) > 1:
            largest = max(members, key=lambda m: running[m][0])
            left_out |= {running[m][1] for m in members if m != largest}
    return left_out


def _children(around: BuildContext, rail: Rail, found: dict[str, RailReport]) -> list[RailReport]:
    """Rails below one, but for those a channel on it turns on: that channel's current is theirs."""
    by = {c.id for c in around.on_rail(rail)}
    below = [r for r in found.values() if r.parent == rail.id]
    return [r for r in below if around.build.rail(r.id).switched_by not in by]


def _rail(around: BuildContext, rail: Rail, uses, children: list[RailReport], inputs) -> RailReport:
    w, build, volts = Working(), around.build, around.rail_volts(rail)
    rows: list[tuple[str, float, float, float]] = []
    surges: list[tuple[str, float, float]] = []
    typical = idle = 0.0
    for c, r in uses:
        # What passes a switch in series is counted at that switch.
        if c.channel.rail == rail.id and r.running > 0 and not r.contact.series_switch:
            counts = max(r.surge, r.running) if (r.surge_time or 1.0) >= SHORT_SURGE else r.running
            rows.append((c.channel.name, r.running, counts, r.surge_time or 0.0))
            surges.append((c.channel.name, max(r.surge - r.running, 0.0), r.surge_time or 0.0))
            typical += r.typical * c.time_on
        feed, draw = r.coil.rail, r.coil.draws
        if feed == rail.id:
            rows.append((f"coil of {c.channel.name}", draw, draw, 0.0))
            typical += draw * c.time_on
    for _, name, draw in inputs:
        rows.append((name, draw, draw, 0.0))
        typical += draw
        idle += draw
    if rail.always:
        always = parse(rail.always, "A")
        rows.append(("what is always on", always, always, 0.0))
        typical, idle = typical + always, idle + always
    if around.board and build.board_feed == rail.id:
        rows.append(("board", around.board.peak, around.board.peak, 0.0))
        typical += around.board.idle
        idle += around.board.idle
    below = {}
    for child in children:
        taken, most, mean, least = _taken(around, build.rail(child.id), volts, child, w)
        rows.append((f"{child.name}, through it", taken, most, child.rise_time))
        below[child.id] = (taken, most)
        scale = taken / child.all_on if child.all_on else 1.0
        surges += [(child.name, more * scale, lasts) for _, more, lasts in child.surges]
        typical, idle = typical + mean, idle + least
    apart = kept_apart(build, [(c.channel, r.running) for c, r in uses if c.rail is rail])
    together = [r for r in rows if r[0] not in apart]
    if apart:
        w.note(
            "I_apart",
            f"never together with the rest, by wiring or sequence: {', '.join(sorted(apart))}",
            "A",
            sum(r[1] for r in rows) - sum(r[1] for r in together),
            {},
            {},
        )
    all_on, worst = rail_sum([r[1] for r in together], [r[2] for r in together], working=w)
    largest = max(rows, key=lambda r: r[2] - r[1], default=("", 0.0, 0.0, 0.0))
    rating = parse(rail.rating, "A") if rail.rating else None
    report = RailReport(
        rail.id,
        rail.name,
        volts,
        rating,
        idle,
        typical,
        all_on,
        worst,
        w,
        [r[:3] for r in rows],
        parent_of(build, rail),
        depth_of(build, rail),
        largest[2] - largest[1],
        largest[3],
        starts=rows,
        surges=[s for s in surges if s[1] > 0],
        below=below,
    )
    _regulator(around, rail, report)
    _source(rail, report, around.wire(rail).ohms)
    _wire(around, rail, report)
    return report


def _taken(
    around: BuildContext, rail: Rail, above: Spread, child: RailReport, w: Working
) -> tuple[float, float, float, float]:
    """What a rail takes from the one above: all on, worst instant, typical, idle [A]."""
    sums = (child.all_on, child.worst, child.typical, child.idle)
    if rail.converter not in ("switching", "isolating"):
        return sums
    limits = around.catalogue.limits
    share = parse(rail.efficiency, "%") / 100 if rail.efficiency else limits["regulator_efficiency"]
    out = child.volts
    return tuple(
        instants.switching_input(
            above.min if n < 2 else above.typ,
            out.max if n < 2 else out.typ,
            i,
            share,
            w if n == 0 else None,
        )
        for n, i in enumerate(sums)
    )


def _regulator(around: BuildContext, rail: Rail, report: RailReport) -> None:
    above = around.build.rail(report.parent) if report.parent else None
    if above is None or rail.converter != "linear":
        return
    volts = around.rail_volts(above)
    limits = around.catalogue.limits
    drop = parse(rail.drop_out, "V") if rail.drop_out else limits["regulator_drop_out"]
    theta = parse(rail.theta, "K/W") if rail.theta else limits["regulator_theta"]
    report.heat, report.junction, report.drops_out = instants.linear_regulator(
        volts.max,
        volts.min,
        report.volts.typ,
        report.all_on,
        drop,
        theta,
        around.ambient,
        report.working,
    )


def _source(rail: Rail, report: RailReport, wire: float) -> None:
    """Sag on the resistance of source and wire, and how long a battery lasts."""
    own = parse(rail.resistance, "Ω") if rail.resistance else 0.0
    inside = own + wire
    if inside:
        report.before, report.sagging = instants.sag(
            report.volts.min,
            inside,
            report.all_on,
            report.rise,
            report.working,
        )
        if rail.bulk and report.rise > 0 and report.rise_time > 0:
            held = instants.bulk_with_source(
                report.before,
                inside,
                parse(rail.bulk, "F"),
                report.rise,
                report.rise_time,
            )
            report.sagging = report.working.note(
                "V_sag_bulk",
                "with the capacitor across the rail, at the end of the surge",
                "V",
                max(held, report.sagging),
                {},
                {},
                "worst instant",
            )
    if rail.capacity and report.typical > 0:
        report.lasts = instants.running_time(
            parse(rail.capacity, "Ah") * 3600.0, report.typical, report.working
        )


def _wire(around: BuildContext, rail: Rail, report: RailReport) -> None:
    if not rail.wire_area:
        return
    area = parse(rail.wire_area, "mm²") * 1e-6
    report.ampacity = (
        ampacity.ampacity(
            area,
            around.wires(around.hazardous(rail)),
            rail.laid,
            parse(rail.plug_rating, "A") if rail.plug_rating else None,
        )
        or 0.0
    )
    if rail.wire_length:
        report.wire_drop = ampacity.wire_drop(
            parse(rail.wire_length, "m"), area, report.all_on, report.volts.typ, report.working
        )


def start_plan(report: RailReport, limit: float) -> list[instants.Start] | None:
    """
    An order and moments of switching on that keep a rail's sum under a limit; ``None`` where none
    does.
    """
    return instants.staggered(
        [(name, running, worst, lasts) for name, running, worst, lasts in report.starts], limit
    )
