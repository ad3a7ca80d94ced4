"""What both motors of a vehicle get for a stick that is turned, at some speeds."""

from __future__ import annotations

from drawings.svg import Canvas
from latchcore.sums.mixing import mix

WIDTH, HEIGHT = 560, 250
LEFT, TOP, WIDE, TALL = 56, 24, 420, 180


def mix_plan(name: str, stick_dead: float, motor_dead: float, most: float) -> str:
    """
    Draw both drives over the turn of the stick, at full and at half speed.

    Parameters
    ----------
    stick_dead, motor_dead, most : float
        Dead bands of stick and motor, and the largest drive, as shares
    """
    words = f"{name}: drive of both motors over the turn of the stick"
    c = Canvas(WIDTH, HEIGHT, words, "full and half speed")
    middle, base = LEFT + WIDE / 2, TOP + TALL / 2
    for share in (-1.0, 0.0, 1.0):
        y = base - share * TALL / 2
        c.line((LEFT, y), (LEFT + WIDE, y), css="ink", stroke_dasharray="2 5")
        c.text(LEFT - 8, y + 4, f"{share * 100:.0f} %", "note", "end")
        x = middle + share * WIDE / 2
        c.line((x, base - 4), (x, base + 4))
        c.text(x, TOP + TALL + 18, f"turn {share * 100:.0f} %", "note", "middle")
    for speed, dots in ((1.0, {}), (0.5, {"stroke_dasharray": "7 4"})):
        for side, css in ((0, "ink heavy"), (1, "ink")):
            points = []
            for n in range(81):
                turn = n / 40 - 1
                drive = mix(speed, turn, stick_dead, motor_dead)[side] * most
                points.append((middle + turn * WIDE / 2, base - drive * TALL / 2))
            c.line(*points, css=css, **dots)
    c.text(LEFT, HEIGHT - 8, "heavy: left motor; plain: right; broken lines: half speed", "note")
    return c.svg()
