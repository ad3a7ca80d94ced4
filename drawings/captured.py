"""A capture laid under the plan, line by line, with the differences marked."""

from __future__ import annotations

from collections.abc import Sequence

from drawings.lanes import HEAD, LABEL, RIGHT, WIDTH, Scale
from drawings.svg import Canvas, number
from latchcore.figures.trace import Trace
from latchcore.program.compared import Difference

#: Height of one strip, and of a line with both [px].
STRIP, LINE = 16, 52
#: Numbers nearer to each other than this stand together [px].
NEAR = 18


def captured_plan(
    planned: Sequence[Trace],
    captured: Sequence[Trace],
    differences: Sequence[Difference],
    span: tuple[float, float],
) -> str:
    """
    Draw both of every line; numbers stand where something differs.

    Parameters
    ----------
    planned, captured : sequence of Trace
    differences : sequence of Difference
        In the order in which they are listed
    span : (float, float)
        From and to [s]
    """
    seen = {trace.line: trace for trace in captured}
    shown = [trace for trace in planned if trace.line in seen]
    first, last = span
    height = HEAD + LINE * len(shown) + 8
    c = Canvas(
        WIDTH, height, "Capture laid under the plan", "the plan above, what was captured below"
    )
    scale = Scale(LABEL, WIDTH - LABEL - RIGHT, max(last - first, 1e-9))
    c.text(LABEL, 14, f"{first:g} s", "note")
    c.text(WIDTH - RIGHT, 14, f"{last:g} s", "note", anchor="end")
    if first < 0:
        zero = scale.x(-first)
        c.line((zero, HEAD - 6), (zero, height - 4), css="ink", stroke_dasharray="2 3")
        c.text(zero + 3, 14, "first step", "note")
    for n, plan in enumerate(shown):
        top = HEAD + n * LINE
        c.text(0, top + 14, f"{plan.line} {plan.name}"[:22], "note")
        got = Trace(plan.line, plan.name, seen[plan.line].points, plan.off)
        _strip(c, scale, first, last, plan, top, "does on")
        _strip(c, scale, first, last, got, top + STRIP + 4, "filled")
        for x, places in _marks(scale, first, plan.line, differences).items():
            c.text(x, top + 2 * STRIP + 15, ",".join(map(str, places)), "alarm")
    return c.svg()


def _strip(
    c: Canvas, scale: Scale, first: float, last: float, trace: Trace, top: float, css: str
) -> None:
    base = top + STRIP
    c.line((LABEL, base), (LABEL + scale.wide, base), css="ink", stroke_dasharray="1 4")
    for begin, end in trace.stretches(last):
        left, right = scale.x(begin - first), scale.x(end - first)
        if right > LABEL:
            left = max(left, LABEL)
            c.add(
                "rect",
                css,
                x=number(left),
                y=number(top + 3),
                width=number(max(right - left, 1.0)),
                height=number(STRIP - 3),
            )


def _marks(
    scale: Scale, first: float, line: str, differences: Sequence[Difference]
) -> dict[int, list[int]]:
    """Numbers of the differences of a line by where they stand, those in one place together."""
    found: dict[int, list[int]] = {}
    for place, difference in enumerate(differences, 1):
        if difference.line == line:
            x = round(scale.x(difference.t - first))
            near = next((at for at in found if abs(at - x) < NEAR), x)
            found.setdefault(near, []).append(place)
    return found
