"""Lists of a build as tables: wires, parts, expected readings."""

from __future__ import annotations

from latchcore.design.context import BuildContext
from latchcore.design.report import Report, StageResult
from latchcore.document.models import Channel
from latchcore.figures.quantity import show
from latchcore.figures.table import Table
from latchcore.whole.needed import parts_needed
from latchcore.whole.wire_list import WIRE, node_numbers, wire_list

WIRES = ("number", "from", "to", "area", "colour", "domain", "current", "fuse in front", "cable")
PARTS = ("part", "value", "needed", "for")
READINGS = ("of", "name", "state", "between", "and", "expected", "what follows")


def wires_table(around: BuildContext, report: Report) -> Table:
    """Every wire in the order in which one wires; area in mm², current and fuse in A."""
    rows = []
    for group in wire_list(around, report):
        for row in group.rows:
            if row.kind == WIRE:
                ends = (row.number, row.start, row.end, row.area.removesuffix(" mm²"))
                fuse = "" if row.fuse_a is None else f"{row.fuse_a:g}"
                rest = (row.colour, row.domain, f"{row.current:.4g}", fuse, row.cable)
                rows.append((*ends, *rest))
    return Table("wires", "Wires", WIRES, tuple(rows))


def parts_table(around: BuildContext, report: Report) -> Table:
    """Every part by kind and value, with how many and for what."""
    rows = [
        (need.kind, need.text, str(len(need.users)), need.named)
        for need in parts_needed(report, around.build)
    ]
    return Table("parts", "Parts", PARTS, tuple(rows))


def readings_table(around: BuildContext, report: Report) -> Table:
    """
    What a meter shows against the board's 0 V: at the pin of each channel while it is commanded off
    and on, at the node that decides in every state in which that is known, at the pin of each
    input. Nodes go by their numbers on the drawing.
    """
    rows: list[tuple[str, ...]] = []
    for channel, told in zip(around.build.channels, report.channels, strict=True):
        if told.result is None:
            continue
        rows += [(told.letter, channel.name, *row) for row in _pin(around, channel, told.result)]
        numbers = node_numbers(told.result.netlist, channel.id)
        for state, load in told.result.loads:
            if state.voltage is not None:
                at = f"{told.letter}{numbers[state.node]}" if state.node in numbers else state.node
                volts = f"up to {show(state.voltage, 'V')}" if state.voltage else "0 V"
                acts = "" if state.limit is None else f", acts at {show(state.limit, 'V')}"
                expected = f"{volts}{acts}"
                rows.append(
                    (told.letter, channel.name, state.title, at, "0 V", expected, f"load {load}")
                )
    for item in report.inputs:
        pin = next((i.pin for i in around.build.inputs if i.id == item.id), None) or "its pin"
        for name, level, reads, means in item.rows:
            expected = f"{level}, reads {reads}" if reads else level
            rows.append((item.id, item.name, name, pin, "0 V", expected, means))
    return Table("readings", "Expected readings", READINGS, tuple(rows))


def _pin(
    around: BuildContext, channel: Channel, result: StageResult
) -> list[tuple[str, str, str, str, str]]:
    """The levels of a single line while it is commanded off and on."""
    board = around.giver([channel.pin]) if channel.pin and around.board else None
    if board is None or result.motion is not None or result.on_with not in ("high", "low"):
        return []
    high = (board.voh_noload_min - board.droop * result.pin_current, board.logic.max)
    low = (0.0, board.vol_noload + board.sink_droop * result.pin_current)
    rows = []
    for words, on in (("Commanded off", False), ("Commanded on", True)):
        least, most = high if (result.on_with == "high") == on else low
        expected = f"{show(least, 'V') if least else '0 V'} to {show(most, 'V')}"
        load = "load on" if on else "load off"
        rows.append((words, channel.pin or "", "0 V", expected, load))
    return rows
