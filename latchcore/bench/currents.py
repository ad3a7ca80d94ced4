"""What a meter in series shows: the current a rail gives one channel."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from latchcore.bench.circuit import CORNERS, circuit_of
from latchcore.bench.commands import acting, commands_of
from latchcore.bench.meter import HandMeter, usual_meter
from latchcore.bench.readings import settled
from latchcore.bench.solver import Part, Point
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult

#: The meter in the lead, and what its leads have where its range has a shunt of its own [Ω].
IN_LEAD, LEADS = "amperes", 1e-3


@dataclass(frozen=True, slots=True)
class Flow:
    """
    One reading in series: a state, the rail in whose lead to the channel it is taken, from least to
    most over all corners [A], widened by the meter and by what it keeps for itself.
    """

    state: str
    rail: str
    window: tuple[float, float]


def in_lead(parts: Iterable[Part], channel: str, rail: str, ohms: float) -> list[Part]:
    """The same circuit with a meter between a rail and all that one channel has on it."""
    behind = f"{rail}>{channel}"
    found = [
        replace(p, at={t: behind if n == rail else n for t, n in p.at.items()})
        if p.id.startswith(f"{channel}.") else p
        for p in parts
    ]  # fmt: skip
    ends = {"a": rail, "b": behind}
    return [*found, Part(IN_LEAD, "resistor", ends, {"ohm": max(ohms, LEADS)})]


def reads(point: Point) -> float:
    """What a meter put in by ``in_lead`` shows [A]."""
    return point.amps_into(f"{IN_LEAD}.a")


def given(point: Point, parts: Iterable[Part], channel: str, rail: str) -> float:
    """What a rail gives one channel without any meter in its lead [A]."""
    return sum(
        point.amps_into(f"{p.id}.{t}")
        for p in parts if p.id.startswith(f"{channel}.")
        for t, node in p.at.items() if node == rail
    )  # fmt: skip


def rails_of(context: ChannelContext, parts: Iterable[Part]) -> list[str]:
    """Rails of direct current that do not hurt and feed something of a channel itself."""
    around, own = context.around, f"{context.channel.id}."
    there = {node for p in parts if p.id.startswith(own) for node in p.at.values()}
    return [
        rail.id for rail in around.build.rails
        if rail.id in there and not around.hazardous(rail) and not around.alternating(rail)
    ]  # fmt: skip


def flows(
    context: ChannelContext, result: StageResult, meter: HandMeter | None = None
) -> list[Flow]:
    """
    What each rail gives a channel in all that acts, so far as the meter has a range for it.

    Raises
    ------
    NotModelled
        If a part of it has no law, or its states do not agree with each other
    """
    meter = meter or usual_meter()
    found = []
    for state in acting(commands_of(context, result)):
        circuits = [circuit_of(context, result, state, corner) for corner in CORNERS]
        for rail in rails_of(context, circuits[0]):
            low, high = _over(circuits, context.channel.id, rail, meter)
            if meter.span(high, "A") is not None:
                found.append(Flow(state, rail, meter.widened(low, high, "A")))
    return found


def _over(
    circuits: list[list[Part]], channel: str, rail: str, meter: HandMeter
) -> tuple[float, float]:
    seen = []
    for parts in circuits:
        bare = reads(settled(in_lead(parts, channel, rail, LEADS)))
        kept = meter.keeps(bare)
        seen += [bare, reads(settled(in_lead(parts, channel, rail, kept)))]
    return min(seen), max(seen)
