"""Drawings of stages on the lines of a chain."""

from __future__ import annotations

from drawings import symbols
from drawings.pieces import begin, named, rail_line
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
