"""The schematic of one channel, drawn from its netlist, with live values at the parts."""

from __future__ import annotations

import textwrap
from collections.abc import Mapping

from drawings import (
    bridge_plan,
    chain_plans,
    discrete_plan,
    line_plans,
    mains_plans,
    module,
    panel_grid,
    plans,
    relay,
    reversing_plan,
    symbols,
    winding_plan,
)
from drawings.pieces import begin, hold_at, named, named_part, rail_line, resistor
from drawings.svg import Canvas
from latchcore.design.context import BuildContext
from latchcore.design.report import StageResult
from latchcore.document.models import Channel
from latchcore.whole.wire_list import node_numbers

#: A drawing wider than this has the whole width of a page to itself.
WIDE = 640
#: Width of a strip's drawing.
PIXELS = 620
#: Drawings that state their own size.
SIZED = {
    "bridge_chip": bridge_plan,
    "stepper_bridges": bridge_plan,
    "bridge_discrete": discrete_plan,
    "bridge_relays": reversing_plan,
    "coil_switches": winding_plan,
    "row_column": panel_grid,
}


def size_of(result: StageResult) -> tuple[int, int]:
    """Width and height of a stage's drawing."""
    own = SIZED.get(result.kind)
    if own is not None:
        return own.width(result), own.height(result)
    width = mains_plans.WIDTH if result.kind in mains_plans.WIDE else 520
    width = PIXELS if result.kind == "pixel_data" else width
    return width + (SHOT_ROOM if result.coil.one_shot is not None else 0), 336


def is_wide(result: StageResult) -> bool:
    """Whether its drawing is too wide to stand beside its margins."""
    return size_of(result)[0] > WIDE


def schematic(
    result: StageResult,
    around: BuildContext,
    channel: Channel,
    marks: Mapping[str, Mapping[str, str]] | None = None,
) -> str:
    """
    Draw a channel.

    Parameters
    ----------
    result : StageResult
        The evaluated stage; what is drawn are the parts of its netlist
    around : BuildContext
        The build with the catalogue in use: names of rails, kinds of loads
    channel : Channel
        Where the name of the pin comes from
    marks : mapping, optional
        What is said of nodes and parts besides, by node or reference: where a tip is, what a load
        does

    Returns
    -------
    str
        One SVG element; wires carry ``data-node``, parts ``data-ref``

    Raises
    ------
    KeyError
        For a kind of stage that has no drawing
    """
    rail = around.build.rail(channel.rail)
    symbol = around.catalogue.loads[channel.load.kind].symbol
    volts = around.rail_volts(rail) if rail else None
    words = f"Schematic of {channel.name}: {result.title}"
    parts = ", ".join(f"{p.ref.split('.')[-1]} {p.value}" for p in result.netlist.parts)
    width, height = size_of(result)
    canvas = Canvas(width, height, words, parts)
    rail_text = f"{rail.name}   {volts.shown('V')}" if rail and volts else ""
    canvas.marks = marks or {}
    canvas.rails = {r.id: r.name for r in around.build.rails}
    own = result.value("own_fuse")
    rail_text += f"   {own.symbol} {own.text}" if own else ""
    plan = PLANS[result.kind]
    canvas.hazardous = rail is not None and around.hazardous(rail)
    plan(canvas, result, channel, symbol, rail_text)
    canvas.number_wires(node_numbers(result.netlist, channel.id))
    return canvas.svg()


#: What a one-shot takes between pin and gate.
SHOT_ROOM = 150


