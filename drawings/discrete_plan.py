"""A bridge of four switches: each with its driver, the motor between both sides."""

from __future__ import annotations

from drawings import symbols
from drawings.pieces import begin, ground, named, pulled_down, rail_line, resistor
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel
from latchcore.metal.netlist import Part
from latchcore.pieces.several import MARKS

#: Room for one side, heights of the upper and the lower switch and of the motor between.
SIDE, UPPER, LOWER, OUT = 490, 150, 530, 360
WIDTH, HEIGHT = 2 * SIDE + 40, 780
#: Switches in the order of their marks, with the side and the height each stands at.
PLACES = (("a_low", 0, LOWER), ("a_high", 0, UPPER), ("b_low", 1, LOWER), ("b_high", 1, UPPER))


def width(result: StageResult) -> int:
    """Width of the drawing."""
    return WIDTH


def height(result: StageResult) -> int:
    """Height of the drawing; logic before the drivers stands below them."""
    lock = any(p.kind == "lock" for p in result.netlist.parts)
    return HEIGHT if lock else HEIGHT - 110


def bridge(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """Both sides with the motor between them; logic before the drivers below."""
    load, lock = named(result, channel, "LOAD"), named(result, channel, "U2")
    top = named(result, channel, "Q1b")
    rail = top.terminals.get("D") or top.terminals["C"]
    rail_line(c, rail, rail_text, 24, WIDTH - 20, 38)
    for mark, (name, side, y) in zip(MARKS, PLACES, strict=True):
        _switch(c, result, channel, mark, name, 20 + SIDE * side, y, rail)
    one, other = load.terminals["+"], load.terminals["-"]
    left, right, middle = 20 + 398, 20 + SIDE + 398, 20 + SIDE + 240
    begin(c, load)
    symbols.load(c, middle, OUT, symbol)
    c.text(middle + 34, OUT - 20, channel.name[:20], "strong")
    c.text(middle - 34, OUT + 30, result.live["load"], "live", "end")
    c.close()
    c.wire(one, (left, OUT), (middle - 60, OUT), (middle - 60, OUT - 44), (middle, OUT - 44))
    c.wire(one, (middle, OUT - 44), (middle, OUT - 34))
    c.wire(other, (middle, OUT + 34), (middle, OUT + 44), (middle + 60, OUT + 44))
    c.wire(other, (middle + 60, OUT + 44), (middle + 60, OUT), (right, OUT))
    c.dot(one, left, OUT)
    c.dot(other, right, OUT)
    if lock is not None:
        _lock(c, result, lock)


def _switch(
    c: Canvas, result: StageResult, channel: Channel, mark: str, name: str, x: float, y: float,
    rail: str,
) -> None:  # fmt: skip
    find = lambda ref: named(result, channel, f"{ref}{mark}")  # noqa: E731
    q1, r1, r2, ok1, r4 = (find(ref) for ref in ("Q1", "R1", "R2", "OK1", "R4"))
    series = r1 or find("W1")
    line, at = series.terminals["1"], x + 398
    _entry(c, result, line, x + 62, y)
    c.wire(line, (x + 62, y), (x + 92, y))
    if r1 is not None:
        resistor(c, r1, x + 120, y)
    else:
        begin(c, series)
        c.line((x + 92, y), (x + 148, y))
        c.close()
    if r2 is not None and r2.terminals["1"] == line:
        pulled_down(c, r2, x + 82, y, right=False)
    gate = q1.terminals["G"]
    after, source = series.terminals["2"], q1.terminals.get("S") or q1.terminals["E"]
    if ok1 is None:
        c.wire(gate, (x + 148, y), (at - 44, y))
    else:
        _coupler(c, ok1, after, x + 230, y + 30)
        c.wire(gate, (x + 260, y), (at - 44, y))
        c.wire(source, (x + 260, y + 60), (x + 300, y + 60), (x + 300, y + 70), (at, y + 70))
        c.dot(source, at, y + 70)
        if r4 is not None:
            c.wire(gate, (x + 310, y), (x + 310, y + 7))
            c.dot(gate, x + 310, y)
            resistor(c, r4, x + 310, y + 35, upright=True)
            c.wire(source, (x + 310, y + 63), (x + 310, y + 70))
            c.dot(source, x + 310, y + 70)
    begin(c, q1)
    symbols.TRANSISTORS[q1.kind](c, at - 14, y)
    c.text(at + 12, y + 4, f"Q1{mark}", "mono")
    c.text(at + 12, y + 20, name.replace("_", " "), "note")
    c.close()
    drain = q1.terminals.get("D") or q1.terminals["C"]
    if name.endswith("high"):
        c.wire(drain, (at, y - 34), (at, 38))
        c.dot(drain, at, 38)
        c.wire(source, (at, y + 34), (at, OUT))
        _holder(c, result, channel, after, x, y)
        return
    c.wire(drain, (at, y - 34), (at, OUT))
    c.text(at + 12, y + 40, result.live["switch"], "live")
    c.wire(source, (at, y + 34), (at, y + 84))
    ground(c, source, at, y + 84)


def _coupler(c: Canvas, ok1: Part, led: str, x: float, y: float) -> None:
    """A photovoltaic coupler, its LED to the board's 0 V."""
    begin(c, ok1)
    symbols.pv_coupler(c, x, y)
    c.text(x - 14, y - 42, ok1.ref.rpartition(".")[2], "mono")
    c.close()
    c.wire(led, (x - 82, y - 30), (x - 30, y - 30))
    c.wire("0V", (x - 30, y + 30), (x - 30, y + 44))
    symbols.ground(c, x - 30, y + 44)


def _holder(c: Canvas, result: StageResult, channel: Channel, led: str, x: float, y: float) -> None:
    """What shorts the LED of an upper switch while the lower one of its side is driven."""
    holder = next(
        (p for p in result.netlist.parts if p.note == "holds off" and p.terminals["D"] == led),
        None,
    )
    if holder is None:
        return
    at = x + 168
    c.wire(led, (at, y), (at, y + 66))
    c.dot(led, at, y)
    begin(c, holder)
    symbols.nmos(c, at - 14, y + 100)
    c.text(at + 12, y + 104, holder.ref.rpartition(".")[2], "mono")
    c.text(at + 12, y + 120, holder.short, "note")
    c.close()
    c.wire("0V", (at, y + 134), (at, y + 142))
    symbols.ground(c, at, y + 142)
    _entry(c, result, holder.terminals["G"], x + 92, y + 100)
    c.wire(holder.terminals["G"], (x + 92, y + 100), (at - 44, y + 100))


def _entry(c: Canvas, result: StageResult, node: str, x: float, y: float) -> None:
    """Where a line comes from: its pin, or the logic below."""
    flag = next(
        (p for p in result.netlist.parts if p.kind == "pin" and node in p.terminals.values()), None
    )
    if flag is not None:
        symbols.pin(c, x, y, flag.value if flag.value != "no pin yet" else "pin ?")
        return
    c.text(x - 58, y - 8, "U2 " + node.rpartition(".")[2], "note", data_node=node)
    c.wire(node, (x - 58, y), (x, y))


def _lock(c: Canvas, result: StageResult, lock: Part) -> None:
    """Logic before the drivers with both pins."""
    y = HEIGHT - 76
    begin(c, lock)
    c.add("rect", "body", x=150, y=y - 28, width=300, height=72)
    c.text(300, y + 2, "U2", "mono", "middle")
    c.text(300, y + 20, lock.value, "note", "middle")
    c.close()
    for n in (1, 2):
        node, out = lock.terminals[f"IN{n}"], lock.terminals[f"OUT{n}"]
        at = y - 8 + 32 * (n - 1)
        _entry(c, result, node, 92, at)
        c.wire(node, (92, at), (150, at))
        c.wire(out, (450, at), (490, at))
        c.text(496, at + 4, f"U2 {out.rpartition('.')[2]}", "note", data_node=out)
