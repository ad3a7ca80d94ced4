"""Lists of a build as tables: wires, parts."""

from __future__ import annotations

from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.figures.table import Table
from latchcore.whole.needed import parts_needed
from latchcore.whole.wire_list import WIRE, wire_list

WIRES = ("number", "from", "to", "area", "colour", "domain", "current", "fuse in front", "cable")
PARTS = ("part", "value", "needed", "for")


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
