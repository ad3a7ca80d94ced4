"""
What a delay leaves of power and light, for the line at hand, with the delays the program may use.
"""

from __future__ import annotations

import math

from drawings.svg import Canvas, number
from latchcore.figures.quantity import digits
from latchcore.sums import phase

WIDTH, HEIGHT, LEFT, TOP, RIGHT, BOTTOM = 760, 250, 54, 18, 20, 40


def dimming_curve(frequency: float, window: phase.FiringWindow, other: float) -> str:
    """
    Draw power and light against delay.

    Parameters
    ----------
    frequency : float
        Of the line [Hz]
    window : FiringWindow
        What is outside is shaded
    other : float
        The other line frequency, drawn thin for comparison [Hz]
    """
    half = phase.half(frequency)
    longest = max(half, phase.half(other))
    c = Canvas(
        WIDTH,
        HEIGHT,
        f"Power and light against the delay at {frequency:g} Hz",
        f"delays from {digits(window.earliest * 1e3)} to {digits(window.latest * 1e3)} ms hold at"
        " every frequency",
        css="drawing dimming",
    )
    x = lambda t: LEFT + t / longest * (WIDTH - LEFT - RIGHT)  # noqa: E731
    y = lambda share: TOP + (1 - share) * (HEIGHT - TOP - BOTTOM)  # noqa: E731
    for start, end in ((0.0, window.earliest), (window.latest, half)):
        if end > start:
            c.add(
                "rect",
                "barred",
                x=number(x(start)),
                y=TOP,
                width=number(x(end) - x(start)),
                height=HEIGHT - TOP - BOTTOM,
            )
    for share in (0.0, 0.25, 0.5, 0.75, 1.0):
        c.line((LEFT, y(share)), (WIDTH - RIGHT, y(share)), css="rule")
        c.text(LEFT - 8, y(share) + 4, f"{share * 100:g} %", "note", "end")
    for ms in range(int(longest * 1e3) + 1):
        c.line((x(ms / 1e3), HEIGHT - BOTTOM), (x(ms / 1e3), HEIGHT - BOTTOM + 5))
        c.text(x(ms / 1e3), HEIGHT - BOTTOM + 18, f"{ms}", "note", "middle")
    c.text(WIDTH - RIGHT, HEIGHT - 6, "delay after the zero, ms", "note", "end")
    steps = [n / 80 for n in range(81)]
    for f, css in ((other, "gap"), (frequency, "ink heavy")):
        c.line(
            *[(x(s * phase.half(f)), y(phase.left(s * math.pi))) for s in steps],
            css=css,
            **({"stroke_dasharray": "2 3"} if f == other else {}),
        )
    c.line(
        *[(x(s * half), y(phase.left(s * math.pi, "light"))) for s in steps],
        css="ink",
        stroke_dasharray="7 4",
    )
    c.text(x(0.44 * half), y(0.66), f"power, {frequency:g} Hz", "strong")
    c.text(x(0.37 * half), y(0.5) + 4, "light of a filament", "", "end")
    c.text(x(0.62 * phase.half(other)), y(0.06), f"power, {other:g} Hz, dotted", "note", "end")
    return c.svg()
