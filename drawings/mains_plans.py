"""Plans of the schematics of solid-state switches of alternating current."""

from __future__ import annotations

from drawings import symbols
from drawings.pieces import begin, ground, named, pin_and_series, pulled_down, rail_line, resistor
from drawings.plans import load_at, transistor_at
from drawings.relay import coil_side
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel
from latchcore.figures.quantity import show


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
    rail_line(c, line, rail_text, 250, 506, 38)
    c.wire(switched, (x, 184), (x, 212))
    load_at(c, result, channel, symbol, x, 246, below=44)
    c.wire(back, (x, 280), (x, 306))
    ground(c, back, x, 306)
    z1, z2 = named(result, channel, "Z1"), named(result, channel, "Z2")
    if z1 is not None:
        c.wire(line, (446, 38), (446, 112))
        c.dot(line, 446, 38)
        begin(c, z1)
        symbols.snubber(c, 446, 140)
        c.text(458, 124, "Z1", "mono")
        snubber = result.across.snubber
        c.text(458, 198, f"{snubber.resistance:g} Ω", "note")
        c.text(458, 211, show(snubber.capacitance, "F"), "note")
        c.close()
        c.wire(switched, (446, 168), (446, 192), (x, 192))
        c.dot(switched, x, 192)
    if (z3 := named(result, channel, "Z3")) is not None:
        c.wire(switched, (x, 204), (446, 204), (446, 218))
        c.dot(switched, x, 204)
        begin(c, z3)
        symbols.snubber(c, 446, 246)
        c.text(458, 234, "Z3", "mono")
        c.text(458, 252, "100 Ω", "note")
        c.text(458, 265, show(result.the_value("bypass").value, "F"), "note")
        c.close()
        c.wire(back, (446, 274), (446, 294), (x, 294))
        c.dot(back, x, 294)
    if z2 is not None:
        c.wire(line, (498, 38), (498, 132))
        c.dot(line, 498, 38)
        begin(c, z2)
        symbols.varistor(c, 498, 160)
        c.text(488, 128, "Z2", "mono", "end")
        c.close()
        c.wire(back, (498, 188), (498, 294), (x, 294))
        c.dot(back, x, 294)
    return line, switched, back


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
    c.text(x + 24, 128, "Q1", "mono")
    c.text(x - 18, 128, result.live["switch"], "live", "end", data_node=switched)
    c.close()
    c.wire(line, (x, 116), (x, 38))
    c.dot(line, x, 38)
    c.text(20, 320, q1.short, "note")
    if r4 is not None:
        c.wire(trigger, (326, 206), (333, 206))
        c.dot(trigger, 326, 206)
        resistor(c, r4, 361, 206)
        c.wire(switched, (389, 206), (x, 206))
        c.dot(switched, x, 206)


def solid_relay_plan(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """The device as one block with its barrier; its input on the pin, or pulled by an NPN."""
    k1, q2 = named(result, channel, "K1"), named(result, channel, "Q2")
    x = 372
    line, _, _ = _line_side(c, result, channel, symbol, rail_text, x)
    plus, minus = k1.terminals["+"], k1.terminals["-"]
    begin(c, k1)
    c.add("rect", "frame", x=214, y=96, width=184, height=84)
    for gap in (300, 308):
        c.line((gap, 96), (gap, 180), css="gap")
    symbols.box(c, 252, 138, 56, 40, "input")
    c.line((x, 116), (x, 126))
    symbols.box(c, x - 22, 138, 68, 24, "")
    c.text(x - 22, 142, "triac pair", "note", "middle")
    c.line((x, 150), (x, 184))
    c.text(20, 326, k1.short, "note")
    c.text(404, 112, "K1", "mono")
    c.close()
    c.wire(line, (x, 116), (x, 38))
    c.dot(line, x, 38)
    if q2 is None:
        pin_and_series(c, result, channel, 74, 124, 224)
        pulled_down(c, named(result, channel, "R2"), 108, 124)
        c.wire("0V", (224, 152), (200, 152), (200, 238))
        symbols.ground(c, 200, 238)
        return
    c.wire(plus, (24, 60), (204, 60), (204, 124), (224, 124))
    c.text(24, 50, f"its rail   takes {result.live['coil']}", "strong", data_node=plus)
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


def contactor_plan(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """
    Coil of the relay at the left, its contact and the contactor's coil in the middle, main poles
    and load at the right.
    """
    k1, k2, load = (named(result, channel, ref) for ref in ("K1", "K2", "LOAD"))
    line, out, back = k2.terminals["1"], k2.terminals["2"], load.terminals["-"]
    coil_side(c, result, channel, 154, (20, 312))
    rail_line(c, line, rail_text, 262, 506, 38)
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
    c.text(334, 112, "K1", "mono")
    c.close()
    c.wire(fed, (300, 126), (300, 150))
    begin(c, k2)
    c.add("rect", "body", x=284, y=150, width=32, height=44)
    c.line((284, 184), (316, 160))
    c.text(278, 178, "K2", "mono", "end")
    for x in (396, 452) if "3" in k2.terminals else (396,):
        c.line((x, 122), (x, 132))
        c.line((x, 134), (x + 14, 160), css="ink heavy")
        c.line((x, 162), (x, 172))
    c.line((316, 172), (404, 147), css="frame")
    c.text(20, 326, k2.value, "note")
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
    c.wire(line, (396, 38), (396, 122))
    c.dot(line, 396, 38)
    c.wire(out, (396, 172), (396, 190))
    begin(c, load)
    symbols.load(c, 396, 224, symbol)
    name = channel.name if len(channel.name) < 19 else channel.name[:18] + "…"
    c.text(506, 333, f"{name}, {result.live['load']}, {result.live['volts']}", "live", "end")
    c.close()
    if "3" in k2.terminals:
        c.wire(back, (396, 258), (396, 280), (484, 280), (484, 186), (452, 186), (452, 172))
        c.wire(far, (452, 122), (452, 104), (506, 104), (506, 292), (300, 292))
        c.dot(far, 300, 292)
    else:
        c.wire(back, (396, 258), (396, 292), (300, 292))
        c.dot(back, 300, 292)


PLANS = {"contactor": contactor_plan, "triac_coupler": triac_plan, "solid_relay": solid_relay_plan}
