"""Plans of the schematics beyond the plain low side: what stands where for each kind of stage."""

from __future__ import annotations

from drawings import symbols
from drawings.pieces import begin, ground, named, pin_and_series, pulled_down, rail_line, resistor
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel


def load_at(
    c: Canvas,
    result: StageResult,
    channel: Channel,
    symbol: str,
    x: float,
    y: float,
    right: bool = False,
    below: float = 0.0,
) -> None:
    """
    The load, upright at a place, with its name and live values beside it, or so far below its
    middle.
    """
    part = named(result, channel, "LOAD")
    begin(c, part)
    symbols.load(c, x, y, symbol)
    side, anchor = (x + 34, "start") if right else (x - (16 if below else 34), "end")
    y += below
    c.text(
        side,
        y - 8,
        channel.name if len(channel.name) < 22 else channel.name[:21] + "…",
        "strong",
        anchor,
    )
    c.text(side, y + 10, result.live["load"], "live", anchor)
    if result.live["volts"] != result.live["load"]:
        c.text(side, y + 26, result.live["volts"], "live", anchor)
    c.close()


def transistor_at(
    c: Canvas,
    result: StageResult,
    channel: Channel,
    ref: str,
    x: float,
    y: float,
    live: bool = True,
    title: bool = True,
) -> None:
    """A transistor with its reference and class."""
    part = named(result, channel, ref)
    begin(c, part)
    symbols.TRANSISTORS[part.kind](c, x, y)
    c.text(x + 24, y + 4, ref, "mono")
    if title:
        c.text(x + 24, y + 20, part.short, "note")
    c.close()
    if live:
        c.text(x + 24, y - 12, result.live["switch"], "live")


def clamp_at(
    c: Canvas,
    result: StageResult,
    channel: Channel,
    x: float,
    top: tuple[str, float],
    bottom: tuple[str, float],
    x_from: float,
    notes: bool = True,
) -> None:
    """The clamp beside the load, between two nodes at their heights."""
    diode, zener = named(result, channel, "D1"), named(result, channel, "D2")
    parts = [p for p in (zener, diode) if p is not None]
    if not parts or (zener is not None and diode is None):
        _zener_alone(c, zener, x, top, bottom, x_from)
        return
    place = (top[1] + bottom[1]) / 2 if len(parts) == 1 else top[1] + 30
    c.wire(top[0], (x_from, top[1]), (x, top[1]), (x, place - 28))
    for part in parts:
        begin(c, part)
        if part.kind == "zener":
            symbols.diode(c, x, place, band_up=False, zener=True)
        else:
            symbols.diode(
                c,
                x,
                place,
                band_up=diode.terminals["K"] == top[0]
                or zener is not None
                and diode.terminals["K"] == top[0],
            )
        c.text(x + 15, place, part.ref.split(".")[-1], "mono")
        if notes:
            c.text(x + 15, place + 15, part.note or part.value, "note")
        c.close()
        place += 56
    c.wire(bottom[0], (x, place - 28), (x, bottom[1]), (x_from, bottom[1]))
    if zener is not None:
        c.wire(zener.terminals["A"], (x, place - 85), (x, place - 83))


def _zener_alone(c: Canvas, zener, x: float, top, bottom, x_from: float) -> None:
    if zener is None:
        return
    begin(c, zener)
    c.text(x_from + 26, (top[1] + bottom[1]) / 2 + 34, f"D2 {zener.value}", "mono")
    c.text(x_from + 26, (top[1] + bottom[1]) / 2 + 48, "across the switch", "note")
    c.close()


