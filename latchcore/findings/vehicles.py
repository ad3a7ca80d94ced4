"""Two-motor vehicles: both stalled on their supply, and what stops them without a command."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, Remedy, StageResult
from latchcore.figures.quantity import show
from latchcore.figures.slack import exceeds
from latchcore.whole.rails import RailReport

Uses = list[tuple[ChannelContext, StageResult]]
#: What a press states where nobody said it.
USUAL_TIME_OUT = "500 ms"


def stalled(around: BuildContext, rail: RailReport, uses: Uses) -> tuple[str, float] | None:
    """
    The vehicle that asks most of a rail with both motors stalled and all else on, and how much [A].
    """
    by_id = {c.channel.id: (c, r) for c, r in uses}
    found: list[tuple[str, float]] = []
    for vehicle in around.build.vehicles:
        both = [by_id[k] for k in (vehicle.left, vehicle.right) if k in by_id]
        here = [r for c, r in both if c.channel.rail == rail.id]
        if len(here) == 2:
            more = sum(max(r.surge - r.running, 0.0) for r in here)
            found.append((vehicle.name, rail.all_on + more))
    return max(found, key=lambda f: f[1], default=None)


def build(around: BuildContext, rails: list[RailReport], uses: Uses) -> Iterator[Finding]:
    """S1 with both motors of a vehicle stalled, T6 where nothing stops it without a command."""
    for rail in rails:
        most = stalled(around, rail, uses)
        if most is None or rail.rating is None or not exceeds(most[1], rail.rating):
            continue
        if exceeds(rail.worst, rail.rating):
            # One motor alone is too much already, and that is said.
            continue
        yield Finding(
            "S1",
            "fix",
            f"rail:{rail.id}",
            f"Both motors of {most[0]} stalled are too much for {rail.name}",
            f"With everything else on, {show(most[1], 'A')} of {show(rail.rating, 'A')}.",
            "Against a wall, or both starting, the motors of a vehicle stall together.",
            "both motors stalled, everything else on",
            cause="both stalled",
        )
    for vehicle in around.build.vehicles:
        if vehicle.time_out is not None:
            continue
        left = around.build.channel(vehicle.left)
        yield Finding(
            "T6",
            "check",
            vehicle.left,
            f"What stops {vehicle.name} when no command comes?",
            f"Out of reach, or with its sender off, {vehicle.name} goes on as it was last told;"
            " after how long both motors stop is not stated.",
            "A vehicle that keeps its last command runs into whoever is in its way.",
            "link lost",
            lasting=True,
            cause="time-out",
            remedies=(
                Remedy(
                    f"Both motors stop {USUAL_TIME_OUT} after the last command",
                    (("set_vehicle", {"vehicle": vehicle.id, "time_out": USUAL_TIME_OUT}),),
                ),
            ),
            concerns=(vehicle.left, vehicle.right) if left else (),
        )
