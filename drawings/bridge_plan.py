"""Bridges in packages: their lines with pulls, the package, what hangs between outputs."""

from __future__ import annotations

import textwrap

from drawings import symbols
from drawings.pieces import begin, ground, named, pulled_down, rail_line
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel
from latchcore.metal.netlist import Part

#: Between two lines there is room for a pull resistor; the first stands so low.
PITCH, FIRST = 104, 124
#: Left and right edge of the package.
LEFT, RIGHT = 222, 334
#: Width with one package; a second one's supply comes down beside it.
WIDTH, MORE = 540, 70
#: A line of a package: its terminal, its node, what it is for, its number among all lines.
Row = tuple[str, str, str, int]


def packages(result: StageResult) -> list[Part]:
    """Packages of a stage, one below the other."""
    return [p for p in result.netlist.parts if p.kind == "bridge_chip"]


def _rows(result: StageResult, package: Part) -> list[Row]:
    """Lines of a package in the order of the stage's roles."""
    pins = [p.terminals["pin"] for p in result.netlist.parts if p.kind == "pin"]
    roles = [line.name for line in result.motion.power.lines] if result.motion else []
    at = {node: name for name, node in package.terminals.items()}
    return [
        (at[node], node, role, n)
        for n, (node, role) in enumerate(zip(pins, roles, strict=False))
        if node in at
    ]


def width(result: StageResult) -> int:
    """Width of the drawing."""
    return WIDTH + MORE * (len(packages(result)) > 1)


def height(result: StageResult) -> int:
    """Height of the drawing, by how many packages and lines there are."""
    lines = len(result.motion.power.lines) if result.motion else 2
    return FIRST + PITCH * lines + 12 + (len(packages(result)) - 1) * 96


def bridge(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """One package below the other, each with its lines and what hangs on it."""
    found = packages(result)
    rail = found[0].terminals["VM"]
    rail_line(c, rail, rail_text, 24, width(result) - 20, 38)
    top = FIRST
    for n, package in enumerate(found):
        mark = package.ref.rpartition(".U1")[2]
        load = named(result, channel, f"LOAD{mark}")
        last = _package(c, result, channel, symbol, package, load, top, n)
        top = last + PITCH + 96


def _package(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, u1: Part, load: Part, top: int,
    n_th: int,
) -> int:  # fmt: skip
    """One package from a height on; returns the height of its last line."""
    pins = {p.terminals["pin"]: p for p in result.netlist.parts if p.kind == "pin"}
    lines = _rows(result, u1)
    last = top + PITCH * (len(lines) - 1)
    rail, back = u1.terminals["VM"], u1.terminals["GND"]
    for k, (_, node, role, n) in enumerate(lines):
        y = top + PITCH * k
        symbols.pin(c, 78, y, pins[node].value if pins[node].value != "no pin yet" else "pin ?")
        c.text(16, y + 32, role, "note", data_node=node)
        c.wire(node, (78, y), (LEFT, y))
        pulled_down(c, named(result, channel, f"R{n + 1}"), 116, y)
    begin(c, u1)
    c.add("rect", "body", x=LEFT, y=top - 34, width=RIGHT - LEFT, height=last - top + 68)
    for k, (name, _, _, _) in enumerate(lines):
        c.text(LEFT + 6, top + PITCH * k + 4, name, "mono")
    c.text(LEFT + 56, top + 34, u1.ref.rpartition(".")[2], "mono", "middle")
    for k, line in enumerate(textwrap.wrap(u1.short, 17)[:3]):
        c.text(LEFT + 56, top + 52 + 13 * k, line, "note", "middle")
    c.text(RIGHT - 6, top + 4, "OUT1", "mono", "end")
    c.text(RIGHT - 6, top + PITCH + 4, "OUT2", "mono", "end")
    c.close()
    middle, aside = (LEFT + RIGHT) / 2 + 24, WIDTH + 40
    if n_th == 0:
        c.wire(rail, (middle, top - 34), (middle, 38))
        c.dot(rail, middle, 38)
    else:
        c.wire(rail, (middle, top - 34), (middle, top - 52), (aside, top - 52), (aside, 38))
        c.dot(rail, aside, 38)
    c.text(middle + 6, top - 40, "VM", "mono")
    _logic(c, u1, top)
    c.wire(back, (middle, last + 34), (middle, last + 48))
    ground(c, back, middle, last + 48)
    one, other, x = load.terminals["+"], load.terminals["-"], 404
    centre = top + PITCH / 2
    c.wire(one, (RIGHT, top), (x, top), (x, centre - 34))
    c.wire(other, (RIGHT, top + PITCH), (x, top + PITCH), (x, centre + 34))
    _load(c, result, channel, symbol, load, x, centre)
    c.text(RIGHT + 8, top + PITCH + 20, result.live["switch"], "live")
    way = next(role for name, _, role, _ in lines if name == "IN1")
    c.text(x - 8, top - 8, f"+ at OUT1: {way}", "note")
    return last


def _load(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, load: Part, x: int, y: float
) -> None:
    """What hangs between both outputs, with its live values; a winding by its name."""
    begin(c, load)
    symbols.load(c, x, y, symbol)
    name = f"winding {load.note}" if load.note else channel.name
    c.text(x + 34, y - 8, name if len(name) < 16 else name[:15] + "…", "strong")
    c.text(x + 34, y + 10, result.live["load"], "live")
    c.text(x + 34, y + 26, result.live["volts"], "live")
    c.close()


def _logic(c: Canvas, u1: Part, top: int) -> None:
    """The logic supply of the package, and an enable that is tied to it."""
    names = [name for name in ("VCC", "EN") if name in u1.terminals]
    node = u1.terminals.get("VCC") or u1.terminals.get("EN")
    tied = [name for name in names if u1.terminals[name] == node]
    if not node or node.startswith(f"{u1.channel}."):
        return
    x = LEFT + 24
    c.wire(node, (x, top - 34), (x, top - 52))
    where = c.rails.get(node, "the board's logic supply")
    c.text(x - 4, top - 58, f"{' and '.join(tied)} at {where}", "note", "end")
