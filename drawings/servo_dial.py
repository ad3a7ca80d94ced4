"""A servo's way as a dial: its arm at each stated pulse, and the pulse on a scale below."""

from __future__ import annotations

import math

from drawings.svg import Canvas
from latchcore.design.outcomes import ServoOutcome
from latchcore.design.report import StageResult
from latchcore.figures.quantity import show
from latchcore.figures.slack import within

WIDTH, HEIGHT = 300, 196
#: The hub of the dial and the length of its arm; the scale of pulses stands below.
HUB, ARM = (150, 112), 76
LEFT, RIGHT, SCALE = 40, 260, 158


def servo_dial(result: StageResult) -> str:
    """
    Draw the dial of a servo; nothing of another stage, or where its ends are the wrong way round.
    """
    way = result.servo
    if way is None or way.turned:
        return ""
    pulses = [(name, result.value(f"{name}_pulse")) for name in ("rest", "work")]
    said = [f"{name} {show(v.size, 's')}" for name, v in pulses if v is not None]
    c = Canvas(WIDTH, HEIGHT, "Servo dial", ", ".join(said) or "no pulse stated")
    # Half a turn of the picture is the whole travel where that is more than half a turn.
    spread = min(way.travel, 180.0)
    arc = [_at(share, spread, ARM) for share in (n / 24 for n in range(25))]
    c.line(*arc, css="ink")
    for share, pulse in ((0.0, way.narrow), (1.0, way.wide)):
        c.line(_at(share, spread, ARM - 6), _at(share, spread, ARM + 6))
        x = LEFT + share * (RIGHT - LEFT)
        c.line((x, SCALE - 6), (x, SCALE + 6))
        c.text(x, SCALE + 22, show(pulse, "s"), "live", "middle")
    for share, words in ((0.0, "0°"), (1.0, f"{way.travel:.3g}°")):
        x, y = _at(share, spread, ARM)
        c.text(x + 16 * (share - 0.5), y + 20, words, "note", "middle")
    c.line((LEFT, SCALE), (RIGHT, SCALE))
    for name, value in pulses:
        if value is not None and within(way.narrow, value.size, way.wide):
            _arm(c, name, value.size, way, spread)
    c.add("circle", "body", cx=HUB[0], cy=HUB[1], r=7)
    return c.svg()


def _at(share: float, spread: float, far: float) -> tuple[float, float]:
    turned = math.radians((share - 0.5) * spread)
    return HUB[0] + far * math.sin(turned), HUB[1] - far * math.cos(turned)


def _arm(c: Canvas, name: str, pulse: float, way: ServoOutcome, spread: float) -> None:
    share = (pulse - way.narrow) / (way.wide - way.narrow)
    heavy = "ink heavy" if name == "work" else "ink"
    c.line(HUB, _at(share, spread, ARM - 10), css=heavy)
    x, y = _at(share, spread, ARM + 10)
    anchor = "end" if share < 0.4 else "start" if share > 0.6 else "middle"
    c.text(x, y, f"{name} {share * way.travel:.3g}°", "strong", anchor)
    at = LEFT + share * (RIGHT - LEFT)
    c.line((at, SCALE - 8), (at, SCALE + 8), css=heavy)
    c.text(at, SCALE - 12, show(pulse, "s"), "live", "middle")
