"""A state of several lines as a small picture: what is closed, what flows, what must never be."""

from __future__ import annotations

from drawings.svg import Canvas
from latchcore.sums.motion.power import Power
from latchcore.sums.motion.told import Told

WIDTH, HEIGHT = 92, 74
#: Where both ends of a motor are, and the rails above and below.
SIDES, UPPER, LOWER, MIDDLE = {"a": 20, "b": 72}, 8, 66, 37


def state_picture(power: Power, state: Told) -> str:
    """
    Draw a state.

    Parameters
    ----------
    power : Power
        Of the stage
    state : Told
        One row of its table

    Returns
    -------
    str
        One SVG element: heavy where current flows, with an arrow at the motor; a frame round what
        must never be, and round what a print does not name
    """
    closed = sorted({name.rpartition(".U1")[2] for name in state.row.on})
    c = Canvas(WIDTH, HEIGHT, f"State: {state.words}", ", ".join(closed) or "all open")
    if power.kind == "line":
        _line(c, state)
    elif len(power.windings) == 1:
        _bridge(c, power, state)
    else:
        _windings(c, power, state)
    if not state.row.printed or "forbidden" in state.can_be:
        c.add("rect", "alarm-box", x=2, y=1, width=WIDTH - 4, height=HEIGHT - 2)
    return c.svg()


def _ends(power: Power, state: Told) -> dict[tuple[str, str], bool]:
    """Which end of the motor is joined to the rail above, and which to the one below."""
    found = {(side, level): False for side in SIDES for level in ("high", "low")}
    chip = {"OUT1": "a", "OUT2": "b"}
    contact = {"k1": "a", "k2": "b", "d1": "a", "d2": "b"}
    up = {"k1": "no", "k2": "no", "d1": "no", "d2": "nc"}
    for name in state.row.on:
        parts = name.split(".")
        if len(parts) == 3 and parts[1] in chip and parts[2] in ("high", "low"):
            found[chip[parts[1]], parts[2]] = True
        elif len(parts) == 2 and parts[0] in contact:
            high = parts[1] == up[parts[0]]
            found[contact[parts[0]], "high" if high else "low"] = True
        elif name[:2] in ("a_", "b_"):
            found[name[0], name[2:]] = True
    return found


def _bridge(c: Canvas, power: Power, state: Told) -> None:
    ends = _ends(power, state)
    turns = state.result in ("forward", "reverse", "on", "off")
    run = next((s.name for s in power.switches if s.name == "run"), None)
    cut = run is not None and run not in state.row.on
    joined = state.result == "brake" or (state.result == "hold" and _joined(ends))
    flows = turns or joined
    # Braked, it runs round through the rail both ends are on; shorted, straight through a side.
    for level, y in (("high", UPPER), ("low", LOWER)):
        heavy = turns or (joined and ends["a", level] and ends["b", level])
        dotted = {"stroke_dasharray": "3 4"} if level == "low" and cut else {}
        c.line((SIDES["a"], y), (SIDES["b"], y), css="ink heavy" if heavy else "ink", **dotted)
    for side, x in SIDES.items():
        both = ends[side, "high"] and ends[side, "low"]
        _switch(c, x, UPPER, MIDDLE, ends[side, "high"], flows or both)
        _switch(c, x, MIDDLE, LOWER, ends[side, "low"], flows or both)
    flow = "ink heavy" if flows else "ink"
    c.line((SIDES["a"], MIDDLE), (36, MIDDLE), css=flow)
    c.line((56, MIDDLE), (SIDES["b"], MIDDLE), css=flow)
    c.add("circle", "body", cx=46, cy=MIDDLE, r=10)
    if turns:
        way = 1 if state.result in ("forward", "on") else -1
        tip = 46 + 7 * way
        c.line((46 - 7 * way, MIDDLE), (tip, MIDDLE), css="ink heavy")
        c.line((tip - 4 * way, MIDDLE - 4), (tip, MIDDLE), (tip - 4 * way, MIDDLE + 4))


def _joined(ends: dict[tuple[str, str], bool]) -> bool:
    return any(ends["a", level] and ends["b", level] for level in ("high", "low"))


def _switch(c: Canvas, x: float, top: float, bottom: float, closed: bool, flows: bool) -> None:
    """One switch between two heights: a straight line closed, a tilted one open."""
    css = "ink heavy" if closed and flows else "ink"
    c.line((x, top), (x, top + 7), css=css)
    c.line((x, bottom), (x, bottom - 7), css=css)
    c.line((x, bottom - 7), (x if closed else x - 9, top + 8), css=css)


def _line(c: Canvas, state: Told) -> None:
    """One half-bridge of a row or column, and its wire."""
    high, low = (any(name.endswith(f".{end}") for name in state.row.on) for end in ("high", "low"))
    x = 34
    c.line((12, UPPER), (56, UPPER), css="ink heavy" if high else "ink")
    c.line((12, LOWER), (56, LOWER), css="ink heavy" if low else "ink")
    _switch(c, x, UPPER, MIDDLE, high, high)
    _switch(c, x, MIDDLE, LOWER, low, low)
    c.line((x, MIDDLE), (80, MIDDLE), css="ink heavy" if high or low else "ink")


def _windings(c: Canvas, power: Power, state: Told) -> None:
    """Each coil or winding between the rails, heavy where it pulls; which way a whole one does."""
    flows = dict(state.row.flows or ())
    step = WIDTH / len(power.windings)
    c.line((8, UPPER), (WIDTH - 8, UPPER))
    c.line((8, LOWER), (WIDTH - 8, LOWER))
    for n, winding in enumerate(power.windings):
        x = step * (n + 0.5)
        amperes = flows.get(winding.name, 0.0)
        pulls = abs(amperes) > 1e-6
        css = "ink heavy" if pulls else "ink"
        c.line((x, UPPER), (x, 18), css=css)
        c.add("rect", "body", x=x - 6, y=18, width=12, height=18)
        c.text(x, 31, winding.name[:2], "note", "middle")
        if winding.role in ("A", "B") and pulls:
            tip = 20 if amperes > 0 else 34
            c.line((x + 10, 20), (x + 10, 34))
            c.line((x + 7, tip + (4 if tip < 30 else -4)), (x + 10, tip))
        c.line((x, 36), (x, 44), css=css)
        c.line((x, 58), (x if pulls else x - 8, 45), css=css)
        c.line((x, 58), (x, LOWER), css=css)
