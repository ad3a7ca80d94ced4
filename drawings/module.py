"""
The schematic of one channel of a module: its input circuit opened up, its coil and contact or its
solid-state output.
"""

from __future__ import annotations

import textwrap

from drawings import symbols
from drawings.pieces import begin, ground, named, pin_and_series, pulled_down, rail_line
from drawings.plans import load_at, transistor_at
from drawings.relay import _load_clamp, contact_side
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel
from latchcore.figures.quantity import resistor_code


def module_plan(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """The module as a dashed frame round what is inside, the load's circuit at the right."""
    k1 = named(result, channel, "K1")
    module, solid = result.module.part, named(result, channel, "K1").kind.startswith("solid")
    coil_rail, supply, entry, low = (k1.terminals.get(n) for n in ("COIL+", "VCC", "IN", "GND"))
    c.wire(coil_rail, (24, 38), (240, 38))
    c.text(
        24,
        28,
        f"{c.rails[result.coil.rail]}   takes {result.live['coil']}",
        "strong",
        data_node=coil_rail,
    )
    _inside(c, result, channel, k1, module, solid)
    c.wire(coil_rail, (240, 38), (240, 112 if solid else 84))
    c.dot(coil_rail, 240, 38)
    if "IN-" in k1.terminals:
        c.wire("0V", (158, 138), (158, 222))
        symbols.ground(c, 158, 222)
    if supply is not None and (module.input == "coupler" or "RIN" in k1.terminals):
        if supply == coil_rail:
            c.wire(supply, (158, 38), (158, 98))
            c.dot(supply, 158, 38)
        else:
            c.wire(supply, (158, 98), (158, 52), (100, 52))
            words = textwrap.wrap(c.rails.get(supply, "logic supply"), 13)[:2]
            for n, line in enumerate(words):
                c.text(94, 56 + 13 * n, line, "note", "end")
    c.wire(low, (240, 136 if solid else 192), (240, 240))
    ground(c, low, 240, 240)
    if named(result, channel, "Q2") is not None:
        transistor_at(c, result, channel, "Q2", 176, 268, live=False, title=False)
        pin_and_series(c, result, channel, 62, 268, 146)
        c.wire(entry, (190, 234), (190, 224), (150, 224), (150, 138))
        c.wire("0V", (190, 302), (190, 310))
        symbols.ground(c, 190, 310)
        pulled_down_beside(c, result, channel)
    else:
        pin_and_series(c, result, channel, 84, 118, 127)
        pulled_down(c, named(result, channel, "R2"), 108, 118)
    if solid:
        output(c, result, channel, k1, symbol, rail_text)
    else:
        contact_side(c, result, channel, symbol, rail_text, 344, 118, True)


def _inside(c: Canvas, result: StageResult, channel: Channel, k1, module, solid: bool) -> None:
    """
    What is on the module: its input, its driver and coil, the barrier; and what was put across its
    resistor.
    """
    begin(c, k1)
    c.add("rect", "frame", x=118, y=64, width=266, height=150)
    for n, line in enumerate(textwrap.wrap(f"K1 {k1.short}", 22)[:2]):
        c.text(262, 228 + 13 * n, line, "note")
    c.line((282, 64), (282, 214), css="gap")
    c.line((290, 64), (290, 214), css="gap")
    symbols.box(c, 158, 118, 62, 40, "")
    c.text(158, 114, "coupler" if module.input == "coupler" else "transistor", "note", "middle")
    c.text(
        158,
        130,
        resistor_code(module.input_resistor.typ) + (" + indicator" if module.indicator else ""),
        "note",
        "middle",
    )
    if solid:
        symbols.box(c, 240, 124, 52, 24, "driver")
        c.line((189, 124), (214, 124))
    else:
        symbols.load(c, 240, 118, "coil")
        c.line((240, 152), (240, 168))
        symbols.box(c, 240, 180, 62, 24, "driver")
        c.line((189, 124), (204, 124), (204, 180), (209, 180))
    c.close()
    across = named(result, channel, "R5")
    if across is not None:
        begin(c, across)
        symbols.resistor(c, 186, 81)
        c.line((214, 81), (214, 108), (189, 108))
        c.text(153, 85, f"R5 {across.value}", "note", "end")
        c.close()
        c.wire(across.terminals["2"], (189, 108), (184, 108))


def output(
    c: Canvas, result: StageResult, channel: Channel, k1, symbol: str, rail_text: str
) -> None:
    """The semiconductor in the place of a contact, and the load behind it."""
    load = named(result, channel, "LOAD")
    feed, fed, back = k1.terminals["OUT+"], k1.terminals["OUT-"], load.terminals["-"]
    rail_line(c, feed, rail_text, 280, 506, 38)
    begin(c, k1)
    symbols.box(c, 338, 124, 78, 40, "")
    words = {"dc": "DC switch", "ac_zero": "AC, at zero", "ac_random": "AC, at once"}[
        result.output.kind
    ]
    c.text(338, 128, words, "note", "middle")
    c.line((266, 124), (299, 124), css="absent")
    c.close()
    c.wire(feed, (338, 38), (338, 104))
    c.dot(feed, 338, 38)
    c.wire(fed, (377, 124), (396, 124), (396, 170))
    c.text(392, 100, result.live["switch"], "live")
    load_at(c, result, channel, symbol, 396, 204, below=54)
    c.wire(back, (396, 238), (396, 300))
    ground(c, back, 396, 300)
    _load_clamp(c, result, channel, fed, back)


def pulled_down_beside(c: Canvas, result: StageResult, channel: Channel) -> None:
    """The base-emitter resistor of an added transistor, at its right."""
    r2 = named(result, channel, "R2")
    if r2 is None:
        return
    begin(c, r2)
    c.text(24, 326, f"R2 {r2.value} base to 0 V", "mono")
    c.close()
