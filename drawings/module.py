"""The schematic of one channel of a relay module: its input circuit opened up, its coil, its contact."""

from __future__ import annotations

from drawings import symbols
from drawings.pieces import begin, ground, named, pin_and_series, pulled_down, rail_line
from drawings.plans import load_at, transistor_at
from drawings.relay import _load_clamp, contact
from drawings.svg import Canvas
from latchcore.document.models import Channel
from latchcore.quantity import resistor_code
from latchcore.report import StageResult


def module_plan(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """The module as a dashed frame round what is inside, the load's circuit at the right."""
    k1, load = named(result, channel, "K1"), named(result, channel, "LOAD")
    module = result.facts["relay"]
    back, rail = load.terminals["-"], k1.terminals["COM"]
    closed = "NC" in k1.terminals
    fed, coil_rail, supply, entry, low = (k1.terminals[n] for n in ("NC" if closed else "NO", "COIL+", "VCC", "IN", "GND"))
    rail_line(c, rail, rail_text, 272, 506, 38)
    c.wire(coil_rail, (24, 38), (240, 38))
    c.text(24, 28, f"coils' rail   coil {result.live['coil']}", "strong", data_node=coil_rail)
    begin(c, k1)
    c.add("rect", "frame", x=118, y=64, width=284, height=150)
    c.text(122, 228, k1.value.split(",")[0], "note")
    symbols.load(c, 240, 118, "coil")
    c.line((282, 64), (282, 214), css="gap")
    c.line((290, 64), (290, 214), css="gap")
    contact(c, 344, 118, closed=False)
    c.line((240, 152), (240, 168))
    symbols.box(c, 240, 180, 62, 24, "driver")
    across = result.value("parallel")
    inside = resistor_code(module.input_resistor.typ) + (f" ∥ {across.text}" if across else "") + (" + indicator" if module.indicator else "")
    symbols.box(c, 158, 118, 62, 40, "")
    c.text(158, 114, "coupler" if module.input == "coupler" else "transistor", "note", "middle")
    c.text(158, 130, inside, "note", "middle")
    c.line((189, 124), (204, 124), (204, 180), (209, 180))
    c.close()
    c.wire(coil_rail, (240, 38), (240, 84))
    c.dot(coil_rail, 240, 38)
    if module.input == "coupler":
        if supply == coil_rail:
            c.wire(supply, (158, 38), (158, 98))
            c.dot(supply, 158, 38)
        else:
            c.wire(supply, (158, 98), (158, 52), (100, 52))
            c.text(94, 56, "logic supply", "note", "end")
    c.wire(low, (240, 192), (240, 236))
    ground(c, low, 240, 240)
    c.wire(low, (240, 236), (240, 240))
    if named(result, channel, "Q2") is not None:
        transistor_at(c, result, channel, "Q2", 130, 268, live=False, title=False)
        pin_and_series(c, result, channel, 66, 268, 100)
        c.wire(entry, (144, 234), (144, 138), (127, 138))
        c.wire("0V", (144, 302), (144, 310))
        symbols.ground(c, 144, 310)
        pulled_down_beside(c, result, channel)
    else:
        pin_and_series(c, result, channel, 84, 118, 127)
        pulled_down(c, named(result, channel, "R2"), 108, 118)
    c.wire(rail, (318, 118), (306, 118), (306, 52), (344, 52), (344, 38))
    c.dot(rail, 344, 38)
    at = 106 if closed else 130
    c.wire(fed, (369, at), (396, at), (396, 170))
    load_at(c, result, channel, symbol, 396, 204, below=64)
    c.wire(back, (396, 238), (396, 300))
    ground(c, back, 396, 300)
    _load_clamp(c, result, channel, fed, back)


def pulled_down_beside(c: Canvas, result: StageResult, channel: Channel) -> None:
    """The base-emitter resistor of an added transistor, at its right."""
    r2 = named(result, channel, "R2")
    if r2 is None:
        return
    begin(c, r2)
    c.text(170, 326, f"R2 {r2.value} base to 0 V", "mono")
    c.close()

