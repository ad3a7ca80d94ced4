"""Drawings of stages in one chip: an output of a register, a stepper driver."""

from __future__ import annotations

import textwrap

from drawings import symbols
from drawings.pieces import begin, ground, named, rail_line, resistor
from drawings.plans import load_at
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel


def register(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """The load between its rail and an open drain of a register, with the clamp inside it."""
    load, drain = named(result, channel, "LOAD"), named(result, channel, "Q1")
    rail, switch = load.terminals["+"], load.terminals["-"]
    rail_line(c, rail, rail_text, 24, 500, 38)
    begin(c, drain)
    symbols.box(c, 250, 224, 196, 92, "")
    c.text(356, 200, f"output {drain.value}", "mono strong")
    c.text(356, 216, "power register", "note")
    # The switch, and the clamp beside it, both to 0 V.
    c.line((304, 196), (304, 206), css="ink")
    c.line((304, 232), (304, 252), css="ink")
    c.line((304, 232), (292, 208), css="ink heavy")
    c.line((336, 196), (336, 214), css="ink")
    c.line((328, 232), (344, 232), (336, 216), (328, 232), css="ink")
    c.line((328, 213), (328, 216), (344, 216), (344, 219), css="ink")
    c.line((336, 232), (336, 252), (304, 252), css="ink")
    c.line((336, 196), (304, 196), css="ink")
    c.text(172, 212, "latched bit", "note")
    c.line((212, 220), (284, 220), css="ink", stroke_dasharray="3 3")
    c.close()
    c.text(166, 256, result.live["switch"], "live")
    c.wire(switch, (304, 196), (304, 146))
    load_at(c, result, channel, symbol, 304, 112)
    c.wire(rail, (304, 38), (304, 78))
    c.dot(rail, 304, 38)
    c.wire("0V", (304, 252), (304, 298))
    symbols.ground(c, 304, 298)
    c.text(60, 200, "data, clock,", "note", "middle")
    c.text(60, 216, "latch, enable", "note", "middle")
    c.line((20, 224), (152, 224))
    c.line((146, 220), (152, 224), (146, 228))


def step_driver(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """Step, direction and enable into the driver, both windings at it."""
    u1, pull = named(result, channel, "U1"), named(result, channel, "R3")
    rail, back = u1.terminals["VM"], u1.terminals["GND"]
    pins = {p.terminals["pin"]: p for p in result.netlist.parts if p.kind == "pin"}
    rail_line(c, rail, rail_text, 24, 500, 38)
    begin(c, u1)
    c.add("rect", "body", x=206, y=78, width=110, height=222)
    c.text(256, 140, "U1", "mono", "middle")
    for n, line in enumerate(textwrap.wrap(u1.short, 15)[:3]):
        c.text(256, 156 + 13 * n, line, "note", "middle")
    for name, y in (("STEP", 110), ("DIR", 206), ("EN", 250)):
        c.text(212, y + 4, name, "mono")
    for name, y in (("A1", 104), ("A2", 172), ("B1", 214), ("B2", 282)):
        c.text(310, y + 4, name, "mono", "end")
    c.close()
    for name, role, y in (("STEP", "step", 110), ("DIR", "direction", 190), ("EN", "enable", 250)):
        node, at = u1.terminals[name], 206 if name == "DIR" else y
        if node in pins:
            symbols.pin(c, 78, y, pins[node].value if pins[node].value != "no pin yet" else "pin ?")
            c.text(16, y + 32, role, "note", data_node=node)
            c.wire(node, (78, y), (170, y), (170, at), (206, at))
        else:
            c.wire(node, (206, at), (186, at), (186, at + 14))
            symbols.ground(c, 186, at + 14)
    if pull is not None:
        node = pull.terminals["1"]
        c.wire(node, (120, 250), (120, 258))
        c.dot(node, 120, 250)
        resistor(c, pull, 120, 286, upright=True)
        c.text(60, 330, "to the logic supply", "note")
    c.wire(rail, (240, 78), (240, 38))
    c.dot(rail, 240, 38)
    c.text(246, 70, "VM", "mono")
    c.wire(u1.terminals["VCC"], (300, 78), (300, 66))
    c.text(284, 60, "VCC: logic supply", "note")
    c.wire(back, (261, 300), (261, 310))
    ground(c, back, 261, 310)
    c1 = named(result, channel, "C1")
    begin(c, c1)
    symbols.capacitor(c, 480, 96)
    c.text(456, 84, f"C1 {c1.value}", "mono", "end")
    c.close()
    c.wire(rail, (480, 68), (480, 38))
    c.dot(rail, 480, 38)
    c.wire(back, (480, 124), (480, 140))
    ground(c, back, 480, 140)
    for mark, top, bottom in (("", 104, 172), ("b", 214, 282)):
        load = named(result, channel, f"LOAD{mark}")
        x, middle = 366, (top + bottom) / 2
        c.wire(load.terminals["+"], (316, top), (x, top), (x, middle - 34))
        c.wire(load.terminals["-"], (316, bottom), (x, bottom), (x, middle + 34))
        begin(c, load)
        symbols.load(c, x, middle, symbol)
        c.text(x + 34, middle - 2, f"winding {load.note}", "strong")
        c.text(x + 34, middle + 16, f"≤ {result.live['load']}", "live")
        c.close()
    c.text(290, 326, result.live["switch"], "live")
