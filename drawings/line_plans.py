"""Plans of the schematics of stages that bridge, pull, set or sense somebody else's line."""

from __future__ import annotations

from drawings import symbols
from drawings.pieces import begin, ground, named, pin_and_series, pulled_down, rail_line, resistor
from drawings.plans import clamp_at, coupler_at, transistor_at
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel


def _line(
    c: Canvas,
    result: StageResult,
    channel: Channel,
    symbol: str,
    plus: float,
    minus: float,
    x: float = 430,
) -> tuple[str, str]:
    """Somebody else's line at the right with its name on top; returns its nodes."""
    load = named(result, channel, "LOAD")
    middle = (plus + minus) / 2
    begin(c, load)
    symbols.load(c, x, middle, symbol)
    c.text(
        x + 22,
        plus - 30,
        channel.name if len(channel.name) < 34 else channel.name[:33] + "…",
        "strong",
        "end",
    )
    values = " ".join(dict.fromkeys((result.live["load"], result.live["volts"])))
    c.text(x + 22, plus - 14, values, "live", "end")
    c.close()
    top, bottom = load.terminals["+"], load.terminals["-"]
    c.wire(top, (x, plus), (x, middle - 34))
    c.wire(bottom, (x, middle + 34), (x, minus))
    return top, bottom


