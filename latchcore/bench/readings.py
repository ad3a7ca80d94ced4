"""What a meter should show of a build: windows over all corners, by the solver."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from latchcore.bench.circuit import CORNERS, GROUND, Corner, NotModelled, circuit_of
from latchcore.bench.commands import commands_of
from latchcore.bench.meter import HandMeter, usual_meter
from latchcore.bench.solver import NoPoint, Part, Point, solve
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.memory import Memory, once
from latchcore.design.report import Report, StageResult
from latchcore.figures.quantity import show
from latchcore.figures.table import Table
from latchcore.whole.wire_list import node_numbers

READINGS = ("of", "name", "state", "between", "and", "expected", "what follows")
#: Every corner of every channel is solved: once is enough.
KNOWN = Memory(32)
#: What is read of nodes nothing ties.
DRIFTS = "drifts: nothing ties it"
#: Where a meter's own resistance counts for most.
HIGHEST_OHMS = Corner(0.5, 1.0, 0.5)
#: How the ground of another device ends.
FOREIGN_GROUND = ".LINE-"
Volts = float | None


@dataclass(frozen=True, slots=True)
class Expected:
    """
    One reading: a state, a node against another, from least to most over all corners [V], widened
    by the meter; ``None`` where no corner ties both.
    """

    state: str
    node: str
    against: str
    window: tuple[float, float] | None


def expected(
    context: ChannelContext, result: StageResult, meter: HandMeter | None = None
) -> list[Expected]:
    """
    Every node of a channel against the board's 0 V, or against the other device's own where only
    that ties it, for all that can be asked of it.

    Raises
    ------
    NotModelled
        If a part of it has no law, or its states do not agree with each other
    """
    meter = meter or usual_meter()
    nodes = list(node_numbers(result.netlist, context.channel.id))
    found = []
    for state in commands_of(context, result):
        loaded = circuit_of(context, result, state, HIGHEST_OHMS)
        points = [_solved(context, result, state, nodes, corner) for corner in CORNERS]
        for node in nodes:
            if all(node not in row for row in points):
                # It hangs on what is no direct current, or hurts: no point to probe.
                continue
            item = _over(state, node, points, nodes, meter)
            found.append(_with_load(item, loaded, meter))
    return found


def _with_load(item: Expected, parts: list[Part], meter: HandMeter) -> Expected:
    """A window wider by what the meter's own resistance shifts the point, where it shifts most."""
    if item.window is None:
        return item
    ends = {"a": item.node, "b": item.against}
    across = Part("meter", "resistor", ends, {"ohm": meter.input_ohms})
    alone, read = solve(parts), solve([*parts, across])
    volts = alone.volts(item.node, item.against), read.volts(item.node, item.against)
    if None in volts or item.node == item.against:
        return item
    shift = abs(volts[0] - volts[1])
    return replace(item, window=(item.window[0] - shift, item.window[1] + shift))


def _over(
    state: str, node: str, points: list[dict[str, Volts]], nodes: list[str], meter: HandMeter
) -> Expected:
    """One node over all corners."""
    for against in (GROUND, *(n for n in nodes if n.endswith(FOREIGN_GROUND) and n != node)):
        seen = [volts for row in points if (volts := row[node].get(against)) is not None]
        if len(seen) == len(points):
            return Expected(state, node, against, meter.widened(min(seen), max(seen)))
    return Expected(state, node, GROUND, None)


def _solved(
    context: ChannelContext, result: StageResult, state: str, nodes: list[str], corner: Corner
) -> dict[str, dict[str, Volts]]:
    """
    Voltages of those nodes that are in the circuit, against the board's 0 V and any ground of
    another device.
    """
    parts = circuit_of(context, result, state, corner)
    point = settled(parts)
    there = {node for part in parts for node in part.at.values()}
    grounds = (GROUND, *(n for n in nodes if n.endswith(FOREIGN_GROUND)))
    return {n: {g: point.volts(n, g) for g in grounds} for n in nodes if n in there}


def settled(parts: list[Part]) -> Point:
    """
    The point of a circuit all of which finds its rest.

    Raises
    ------
    NotModelled
        If anything of it does not
    """
    try:
        point = solve(parts)
    except NoPoint as error:
        raise NotModelled(str(error)) from error
    if point.chatters or point.undecided:
        raise NotModelled(f"{', '.join(point.chatters + point.undecided)} finds no rest")
    return point


def readings_table(around: BuildContext, report: Report, meter: HandMeter | None = None) -> Table:
    """
    What a meter shows against the board's 0 V: at every numbered node of each channel commanded off
    and on, over all corners and widened by the meter; in the states nobody commands as far as they
    decide; at the pin of each input.
    """
    meter = meter or usual_meter()

    def work() -> Table:
        return _read(around, report, meter)

    return once(KNOWN, around.build, around.catalogue, work, repr(meter))


def _read(around: BuildContext, report: Report, meter: HandMeter) -> Table:
    rows: list[tuple[str, ...]] = []
    for channel, told in zip(around.build.channels, report.channels, strict=True):
        if told.result is None:
            continue
        context = around.channel(channel)
        numbers = node_numbers(told.result.netlist, channel.id)
        head = (told.letter, channel.name)
        rows += [(*head, *row) for row in _commanded(context, told.result, told.letter, meter)]
        for state, load in told.result.loads:
            if state.voltage is None or state.key.startswith("commanded"):
                continue
            at = f"{told.letter}{numbers[state.node]}" if state.node in numbers else state.node
            volts = f"up to {show(state.voltage, 'V')}" if state.voltage else "0 V"
            acts = "" if state.limit is None else f", acts at {show(state.limit, 'V')}"
            rows.append((*head, state.title, at, "0 V", f"{volts}{acts}", f"load {load}"))
    for item in report.inputs:
        pin = next((i.pin for i in around.build.inputs if i.id == item.id), None) or "its pin"
        for name, level, reads, means in item.rows:
            words = f"{level}, reads {reads}" if reads else level
            rows.append((item.id, item.name, name, pin, "0 V", words, means))
    return Table("readings", "Expected readings", READINGS, tuple(rows))


def _commanded(
    context: ChannelContext, result: StageResult, letter: str, meter: HandMeter | None
) -> list[tuple[str, str, str, str, str]]:
    numbers = node_numbers(result.netlist, context.channel.id)
    try:
        found = expected(context, result, meter)
    except NotModelled as error:
        return [("Commanded off and on", "–", "–", f"not worked out: {error}", "–")]
    return [
        (
            f"Commanded {item.state}",
            f"{letter}{numbers[item.node]}",
            said_of(item.against, letter, numbers),
            DRIFTS if item.window is None else window_words(*item.window),
            f"load {item.state}",
        )
        for item in found
    ]


def said_of(node: str, letter: str, numbers: dict[str, int]) -> str:
    """What a reading is against, as it is called at the bench."""
    return f"{letter}{numbers[node]}" if node in numbers and node != GROUND else "0 V"


def window_words(least: float, most: float) -> str:
    """
    A window as one reads it off a hand meter: in millivolts where it is that small.

    Examples
    --------
    >>> window_words(-0.0002, 0.0002), window_words(0.005, 0.012), window_words(4.481, 5.252)
    ('under 1 mV', '5 to 12 mV', '4.48 to 5.26 V')
    """
    if least > -0.2 and most < 0.2:
        low, high = math.floor(max(least, 0.0) * 1e3), math.ceil(most * 1e3)
        return f"under {max(high, 1)} mV" if low == 0 else f"{low} to {high} mV"
    return f"{math.floor(least * 100) / 100:.2f} to {math.ceil(most * 100) / 100:.2f} V"
