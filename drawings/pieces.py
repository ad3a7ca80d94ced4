"""Pieces every plan of a schematic is put together from."""

from __future__ import annotations

import textwrap

from drawings import symbols
from drawings.svg import Canvas
from latchcore.design.report import StageResult
from latchcore.document.models import Channel
from latchcore.metal.netlist import Part


def begin(c: Canvas, part: Part) -> None:
    c.open("part", data_ref=part.ref, data_nodes=" ".join(dict.fromkeys(part.terminals.values())))


def named(result: StageResult, channel: Channel, ref: str) -> Part | None:
    return result.netlist.part(f"{channel.id}.{ref}")


def rail_line(
    c: Canvas, node: str, words: str, x_from: float, x_to: float, y: float, fused: bool = True
) -> None:
    """
    A rail with its words; a channel's own fuse stands in it once, not again where the coil hangs
    behind the same one.
    """
    c.wire(node, (x_from, y), (x_to, y))
    c.line((x_from - 8, y), (x_from + 8, y), css="ink heavy")
    if fused and node.endswith(".FUSED"):
        c.add("rect", "body", x=x_from + 10, y=y - 5, width=22, height=10)
        c.line((x_from + 10, y), (x_from + 32, y))
    c.text(x_from - 4, y - 10, words, "strong", data_node=node)


def named_part(c: Canvas, x: float, y: float, ref: str, words: str) -> None:
    """Reference and value, the value broken where a drawing has no room for it."""
    first, _, figures = words.partition(" diode ")
    c.text(x, y, f"{ref} {first}" if figures else ref, "mono")
    c.text(x, y + 16, figures or words, "note")


def beside(c: Canvas, x: float, y: float, ref: str, words: str, most: int = 17) -> None:
    """
    A reference with the words of its part below it, broken where they say so or get too long.
    """
    c.text(x, y, ref, "mono")
    lines = [part for line in words.split("\n") for part in textwrap.wrap(line, most)]
    for n, line in enumerate(lines):
        c.text(x, y + 16 + 13 * n, line, "note")


def ground(c: Canvas, node: str, x: float, y: float) -> None:
    """The return under a wire: the board's 0 V, or an open triangle where it is another one."""
    if node == "0V":
        symbols.ground(c, x, y)
    elif node.endswith(".N"):
        c.add("circle", "body", cx=x, cy=y + 4, r=4)
        c.text(x + 10, y + 9, "neutral" if c.hazardous else "return", "note")
    else:
        symbols.own_ground(c, x, y)


def resistor(
    c: Canvas, part: Part, x: float, y: float, upright: bool = False, right: bool = True
) -> None:
    """A resistor of the netlist with its reference and value."""
    begin(c, part)
    symbols.resistor(c, x, y, upright)
    label = f"{part.ref.split('.')[-1]} {part.value}"
    if upright:
        c.text(x + 12 if right else x - 12, y + 5, label, "mono", "start" if right else "end")
    else:
        c.text(x, y - 14, label, "mono", "middle")
    c.close()


def pin_and_series(
    c: Canvas, result: StageResult, channel: Channel, x: float, y: float, x_end: float
) -> None:
    """Board pin, series resistor R1 and the pull resistor R2 at the pin where it hangs there."""
    r1, pin_node = named(result, channel, "R1"), f"{channel.id}.PIN"
    symbols.pin(c, x, y, channel.pin or "pin ?")
    c.text(
        max(x - 66, 4),
        y + 32,
        f"≤ {result.live['pin']}" if result.live["pin"] != "reads" else "reads",
        "live",
        data_node=pin_node,
    )
    if r1 is None:
        c.wire(pin_node, (x, y), (x_end, y))
        return
    middle = (x + x_end) / 2 + 14
    c.wire(pin_node, (x, y), (middle - 28, y))
    resistor(c, r1, middle, y)
    c.wire(r1.terminals["2"], (middle + 28, y), (x_end, y))


def hold_at(
    c: Canvas, result: StageResult, channel: Channel, x: float, y: float, aside: bool = False
) -> bool:
    """
    Holding resistor with the capacitor across it, lying in a rail round (x, y); whether the stage
    has them.
    """
    r6, c1 = named(result, channel, "R6"), named(result, channel, "C1")
    if r6 is None:
        return False
    begin(c, r6)
    symbols.resistor(c, x, y)
    c.text(
        x + 34 if aside else x,
        y + (22 if aside else 42),
        f"R6 {r6.value}",
        "note",
        "start" if aside else "middle",
    )
    c.close()
    begin(c, c1)
    c.line((x - 28, y), (x - 28, y + 20), (x - 4, y + 20))
    c.line((x + 4, y + 20), (x + 28, y + 20), (x + 28, y))
    c.line((x - 4, y + 11), (x - 4, y + 29), css="ink heavy")
    c.line((x + 4, y + 11), (x + 4, y + 29), css="ink heavy")
    c.text(
        x + 34 if aside else x,
        y + (35 if aside else 55),
        f"C1 {c1.value}",
        "note",
        "start" if aside else "middle",
    )
    c.close()
    return True


def pulled_down(c: Canvas, part: Part | None, x: float, y: float, right: bool = True) -> None:
    """A pull resistor that hangs from a wire at (x, y) down to the board's 0 V."""
    if part is None:
        return
    node = part.terminals["1"]
    c.wire(node, (x, y), (x, y + 16))
    c.dot(node, x, y)
    resistor(c, part, x, y + 44, upright=True, right=right)
    c.wire("0V", (x, y + 72), (x, y + 80))
    symbols.ground(c, x, y + 80)
