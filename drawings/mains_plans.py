"""Plans of the schematics of solid-state switches of alternating current."""

from __future__ import annotations

from drawings import symbols
from drawings.pieces import (
    begin,
    beside,
    ground,
    named,
    pin_and_series,
    pulled_down,
    rail_line,
    resistor,
)
from drawings.plans import load_at, transistor_at
from drawings.relay import coil_side
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel
from latchcore.figures.quantity import show

#: Room for what stands across, with its words beside it.
WIDTH = 648


def triac(c: Canvas, x: float, y: float) -> None:
    """Second terminal at (x, y−34), first at (x, y+34), gate at (x−30, y+22)."""
    c.line((x, y - 34), (x, y - 13))
    c.line((x, y + 13), (x, y + 34))
    for edge in (-13, 13):
        c.line((x - 18, y + edge), (x + 18, y + edge), css="ink heavy")
    c.add("path", "body", d=f"M{x - 17} {y - 13}h17l-8.5 26z")
    c.add("path", "body", d=f"M{x} {y + 13}h17l-8.5 -26z")
    c.line((x - 10, y + 13), (x - 20, y + 22), (x - 30, y + 22))


def driver(c: Canvas, x: float, y: float, words: str) -> None:
    """LED at the left between (x−30, y∓30), a small triac at the right between (x+30, y∓30)."""
    c.add("rect", "frame", x=x - 46, y=y - 26, width=92, height=52)
    for gap in (-4, 4):
        c.line((x + gap, y - 26), (x + gap, y + 26), css="gap")
    c.line((x - 30, y - 30), (x - 30, y + 30))
    c.add("path", "solid", d=f"M{x - 38} {y - 8}h16l-8 14z")
    c.line((x - 39, y + 7), (x - 21, y + 7), css="ink heavy")
    c.line((x + 30, y - 30), (x + 30, y - 9))
    c.line((x + 30, y + 9), (x + 30, y + 30))
    for edge in (-9, 9):
        c.line((x + 17, y + edge), (x + 43, y + edge), css="ink")
    c.add("path", "body", d=f"M{x + 18} {y - 9}h12l-6 18z")
    c.add("path", "body", d=f"M{x + 30} {y + 9}h12l-6 -18z")
    c.text(x - 40, y + 42, "OK1", "mono", "end")
    c.text(x - 40, y + 58, words, "note", "end")


def _line_side(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str, x: float
) -> tuple[str, str, str]:
    """
    Line on top, load below the switch, neutral at the bottom, with what stands across; returns
    line, switched, back.
    """
    load = named(result, channel, "LOAD")
    switched, back = load.terminals["+"], load.terminals["-"]
    q = named(result, channel, "Q1") or named(result, channel, "K1")
    line = q.terminals.get("2") if q.kind == "triac" else q.terminals["1"]
    rail_line(c, line, rail_text, 250, WIDTH - 14, 38)
    c.wire(switched, (x, 184), (x, 212))
    load_at(c, result, channel, symbol, x, 246, below=44)
    c.wire(back, (x, 280), (x, 306))
    ground(c, back, x, 306)
    _snubber_at(c, result, channel, (line, switched, back), x)
    if (z3 := named(result, channel, "Z3")) is not None:
        c.wire(switched, (x, 204), (546, 204), (546, 218))
        c.dot(switched, x, 204)
        begin(c, z3)
        symbols.snubber(c, 546, 246)
        farads = show(result.the_value("bypass").value, "F")
        beside(c, 560, 232, "Z3", f"100 Ω\n{farads}")
        c.close()
        c.wire(back, (546, 274), (546, 294), (x, 294))
        c.dot(back, x, 294)
    if (z2 := named(result, channel, "Z2")) is not None:
        c.wire(line, (622, 38), (622, 132))
        c.dot(line, 622, 38)
        begin(c, z2)
        symbols.varistor(c, 622, 160)
        c.text(608, 152, "Z2", "mono", "end")
        if result.across.varistor:
            c.text(608, 168, f"{result.across.varistor:g} V", "note", "end")
        c.close()
        c.wire(back, (622, 188), (622, 294), (x, 294))
        c.dot(back, x, 294)
    _at_load(c, result, channel, switched, back, x)
    return line, switched, back


