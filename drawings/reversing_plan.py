"""A motor turned round by relay contacts: each coil with its driver, the contacts, what cuts."""

from __future__ import annotations

from drawings import symbols
from drawings.pieces import begin, ground, named, pulled_down, rail_line, resistor
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel
from latchcore.metal.netlist import Part
from latchcore.pieces.several import MARKS

WIDTH = 900
#: Height of the first driver, between two of them, and where the motor's own circuit begins.
FIRST, PITCH, RIGHT = 214, 250, 490


def relays(result: StageResult) -> list[Part]:
    """Relays of the stage, in the order of their lines."""
    return [p for p in result.netlist.parts if p.kind == "relay"]


def width(result: StageResult) -> int:
    """Width of the drawing."""
    return WIDTH


def height(result: StageResult) -> int:
    """Height of the drawing, by how many drivers there are."""
    rows = len(relays(result)) + any(
        p.kind == "nmos" and p.ref.endswith(".Q1") for p in _all(result)
    )
    return max(FIRST + PITCH * (rows - 1) + 130, 470)


def _all(result: StageResult) -> list[Part]:
    return result.netlist.parts


def turned(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """Drivers at the left, the motor between its contacts at the right."""
    found, load = relays(result), named(result, channel, "LOAD")
    cut = named(result, channel, "Q1")
    cut = cut if cut is not None and cut.kind == "nmos" else None
    coil = found[0].terminals["1"]
    rail_line(c, coil, "coils: " + (c.rails.get(coil) or "their rail"), 24, 300, 38, fused=False)
    for n, relay in enumerate(found):
        _driver(c, result, channel, relay, MARKS[n + 1], FIRST + PITCH * n, f"K{n + 1}", n)
    rail = next(t for name, t in found[0].terminals.items() if name == "NO")
    rail_line(c, rail, rail_text, RIGHT - 40, WIDTH - 20, 38)
    ret = found[0].terminals["NC"]
    ends = [("COM", "NO", "NC", found[0], "K1")]
    ends += (
        [("COM", "NO", "NC", found[1], "K2")]
        if len(found) > 1
        else [("COM2", "NC2", "NO2", found[0], "K1")]
    )
    motor_y = 196
    for side, (com, up, down, relay, name) in enumerate(ends):
        x = RIGHT + 70 if side == 0 else RIGHT + 270
        _contact(c, relay, com, up, down, name, x, motor_y, side == 0)
        end = x + (-34 if side == 0 else 34)
        c.wire(rail, (end, motor_y - 52), (end, 38))
        c.dot(rail, end, 38)
        c.wire(ret, (end, motor_y + 52), (end, 300))
    begin(c, load)
    middle = RIGHT + 170
    symbols.load(c, middle, motor_y, symbol)
    c.text(middle, motor_y - 66, channel.name[:18], "strong", "middle")
    c.text(middle - 28, motor_y + 44, result.live["load"], "live", "end")
    c.close()
    one, other = load.terminals["+"], load.terminals["-"]
    above, below = motor_y - 56, motor_y + 56
    c.wire(one, (RIGHT + 96, motor_y), (RIGHT + 116, motor_y), (RIGHT + 116, above))
    c.wire(one, (RIGHT + 116, above), (middle, above), (middle, motor_y - 34))
    c.wire(other, (middle, motor_y + 34), (middle, below), (RIGHT + 224, below))
    c.wire(other, (RIGHT + 224, below), (RIGHT + 224, motor_y), (RIGHT + 244, motor_y))
    left, right = RIGHT + 36, RIGHT + 304
    c.wire(ret, (left, 300), (left, 322), (right, 322), (right, 300))
    if cut is None:
        c.wire(ret, (middle, 322), (middle, 336))
        c.dot(ret, middle, 322)
        ground(c, ret, middle, 336)
        return
    _cut(c, result, channel, cut, ret, middle, rail)


def _contact(
    c: Canvas, relay: Part, com: str, up: str, down: str, name: str, x: float, y: float, flip: bool
) -> None:
    """One changeover between the rail above and the return below, its common at the motor."""
    begin(c, relay)
    at = -1 if flip else 1
    c.add("circle", "joint", cx=x - 26 * at, cy=y, r=3)
    for terminal, dy in ((up, -40), (down, 40)):
        c.add("circle", "body", cx=x + 34 * at, cy=y + dy, r=3)
        c.line((x + 34 * at, y + dy), (x + 34 * at, y + (dy + 12 if dy > 0 else dy - 12)))
        anchor = "start" if not flip else "end"
        c.text(x + 42 * at, y + dy + 4, terminal[:2], "note", anchor)
    lies = 40 if down.startswith("NC") else -40
    c.line((x - 26 * at, y), (x + 32 * at, y + lies * 0.92), css="ink heavy")
    c.text(x - 2 * at, y - 22, name, "mono", "middle")
    c.close()


def _driver(
    c: Canvas,
    result: StageResult,
    channel: Channel,
    relay: Part,
    mark: str,
    y: float,
    name: str,
    n: int,
) -> None:
    """One coil with its transistor, resistors and diode."""
    find = lambda ref: named(result, channel, f"{ref}{mark}")  # noqa: E731
    q1, r1, r2, d1 = find("Q1"), find("R1") or find("W1"), find("R2"), find("D1")
    pin = r1.terminals["1"]
    flag = next(p for p in _all(result) if p.kind == "pin" and pin in p.terminals.values())
    symbols.pin(c, 78, y, flag.value if flag.value != "no pin yet" else "pin ?")
    c.text(16, y + 32, relay.note, "note", data_node=pin)
    c.wire(pin, (78, y), (104, y))
    if r1.kind == "resistor":
        resistor(c, r1, 132, y)
    else:
        c.line((104, y), (160, y))
    control = q1.terminals.get("B") or q1.terminals["G"]
    c.wire(control, (160, y), (226, y))
    if r2 is not None:
        on_pin = r2.terminals["1"] == pin
        pulled_down(c, r2, 92 if on_pin else 178, y)
    begin(c, q1)
    symbols.TRANSISTORS[q1.kind](c, 256, y)
    c.text(282, y + 4, q1.ref.rpartition(".")[2], "mono")
    c.text(282, y + 20, q1.short, "note")
    c.close()
    c.wire("0V", (270, y + 34), (270, y + 74))
    symbols.ground(c, 270, y + 74)
    low, feed = relay.terminals["2"], relay.terminals["1"]
    c.wire(low, (270, y - 34), (270, y - 56))
    begin(c, relay)
    symbols.load(c, 270, y - 90, "coil")
    c.text(240, y - 96, name, "mono", "end")
    c.text(240, y - 80, relay.value.partition(",")[0], "note", "end")
    c.close()
    far = 420 if n else 270
    if n:
        c.wire(feed, (270, y - 124), (270, y - 134), (far, y - 134), (far, 38), (300, 38))
    else:
        c.wire(feed, (270, y - 124), (270, 38))
        c.dot(feed, 270, 38)
    if d1 is not None:
        c.wire(feed, (270, y - 126), (350, y - 126), (350, y - 118))
        c.dot(feed, 270, y - 126)
        begin(c, d1)
        symbols.diode(c, 350, y - 90, band_up=True, zener=False)
        c.text(364, y - 86, d1.ref.rpartition(".")[2], "mono")
        c.close()
        c.wire(low, (350, y - 62), (350, y - 50), (270, y - 50))
        c.dot(low, 270, y - 50)


def _cut(
    c: Canvas, result: StageResult, channel: Channel, q1: Part, ret: str, x: float, rail: str
) -> None:
    """The MOSFET that cuts the current, with the diode that takes it over."""
    y, gate = 384, q1.terminals["G"]
    c.wire(ret, (x, 322), (x, y - 34))
    c.dot(ret, x, 322)
    series, pull, d1 = (named(result, channel, ref) for ref in ("R1", "R2", "D1"))
    wire = series or named(result, channel, "W1")
    pin = wire.terminals["1"]
    flag = next(p for p in _all(result) if p.kind == "pin" and pin in p.terminals.values())
    symbols.pin(c, RIGHT - 10, y, flag.value if flag.value != "no pin yet" else "pin ?")
    c.text(RIGHT - 70, y + 32, "run", "note", data_node=pin)
    c.wire(pin, (RIGHT - 10, y), (RIGHT + 36, y))
    if series is not None:
        resistor(c, series, RIGHT + 64, y)
    else:
        c.line((RIGHT + 36, y), (RIGHT + 92, y))
    c.wire(gate, (RIGHT + 92, y), (x - 44, y))
    if pull is not None:
        pulled_down(c, pull, RIGHT + 14 if pull.terminals["1"] == pin else RIGHT + 106, y)
    begin(c, q1)
    symbols.TRANSISTORS["nmos"](c, x - 14, y)
    c.text(x + 12, y + 4, "Q1", "mono")
    c.text(x + 12, y + 20, q1.short, "note")
    c.close()
    c.text(x + 12, y - 12, result.live["switch"], "live")
    c.wire("0V", (x, y + 34), (x, y + 56))
    symbols.ground(c, x, y + 56)
    if d1 is not None:
        far = WIDTH - 34
        begin(c, d1)
        symbols.diode(c, far, 330, band_up=True, zener=False)
        c.text(far - 14, 334, "D1", "mono", "end")
        c.close()
        c.wire(ret, (x, 340), (x + 140, 340), (x + 140, 372), (far, 372), (far, 358))
        c.dot(ret, x, 340)
        c.wire(rail, (far, 302), (far, 38))
        c.dot(rail, far, 38)
