"""A chain as rows of cells, a package each: nearest to the data input first, who hangs where."""

from __future__ import annotations

from drawings.svg import Canvas
from latchcore.whole.chains import Cell, ChainReport

#: A cell, how many stand side by side, what is left of them.
CELL, TALL, ACROSS, GUTTER = 82, 48, 8, 84
GAP, TOP = 14, 8


def chain_row(report: ChainReport, letters: dict[str, str]) -> str:
    """
    Draw a chain.

    Parameters
    ----------
    report : ChainReport
    letters : dict
        Letter of each channel by its id
    """
    per = report.context.part.outputs
    across = min(per, ACROSS)
    rows = [report.cells[n : n + across] for n in range(0, len(report.cells), across)]
    wide, tall = GUTTER + across * CELL + 16, TOP + len(rows) * (TALL + GAP)
    said = "; ".join(
        f"{cell.number}: {', '.join(letters.get(w, w) for w, _, _ in cell.holders)}"
        for cell in report.cells
        if cell.holders
    )
    c = Canvas(wide, tall, f"{report.name}: {len(report.cells)} outputs", said or "none in use")
    serial = report.context.part.bus == "shift"
    for n, cells in enumerate(rows):
        y = TOP + n * (TALL + GAP)
        middle = y + TALL / 2
        if n * across % per == 0:
            c.text(4, y + 14, f"package {n * across // per + 1}", "note")
        if n == 0:
            c.text(4, middle + 12, "data in" if serial else "bus", "strong")
            _arrow(c, (58, middle), (GUTTER, middle))
        if serial and n + 1 < len(rows):
            _onward(c, GUTTER + across * CELL, middle, y + TALL + GAP / 2)
        for k, cell in enumerate(cells):
            _cell(c, GUTTER + k * CELL, y, cell, letters)
    return c.svg()


def _onward(c: Canvas, right: float, middle: float, between: float) -> None:
    """From the end of one row to the beginning of the next."""
    left, below = GUTTER - 16, between + GAP / 2 + TALL / 2
    c.line((right, middle), (right + 8, middle), (right + 8, between), (left, between))
    c.line((left, between), (left, below))
    _arrow(c, (left, below), (GUTTER, below))


def _arrow(c: Canvas, start: tuple[float, float], end: tuple[float, float]) -> None:
    c.line(start, end)
    c.line((end[0] - 6, end[1] - 4), end, (end[0] - 6, end[1] + 4))


def _cell(c: Canvas, x: float, y: float, cell: Cell, letters: dict[str, str]) -> None:
    twice = len(cell.holders) > 1
    css = "alarm-box" if twice else "body" if cell.holders else "ink"
    free = {} if cell.holders else {"stroke_dasharray": "3 4"}
    c.add("rect", css, x=x + 2, y=y, width=CELL - 4, height=TALL, **free)
    c.text(x + 8, y + 15, str(cell.number), "live")
    if not cell.holders:
        return
    who, name, role = cell.holders[0]
    c.text(x + CELL - 9, y + 16, letters.get(who, "?"), "strong", "end")
    says = "claimed twice" if twice else role or name
    c.text(x + CELL / 2, y + 36, says if len(says) < 13 else says[:11] + "…", "note", "middle")
