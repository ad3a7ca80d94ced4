"""A resistance over the dates it was measured, small."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from drawings.svg import Canvas
from latchcore.figures.quantity import show

WIDTH, HEIGHT, EDGE = 320, 90, 12


def trend(name: str, points: Sequence[tuple[datetime, float]]) -> str:
    """
    A line through readings in order of time, the axis from nothing to the highest.

    Examples
    --------
    >>> from datetime import UTC
    >>> days = [datetime(2026, 11, day, tzinfo=UTC) for day in (1, 2)]
    >>> "Resistance of Lamp" in trend("Lamp", list(zip(days, (0.1, 0.2))))
    True
    """
    first, last = points[0][0], points[-1][0]
    long = max((last - first).total_seconds(), 1.0)
    most = max(max(ohms for _, ohms in points), 1e-6)
    words = f"Resistance of {name}: {show(points[0][1], 'Ω')} to {show(points[-1][1], 'Ω')}"
    canvas = Canvas(WIDTH, HEIGHT, words, "")
    base, high = HEIGHT - 22, HEIGHT - 42
    canvas.line((EDGE, base), (WIDTH - EDGE, base), css="rule")
    placed = [
        (EDGE + (WIDTH - 2 * EDGE) * (at - first).total_seconds() / long, base - high * ohms / most)
        for at, ohms in points
    ]
    canvas.line(*placed, css="wire")
    for x, y in placed:
        canvas.add("circle", "joint", cx=f"{x:.1f}", cy=f"{y:.1f}", r=3)
    canvas.text(EDGE, HEIGHT - 6, f"{first:%d %b %Y}", "note")
    canvas.text(WIDTH - EDGE, HEIGHT - 6, f"{last:%d %b %Y}", "note", "end")
    canvas.text(EDGE, 9, f"highest {show(most, 'Ω')}", "note")
    return canvas.svg()
