"""A switch for each coil or half-winding, side by side below one rail."""

from __future__ import annotations

from drawings import symbols
from drawings.pieces import begin, named, pulled_down, rail_line, resistor
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel
from latchcore.metal.netlist import Part
from latchcore.pieces.several import MARKS

#: Room for one switch, what stands before the first, and heights of pins and gates.
PITCH, LEFT, GATE, TOP = 306, 20, 268, 38


def roles_of(result: StageResult) -> list[str]:
    """What each line is for."""
    return [line.name for line in result.motion.power.lines] if result.motion else ["", ""]


def width(result: StageResult) -> int:
    """Width of the drawing, by how many switches there are."""
    return LEFT + PITCH * len(roles_of(result)) + 20


def height(result: StageResult) -> int:
    """Height of the drawing; logic before the gates stands below them."""
    return 484 if any(p.kind == "lock" for p in result.netlist.parts) else 392


def windings(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """Every switch with its coil; logic that keeps two apart stands between pins and gates."""
    roles, lock = roles_of(result), named(result, channel, "U2")
    first = named(result, channel, "R3") or named(result, channel, "LOAD")
    rail = first.terminals["1" if first.kind == "resistor" else "+"]
    rail_line(c, rail, rail_text, LEFT, LEFT + PITCH * len(roles) - 30, TOP)
    for n, role in enumerate(roles):
        x = LEFT + PITCH * n
        _switch(c, result, channel, symbol, x, MARKS[n], role, lock)
    if lock is not None:
        _lock(c, result, channel, lock, roles)


def _switch(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, x: float, mark: str, role: str,
    lock: Part | None,
) -> None:  # fmt: skip
    find = lambda ref: named(result, channel, f"{ref}{mark}")  # noqa: E731
    load, q1, series, pull = find("LOAD"), find("Q1"), find("R1"), find("R2")
    top, switch = load.terminals["+"], load.terminals["-"]
    gate, at = q1.terminals["G"], x + 182
    before = (series or find("W1")).terminals["1"]
    if lock is None:
        _pin(c, result, channel, x + 62, GATE, before, role)
        c.wire(before, (x + 62, GATE), (x + 84, GATE))
    else:
        c.wire(before, (x + 84, GATE), (x + 84, GATE + 60))
    if series is not None:
        resistor(c, series, x + 112, GATE)
    else:
        begin(c, find("W1"))
        c.line((x + 84, GATE), (x + 140, GATE))
        c.close()
    c.wire(gate, (x + 140, GATE), (at - 44, GATE))
    if pull is not None:
        on_pin = pull.terminals["1"] != gate
        if lock is None or not on_pin:
            pulled_down(c, pull, x + 74 if on_pin else x + 146, GATE, right=not on_pin)
    begin(c, q1)
    symbols.TRANSISTORS["nmos"](c, at - 14, GATE)
    c.text(at + 12, GATE + 4, f"Q1{mark}", "mono")
    c.text(at + 12, GATE + 20, q1.short if not mark else "the same", "note")
    c.close()
    c.text(at + 12, GATE - 12, result.live["switch"], "live")
    c.wire("0V", (at, GATE + 34), (at, GATE + 68))
    symbols.ground(c, at, GATE + 68)
    c.wire(switch, (at, GATE - 34), (at, 174))
    begin(c, load)
    symbols.load(c, at, 140, symbol)
    c.text(at - 34, 132, role, "strong", "end")
    c.text(at - 34, 150, f"≤ {result.live['load']}", "live", "end")
    c.close()
    before_load = find("R3")
    if before_load is not None:
        resistor(c, before_load, at, 78, upright=True, right=False)
        c.wire(top, (at, 106), (at, 106))
        c.wire(before_load.terminals["1"], (at, 50), (at, TOP))
        c.dot(before_load.terminals["1"], at, TOP)
    else:
        c.wire(top, (at, 106), (at, TOP))
        c.dot(top, at, TOP)
    _clamp(c, result, channel, mark, at, switch)


def _clamp(
    c: Canvas, result: StageResult, channel: Channel, mark: str, at: float, switch: str
) -> None:
    """What catches the coil, beside it."""
    parts = [named(result, channel, f"{ref}{mark}") for ref in ("D2", "D1")]
    parts = [p for p in parts if p is not None]
    if not parts:
        return
    x, across = at + 46, len(parts) == 1 and parts[0].kind == "zener"
    if across:
        c.wire(switch, (at, 196), (x, 196), (x, 252))
        c.dot(switch, at, 196)
        _diode(c, parts[0], x, 280, True)
        c.wire("0V", (x, 308), (x, GATE + 58), (at, GATE + 58))
        c.dot("0V", at, GATE + 58)
        return
    top = parts[-1].terminals["K"] if parts[-1].terminals["K"] != switch else None
    node = top or parts[-1].terminals["A"]
    places = [112 + 56 * n for n in range(len(parts))] if len(parts) == 2 else [140]
    c.wire(node, (at, TOP + 10), (x, TOP + 10), (x, places[0] - 28))
    c.dot(node, at, TOP + 10)
    for part, place in zip(parts, places, strict=True):
        up = part.terminals["K"] == node if part.kind == "diode" else False
        _diode(c, part, x, place, up)
    c.wire(switch, (x, places[-1] + 28), (x, 204), (at, 204))
    c.dot(switch, at, 204)


def _diode(c: Canvas, part: Part, x: float, y: float, up: bool) -> None:
    begin(c, part)
    symbols.diode(c, x, y, band_up=up, zener=part.kind == "zener")
    c.text(x + 14, y + 4, part.ref.rpartition(".")[2], "mono")
    c.close()


def _pin(
    c: Canvas, result: StageResult, channel: Channel, x: float, y: float, node: str, role: str
) -> None:
    pin = next(p for p in result.netlist.parts if p.kind == "pin" and node in p.terminals.values())
    symbols.pin(c, x, y, pin.value if pin.value != "no pin yet" else "pin ?")
    c.text(x - 58, y + 32, role, "note", data_node=node)


def _lock(c: Canvas, result: StageResult, channel: Channel, lock: Part, roles: list[str]) -> None:
    """Logic under the gates, with the pins and their pulls before it."""
    y = GATE + 112
    begin(c, lock)
    right = LEFT + 84 + PITCH * (len(roles) - 1)
    c.add("rect", "body", x=LEFT + 70, y=y - 52, width=right - LEFT - 70 + 20, height=34)
    c.text((LEFT + 90 + right) / 2, y - 31, f"U2 {lock.value}", "note", "middle")
    c.close()
    for n, role in enumerate(roles):
        x, node = LEFT + PITCH * n, lock.terminals[f"IN{n + 1}"]
        _pin(c, result, channel, x + 62, y + 24, node, role)
        c.wire(node, (x + 62, y + 24), (x + 92, y + 24), (x + 92, y - 18))
        pull = named(result, channel, f"R2{MARKS[n]}")
        if pull is not None and pull.terminals["1"] == node:
            c.wire(node, (x + 92, y + 24), (x + 122, y + 24))
            c.dot(node, x + 92, y + 24)
            resistor(c, pull, x + 150, y + 24)
            c.wire("0V", (x + 178, y + 24), (x + 194, y + 24), (x + 194, y + 34))
            symbols.ground(c, x + 194, y + 34)
