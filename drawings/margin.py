"""
The margin bar: the allowed window, where the worst and typical values sit, how far to the edge.
"""

from __future__ import annotations

import math

from drawings.svg import Canvas, number
from latchcore.design.report import Measure
from latchcore.figures.quantity import show


def margin_bar(measure: Measure, width: float = 240, compact: bool = False) -> str:
    """
    One bar a limit.

    The scale runs from the quantity's zero to a quarter beyond whichever of value and limit is
    larger; the filled
    part is the worst value, the thin mark the typical one, the tall mark the limit, the hatched
    part what is not allowed.
    """
    finite = [
        v
        for v in (measure.worst, measure.limit, measure.stop, measure.fix)
        if v is not None and math.isfinite(v)
    ]
    top = measure.zero + (max(finite) - measure.zero) * 1.25 or 1.0

    def place(value: float) -> float:
        share = (value - measure.zero) / (top - measure.zero) if math.isfinite(value) else 1.0
        return max(0.0, min(1.0, share)) * width

    words = f"{measure.sentence}, {measure.corner}"
    c = Canvas(width, 16, words, css="margin-bar" + (" compact" if compact else ""), stretch=True)
    limit, worst = place(measure.limit), place(measure.worst)
    c.add("rect", "track", x=0.5, y=4.5, width=number(width - 1), height=7)
    barred = (limit, width - limit) if measure.sense == "max" else (0, limit)
    c.add("rect", "barred", x=number(barred[0]), y=4.5, width=number(max(barred[1], 0)), height=7)
    c.add(
        "rect",
        f"fill {measure.verdict}",
        x=0.5,
        y=4.5,
        width=number(max(worst - 0.5, 0.5)),
        height=7,
    )
    if measure.typical is not None:
        c.add("rect", "typical", x=number(place(measure.typical) - 0.75), y=3, width=1.5, height=10)
    c.add(
        "rect", "limit", x=number(min(max(limit - 1.25, 0), width - 2.5)), y=0, width=2.5, height=16
    )
    return c.svg()


def rail_bar(
    typical: float,
    all_on: float,
    worst: float,
    rating: float | None,
    idle: float,
    name: str,
    width: float = 250,
) -> str:
    """
    A rail's load against its rating: idle, typical, everything on, worst instant, each with its own
    texture.
    """
    top = max(rating or 0, worst, all_on, 1e-3) * 1.08
    limit = f" of {show(rating, 'A')}" if rating else ", rating not stated"
    words = (
        f"{name}: idle {show(idle, 'A')}, typical {show(typical, 'A')}, all on {show(all_on, 'A')},"
        f" worst instant {show(worst, 'A')}{limit}"
    )
    c = Canvas(width, 20, words, css="rail-bar", stretch=True)
    c.add("rect", "track", x=0.5, y=1.5, width=number(width - 1), height=17)
    # Each sum has a height of its own, so that they are told apart without colour: the rarer, the
    # thinner.
    for css, value, height in (
        ("worst", worst, 3),
        ("all", all_on, 8),
        ("typical", typical, 13),
        ("idle", idle, 17),
    ):
        c.add(
            "rect",
            css,
            x=0.5,
            y=number(18.5 - height),
            width=number(max(value / top * width, 0)),
            height=height,
        )
    if rating:
        c.add(
            "rect",
            "headroom",
            x=number(0.8 * rating / top * width - 0.75),
            y=3,
            width=1.5,
            height=14,
        )
        c.add("rect", "limit", x=number(rating / top * width - 1.25), y=0, width=2.5, height=20)
    return c.svg()
