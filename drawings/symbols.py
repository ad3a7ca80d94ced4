"""Standard symbols, each drawn round a place with its terminals at known points."""

from __future__ import annotations

from drawings.svg import Canvas


def resistor(c: Canvas, x: float, y: float, upright: bool = False) -> None:
    """A box 34 by 14 on the line; terminals 28 either side."""
    if upright:
        c.line((x, y - 28), (x, y - 17))
        c.add("rect", "body", x=x - 7, y=y - 17, width=14, height=34)
        c.line((x, y + 17), (x, y + 28))
    else:
        c.line((x - 28, y), (x - 17, y))
        c.add("rect", "body", x=x - 17, y=y - 7, width=34, height=14)
        c.line((x + 17, y), (x + 28, y))


def _bipolar(c: Canvas, x: float, y: float) -> None:
    c.line((x - 30, y), (x - 6, y))
    c.line((x - 6, y - 17), (x - 6, y + 17), css="ink heavy")
    c.line((x - 6, y - 8), (x + 14, y - 22), (x + 14, y - 34))
    c.line((x - 6, y + 8), (x + 14, y + 22), (x + 14, y + 34))


def _mosfet(c: Canvas, x: float, y: float) -> None:
    c.line((x - 30, y), (x - 12, y), (x - 12, y - 15))
    c.line((x - 12, y - 15), (x - 12, y + 15))
    for top in (-18, -5, 8):
        c.line((x - 5, y + top), (x - 5, y + top + 10), css="ink heavy")
    c.line((x - 5, y - 13), (x + 14, y - 13), (x + 14, y - 34))
    c.line((x - 5, y + 13), (x + 14, y + 13), (x + 14, y + 34))


def npn(c: Canvas, x: float, y: float) -> None:
    """Base at (x−30, y), collector at (x+14, y−34), emitter at (x+14, y+34)."""
    _bipolar(c, x, y)
    c.add("path", "solid", d=f"M{x + 11.5} {y + 20.3}l-9.6 -1.6 4.8 -7z")


def nmos(c: Canvas, x: float, y: float) -> None:
    """
    Gate at (x−30, y), drain at (x+14, y−34), source at (x+14, y+34); the arrow points to the
    channel.
    """
    _mosfet(c, x, y)
    c.line((x - 5, y), (x + 14, y), (x + 14, y + 13))
    c.add("path", "solid", d=f"M{x - 4} {y}l9 -4.5v9z")


def diode(c: Canvas, x: float, y: float, band_up: bool = True, zener: bool = False) -> None:
    """Upright, terminals at y−28 and y+28; the band is the cathode."""
    way = -1 if band_up else 1
    c.line((x, y - 28), (x, y + 28))
    c.add("path", "solid", d=f"M{x - 9} {y - way * 8}h18l-9 {way * 16}z")
    band = y + way * 8
    c.line((x - 10, band), (x + 10, band), css="ink heavy")
    if zener:
        c.line((x - 10, band), (x - 10, band - way * 6))
        c.line((x + 10, band), (x + 10, band + way * 6))


def load(c: Canvas, x: float, y: float, kind: str) -> None:
    """Upright between y−34 and y+34: coil, lamp, strip, heater or LED."""
    c.line((x, y - 34), (x, y - 22))
    c.line((x, y + 22), (x, y + 34))
    if kind == "coil":
        c.add("rect", "body", x=x - 16, y=y - 22, width=32, height=44)
        c.line((x - 16, y + 12), (x + 16, y - 12))
    elif kind == "lamp":
        c.add("circle", "body", cx=x, cy=y, r=22)
        c.line((x - 15.5, y - 15.5), (x + 15.5, y + 15.5))
        c.line((x - 15.5, y + 15.5), (x + 15.5, y - 15.5))
    elif kind == "motor":
        c.add("circle", "body", cx=x, cy=y, r=22)
        c.text(x, y + 6, "M", "strong", "middle")
    elif kind == "servo":
        c.add("rect", "body", x=x - 18, y=y - 22, width=36, height=44)
        c.add("circle", "body", cx=x, cy=y - 8, r=9)
        c.line((x, y - 8), (x + 14, y - 8), css="ink heavy")
    elif kind == "sounder":
        _sounder(c, x, y)
    elif kind in ("input", "pair", "knob", "signal"):
        c.add("rect", "body", x=x - 18, y=y - 22, width=36, height=44)
        mark = {"input": "&", "pair": "○ ○", "knob": "↺", "signal": "V"}[kind]
        c.text(x, y + 5, mark, "strong", "middle")
    elif kind == "heater":
        c.add("rect", "body", x=x - 12, y=y - 22, width=24, height=44)
        for step in (-11, 0, 11):
            c.line((x - 12, y + step), (x + 12, y + step))
    else:
        _leds(c, x, y, 2 if kind == "strip" else 1)