def _snubber_at(
    c: Canvas, result: StageResult, channel: Channel, nodes: tuple[str, str, str], x: float
) -> None:
    """The snubber across the switch; one across the load stands beside the load."""
    line, switched, back = nodes
    z1 = named(result, channel, "Z1")
    if z1 is None:
        return
    at_load = back in z1.terminals.values()
    begin(c, z1)
    place = (476, 246) if at_load else (546, 140)
    symbols.snubber(c, *place)
    snubber = result.across.snubber
    words = f"{snubber.resistance:g} Ω\n{show(snubber.capacitance, 'F')}"
    beside(c, place[0] + 12, place[1] - 14, "Z1", words)
    c.close()
    if not at_load:
        c.wire(line, (546, 38), (546, 112))
        c.dot(line, 546, 38)
        c.wire(switched, (546, 168), (546, 192), (x, 192))
        c.dot(switched, x, 192)


def _at_load(
    c: Canvas, result: StageResult, channel: Channel, switched: str, back: str, x: float
) -> None:
    """What stands across the load: its wires, and a varistor or a diode; a snubber is drawn."""
    d3, z5, z1 = (named(result, channel, ref) for ref in ("D3", "Z5", "Z1"))
    if d3 is None and z5 is None and (z1 is None or back not in z1.terminals.values()):
        return
    c.wire(switched, (x, 198), (476, 198), (476, 218))
    c.dot(switched, x, 198)
    if d3 is not None:
        begin(c, d3)
        symbols.diode(c, 476, 246)
        beside(c, 490, 240, "D3", d3.value, 10)
        c.close()
    elif z5 is not None:
        begin(c, z5)
        symbols.varistor(c, 476, 246)
        beside(c, 492, 240, "Z5", z5.value.removeprefix("varistor ").partition(" cont")[0], 9)
        c.close()
    c.wire(back, (476, 274), (476, 290), (x, 290))
    c.dot(back, x, 290)


