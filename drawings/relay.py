"""
Relay drawings: the schematic with coil and contact, and the picture of the contact in every state.
"""

from __future__ import annotations

from drawings import symbols
from drawings.pieces import (
    begin,
    beside,
    ground,
    hold_at,
    named,
    pin_and_series,
    pulled_down,
    rail_line,
)
from drawings.plans import clamp_at, load_at, transistor_at
from drawings.svg import Canvas
from latchcore.design.report import StageResult, State
from latchcore.document.models import Channel
from latchcore.figures.quantity import show


def contact(
    c: Canvas, x: float, y: float, closed: bool, changeover: bool = True, no_label: str = "NO"
) -> None:
    """
    A changeover contact: common at the left, NC above, NO below at the right; the arm lies where it
    lies.
    """
    c.add("circle", "joint", cx=x - 26, cy=y, r=3)
    c.add("circle", "body", cx=x + 22, cy=y + 12, r=3)
    c.text(x + 22, y + 28, no_label, "note", "middle")
    if changeover:
        c.add("circle", "body", cx=x + 22, cy=y - 12, r=3)
        c.text(x + 22, y - 19, "NC", "note", "middle")
    c.line((x - 26, y), (x + 20, y + 10 if closed else y - 10), css="ink heavy")


def coil_side(
    c: Canvas,
    result: StageResult,
    channel: Channel,
    frame: float = 220,
    label: tuple[float, float] = (404, 84),
) -> None:
    """
    Pin, transistor and coil at the left, the barrier beside the coil, the relay's frame so wide.
    """
    k1, q1, r2, r6 = (named(result, channel, ref) for ref in ("K1", "Q1", "R2", "R6"))
    coil, switch = k1.terminals["1"], k1.terminals["2"]
    control = q1.terminals.get("B") or q1.terminals["G"]
    feed = f"{c.rails.get(result.coil.rail, '')}   coil {result.live['coil']}"
    if r6 is None:
        rail_line(c, coil, feed, 24, 214, 38, fused=False)
    else:
        rail_line(c, r6.terminals["1"], "", 24, 32, 38, fused=False)
        c.text(96, 28, feed, "strong", data_node=r6.terminals["1"])
        hold_at(c, result, channel, 60, 38)
        c.wire(coil, (88, 38), (214, 38))
    series = named(result, channel, "R1") or named(result, channel, "W1")
    pin_and_series(c, result, channel, 66, 220, 130)
    if series.kind == "wire":
        begin(c, series)
        c.line((130, 220), (140, 220))
        c.close()
    c.wire(control, (140, 220), (156, 220))
    if r2 is not None:
        on_base = r2.terminals["1"] == control
        pulled_down(c, r2, 148 if on_base else 75, 220, right=False)
    transistor_at(c, result, channel, "Q1", 186, 220, live=False, title=False)
    c.wire("0V", (200, 254), (200, 290))
    symbols.ground(c, 200, 290)
    c.wire(q1.terminals.get("C") or q1.terminals["D"], (200, 186), (200, 142))
    begin(c, k1)
    symbols.load(c, 200, 108, "coil")
    c.add("rect", "frame", x=176, y=74, width=frame, height=68)
    c.line((244, 74), (244, 142), css="gap")
    c.line((252, 74), (252, 142), css="gap")
    beside(c, *label, "K1", k1.short, 16)
    c.close()
    c.wire(coil, (200, 38), (200, 74))
    c.dot(coil, 200, 38)
    clamp_at(
        c,
        result,
        channel,
        74 if r6 is None else 108,
        (coil, 38),
        (switch, 168),
        200,
        notes=r6 is None,
    )