def _sounder(c: Canvas, x: float, y: float) -> None:
    c.add("path", "body", d=f"M{x - 14} {y - 22}h20a22 22 0 0 1 0 44h-20z")
    for reach in (34, 41):
        c.add("path", "ink", d=f"M{x + reach - 2} {y - 9}q5 9 0 18")


def _leds(c: Canvas, x: float, y: float, count: int) -> None:
    many = (-11, 11) if count == 2 else (0,)
    c.line((x, y - 22), (x, y + 22))
    for middle in many:
        size = 7 if count == 2 else 9
        c.add(
            "path",
            "solid",
            d=f"M{x - size} {y + middle - size}h{2 * size}l{-size} {2 * size - 2}z",
        )
        c.line(
            (x - size - 1, y + middle + size - 2),
            (x + size + 1, y + middle + size - 2),
            css="ink heavy",
        )
        for shift in (0, 6):
            c.line((x + 12 + shift, y + middle - 2), (x + 20 + shift, y + middle - 10))
            c.add("path", "solid", d=f"M{x + 21 + shift} {y + middle - 11}l-5 1.5 3.5 3.5z")


def ground(c: Canvas, x: float, y: float) -> None:
    """The common 0 V under a wire that ends at (x, y)."""
    for half, step in ((11, 0), (7, 5), (3, 10)):
        c.line((x - half, y + step), (x + half, y + step), css="ink", data_node="0V")


def pin(c: Canvas, x: float, y: float, label: str) -> None:
    """A flag whose point is the board's pin at (x, y)."""
    width = max(44, 11 * len(label) + 18)
    c.add("path", "flag", d=f"M{x} {y}l-11 -14h{-width}v28h{width}z")
    c.text(x - width / 2 - 9, y + 5, label, "mono strong", "middle")


def pnp(c: Canvas, x: float, y: float) -> None:
    """Base at (x−30, y), emitter at (x+14, y−34), collector at (x+14, y+34)."""
    _bipolar(c, x, y)
    c.add("path", "solid", d=f"M{x - 4} {y - 9.5}l9.6 -1.8 -4.6 -6.8z")


def pmos(c: Canvas, x: float, y: float) -> None:
    """
    Gate at (x−30, y), source at (x+14, y−34), drain at (x+14, y+34); the arrow points away from the
    channel.
    """
    _mosfet(c, x, y)
    c.line((x - 5, y), (x + 14, y), (x + 14, y - 13))
    c.add("path", "solid", d=f"M{x + 6} {y}l-9 -4.5v9z")


def darlington(c: Canvas, x: float, y: float, p: bool = False) -> None:
    """A single transistor's terminals with a second base bar: two transistors in one."""
    (pnp if p else npn)(c, x, y)
    c.line((x - 11, y - 17), (x - 11, y + 17), css="ink heavy")


def igbt(c: Canvas, x: float, y: float) -> None:
    """
    Gate at (x−30, y), collector at (x+14, y−34), emitter at (x+14, y+34); a gate bar before a
    transistor's.
    """
    npn(c, x, y)
    c.add("rect", "body", x=x - 13, y=y - 4, width=6, height=8)
    c.line((x - 13, y - 15), (x - 13, y + 15), css="ink")