def high_side(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """
    A switch above its load, its control electrode hung on the rail and pulled by a shifter, a
    coupler or the pin.
    """
    load, q1, r3, r4 = (named(result, channel, ref) for ref in ("LOAD", "Q1", "R3", "R4"))
    rail = q1.terminals.get("S") or q1.terminals["E"]
    switch, back, gate, drive = (
        load.terminals["+"],
        load.terminals["-"],
        r3.terminals["2"],
        r3.terminals["1"],
    )
    y, x_q, x_s = 112, 344, 358
    rail_line(c, rail, rail_text, 24, 500, 38)
    c.wire(rail, (x_s, 38), (x_s, y - 34))
    c.dot(rail, x_s, 38)
    transistor_at(c, result, channel, "Q1", x_q, y)
    c.wire(gate, (272, y), (x_q - 30, y))
    c.wire(rail, (290, 38), (290, 48))
    c.dot(rail, 290, 38)
    resistor(c, r4, 290, 76, upright=True, right=False)
    d8 = named(result, channel, "D8")
    if d8 is not None:
        c.wire(rail, (318, 38), (318, 48))
        c.dot(rail, 318, 38)
        begin(c, d8)
        symbols.diode(c, 318, 76, band_up=True, zener=True)
        c.text(330, 66, "D8", "mono")
        c.close()
        c.wire(gate, (318, 104), (318, y))
        c.dot(gate, 318, y)
    c.wire(gate, (290, 104), (290, y))
    c.dot(gate, 290, y)
    resistor(c, r3, 244, y)
    c.text(282, y + 22, result.live["base"], "live", "end", data_node=gate)
    c.wire(drive, (216, y), (206, y), (206, 162))
    _driver(c, result, channel, drive, 206, 176)
    c.wire(switch, (x_s, y + 34), (x_s, 180))
    load_at(c, result, channel, symbol, x_s, 214, below=76)
    c.wire(back, (x_s, 248), (x_s, 306))
    ground(c, back, x_s, 306)
    clamp_at(c, result, channel, 408, (switch, 160), (back, 290), x_s)


def _driver(
    c: Canvas, result: StageResult, channel: Channel, node: str, x: float, y: float
) -> None:
    """What pulls a rail-hung electrode at (x, y): an NPN, a coupler, or the pin itself."""
    q2, ok1, wire, r2 = (named(result, channel, ref) for ref in ("Q2", "OK1", "W1", "R2"))
    if q2 is not None:
        c.wire(node, (x, y - 14), (x, y))
        transistor_at(c, result, channel, "Q2", x - 14, y + 34, live=False, title=False)
        pin_and_series(c, result, channel, 78, y + 34, x - 44)
        c.wire("0V", (x, y + 68), (x, y + 84))
        symbols.ground(c, x, y + 84)
        pulled_down(c, r2, 164, y + 34, right=False)
    elif ok1 is not None:
        coupler_at(c, result, channel, x, y + 40)
        c.wire(node, (x, y - 14), (x + 30, y - 14), (x + 30, y + 10))
        back = ok1.terminals["E"]
        c.wire(back, (x + 30, y + 70), (x + 30, y + 80))
        ground(c, back, x + 30, y + 80)
    elif wire is not None:
        begin(c, wire)
        c.line((x, y - 14), (x, y + 34), (88, y + 34))
        c.close()
        symbols.pin(c, 88, y + 34, channel.pin or "pin ?")
        c.text(24, y + 66, f"≤ {result.live['pin']}", "live", data_node=f"{channel.id}.PIN")


def coupler_at(c: Canvas, result: StageResult, channel: Channel, x: float, y: float) -> None:
    """Pin, LED resistor, pull-down and coupler; the LED's cathode on the board's 0 V."""
    part, r2 = named(result, channel, "OK1"), named(result, channel, "R2")
    left = x - 30
    pin_and_series(c, result, channel, 74, y - 30, left)
    begin(c, part)
    (symbols.pv_coupler if part.kind == "pv_coupler" else symbols.coupler)(c, x, y)
    c.text(x - 46, y + 42, "OK1", "mono")
    c.close()
    c.wire("0V", (left, y + 30), (left, y + 56))
    symbols.ground(c, left, y + 56)
    if r2 is not None:
        c.wire(r2.terminals["1"], (82, y - 30), (82, y - 22))
        c.dot(r2.terminals["1"], 82, y - 30)
        resistor(c, r2, 82, y + 6, upright=True)
        c.wire("0V", (82, y + 34), (82, y + 56))
        symbols.ground(c, 82, y + 56)


def coupled_low(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """A coupler or photovoltaic coupler that lifts a gate or base of a switch below its load."""
    load, q1, ok1, r3, r4 = (
        named(result, channel, ref) for ref in ("LOAD", "Q1", "OK1", "R3", "R4")
    )
    rail, switch = load.terminals["+"], load.terminals["-"]
    gate = q1.terminals.get("G") or q1.terminals["B"]
    back = q1.terminals.get("S") or q1.terminals.get("E")
    y, x_q, x_s = 236, 354, 368
    rail_line(c, rail, rail_text, 24, 500, 38)
    c.wire(rail, (x_s, 38), (x_s, 62))
    c.dot(rail, x_s, 38)
    load_at(c, result, channel, symbol, x_s, 96)
    c.wire(switch, (x_s, 130), (x_s, y - 34))
    transistor_at(c, result, channel, "Q1", x_q, y)
    c.wire(back, (x_s, y + 34), (x_s, 300))
    ground(c, back, x_s, 300)
    coupler_at(c, result, channel, 196, 196)
    x_out = 226
    if r3 is not None:
        c.wire(rail, (x_out, 38), (x_out, 62))
        c.dot(rail, x_out, 38)
        resistor(c, r3, x_out, 90, upright=True, right=False)
        c.wire(ok1.terminals["C"], (x_out, 118), (x_out, 166))
        c.wire(gate, (x_out, 226), (x_out, y), (x_q - 30, y))
    else:
        c.wire(gate, (x_out, 166), (278, 166), (278, y), (x_q - 30, y))
        c.wire(ok1.terminals["-"], (x_out, 226), (x_out, 286), (x_s, 286))
        c.dot(back, x_s, 286)
    if r4 is not None:
        c.wire(gate, (284, y), (284, y + 2))
        c.dot(gate, 284, y)
        resistor(c, r4, 284, y + 30, upright=True, right=False)
        c.wire(back, (284, y + 58), (284, 300))
        ground(c, back, 284, 300)
    c.text(
        x_q - 36,
        y - 10 if r4 is not None else y + 20,
        result.live["base"],
        "live",
        "end",
        data_node=gate,
    )
    clamp_at(c, result, channel, 420, (rail, 38), (switch, 158), x_s)


def coupled_darlington(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """A coupler into a Darlington, below the load or above it."""
    q1 = named(result, channel, "Q1")
    if q1.terminals["E"] == named(result, channel, "LOAD").terminals["+"]:
        _above(c, result, channel, symbol, rail_text)
    else:
        coupled_low(c, result, channel, symbol, rail_text)


def _above(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    load, q1, ok1, r3, r4 = (
        named(result, channel, ref) for ref in ("LOAD", "Q1", "OK1", "R3", "R4")
    )
    rail, switch, back, base = (
        q1.terminals["C"],
        load.terminals["+"],
        load.terminals["-"],
        q1.terminals["B"],
    )
    y, x_q, x_s = 176, 344, 358
    rail_line(c, rail, rail_text, 24, 500, 38)
    c.wire(rail, (x_s, 38), (x_s, y - 34))
    c.dot(rail, x_s, 38)
    transistor_at(c, result, channel, "Q1", x_q, y)
    coupler_at(c, result, channel, 196, 196)
    c.wire(rail, (226, 38), (226, 62))
    c.dot(rail, 226, 38)
    resistor(c, r3, 226, 90, upright=True, right=False)
    c.wire(ok1.terminals["C"], (226, 118), (226, 166))
    c.wire(base, (226, 226), (226, 240), (284, 240), (284, y), (x_q - 30, y))
    resistor(c, r4, 312, 222, upright=False)
    c.wire(base, (284, 222), (284, 222))
    c.wire(switch, (340, 222), (x_s, 222))
    c.dot(switch, x_s, 222)
    c.wire(switch, (x_s, y + 34), (x_s, 228))
    load_at(c, result, channel, symbol, x_s, 262)
    c.wire(back, (x_s, 296), (x_s, 306))
    ground(c, back, x_s, 306)
    clamp_at(c, result, channel, 408, (switch, 226), (back, 300), x_s)


def array(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """One channel of an array: a block with its input, output, common pin and ground."""
    load = named(result, channel, "LOAD")
    part = next(p for p in result.netlist.parts if p.kind == "array")
    rail, switch = load.terminals["+"], load.terminals["-"]
    rail_line(c, rail, rail_text, 24, 500, 38)
    pin_and_series(c, result, channel, 78, 220, 196)
    c.text(136, 206, result.live["base"], "live", "middle")
    begin(c, part)
    symbols.box(c, 262, 220, 132, 76, "")
    c.text(262, 214, part.ref.split(".")[-1], "mono", "middle")
    c.text(262, 232, part.short, "note", "middle")
    c.text(262, 248, "one of eight channels", "note", "middle")
    c.close()
    c.wire(switch, (328, 220), (410, 220), (410, 146))
    c.text(334, 240, result.live["switch"], "live")
    load_at(c, result, channel, symbol, 410, 112)
    c.wire(rail, (410, 38), (410, 78))
    c.dot(rail, 410, 38)
    if "COM" in part.terminals:
        c.wire(rail, (262, 182), (262, 38))
        c.dot(rail, 262, 38)
        c.text(254, 170, "common diode pin", "note", "end")
    else:
        c.text(262, 172, "common diode pin open", "alarm", "middle")
    c.wire("0V", (262, 258), (262, 290))
    symbols.ground(c, 262, 290)


def above(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """An N-channel above its load, as people try it."""
    load, q1 = named(result, channel, "LOAD"), named(result, channel, "Q1")
    rail, switch, back = q1.terminals["D"], load.terminals["+"], load.terminals["-"]
    rail_line(c, rail, rail_text, 24, 500, 38)
    c.wire(rail, (310, 38), (310, 86))
    c.dot(rail, 310, 38)
    transistor_at(c, result, channel, "Q1", 296, 120)
    pin_and_series(c, result, channel, 78, 120, 266)
    pulled_down(c, named(result, channel, "R2"), 92, 120)
    c.text(240, 150, result.live["base"], "live", "middle")
    c.wire(switch, (310, 154), (310, 188))
    load_at(c, result, channel, symbol, 310, 222)
    c.wire(back, (310, 256), (310, 290))
    ground(c, back, 310, 290)
    clamp_at(c, result, channel, 390, (switch, 172), (back, 276), 310)


PLANS = {
    "pmos_high_side": high_side,
    "pnp_high_side": high_side,
    "pnp_darlington_high_side": high_side,
    "coupler_pmos": high_side,
    "coupler_pnp": high_side,
    "coupler_nmos": coupled_low,
    "coupler_darlington": coupled_darlington,
    "pv_mosfet": coupled_low,
    "pv_igbt": coupled_low,
    "array_low_side": array,
    "nmos_above": above,
}
