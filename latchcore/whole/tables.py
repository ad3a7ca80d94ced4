"""Lists of a build as tables: wires, parts, expected readings."""

from __future__ import annotations

from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.figures.quantity import show
from latchcore.figures.table import Table
from latchcore.whole.needed import parts_needed
from latchcore.whole.wire_list import WIRE, wire_list

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
    What a meter shows at the control of each channel in each state of its line, and at the pin of
    each input, against the board's 0 V.
    """
    rows = []
    for channel in report.channels:
        for state, load in channel.result.loads if channel.result else ():
            volts = "not decided" if state.voltage is None else show(state.voltage, "V") or "0 V"
            limit = "" if state.limit is None else f" (acts at {show(state.limit, 'V')})"
            rows.append(
                (channel.letter, channel.name, state.title, state.node, "0 V", f"{volts}{limit}",
                 f"load {load}")
            )  # fmt: skip
    for item in report.inputs:
        pin = next((i.pin for i in around.build.inputs if i.id == item.id), None)
        for name, level, _, means in item.rows:
            rows.append((item.id, item.name, name, pin or "its pin", "0 V", level, means))
    return Table("readings", "Expected readings", READINGS, tuple(rows))
