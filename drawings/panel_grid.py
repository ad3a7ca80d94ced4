"""A panel as a grid: its rows and columns with their drivers and lines, a dot at each crossing."""

from __future__ import annotations

from collections.abc import Iterator

from drawings.pieces import begin, ground, rail_line
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel
from latchcore.metal.netlist import Part

#: Room of a crossing, where the first one stands, what stands beside the rows.
STEP_X, STEP_Y, LEFT, TOP = 46, 42, 250, 250
BELOW = 76


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
    drivers = list(_of(result, "line_driver"))
    rail_line(c, drivers[0].terminals["VM"], rail_text, 24, width(result) - 20, 38)
    rows, columns = (panel.rows, panel.columns) if panel else (1, 1)
    names = [f"r{n + 1}" for n in range(rows)] + [f"c{n + 1}" for n in range(columns)]
    load = next(_of(result, "panel"))
    right, bottom = LEFT + STEP_X * columns, TOP + STEP_Y * rows
    for n, name in enumerate(names):
        driver = drivers[n // _per(drivers[0])]
        high, low = (_pin(result, channel, f"{name}-{level}") for level in ("high", "low"))
        wires = [t for t in (f"{name}+", f"{name}-", name) if t in load.terminals]
        if n < rows:
            y = TOP + STEP_Y * n
            c.text(16, y - 4, f"{name} high {high}", "mono")
            c.text(16, y + 11, f"{name} low  {low}", "mono")
            _half(c, driver, 204, y)
            _pulls(c, result, n, [(168, y - 8), (168, y + 8)], (18, 0))
            for k, wire in enumerate(wires):
                at = y + 5 * k
                c.line((222, at), (right - STEP_X + 16, at), data_node=load.terminals[wire])
        else:
            x = LEFT + STEP_X * (n - rows)
            turned = {"transform": f"rotate(-60 {x - 6} {TOP - 84})"}
            c.text(x - 6, TOP - 84, f"{name} {high}", "mono", "start", **turned)
            lower = {"transform": f"rotate(-60 {x + 15} {TOP - 84})"}
            c.text(x + 15, TOP - 84, f"low {low}", "mono", "start", **lower)
            _half(c, driver, x, TOP - 52)
            _pulls(c, result, n, [(x - 9, TOP - 70), (x + 9, TOP - 70)], (0, 6))
            for k, wire in enumerate(wires):
                at = x - 5 * k
                ends = ((at, TOP - 40), (at, bottom - STEP_Y + 16))
                c.line(*ends, data_node=load.terminals[wire])
    _dots(c, result, rows, columns)
    if "r1+" in next(p for p in result.netlist.parts if p.kind == "panel").terminals:
        words = "each line is two wires, a source and a sink, with a diode at every coil"
        c.text(16, bottom + 41, words, "note")
    c.text(16, bottom + 8, drivers[0].short, "note")
    c.text(16, bottom + 24, f"one coil ≤ {result.live['load']}, {result.live['volts']}", "live")
    pull, c1 = result.value("pull_resistor"), next(_of(result, "capacitor"), None)
    if pull is not None:
        words = f"{pull.text} from each input to 0 V, R1 to R{pull.many}"
        c.text(16, bottom + 58, words, "note", data_node="0V")
    if c1 is not None:
        begin(c, c1)
        c.text(16, 66, f"C1 {c1.value} from the rail to 0 V, at the panel", "note")
        c.close()
    x = width(result) - 60
    c.wire(drivers[0].terminals["GND"], (x, bottom + 10), (x, bottom + 20))
    ground(c, drivers[0].terminals["GND"], x, bottom + 20)
    c.text(x - 10, bottom + 14, "every driver", "note", "end")
    c.text(width(result) - 24, 56, "every driver: VM", "note", "end")


def _of(result: StageResult, kind: str) -> Iterator[Part]:
    """Parts of a kind."""
    return (p for p in result.netlist.parts if p.kind == kind)


def _per(driver: Part) -> int:
    """How many lines a package has."""
    return max(sum(name.startswith("H") for name in driver.terminals), 1)


def _pin(result: StageResult, channel: Channel, role: str) -> str:
    """The line of a role."""
    nodes = (f"{channel.id}.PIN.{role}", f"{channel.id}.PIN" if role == "r1-high" else "")
    flags = (p for p in result.netlist.parts if p.kind == "pin")
    found = next((p for p in flags if p.terminals["pin"] in nodes), None)
    return found.value if found is not None and found.value != "no pin yet" else "?"


def _half(c: Canvas, driver: Part, x: float, y: float) -> None:
    """A half-bridge as a small box with the package it is in."""
    begin(c, driver)
    c.add("rect", "body", x=x - 18, y=y - 12, width=36, height=24)
    c.text(x, y + 5, driver.ref.rpartition(".")[2], "mono", "middle")
    c.close()


def _pulls(
    c: Canvas,
    result: StageResult,
    line: int,
    places: list[tuple[float, float]],
    onward: tuple[float, float],
) -> None:
    """
    A line's two inputs into its half-bridge, a pull-down to 0 V hanging from each on its outer
    side; the value of those stands below once.
    """
    pins = [p.terminals["pin"] for p in _of(result, "pin")]
    flat = onward[0] > 0
    for k, (x, y) in enumerate(places):
        ends = ((x - onward[0], y - onward[1]), (x + onward[0], y + onward[1]))
        c.line(*ends, data_node=pins[2 * line + k])
        end = f".R{2 * line + k + 1}"
        part = next((p for p in _of(result, "resistor") if p.ref.endswith(end)), None)
        if part is None:
            continue
        side = 1 if k else -1
        dx, dy = (0, side) if flat else (side, 0)
        begin(c, part)
        c.line((x, y), (x + 3 * dx, y + 3 * dy))
        wide, tall = (5, 7) if flat else (7, 5)
        c.add(
            "rect",
            "body",
            x=x + 6.5 * dx - wide / 2,
            y=y + 6.5 * dy - tall / 2,
            width=wide,
            height=tall,
        )
        foot = (x + 13 * dx, y + 13 * dy)
        c.line((x + 10 * dx, y + 10 * dy), foot)
        c.line(
            (foot[0] - 3 * abs(dy), foot[1] - 3 * abs(dx)),
            (foot[0] + 3 * abs(dy), foot[1] + 3 * abs(dx)),
        )
        c.close()


def _dots(c: Canvas, result: StageResult, rows: int, columns: int) -> None:
    """A coil at each crossing, between its row and its column."""
    load = next(_of(result, "panel"))
    begin(c, load)
    for r in range(rows):
        for k in range(columns):
            x, y = LEFT + STEP_X * k, TOP + STEP_Y * r
            c.line((x, y + 12), (x + 12, y + 12), (x + 12, y))
            c.add("rect", "body", x=x + 1, y=y + 7, width=10, height=10)
    c.close()