def relay_plan(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """
    A coil on its transistor at the left, the contact in the load's circuit at the right, the
    barrier between.
    """
    coil_side(c, result, channel)
    contact_side(
        c,
        result,
        channel,
        symbol,
        rail_text,
        316,
        108,
        "changeover" in named(result, channel, "K1").value,
    )


def contact_side(
    c: Canvas,
    result: StageResult,
    channel: Channel,
    symbol: str,
    rail_text: str,
    x: float,
    y: float,
    changeover: bool,
) -> None:
    """
    The load's circuit at the right: the contact at (x, y) in the feed, in the return, or in both.
    """
    k1, load = named(result, channel, "K1"), named(result, channel, "LOAD")
    closed = "NC" in k1.terminals
    com, far, back = (
        k1.terminals["COM"],
        k1.terminals["NC" if closed else "NO"],
        load.terminals["-"],
    )
    plus, breaks = load.terminals["+"], result.contact.breaks
    feed = plus if breaks in ("neutral", "earth") else com
    rail_line(
        c, feed, "from the switch in series" if feed.endswith(".SW") else rail_text, 280, 506, 38
    )
    if breaks in ("neutral", "earth"):
        c.wire(feed, (396, 38), (396, 170))
        c.dot(feed, 396, 38)
        low, near = (186, 290) if breaks == "earth" else (262, 318)
        c.line((260, y + 34), (260, low), (near, low), css="absent")
    else:
        begin(c, k1)
        contact(c, x, y, closed=False, changeover=changeover or closed)
        c.close()
        c.wire(feed, (x - 26, y), (x - 46, y), (x - 46, 54), (x, 54), (x, 38))
        c.dot(feed, x, 38)
        c.wire(
            far,
            (x + 25, y - 12 if closed else y + 12),
            (396, y - 12 if closed else y + 12),
            (396, 170),
        )
    load_at(c, result, channel, symbol, 396, 204, below=54 if breaks in ("live", "earth") else 0)
    if breaks in ("live", "earth"):
        c.wire(back, (396, 238), (396, 300))
        ground(c, back, 396, 300)
        if breaks == "earth":
            begin(c, k1)
            contact(c, 316, 186, closed=False, changeover=False)
            c.text(316, 164, "in the earth", "note", "middle")
            c.close()
    else:
        begin(c, k1)
        contact(c, 336, 276, closed=False, changeover=False)
        c.text(336, 258, "same relay" if breaks == "both" else "K1", "note", "middle")
        c.close()
        low = k1.terminals["COM2"] if breaks == "both" else com
        c.wire(back, (396, 238), (396, 288), (361, 288))
        c.wire(low, (310, 276), (284, 276), (284, 300))
        ground(c, low, 284, 300)
    _load_clamp(c, result, channel, plus, back)


def _load_clamp(c: Canvas, result: StageResult, channel: Channel, fed: str, back: str) -> None:
    part = next(
        (p for ref in ("D3", "Z1", "Z2") if (p := named(result, channel, ref)) is not None), None
    )
    if part is None:
        return
    c.wire(fed, (396, 160), (450, 160), (450, 176))
    begin(c, part)
    label = part.ref.split(".")[-1]
    if part.kind == "diode":
        symbols.diode(c, 450, 204)
        words = "band up"
    elif part.kind == "snubber":
        symbols.snubber(c, 450, 204)
        snubber = result.across.snubber
        words = f"{snubber.resistance:g} Ω"
        c.text(466, 232, show(snubber.capacitance, "F"), "note")
    else:
        symbols.varistor(c, 450, 204)
        words = f"{result.across.varistor:g} V" if result.across.varistor else ""
    c.text(466, 204, label, "mono")
    c.text(466, 218, words, "note")
    c.close()
    c.wire(back, (450, 232), (450, 246), (396, 246))
    c.dot(back, 396, 246)
    c.dot(fed, 396, 160)


def state_picture(state: State, result: StageResult) -> str:
    """Where the contact lies in one state, and what the load does in it."""
    energised = state.load == "on"
    inverted = result.contact.inverts
    on = result.load_in(state) == "on"
    words = (
        f"{state.title}: coil {'energised' if energised else 'at rest'}, load"
        f" {'on' if on else 'off'}"
    )
    if state.load == "undecided":
        words = f"{state.title}: nothing decides the coil"
    c = Canvas(150, 92, words, css="drawing relay-state")
    c.add("rect", "body" if not energised else "filled", x=10, y=30, width=26, height=34)
    c.line((10, 56), (36, 38), css="ink" if not energised else "cut")
    c.line((40, 47), (58, 47), css="absent" if state.load == "undecided" else "gap")
    relay = result.contact.relay
    contact(c, 92, 47, closed=energised, changeover=relay is None or relay.form == "C" or inverted)
    use = 35 if inverted else 59
    c.line((117, use), (140, use))
    c.add("circle", "filled" if on else "body", cx=140, cy=use, r=6)
    return c.svg()
