"""Curves over time in three fields, several laid over each other, limits and cursors marked."""

from __future__ import annotations

import math
from collections.abc import Sequence

from drawings.svg import Canvas, number
from latchcore.bench.waves import Trace, Waves
from latchcore.figures.quantity import show

WIDTH, LEFT, RIGHT, TALL, GAP, HEAD = 760, 64, 16, 112, 26, 8
#: How each set of curves is drawn, so that no colour is needed to tell them apart.
DASHES = ("", "7 4", "2 4")
#: What is left free above and below a curve, as a share of what it spans.
AIR = 0.08
#: Figures beside a field stand so far apart [px].
APART = 12
#: A point that lies so far off the line to the next is drawn [px].
STRAIGHT = 0.005


def scope(waves: Sequence[Waves], cursors: Sequence[float] = (), title: str = "") -> str:
    """
    Draw up to three sets of curves over one axis of time.

    Parameters
    ----------
    waves : sequence of Waves
        The first by a full line, the others dashed and dotted
    cursors : sequence of float
        Times that are marked [s]
    """
    first = min(float(w.times[0]) for w in waves)
    last = max(float(w.times[-1]) for w in waves)
    height = HEAD + 3 * (TALL + GAP) + 30 + 16 * len(waves)
    said = "; ".join(w.clamp for w in waves)
    c = Canvas(WIDTH, height, title or "Waveforms", said, css="drawing scope")

    def x(time: float) -> float:
        return LEFT + (WIDTH - LEFT - RIGHT) * (time - first) / (last - first)

    for n in range(3):
        top = HEAD + n * (TALL + GAP)
        _field(c, [w.traces[n] for w in waves], waves, top, x)
    foot = HEAD + 3 * (TALL + GAP) - GAP
    for n, time in enumerate(cursors, 1):
        if first <= time <= last:
            c.line((x(time), HEAD), (x(time), foot), css="gap")
            c.text(x(time) + 3, HEAD + 9, str(n), "note")
    for time in _marks(first, last):
        c.line((x(time), foot), (x(time), foot + 4), css="ink")
        c.text(x(time), foot + 28, show(time, "s") if time else "0 s", "note", "middle")
    for n, wave in enumerate(waves):
        y = foot + 48 + 16 * n
        c.line((LEFT, y - 4), (LEFT + 40, y - 4), css="ink", **_dash(n))
        c.text(LEFT + 48, y, wave.clamp, "note")
    return c.svg()


def _marks(first: float, last: float) -> list[float]:
    """
    Times that are written below, round ones, the edge among them.

    Examples
    --------
    >>> _marks(-0.5, 4.9)
    [0.0, 1.0, 2.0, 3.0, 4.0]
    """
    rough = (last - first) / 6
    decade = 10.0 ** math.floor(math.log10(rough))
    step = next(m * decade for m in (1, 2, 5, 10) if m * decade >= rough)
    return [n * step for n in range(math.ceil(first / step), math.floor(last / step) + 1)]


def _dash(n: int) -> dict[str, str]:
    dash = DASHES[n % len(DASHES)]
    return {"stroke_dasharray": dash} if dash else {}


def _field(c: Canvas, traces: list[Trace], waves: Sequence[Waves], top: float, x) -> None:
    limit = next((w.limits[t.key] for w, t in zip(waves, traces, strict=True)
                  if t.key in w.limits), None)  # fmt: skip
    values = [float(v) for t in traces for v in (t.values.min(), t.values.max())]
    seen = [*values, 0.0]
    span = max(seen) - min(seen) or 1.0
    if (
        limit is not None
        and limit[1] < max(seen) + 1.5 * span
        and limit[1] > min(seen) - 1.5 * span
    ):
        seen.append(limit[1])
    low, high = min(seen), max(seen)
    air = AIR * (high - low or 1.0)
    low, high = low - air, high + air

    def y(value: float) -> float:
        return top + TALL * (high - value) / (high - low)

    c.add("rect", "body", x=LEFT, y=number(top), width=WIDTH - LEFT - RIGHT, height=TALL)
    c.text(LEFT, top - 3 + TALL + 15, f"{traces[0].title}, {traces[0].unit}", "note")
    marked = [max(values)]
    for value in (min(values), 0.0):
        marked += [value] if all(abs(y(value) - y(m)) > APART for m in marked) else []
    for value in marked:
        c.line((LEFT - 4, y(value)), (LEFT, y(value)), css="ink")
        c.text(LEFT - 7, y(value) + 4, show(value, traces[0].unit) if value else "0", "note", "end")
    if limit is not None and low <= limit[1] <= high:
        c.line((LEFT, y(limit[1])), (WIDTH - RIGHT, y(limit[1])), css="limit-line")
        over = y(limit[1]) - 3 if y(limit[1]) - top > APART else y(limit[1]) + APART
        c.text(WIDTH - RIGHT - 4, over,
               f"{limit[0]}: {show(limit[1], traces[0].unit)}", "note", "end")  # fmt: skip
    for n, (wave, trace) in enumerate(zip(waves, traces, strict=True)):
        points = _thinned([(x(float(t)), y(float(v)))
                           for t, v in zip(wave.times, trace.values, strict=True)])  # fmt: skip
        c.line(*points, css="ink curve", **_dash(n))


def _thinned(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Points that a straight line does not pass through anyhow."""
    kept = points[:1]
    for at, after in zip(points[1:], points[2:], strict=False):
        from_x, from_y = kept[-1]
        level = from_y + (after[1] - from_y) * (at[0] - from_x) / max(after[0] - from_x, 1e-9)
        if abs(level - at[1]) > STRAIGHT:
            kept.append(at)
    return [*kept, points[-1]]