def _one_shot(c: Canvas, find, pin_node: str, x: float, y: float, x_end: float) -> None:
    """Logic with its resistor and capacitor between the pin and what leads to the gate."""
    u3, r8, c2 = find("U3"), find("R8"), find("C2")
    node, out = u3.terminals["B"], u3.terminals["Y"]
    box = x + 150
    c.wire(pin_node, (x, y), (box - 40, y))
    c.dot(pin_node, x + 62, y)
    c.wire(pin_node, (x + 62, y), (x + 62, y - 12))
    resistor(c, r8, x + 62, y - 40, upright=True, right=False)
    c.wire(node, (x + 62, y - 68), (x + 62, y - 104), (box - 54, y - 104))
    c.wire(node, (box - 54, y - 104), (box - 54, y + 16), (box - 40, y + 16))
    c.wire(node, (box - 54, y - 104), (box, y - 104), (box, y - 98))
    c.dot(node, box - 54, y - 104)
    begin(c, c2)
    symbols.capacitor(c, box, y - 70)
    c.text(box + 14, y - 76, f"C2 {c2.value}", "mono")
    c.close()
    symbols.ground(c, box, y - 42)
    begin(c, u3)
    c.add("rect", "body", x=box - 40, y=y - 16, width=64, height=44)
    c.add("circle", "body", cx=box - 40, cy=y + 16, r=4)
    c.text(box - 8, y + 10, "and", "strong", "middle")
    c.text(box - 8, y + 42, "U3", "mono", "middle")
    c.text(box - 8, y + 57, "logic supply, 0 V", "note", "middle")
    c.close()
    c.wire(out, (box + 24, y), (x_end, y))


