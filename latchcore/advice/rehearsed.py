"""A rehearsal on a build's own figures: what flows on each rail while it runs."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from itertools import groupby
from operator import itemgetter
from typing import Any

from latchcore.advice.breaches import Breach, breaches_of, stretches, times_on
from latchcore.behaviour.compiling import compiled
from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.named import channel_of, outputs_of
from latchcore.behaviour.rehearsal import Rehearsal, Runner
from latchcore.behaviour.step import Program
from latchcore.catalogue import Catalogue
from latchcore.design.report import Report, StageResult
from latchcore.document.models import Build
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import show
from latchcore.whole.rails import SHORT_SURGE, RailReport


@dataclass
class RailLane:
    """
    The current of one rail over time.

    ``points`` are (t [s], current [A]): from each on, that flows; ``most`` the largest,
    ``breaches`` when it goes over the ``rating``.
    """

    id: str
    name: str
    rating: float | None
    points: list[tuple[float, float]] = field(default_factory=list)
    most: float = 0.0
    most_at: float = 0.0
    breaches: list[tuple[float, float]] = field(default_factory=list)


@dataclass
class ChannelSum:
    """What one channel did: time on, how often it went on, its longest time on, its energy."""

    id: str
    name: str
    on: float = 0.0
    starts: int = 0
    longest: float = 0.0
    energy: float | None = None


@dataclass
class Rehearsed:
    """
    A rehearsal with the currents of its rails, the sums of its channels, and what rails and loads
    do not bear of it.
    """

    program: Program
    run: Rehearsal
    rails: list[RailLane]
    channels: list[ChannelSum]
    breaches: list[Breach]

    def time(self, step: int) -> float:
        """When a step stands [s]."""
        return round(step * self.run.step, 9)


def rehearse(
    build: Build,
    happenings: Iterable[Happening] = (),
    seconds: float = 60.0,
    start: dict[str, Any] | None = None,
    catalogue: Catalogue | None = None,
) -> Rehearsed:
    """
    Run a build's behaviour against what happens.

    Parameters
    ----------
    build : Build
    happenings : iterable of Happening
    seconds : float
        How long [s]
    start : dict
        Readings at power-up by input; unless stated those that happen at 0, else at rest and 0

    Raises
    ------
    BehaviourError
        If the behaviour cannot be run as it stands
    """
    program = compiled(build)
    given = list(happenings)
    if start is None:
        start = {h.of: h.value for h in reversed(given) if h.what == "input" and h.t == 0}
    run = Runner(program, start).run(given, seconds)
    report = evaluate(build, catalogue)
    lanes = _lanes(build, report, run, program)
    sums, passed = _sums(build, report, run)
    for lane in lanes:
        passed += [
            Breach(t, f"{lane.name} gives {show(amps, 'A')}, rated {show(lane.rating, 'A')}")
            for t, amps in lane.breaches
        ]
    return Rehearsed(program, run, lanes, sums, sorted(passed, key=lambda breach: breach.t))


def _results(report: Report) -> dict[str, StageResult]:
    return {c.id: c.result for c in report.channels if c.result is not None}


def _sums(build: Build, report: Report, run: Rehearsal) -> tuple[list[ChannelSum], list[Breach]]:
    results, found, passed = _results(report), [], []
    volts = {rail.id: rail.volts.typ for rail in report.rails}
    for n, output in enumerate(outputs_of(build)):
        channel, out = output.channel, ChannelSum(output.id, output.name)
        levels = stretches(run, n)
        on = times_on(levels)
        out.starts = len(on)
        out.on = sum(end - begin for begin, end in on) * run.step
        out.longest = max((end - begin for begin, end in on), default=0) * run.step
        result = results.get(channel.id)
        if result is not None and channel.rail in volts:
            weighted = sum(level / 100 * (end - begin) for begin, end, level in levels)
            out.energy = weighted * run.step * result.typical * volts[channel.rail]
        found.append(out)
        passed += breaches_of(channel, output.name, on, run)
    return found, passed


def _lanes(build: Build, report: Report, run: Rehearsal, program: Program) -> list[RailLane]:
    lanes = {rail.id: RailLane(rail.id, rail.name, rail.rating) for rail in report.rails}
    parents = {rail.id: rail for rail in report.rails}
    moves: dict[str, list[tuple[float, float]]] = {key: [] for key in lanes}
    results = _results(report)
    channels = {channel.id: channel for channel in build.channels}
    for rail in report.rails:
        moves[rail.id].append((0.0, rail.idle))
    for written, rise in _rises(run):
        channel = channels[channel_of(program.channels[written.channel].id)]
        result = results.get(channel.id)
        if result is None:
            continue
        t = round(written.step * run.step, 9)
        if channel.rail in moves and not result.contact.series_switch:
            moves[channel.rail].append((t, rise / 100 * result.running))
            surge = result.surge - result.running
            lasts = result.surge_time or run.step
            if written.level == rise and surge > 0 and lasts >= SHORT_SURGE:
                moves[channel.rail] += [(t, surge), (t + lasts, -surge)]
        switched = (written.level == rise) - (written.level == 0)
        if result.coil.rail in moves and switched:
            moves[result.coil.rail].append((t, switched * result.coil.draws))
    for rail in sorted(report.rails, key=lambda r: r.depth, reverse=True):
        _hand_up(rail, parents, moves)
    for key, lane in lanes.items():
        _fill(lane, moves[key])
    return list(lanes.values())


def _rises(run: Rehearsal):
    """Every change of a channel with how much its level rose."""
    levels: dict[int, int] = {}
    for written in run.changes:
        yield written, written.level - levels.get(written.channel, 0)
        levels[written.channel] = written.level


def _hand_up(
    rail: RailReport, rails: dict[str, RailReport], moves: dict[str, list[tuple[float, float]]]
) -> None:
    """What a rail draws from the one above, in the ratio of their sums."""
    above = rails.get(rail.parent or "")
    if above is None or rail.id not in above.below or not rail.all_on:
        return
    ratio = above.below[rail.id][0] / rail.all_on
    # What it draws while nothing is on is in the sum of the one above already.
    moves[above.id] += [(t, rise * ratio) for t, rise in moves[rail.id][1:]]


def _fill(lane: RailLane, moves: list[tuple[float, float]]) -> None:
    now, over = 0.0, False
    for t, group in groupby(sorted(moves), key=itemgetter(0)):
        now += sum(rise for _, rise in group)
        lane.points.append((t, now))
        if now > lane.most:
            lane.most, lane.most_at = now, t
        is_over = lane.rating is not None and now > lane.rating * (1 + 1e-9)
        if is_over and not over:
            lane.breaches.append((t, now))
        over = is_over
