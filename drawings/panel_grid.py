"""A panel as a grid: its rows and columns with their drivers and lines, a dot at each crossing."""

from __future__ import annotations

from drawings.pieces import begin, ground, rail_line
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel
from latchcore.metal.netlist import Part

#: Room of a crossing, where the first one stands, what stands beside the rows.
STEP_X, STEP_Y, LEFT, TOP = 46, 42, 250, 250
BELOW = 70


def width(result: StageResult) -> int:
    """Width of the drawing, by its columns."""
    panel = result.panel
    return max(LEFT + STEP_X * (panel.columns if panel else 1) + 110, 560)


def height(result: StageResult) -> int:
    """Height of the drawing, by its rows."""
    return TOP + STEP_Y * (result.panel.rows if result.panel else 1) + BELOW


def grid(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """Rows at the left, columns from above, each with the two lines that drive it."""
    panel = result.panel
    drivers = [p for p in result.netlist.parts if p.kind == "line_driver"]
    rail_line(c, drivers[0].terminals["VM"], rail_text, 24, width(result) - 20, 38)
    rows, columns = (panel.rows, panel.columns) if panel else (1, 1)
    names = [f"r{n + 1}" for n in range(rows)] + [f"c{n + 1}" for n in range(columns)]
    right, bottom = LEFT + STEP_X * columns, TOP + STEP_Y * rows
    for n, name in enumerate(names):
        which = f"U{n // _per(drivers[0]) + 1}"
        high, low = (_pin(result, channel, f"{name}-{level}") for level in ("high", "low"))
        node = f"{channel.id}.{name}"
        if n < rows:
            y = TOP + STEP_Y * n
            c.text(16, y - 4, f"{name} high {high}", "mono")
            c.text(16, y + 11, f"{name} low  {low}", "mono")
            _half(c, which, 196, y)
            c.wire(node, (214, y), (right - STEP_X + 16, y))
        else:
            x = LEFT + STEP_X * (n - rows)
            turned = {"transform": f"rotate(-60 {x} {TOP - 76})"}
            c.text(x, TOP - 76, f"{name} {high}", "mono", "start", **turned)
            lower = {"transform": f"rotate(-60 {x + 14} {TOP - 70})"}
            c.text(x + 14, TOP - 70, f"low {low}", "mono", "start", **lower)
            _half(c, which, x, TOP - 52)
            c.wire(node, (x, TOP - 40), (x, bottom - STEP_Y + 16))
    _dots(c, result, rows, columns)
    if "r1+" in next(p for p in result.netlist.parts if p.kind == "panel").terminals:
        words = "each line is two wires, a source and a sink, with a diode at every coil"
        c.text(LEFT - 20, bottom + 8, words, "note")
    c.text(16, bottom + 8, drivers[0].short, "note")
    c.text(16, bottom + 24, f"one coil ≤ {result.live['load']}, {result.live['volts']}", "live")
    x = width(result) - 60
    c.wire(drivers[0].terminals["GND"], (x, bottom + 10), (x, bottom + 20))
    ground(c, drivers[0].terminals["GND"], x, bottom + 20)
    c.text(x - 10, bottom + 14, "every driver", "note", "end")
    c.text(width(result) - 24, 56, "every driver: VM", "note", "end")


def _per(driver: Part) -> int:
    """How many lines a package has."""
    return max(sum(name.startswith("H") for name in driver.terminals), 1)


def _pin(result: StageResult, channel: Channel, role: str) -> str:
    """The line of a role."""
    nodes = (f"{channel.id}.PIN.{role}", f"{channel.id}.PIN" if role == "r1-high" else "")
    flags = (p for p in result.netlist.parts if p.kind == "pin")
    found = next((p for p in flags if p.terminals["pin"] in nodes), None)
    return found.value if found is not None and found.value != "no pin yet" else "?"


def _half(c: Canvas, which: str, x: float, y: float) -> None:
    """A half-bridge as a small box with the package it is in."""
    c.add("rect", "body", x=x - 18, y=y - 12, width=36, height=24)
    c.text(x, y + 5, which, "mono", "middle")


def _dots(c: Canvas, result: StageResult, rows: int, columns: int) -> None:
    """A coil at each crossing, between its row and its column."""
    load = next(p for p in result.netlist.parts if p.kind == "panel")
    begin(c, load)
    for r in range(rows):
        for k in range(columns):
            x, y = LEFT + STEP_X * k, TOP + STEP_Y * r
            c.line((x, y + 12), (x + 12, y + 12), (x + 12, y))
            c.add("rect", "body", x=x + 1, y=y + 7, width=10, height=10)
    c.close()
