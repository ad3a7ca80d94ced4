"""A state of a bridge as a small picture: which of its four switches are closed, what flows."""

from __future__ import annotations

from drawings.svg import Canvas
from latchcore.sums.motion.told import Told

WIDTH, HEIGHT = 92, 74
#: Where both ends of the motor are, and the rails above and below.
SIDES, UPPER, LOWER, MIDDLE = {"OUT1": 20, "OUT2": 72}, 8, 66, 37


def bridge_picture(state: Told) -> str:
    """
    Draw a state.

    Parameters
    ----------
    state : Told
        One row of the table of a bridge chip

    Returns
    -------
    str
        One SVG element: heavy where current flows, with an arrow at the motor; a frame round what
        its print does not name
    """
    closed = {name.partition(".")[2] for name in state.row.on}
    c = Canvas(WIDTH, HEIGHT, f"Bridge: {state.words}", ", ".join(sorted(closed)) or "all open")
    turns = state.result in ("forward", "reverse")
    flows = turns or state.result == "brake"
    flow = "ink heavy" if flows else "ink"
    # Braked, it runs round through the rail both ends are on.
    for name, y in (("high", UPPER), ("low", LOWER)):
        on = turns or (flows and f"OUT1.{name}" in closed)
        c.line((SIDES["OUT1"], y), (SIDES["OUT2"], y), css="ink heavy" if on else "ink")
    for end, x in SIDES.items():
        _switch(c, x, UPPER, MIDDLE, f"{end}.high" in closed, flows)
        _switch(c, x, MIDDLE, LOWER, f"{end}.low" in closed, flows)
    c.line((SIDES["OUT1"], MIDDLE), (36, MIDDLE), css=flow)
    c.line((56, MIDDLE), (SIDES["OUT2"], MIDDLE), css=flow)
    c.add("circle", "body", cx=46, cy=MIDDLE, r=10)
    if turns:
        way = 1 if state.result == "forward" else -1
        tip = 46 + 7 * way
        c.line((46 - 7 * way, MIDDLE), (tip, MIDDLE), css="ink heavy")
        c.line((tip - 4 * way, MIDDLE - 4), (tip, MIDDLE), (tip - 4 * way, MIDDLE + 4))
    if not state.row.printed:
        c.add("rect", "alarm-box", x=2, y=1, width=WIDTH - 4, height=HEIGHT - 2)
    return c.svg()


def _switch(c: Canvas, x: float, top: float, bottom: float, closed: bool, flows: bool) -> None:
    """One switch between two heights: a straight line closed, a tilted one open."""
    css = "ink heavy" if closed and flows else "ink"
    c.line((x, top), (x, top + 7), css=css)
    c.line((x, bottom), (x, bottom - 7), css=css)
    c.line((x, bottom - 7), (x if closed else x - 9, top + 8), css=css)