def _low_side(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    find = lambda ref: named(result, channel, ref)  # noqa: E731
    load, transistor, series, pull = find("LOAD"), find("Q1"), find("R1"), find("R2")
    control = transistor.terminals.get("B") or transistor.terminals["G"]
    switch, pin_node, rail = load.terminals["-"], f"{channel.id}.PIN", load.terminals["+"]
    shot = find("U3")
    dx = SHOT_ROOM if shot is not None else 0
    y, x_q, x_load = 236, 272 + dx, 286 + dx
    x_pin, x_series, x_control = 78, 166 + dx, 222 + dx
    # Drive: pin, series resistor, control electrode.
    symbols.pin(c, x_pin, y, channel.pin or "pin ?")
    c.text(x_pin - 66, y + 32, f"≤ {result.live['pin']}", "live", data_node=pin_node)
    if shot is None:
        c.wire(pin_node, (x_pin, y), (x_series - 28, y))
    else:
        _one_shot(c, find, pin_node, x_pin, y, x_series - 28)
    wire = find("W1")
    if series:
        begin(c, series)
        symbols.resistor(c, x_series, y)
        c.text(x_series, y - 14, f"R1 {series.value}", "mono", "middle")
        c.close()
    else:
        begin(c, wire)
        c.line((x_series - 28, y), (x_series + 28, y))
        c.text(x_series, y - 10, "no resistor", "note", "middle")
        c.close()
    c.wire(control, (x_series + 28, y), (x_q - 30, y))
    if pull:
        on_pin_side = pin_node in pull.terminals.values()
        x_pull = 112 if on_pin_side else x_control
        node = pin_node if on_pin_side else control
        c.wire(node, (x_pull, y), (x_pull, y + 20))
        c.dot(node, x_pull, y)
        begin(c, pull)
        symbols.resistor(c, x_pull, y + 48, upright=True)
        c.text(x_pull + 12, y + 53, f"R2 {pull.value}", "mono")
        c.close()
        c.wire("0V", (x_pull, y + 76), (x_pull, y + 88))
        symbols.ground(c, x_pull, y + 88)
    if (d8 := find("D8")) is not None:
        free = pull is None or pin_node in pull.terminals.values()
        x_zener = x_control if free else x_control - 20
        c.wire(control, (x_zener, y), (x_zener, y + 20))
        c.dot(control, x_zener, y)
        begin(c, d8)
        symbols.diode(c, x_zener, y + 48, band_up=True, zener=True)
        side, anchor = (14, "start") if free else (-14, "end")
        c.text(x_zener + side, y + 66, "D8", "mono", anchor)
        c.close()
        c.wire("0V", (x_zener, y + 76), (x_zener, y + 88))
        symbols.ground(c, x_zener, y + 88)
    # Switch and load.
    begin(c, transistor)
    symbols.TRANSISTORS[transistor.kind](c, x_q, y)
    c.text(x_q + 24, y + 6, "Q1", "mono")
    title = transistor.short
    c.text(x_q + 24, y + 24, title, "note")
    c.close()
    letter = "V_GS" if transistor.kind == "nmos" else "V_BE"
    c.text(
        x_control + 14, y - 34, f"{letter} {result.live['base']}", "live", "end", data_node=control
    )
    c.text(x_q + 24, y - 14, result.live["switch"], "live", data_node=switch)
    c.wire("0V", (x_load, y + 34), (x_load, y + 88))
    symbols.ground(c, x_load, y + 88)
    c.wire(switch, (x_load, 168), (x_load, y - 34))
    begin(c, load)
    symbols.load(c, x_load, 112, symbol)
    c.text(
        x_load - 34,
        104,
        channel.name if len(channel.name) < 26 else channel.name[:25] + "…",
        "strong",
        "end",
    )
    c.text(x_load - 34, 122, f"≤ {result.live['load']}", "live", "end")
    c.text(x_load - 34, 138, result.live["volts"], "live", "end")
    c.close()
    c.wire(switch, (x_load, 146), (x_load, 168))
    string = find("R3")
    if string is not None:
        begin(c, string)
        c.add("rect", "body", x=x_load - 6, y=52, width=12, height=18)
        c.text(x_load + 30, 68, f"R3 {string.value}", "mono")
        c.text(x_load + 30, 84, string.note, "note")
        c.close()
        rail = string.terminals["1"]
        c.wire(string.terminals["2"], (x_load, 70), (x_load, 78))
    r6, r7 = find("R6"), find("R7")
    if r7 is not None:
        c.wire(rail, (390 + dx, 46), (390 + dx, 84))
        c.dot(rail, 390 + dx, 46)
        resistor(c, r7, 390 + dx, 112, upright=True)
        c.wire(switch, (390 + dx, 140), (390 + dx, 168), (x_load, 168))
        c.dot(switch, x_load, 168)
    if r6 is None:
        rail_line(c, rail, rail_text, 24, 500 + dx, 46)
    else:
        rail_line(c, r6.terminals["1"], rail_text, 24, 82, 46)
        hold_at(c, result, channel, 110, 46, aside=True)
        c.wire(rail, (138, 46), (420 + dx, 46))
    c.wire(rail, (x_load, 46), (x_load, 52 if string is not None else 78))
    c.dot(rail, x_load, 46)
    _clamp(c, result, find, rail, switch, x_load, y)


def _clamp(
    c: Canvas, result: StageResult, find, rail: str, switch: str, x_load: float, y: float
) -> None:
    diode, zener = find("D1"), find("D2")
    x = x_load + 86
    if diode:
        reversed_ = diode.terminals["K"] == switch
        c.wire(rail, (x, 46), (x, 60 if zener else 84))
        c.dot(rail, x, 46)
        if zener:
            middle = zener.terminals["A"]
            begin(c, zener)
            symbols.diode(c, x, 84, band_up=False, zener=True)
            named_part(c, x + 16, 78, "D2", zener.value)
            c.close()
            c.wire(middle, (x, 112), (x, 114))
            place = 140
        else:
            place = 112
        begin(c, diode)
        symbols.diode(c, x, place, band_up=not reversed_)
        named_part(c, x + 16, place - 6, "D1", diode.value)
        c.text(x + 16, place + 26, diode.note, "alarm" if reversed_ else "note")
        c.close()
        c.wire(switch, (x, place + 28), (x, 180), (x_load, 180))
        c.dot(switch, x_load, 180)
    elif zener:
        x = x_load + 124
        c.wire(switch, (x_load, 180), (x, 180), (x, y - 10))
        c.dot(switch, x_load, 180)
        begin(c, zener)
        symbols.diode(c, x, y + 18, band_up=True, zener=True)
        named_part(c, x + 16, y + 14, "D2", zener.short)
        c.close()
        c.wire("0V", (x, y + 46), (x, y + 88))
        symbols.ground(c, x, y + 88)
    elif result.coil.unclamped_peak is not None:
        c.line((x, 60), (x, 172), css="absent")
        c.text(x + 14, 112, "no clamp", "alarm")
        c.text(x + 14, 130, "rises to its breakdown", "note")


def solid_direct(
    c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str
) -> None:
    """A block for direct current: its input at the left, its output above the load."""
    k1 = named(result, channel, "K1")
    begin(c, k1)
    c.add("rect", "frame", x=214, y=90, width=170, height=90)
    for gap in (288, 296):
        c.line((gap, 90), (gap, 180), css="gap")
    symbols.box(c, 250, 138, 52, 40, "input")
    for n, line in enumerate(textwrap.wrap(f"K1 {k1.short}", 24)):
        c.text(214, 196 + 13 * n, line, "note")
    c.close()
    mains_plans.solid_input_side(c, result, channel, k1)
    module.output(c, result, channel, k1, symbol, rail_text)


def _direct(c: Canvas, result: StageResult, channel: Channel, symbol: str, rail_text: str) -> None:
    load, series = named(result, channel, "LOAD"), named(result, channel, "R1")
    pin_node = f"{channel.id}.PIN"
    sink = load.terminals["-"] != "0V"
    y, x_load = 180, 320
    symbols.pin(c, 90, y, channel.pin or "pin ?")
    c.text(52, y + 32, f"≤ {result.live['pin']}", "live", "middle", data_node=pin_node)
    inner = load.terminals["-"] if sink else load.terminals["+"]
    if series:
        c.wire(pin_node, (90, y), (172, y))
        begin(c, series)
        symbols.resistor(c, 200, y)
        c.text(200, y - 14, f"R1 {series.value}", "mono", "middle")
        c.close()
        c.wire(inner, (228, y), (x_load, y))
    else:
        c.wire(pin_node, (90, y), (x_load, y))
    place = y - 54 if sink else y + 54
    c.wire(inner, (x_load, y), (x_load, y - 20 if sink else y + 20))
    begin(c, load)
    symbols.load(c, x_load, place, symbol)
    c.text(x_load + 40, place - 2, channel.name, "strong")
    c.text(x_load + 40, place + 16, result.live["load"], "live")
    c.text(x_load + 40, place + 32, result.live["volts"], "live")
    c.close()
    if sink:
        rail = load.terminals["+"]
        c.wire(rail, (x_load, place - 34), (x_load, 60))
        rail_line(c, rail, rail_text, 160, 500, 60)
        c.dot(rail, x_load, 60)
    else:
        c.wire("0V", (x_load, place + 34), (x_load, place + 52))
        symbols.ground(c, x_load, place + 52)


PLANS = {
    "direct_pin": _direct,
    "npn_low_side": _low_side,
    "nmos_low_side": _low_side,
    "darlington_low_side": _low_side,
    "led_strings": _low_side,
    **plans.PLANS,
    **line_plans.PLANS,
    **mains_plans.PLANS,
    "relay_contact": relay.relay_plan,
    "relay_module": module.module_plan,
    "solid_module": module.module_plan,
    "solid_direct": solid_direct,
    "bridge_chip": bridge_plan.bridge,
    "register_output": chain_plans.register,
    "coil_switches": winding_plan.windings,
    "bridge_relays": reversing_plan.turned,
    "bridge_discrete": discrete_plan.bridge,
    "row_column": panel_grid.grid,
    "stepper_bridges": bridge_plan.bridge,
    "step_driver": chain_plans.step_driver,
}
