"""A histogram against its limit."""

from __future__ import annotations

import math

from drawings.svg import Canvas, number
from latchcore.advice.spreading import Spreading
from latchcore.figures.quantity import show


def histogram(found: Spreading, width: float = 720, height: float = 250) -> str:
    """
    Draws of a quantity as bars, those beyond the limit hatched and outlined, with limit, median and
    worst corner marked.
    """
    measure = found.measure
    # A corner that runs away is marked at the picture's own edge.
    marks = [
        mark
        for mark in (found.edges[0], found.edges[-1], measure.limit, measure.worst)
        if math.isfinite(mark)
    ]
    left, right = min(marks), max(marks)
    pad = (right - left) * 0.05 or 1.0
    left, right = left - pad, right + pad
    base, top = height - 46, 30

    def x(value: float) -> float:
        return 20 + (min(max(value, left), right) - left) / (right - left) * (width - 40)

    share = f"{found.outside * 100:.3g} % outside" if found.outside else "none outside"
    words = (
        f"{measure.label}: {found.draws} draws, {share}, median {show(found.middle, measure.unit)}"
    )
    c = Canvas(width, height, words, css="histogram")
    most = max(found.counts.max(), 1)
    for count, start, end in zip(found.counts, found.edges, found.edges[1:], strict=False):
        if not count:
            continue
        middle = (start + end) / 2
        beyond = middle > measure.limit if measure.sense == "max" else middle < measure.limit
        tall = count / most * (base - top)
        c.add(
            "rect",
            "bin beyond" if beyond else "bin",
            x=number(x(start) + 0.5),
            y=number(base - tall),
            width=number(max(x(end) - x(start) - 1, 0.8)),
            height=number(tall),
        )
    c.line((20, base), (width - 20, base))
    for value, name, css, row in (
        (measure.limit, measure.limit_name, "limit", 0),
        (measure.worst, "worst corner", "corner", 1),
        (found.middle, "median", "median", 2),
    ):
        place = x(value)
        c.line((place, top - 14 if css == "limit" else top), (place, base + 6), css=css)
        anchor = "end" if place > width * 0.7 else "start"
        c.text(
            place + (-5 if anchor == "end" else 5),
            base + 18 + 13 * row if css != "limit" else top - 14,
            f"{name} {show(value, measure.unit)}",
            css,
            anchor,
        )
    return c.svg()
