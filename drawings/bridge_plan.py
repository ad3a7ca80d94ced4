"""A motor bridge: its lines with their pulls, the package, the motor between both outputs."""

from __future__ import annotations

import textwrap

from drawings import symbols
from drawings.pieces import begin, ground, named, pulled_down, rail_line
from drawings.plans import load_at
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel

#: Between two lines there is room for a pull resistor; the first stands so low.
PITCH, FIRST = 104, 124
#: Left and right edge of the package.
LEFT, RIGHT = 222, 334
WIDTH = 540
ROLES = {"IN1": "forward", "IN2": "reverse", "EN": "enable"}


def height(result: StageResult) -> int:
    """Height of the drawing, by how many lines there are."""
    lines = len(result.motion.power.lines) if result.motion else 2
    return FIRST + PITCH * lines + 12


def bridge(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """A bridge in one package."""
    u1, load = named(result, channel, "U1"), named(result, channel, "LOAD")
    pins = {p.terminals["pin"]: p for p in result.netlist.parts if p.kind == "pin"}
    lines = [(name, node) for name, node in u1.terminals.items() if node in pins]
    last = FIRST + PITCH * (len(lines) - 1)
    rail, back = u1.terminals["VM"], u1.terminals["GND"]
    rail_line(c, rail, rail_text, 24, 520, 38)
    for n, (name, node) in enumerate(lines):
        y = FIRST + PITCH * n
        symbols.pin(c, 78, y, pins[node].value if pins[node].value != "no pin yet" else "pin ?")
        c.text(16, y + 32, ROLES[name], "note", data_node=node)
        c.wire(node, (78, y), (LEFT, y))
        pulled_down(c, named(result, channel, f"R{n + 1}"), 116, y)
    begin(c, u1)
    c.add("rect", "body", x=LEFT, y=FIRST - 34, width=RIGHT - LEFT, height=last - FIRST + 68)
    for n, (name, _) in enumerate(lines):
        c.text(LEFT + 6, FIRST + PITCH * n + 4, name, "mono")
    c.text(LEFT + 56, FIRST + 34, "U1", "mono", "middle")
    for n, line in enumerate(textwrap.wrap(u1.short, 17)[:3]):
        c.text(LEFT + 56, FIRST + 52 + 13 * n, line, "note", "middle")
    c.text(RIGHT - 6, FIRST + 4, "OUT1", "mono", "end")
    c.text(RIGHT - 6, FIRST + PITCH + 4, "OUT2", "mono", "end")
    c.close()
    middle = (LEFT + RIGHT) / 2 + 24
    c.wire(rail, (middle, FIRST - 34), (middle, 38))
    c.dot(rail, middle, 38)
    c.text(middle + 6, FIRST - 40, "VM", "mono")
    _logic(c, u1)
    c.wire(back, (middle, last + 34), (middle, last + 48))
    ground(c, back, middle, last + 48)
    one, other, x = load.terminals["+"], load.terminals["-"], 404
    centre = FIRST + PITCH / 2
    c.wire(one, (RIGHT, FIRST), (x, FIRST), (x, centre - 34))
    c.wire(other, (RIGHT, FIRST + PITCH), (x, FIRST + PITCH), (x, centre + 34))
    load_at(c, result, channel, symbol, x, centre, right=True)
    c.text(RIGHT + 8, FIRST + PITCH + 20, result.live["switch"], "live")
    c.text(x - 8, FIRST - 8, "+ at OUT1: forward", "note")


def _logic(c: Canvas, u1) -> None:
    """The logic supply of the package, and an enable that is tied to it."""
    names = [name for name in ("VCC", "EN") if name in u1.terminals]
    node = u1.terminals.get("VCC") or u1.terminals.get("EN")
    tied = [name for name in names if u1.terminals[name] == node]
    if not node or node.startswith(f"{u1.channel}."):
        return
    x = LEFT + 24
    c.wire(node, (x, FIRST - 34), (x, FIRST - 52))
    where = c.rails.get(node, "the board's logic supply")
    c.text(x - 4, FIRST - 58, f"{' and '.join(tied)} at {where}", "note", "end")