def coupler_line(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """A coupler across the line."""
    coupler_at(c, result, channel, 200, 170)
    top, bottom = _line(c, result, channel, symbol, 90, 260)
    c.wire(top, (230, 140), (230, 90), (430, 90))
    c.wire(bottom, (230, 200), (230, 260), (430, 260))
    c.text(240, 84, "plus", "note")
    c.text(240, 276, "minus: never joined with the board", "note")


def open_collector(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """An NPN that holds the line."""
    pin_and_series(c, result, channel, 78, 190, 222)
    pulled_down(c, named(result, channel, "R2"), 200, 190)
    transistor_at(c, result, channel, "Q1", 252, 190, live=False)
    top, bottom = _line(c, result, channel, symbol, 100, 270, 430)
    c.wire(top, (266, 156), (266, 100), (430, 100))
    c.wire("0V", (266, 224), (266, 270))
    symbols.ground(c, 266, 270)
    if bottom == "0V":
        c.wire("0V", (266, 256), (430, 256), (430, 270))
        c.dot("0V", 266, 256)
    else:
        ground(c, bottom, 430, 270)
        c.text(418, 296, "its own ground", "note", "end")


def straight(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """The pin itself on the line, a resistor between; with a capacitor behind it where smoothed."""
    r2, c1, w1 = (named(result, channel, ref) for ref in ("R2", "C1", "W1"))
    pin_and_series(c, result, channel, 78, 150, 260)
    load = named(result, channel, "LOAD")
    line = load.terminals["+"]
    if w1 is not None:
        begin(c, w1)
        c.line((78, 150), (260, 150))
        c.text(180, 140, "no resistor", "note", "middle")
        c.close()
    pulled_down(c, r2, 116, 150)
    c.wire(line, (260, 150), (300, 150), (300, 100), (430, 100))
    if c1 is not None:
        c.wire(line, (300, 150), (300, 178))
        c.dot(line, 300, 150)
        begin(c, c1)
        symbols.capacitor(c, 300, 206)
        c.text(314, 218, f"C1 {c1.value}", "mono")
        c.close()
        c.wire("0V", (300, 234), (300, 250))
        symbols.ground(c, 300, 250)
    _, bottom = _line(c, result, channel, symbol, 100, 270, 430)
    if bottom == "0V":
        symbols.ground(c, 430, 270)
    else:
        ground(c, bottom, 430, 270)
        c.text(418, 296, "its own ground", "note", "end")


def servo(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """A servo with its three wires: supply, return, and the signal behind its resistor."""
    load = named(result, channel, "LOAD")
    rail, back, signal = (load.terminals[t] for t in ("+", "-", "SIG"))
    rail_line(c, rail, rail_text, 24, 500, 38)
    pin_and_series(c, result, channel, 78, 150, 290)
    pulled_down(c, named(result, channel, "R2"), 116, 150)
    c.wire(signal, (290, 150), (342, 150))
    c.text(316, 142, "SIG", "note", "middle")
    begin(c, load)
    symbols.load(c, 360, 150, symbol)
    c.text(394, 138, channel.name if len(channel.name) < 20 else channel.name[:19] + "…", "strong")
    for n, text in enumerate(result.live["load"].split(", ")):
        c.text(394, 156 + 16 * n, text, "live")
    c.text(394, 190, result.live["volts"], "live")
    c.close()
    c.wire(rail, (360, 116), (360, 38))
    c.dot(rail, 360, 38)
    c.text(368, 104, "+", "note")
    c.wire(back, (360, 184), (360, 260))
    c.text(368, 204, "−", "note")
    ground(c, back, 360, 260)


def pixels(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """A strip with its capacitor, its data behind a resistor, shifted or over a first pixel."""
    load, c1 = named(result, channel, "LOAD"), named(result, channel, "C1")
    shifter, first, diode = (named(result, channel, ref) for ref in ("A1", "P1", "D1"))
    rail, back, data = (load.terminals[t] for t in ("+", "-", "DATA"))
    rail_line(c, rail, rail_text, 24, 560, 38)
    pin = f"{channel.id}.PIN"
    symbols.pin(c, 78, 176, channel.pin or "pin ?")
    c.text(12, 208, f"≤ {result.live['pin']}", "live", data_node=pin)
    pulled_down(c, named(result, channel, "R2"), 96, 176)
    before, x = pin, 78
    if shifter is not None:
        before = shifter.terminals["data out"]
        c.wire(pin, (78, 176), (150, 176))
        begin(c, shifter)
        symbols.box(c, 178, 176, 56, 44, "")
        c.text(178, 180, "A1", "mono", "middle")
        c.close()
        c.wire(rail, (178, 154), (178, 38))
        c.dot(rail, 178, 38)
        c.wire("0V", (178, 198), (178, 232))
        symbols.ground(c, 178, 232)
        x = 206
    r1 = named(result, channel, "R1")
    c.wire(before, (x, 176), (232, 176))
    signal = before
    if r1 is not None:
        resistor(c, r1, 260, 176)
        signal = r1.terminals["2"]
    else:
        c.wire(before, (232, 176), (288, 176))
    c.wire(signal, (288, 176), (342 if first is None else 316, 176))
    if first is not None:
        begin(c, first)
        symbols.box(c, 344, 176, 56, 48, "")
        c.text(344, 180, "P1", "mono", "middle")
        c.text(344, 214, "first pixel", "note", "middle")
        c.close()
        c.wire(first.terminals["+"], (344, 152), (344, 138))
        begin(c, diode)
        symbols.diode(c, 344, 110, band_up=False)
        c.text(330, 100, "D1", "mono", "end")
        c.close()
        c.wire(rail, (344, 82), (344, 38))
        c.dot(rail, 344, 38)
        c.wire(back, (344, 200), (344, 222))
        ground(c, back, 344, 240)
        c.wire(back, (344, 222), (344, 240))
        c.wire(data, (372, 176), (406, 176))
    at = 430
    if first is None:
        c.wire(data, (342, 176), (at - 24, 176))
    begin(c, load)
    c.add("rect", "body", x=at - 24, y=142, width=48, height=68)
    for n in range(3):
        c.add("rect", "ink", x=at - 8, y=150 + 20 * n, width=16, height=12, fill="none")
    c.text(at + 32, 150, channel.name if len(channel.name) < 16 else channel.name[:15], "strong")
    for n, text in enumerate(result.live["load"].split(", ")):
        c.text(at + 32, 168 + 16 * n, text, "live")
    c.text(at + 32, 202, result.live["volts"], "live")
    c.close()
    c.wire(rail, (at, 142), (at, 38))
    c.dot(rail, at, 38)
    c.wire(back, (at, 210), (at, 270))
    ground(c, back, at, 270)
    begin(c, c1)
    symbols.capacitor(c, 530, 88)
    c.text(520, 112, f"C1 {c1.value}", "mono", "end")
    c.close()
    c.wire(rail, (530, 60), (530, 38))
    c.dot(rail, 530, 38)
    c.wire(back, (530, 116), (530, 126))
    ground(c, back, 530, 126)


def sounder(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """The pin, a resistor where there is one, and the sounder to ground."""
    load = named(result, channel, "LOAD")
    pin_and_series(c, result, channel, 90, 120, 330)
    pulled_down(c, named(result, channel, "R2"), 130, 120)
    node = load.terminals["+"]
    c.wire(node, (330, 120), (330, 146))
    begin(c, load)
    symbols.load(c, 330, 180, symbol)
    c.text(386, 170, channel.name[:20], "strong")
    c.text(386, 188, result.live["load"], "live")
    c.text(386, 204, result.live["volts"], "live")
    c.close()
    c.wire("0V", (330, 214), (330, 240))
    symbols.ground(c, 330, 240)


def reed(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """An NPN, the reed's coil and its contact across the line."""
    k1, q1 = named(result, channel, "K1"), named(result, channel, "Q1")
    rail, switch = k1.terminals["1"], k1.terminals["2"]
    rail_line(c, rail, rail_text, 24, 300, 38)
    pin_and_series(c, result, channel, 78, 220, 172)
    pulled_down(c, named(result, channel, "R2"), 158, 220)
    transistor_at(c, result, channel, "Q1", 202, 220, live=False)
    c.wire("0V", (216, 254), (216, 290))
    symbols.ground(c, 216, 290)
    c.wire(q1.terminals["C"], (216, 186), (216, 142))
    begin(c, k1)
    symbols.load(c, 216, 108, "coil")
    c.add("rect", "frame", x=192, y=70, width=136, height=76)
    c.text(334, 112, k1.short, "note")
    c.line((250, 70), (250, 146), css="gap")
    c.line((258, 70), (258, 146), css="gap")
    c.line((300, 80), (300, 96))
    c.line((300, 122), (288, 100))
    c.line((300, 122), (300, 136))
    c.text(262, 88, "K1", "mono")
    c.close()
    c.wire(rail, (216, 38), (216, 74))
    c.dot(rail, 216, 38)
    clamp_at(c, result, channel, 88, (rail, 38), (switch, 172), 216)
    top, bottom = _line(c, result, channel, symbol, 96, 260, 470)
    c.wire(top, (300, 80), (300, 56), (340, 56), (340, 96), (470, 96))
    c.wire(bottom, (300, 136), (350, 136), (350, 260), (470, 260))


def analogue_switch(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """A switch block across the line."""
    u1 = named(result, channel, "U1")
    pin_and_series(c, result, channel, 78, 180, 190)
    pulled_down(c, named(result, channel, "R2"), 120, 180)
    begin(c, u1)
    symbols.box(c, 248, 180, 116, 64, "")
    c.text(248, 174, "U1", "mono", "middle")
    c.text(248, 192, "analogue switch", "note", "middle")
    c.close()
    top, bottom = _line(c, result, channel, symbol, 90, 270, 430)
    c.wire(top, (306, 166), (340, 166), (340, 90), (430, 90))
    c.wire(bottom, (306, 194), (340, 194), (340, 270), (430, 270))
    c.wire("0V", (248, 212), (248, 250))
    symbols.ground(c, 248, 250)
    if bottom == "0V":
        symbols.ground(c, 430, 270)
    else:
        ground(c, bottom, 430, 282)
        c.text(418, 300, "its own ground", "note", "end")
        c.wire(bottom, (430, 270), (430, 282))


def pot(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """An isolator on the bus and a digital potentiometer."""
    u1, u2, load = (named(result, channel, ref) for ref in ("U1", "U2", "LOAD"))
    pin_and_series(c, result, channel, 78, 180, 126)
    begin(c, u2)
    symbols.box(c, 168, 180, 84, 56, "")
    c.line((164, 152), (164, 208), css="gap")
    c.line((172, 152), (172, 208), css="gap")
    c.text(168, 144, "U2 isolator", "mono", "middle")
    c.close()
    c.wire("0V", (146, 208), (146, 240))
    symbols.ground(c, 146, 240)
    c.wire(u2.terminals["out"], (210, 180), (244, 180))
    begin(c, u1)
    symbols.box(c, 292, 180, 96, 72, "")
    c.text(292, 176, "U1", "mono", "middle")
    c.text(292, 192, "potentiometer", "note", "middle")
    c.close()
    low = u1.terminals["L"]
    c.wire(low, (190, 208), (190, 270), (292, 270), (292, 216))
    ground(c, low, 292, 276)
    c.wire(low, (292, 270), (292, 276))
    begin(c, load)
    symbols.load(c, 440, 150, symbol)
    c.text(462, 60, channel.name[:34], "strong", "end")
    c.text(462, 76, f"{result.live['load']}, {result.live['volts']}", "live", "end")
    c.close()
    c.wire(load.terminals["+"], (292, 144), (292, 90), (440, 90), (440, 116))
    c.wire(load.terminals["-"], (340, 180), (380, 180), (380, 220), (440, 220), (440, 184))


def filtered(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """A coupler, a pull-up and a filter."""
    r3, r4, c1, load = (named(result, channel, ref) for ref in ("R3", "R4", "C1", "LOAD"))
    coupler_at(c, result, channel, 196, 190)
    top, bottom, chopped, out = (
        load.terminals["+"],
        load.terminals["-"],
        r4.terminals["1"],
        r4.terminals["2"],
    )
    c.wire(chopped, (226, 160), (226, 134))
    resistor(c, r3, 226, 106, upright=True, right=False)
    c.wire(top, (226, 78), (226, 60), (450, 60), (450, 110))
    c.wire(chopped, (226, 140), (272, 140))
    c.dot(chopped, 226, 140)
    resistor(c, r4, 300, 140)
    c.wire(out, (328, 140), (400, 140), (400, 150), (424, 150))
    c.dot(out, 356, 140)
    c.wire(out, (356, 140), (356, 160))
    begin(c, c1)
    symbols.capacitor(c, 356, 188)
    c.text(370, 200, f"C1 {c1.value}", "mono")
    c.close()
    c.wire(bottom, (226, 220), (226, 262), (450, 262), (450, 178))
    c.wire(bottom, (356, 216), (356, 262))
    c.dot(bottom, 356, 262)
    begin(c, load)
    symbols.load(c, 450, 144, symbol)
    c.text(470, 34, channel.name[:34], "strong", "end")
    c.text(470, 50, f"{result.live['load']}, {result.live['volts']}", "live", "end")
    c.close()


def wide(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    """The sensed voltage at the left, the board's pin at the right."""
    load, r3, r4, r2, q2, ok1 = (
        named(result, channel, ref) for ref in ("LOAD", "R3", "R4", "R2", "Q2", "OK1")
    )
    plus, minus, anode, cathode = (
        load.terminals["+"],
        load.terminals["-"],
        ok1.terminals["A"],
        ok1.terminals["K"],
    )
    begin(c, load)
    symbols.load(c, 50, 176, symbol)
    c.text(20, 50, channel.name[:30], "strong")
    c.text(20, 66, result.live["volts"], "live")
    c.close()
    c.wire(plus, (50, 142), (50, 92), (112, 92))
    resistor(c, r3, 140, 92)
    c.wire(anode, (168, 92), (300, 92), (300, 116))
    begin(c, ok1)
    symbols.coupler(c, 330, 146)
    c.text(284, 190, "OK1", "mono")
    c.close()
    c.text(250, 84, result.live["load"], "live", "middle")
    # The base wire crosses the emitter's below its end: a crossing without a dot is no joint.
    c.wire(cathode, (300, 176), (300, 212), (178, 212), (178, 166), (180, 166))
    c.dot(cathode, 250, 212)
    resistor(c, r4, 250, 244, upright=True)
    c.wire(cathode, (250, 212), (250, 216))
    transistor_at(c, result, channel, "Q2", 210, 166, live=False, title=False)
    c.wire(anode, (224, 132), (224, 92))
    c.dot(anode, 224, 92)
    c.wire(minus, (224, 200), (224, 280), (50, 280), (50, 210))
    c.wire(minus, (250, 272), (250, 280), (224, 280))
    c.dot(minus, 224, 280)
    pin = ok1.terminals["C"]
    c.wire(pin, (360, 116), (360, 104), (440, 104))
    c.dot(pin, 400, 104)
    resistor(c, r2, 400, 68, upright=True)
    c.wire(pin, (400, 96), (400, 104))
    c.wire(r2.terminals["1"], (400, 40), (400, 30))
    c.text(410, 34, "board's logic supply", "note")
    c.wire("0V", (360, 176), (360, 240))
    symbols.ground(c, 360, 240)
    c.wire(pin, (440, 104), (440, 130))
    c.add("path", "flag", d="M440 130l14 11v30h-28v-30z")
    c.text(440, 190, channel.pin or "pin ?", "mono strong", "middle")


PLANS = {
    "servo_pulse": servo,
    "pixel_data": pixels,
    "coupler_logic": coupler_line,
    "open_collector": open_collector,
    "bridge_reed": reed,
    "bridge_analogue": analogue_switch,
    "analogue_pot": pot,
    "analogue_pwm": filtered,
    "wide_input": wide,
    "pin_logic": straight,
    "pwm_filter": straight,
    "pin_sounder": sounder,
}