def coupler(c: Canvas, x: float, y: float) -> None:
    """
    LED at the left between (x−30, y−30) and (x−30, y+30), transistor at the right between (x+30,
    y−30) and (x+30, y+30).
    """
    c.add("rect", "frame", x=x - 46, y=y - 26, width=92, height=52)
    c.line((x - 4, y - 26), (x - 4, y + 26), css="gap")
    c.line((x + 4, y - 26), (x + 4, y + 26), css="gap")
    c.line((x - 30, y - 30), (x - 30, y + 30))
    c.add("path", "solid", d=f"M{x - 38} {y - 8}h16l-8 14z")
    c.line((x - 39, y + 7), (x - 21, y + 7), css="ink heavy")
    for shift in (-5, 4):
        c.line((x - 18, y + shift), (x - 9, y + shift))
        c.add("path", "solid", d=f"M{x - 7} {y + shift}l-5 -2.6v5.2z")
    c.line((x + 18, y - 13), (x + 18, y + 13), css="ink heavy")
    c.line((x + 18, y - 5), (x + 30, y - 16), (x + 30, y - 30))
    c.line((x + 18, y + 5), (x + 30, y + 16), (x + 30, y + 30))
    c.add("path", "solid", d=f"M{x + 28.5} {y + 14.5}l-8 -1.6 4 -5.6z")


def pv_coupler(c: Canvas, x: float, y: float) -> None:
    """
    LED at the left, a small generator at the right, plus at (x+30, y−30), minus at (x+30, y+30).
    """
    c.add("rect", "frame", x=x - 46, y=y - 26, width=92, height=52)
    c.line((x - 4, y - 26), (x - 4, y + 26), css="gap")
    c.line((x + 4, y - 26), (x + 4, y + 26), css="gap")
    c.line((x - 30, y - 30), (x - 30, y + 30))
    c.add("path", "solid", d=f"M{x - 38} {y - 8}h16l-8 14z")
    c.line((x - 39, y + 7), (x - 21, y + 7), css="ink heavy")
    c.line((x + 30, y - 30), (x + 30, y - 4))
    c.line((x + 20, y - 4), (x + 40, y - 4))
    c.line((x + 24, y + 4), (x + 36, y + 4), css="ink heavy")
    c.line((x + 30, y + 4), (x + 30, y + 30))


def box(c: Canvas, x: float, y: float, width: float, height: float, words: str) -> None:
    """A block for what has no symbol of its own, centred."""
    c.add("rect", "body", x=x - width / 2, y=y - height / 2, width=width, height=height)
    c.text(x, y + 4, words, "note", "middle")


def capacitor(c: Canvas, x: float, y: float) -> None:
    """Upright, terminals at y−28 and y+28."""
    c.line((x, y - 28), (x, y - 4))
    c.line((x - 12, y - 4), (x + 12, y - 4), css="ink heavy")
    c.line((x - 12, y + 4), (x + 12, y + 4), css="ink heavy")
    c.line((x, y + 4), (x, y + 28))


def snubber(c: Canvas, x: float, y: float) -> None:
    """Resistor and capacitor in series, upright, terminals at y−28 and y+28."""
    c.line((x, y - 28), (x, y - 20))
    c.add("rect", "body", x=x - 6, y=y - 20, width=12, height=22)
    c.line((x, y + 2), (x, y + 10))
    c.line((x - 10, y + 10), (x + 10, y + 10), css="ink heavy")
    c.line((x - 10, y + 17), (x + 10, y + 17), css="ink heavy")
    c.line((x, y + 17), (x, y + 28))


def varistor(c: Canvas, x: float, y: float) -> None:
    """A box with a bent stroke through it, upright, terminals at y−28 and y+28."""
    c.line((x, y - 28), (x, y - 17))
    c.add("rect", "body", x=x - 8, y=y - 17, width=16, height=34)
    c.line((x - 14, y + 19), (x - 8, y + 19), (x + 12, y - 19))
    c.line((x, y + 17), (x, y + 28))


def own_ground(c: Canvas, x: float, y: float) -> None:
    """
    A return that is not the board's 0 V: an open triangle, so that the two are never taken for one.
    """
    c.add("path", "body", d=f"M{x - 11} {y}h22l-11 14z")


TRANSISTORS = {
    "npn": npn,
    "pnp": pnp,
    "nmos": nmos,
    "pmos": pmos,
    "igbt": igbt,
    "npn_darlington": darlington,
    "pnp_darlington": lambda c, x, y: darlington(c, x, y, p=True),
}
