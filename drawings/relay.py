"""Relay drawings: the schematic with coil and contact, and the picture of the contact in every state."""

from __future__ import annotations

from drawings import symbols
from drawings.pieces import begin, ground, named, pin_and_series, pulled_down, rail_line
from drawings.plans import clamp_at, load_at, transistor_at
from drawings.svg import Canvas
from latchcore.document.models import Channel
from latchcore.report import StageResult, State


def contact(c: Canvas, x: float, y: float, closed: bool, changeover: bool = True, no_label: str = "NO") -> None:
    """A changeover contact: common at the left, NC above, NO below at the right; the arm lies where it lies."""
    c.add("circle", "joint", cx=x - 26, cy=y, r=3)
    c.add("circle", "body", cx=x + 22, cy=y + 12, r=3)
    c.text(x + 22, y + 28, no_label, "note", "middle")
    if changeover:
        c.add("circle", "body", cx=x + 22, cy=y - 12, r=3)
        c.text(x + 22, y - 19, "NC", "note", "middle")
    c.line((x - 26, y), (x + 20, y + 10 if closed else y - 10), css="ink heavy")


def relay_plan(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """A coil on its transistor at the left, the contact in the load's circuit at the right, the barrier between."""
    k1, q1, load = named(result, channel, "K1"), named(result, channel, "Q1"), named(result, channel, "LOAD")
    coil_rail, switch, rail, back = k1.terminals["1"], k1.terminals["2"], k1.terminals["COM"], load.terminals["-"]
    closed = "NC" in k1.terminals
    fed = k1.terminals["NC" if closed else "NO"]
    rail_line(c, coil_rail, f"coil rail   coil {result.live['coil']}", 24, 214, 38)
    rail_line(c, rail, rail_text, 290, 506, 38)
    pin_and_series(c, result, channel, 78, 220, 156)
    pulled_down(c, named(result, channel, "R2"), 92, 220)
    transistor_at(c, result, channel, "Q1", 186, 220, live=False, title=False)
    c.wire("0V", (200, 254), (200, 290))
    symbols.ground(c, 200, 290)
    c.wire(q1.terminals["C"], (200, 186), (200, 142))
    begin(c, k1)
    symbols.load(c, 200, 108, "coil")
    c.add("rect", "frame", x=176, y=74, width=220, height=68)
    c.line((244, 74), (244, 142), css="gap")
    c.line((252, 74), (252, 142), css="gap")
    contact(c, 316, 108, closed=False, changeover="NC" in k1.terminals or "changeover" in k1.value)
    c.text(258, 90, "K1", "mono")
    c.text(404, 90, k1.value.split(",")[0][:18], "note")
    c.close()
    c.wire(coil_rail, (200, 38), (200, 74))
    c.dot(coil_rail, 200, 38)
    c.wire(rail, (290, 108), (270, 108), (270, 56), (300, 56), (300, 38))
    c.dot(rail, 300, 38)
    at = 96 if closed else 120
    c.wire(fed, (341, at), (396, at), (396, 170))
    load_at(c, result, channel, symbol, 396, 204)
    c.wire(back, (396, 238), (396, 290))
    ground(c, back, 396, 290)
    clamp_at(c, result, channel, 74, (coil_rail, 38), (switch, 168), 200)
    _load_clamp(c, result, channel, fed, back)


def _load_clamp(c: Canvas, result: StageResult, channel: Channel, fed: str, back: str) -> None:
    diode = named(result, channel, "D3")
    if diode is None:
        return
    c.wire(fed, (396, 160), (450, 160), (450, 176))
    begin(c, diode)
    symbols.diode(c, 450, 204)
    c.text(464, 204, "D3", "mono")
    c.text(464, 218, "band up", "note")
    c.close()
    c.wire(back, (450, 232), (450, 262), (396, 262))
    c.dot(back, 396, 262)


def state_picture(state: State, result: StageResult) -> str:
    """Where the contact lies in one state, and what the load does in it."""
    energised = state.load == "on"
    inverted = bool(result.facts.get("inverts"))
    on = energised != inverted
    words = f"{state.title}: coil {'energised' if energised else 'at rest'}, load {'on' if on else 'off'}"
    if state.load == "undecided":
        words = f"{state.title}: nothing decides the coil"
    c = Canvas(150, 92, words, css="drawing relay-state")
    c.add("rect", "body" if not energised else "filled", x=10, y=30, width=26, height=34)
    c.line((10, 56), (36, 38), css="ink" if not energised else "cut")
    c.line((40, 47), (58, 47), css="absent" if state.load == "undecided" else "gap")
    contact(c, 92, 47, closed=energised, changeover=True)
    use = 35 if inverted else 59
    c.line((117, use), (140, use))
    c.add("circle", "filled" if on and state.load != "undecided" else "body", cx=140, cy=use, r=6)
    return c.svg()