def triac_plan(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """Pin, driver, gate resistor and triac; the dashed double line is the barrier."""
    q1, ok1, r3, r4 = (named(result, channel, ref) for ref in ("Q1", "OK1", "R3", "R4"))
    x = 396
    line, switched, _ = _line_side(c, result, channel, symbol, rail_text, x)
    near, trigger = ok1.terminals["6"], ok1.terminals["4"]
    pin_and_series(c, result, channel, 74, 150, 190)
    pulled_down(c, named(result, channel, "R2"), 92, 150)
    begin(c, ok1)
    driver(c, 220, 180, "at the zero" if result.output.kind == "ac_zero" else "any moment")
    c.close()
    c.wire("0V", (190, 210), (190, 238))
    symbols.ground(c, 190, 238)
    # The gate resistor stands between line and driver.
    c.wire(line, (288, 38), (288, 56))
    c.dot(line, 288, 38)
    resistor(c, r3, 288, 84, upright=True)
    c.wire(near, (288, 112), (288, 124), (250, 124), (250, 150))
    c.wire(trigger, (250, 210), (250, 220), (326, 220), (326, 172), (x - 30, 172))
    begin(c, q1)
    triac(c, x, 150)
    c.text(x - 18, 128, result.live["switch"], "live", "end", data_node=switched)
    beside(c, x + 26, 140, "Q1", q1.short, 20)
    c.close()
    c.wire(line, (x, 116), (x, 38))
    c.dot(line, x, 38)
    if r4 is not None:
        c.wire(trigger, (326, 206), (333, 206))
        c.dot(trigger, 326, 206)
        resistor(c, r4, 361, 206)
        c.wire(switched, (389, 206), (x, 206))
        c.dot(switched, x, 206)


def solid_input_side(c: Canvas, result: StageResult, channel: Channel, k1) -> None:
    """The input of a block at (224, 124) and (224, 152): on the pin, or pulled by an NPN."""
    q2, plus, minus = named(result, channel, "Q2"), k1.terminals["+"], k1.terminals["-"]
    if q2 is None:
        pin_and_series(c, result, channel, 74, 124, 224)
        pulled_down(c, named(result, channel, "R2"), 108, 124)
        c.wire("0V", (224, 152), (200, 152), (200, 238))
        symbols.ground(c, 200, 238)
        return
    c.wire(plus, (24, 60), (204, 60), (204, 124), (224, 124))
    c.text(
        24,
        50,
        f"{c.rails[result.coil.rail]}   takes {result.live['coil']}",
        "strong",
        data_node=plus,
    )
    c.wire(minus, (224, 152), (194, 152), (194, 196))
    transistor_at(c, result, channel, "Q2", 180, 230, live=False, title=False)
    pin_and_series(c, result, channel, 62, 230, 150)
    c.wire("0V", (194, 264), (194, 282))
    symbols.ground(c, 194, 282)
    r2 = named(result, channel, "R2")
    if r2 is not None:
        base = r2.terminals["1"]
        c.wire(base, (140, 230), (140, 242))
        c.dot(base, 140, 230)
        resistor(c, r2, 140, 270, upright=True, right=False)
        c.wire("0V", (140, 298), (140, 304))
        symbols.ground(c, 140, 304)


def solid_relay_plan(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """The device as one block with its barrier; its input on the pin, or pulled by an NPN."""
    k1, x = named(result, channel, "K1"), 372
    line, _, _ = _line_side(c, result, channel, symbol, rail_text, x)
    begin(c, k1)
    c.add("rect", "frame", x=214, y=96, width=184, height=84)
    for gap in (300, 308):
        c.line((gap, 96), (gap, 180), css="gap")
    symbols.box(c, 252, 138, 56, 40, "input")
    c.line((x, 116), (x, 126))
    symbols.box(c, x - 22, 138, 68, 24, "")
    inside = "triac pair" if k1.kind == "solid_relay" else "contact"
    c.text(x - 22, 142, inside, "note", "middle")
    c.line((x, 150), (x, 184))
    beside(c, 406, 112, "K1", k1.short, 22)
    c.close()
    c.wire(line, (x, 116), (x, 38))
    c.dot(line, x, 38)
    solid_input_side(c, result, channel, k1)


def contactor_plan(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """
    Coil of the relay at the left, its contact and the contactor's coil in the middle, main poles
    and load at the right.
    """
    k1, k2, load = (named(result, channel, ref) for ref in ("K1", "K2", "LOAD"))
    line, out, back = k2.terminals["1"], k2.terminals["2"], load.terminals["-"]
    coil_side(c, result, channel, 154, (336, 92))
    rail_line(c, line, rail_text, 262, WIDTH - 14, 38)
    # The relay's contact feeds the contactor's coil.
    fed, far = k2.terminals["A1"], k2.terminals["A2"]
    f1 = named(result, channel, "F1")
    c.dot(line, 300, 38)
    if f1 is None:
        c.wire(line, (300, 38), (300, 84))
    else:
        c.wire(line, (300, 38), (300, 42))
        begin(c, f1)
        c.add("rect", "body", x=295, y=42, width=10, height=20)
        c.line((300, 42), (300, 62))
        c.text(312, 56, f"F1 {f1.value}", "note")
        c.close()
        c.wire(f1.terminals["2"], (300, 62), (300, 84))
    begin(c, k1)
    c.line((300, 84), (300, 90))
    c.line((300, 92), (314, 116), css="ink heavy")
    c.line((300, 118), (300, 126))
    c.close()
    c.wire(fed, (300, 126), (300, 150))
    begin(c, k2)
    c.add("rect", "body", x=284, y=150, width=32, height=44)
    c.line((284, 184), (316, 160))
    c.text(278, 178, "K2", "mono", "end")
    for x in (456, 516) if "3" in k2.terminals else (456,):
        c.line((x, 122), (x, 132))
        c.line((x, 134), (x + 14, 160), css="ink heavy")
        c.line((x, 162), (x, 172))
    c.line((316, 172), (464, 147), css="frame")
    beside(c, 540 if "3" in k2.terminals else 482, 128, "K2", k2.value, 16)
    c.close()
    c.wire(far, (300, 194), (300, 306))
    ground(c, far, 300, 306)
    z1 = named(result, channel, "Z1")
    if z1 is not None:
        c.wire(fed, (300, 146), (348, 146), (348, 196))
        c.dot(fed, 300, 146)
        begin(c, z1)
        symbols.snubber(c, 348, 224)
        c.text(360, 226, "Z1", "mono")
        c.close()
        c.wire(far, (348, 252), (348, 268), (300, 268))
        c.dot(far, 300, 268)
    c.wire(line, (456, 38), (456, 122))
    c.dot(line, 456, 38)
    c.wire(out, (456, 172), (456, 190))
    begin(c, load)
    symbols.load(c, 456, 224, symbol)
    name = channel.name if len(channel.name) < 17 else channel.name[:16] + "…"
    c.text(492, 216, name, "strong")
    c.text(492, 234, result.live["load"], "live")
    c.text(492, 250, result.live["volts"], "live")
    c.close()
    if "3" in k2.terminals:
        c.wire(back, (456, 258), (456, 274), (622, 274), (622, 192), (516, 192), (516, 172))
        c.wire(far, (516, 122), (516, 90), (634, 90), (634, 292), (300, 292))
        c.dot(far, 300, 292)
    else:
        c.wire(back, (456, 258), (456, 292), (300, 292))
        c.dot(back, 300, 292)


#: Plans that want the room.
WIDE = ("contactor", "triac_coupler", "solid_relay", "packaged_unit")
PLANS = {
    "contactor": contactor_plan,
    "triac_coupler": triac_plan,
    "solid_relay": solid_relay_plan,
    "packaged_unit": solid_relay_plan,
}
