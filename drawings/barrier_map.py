"""
The barrier map as a picture: islands of metal, gates between them, a bridge where a barrier is
bypassed.
"""

from __future__ import annotations

import textwrap
from collections import defaultdict

from drawings.svg import Canvas
from latchcore.figures.quantity import show
from latchcore.whole.barriers import BarrierMap, Island

WIDTH, LEFT, RIGHT, TALL, GAP = 760, 270, 440, 86, 18


def _said(refs: list[tuple[str, str]], letters: dict[str, str]) -> str:
    """Gates in words: the channels' letters with the part, the class once."""
    kinds: dict[str, list[str]] = defaultdict(list)
    for ref, kind in refs:
        channel, _, part = ref.partition(".")
        kinds[kind].append(f"{letters.get(channel, channel)} {part}")
    return "; ".join(
        f"{', '.join(names[:6])}{' …' if len(names) > 6 else ''} {kind}"
        for kind, names in kinds.items()
    )


def _island(c: Canvas, island: Island, x: float, y: float, width: float, height: float) -> None:
    c.open("island " + island.kind)
    c.add(
        "rect",
        "body island-box" if island.kind == "low" else "body island-box danger",
        x=x,
        y=y,
        width=width,
        height=height,
    )
    # Names of joined rails run long: as many lines as the box has room for.
    room = max(1, int((height - 66) / 16))
    lines = textwrap.wrap(island.name, int(width / 7.4))
    for n, line in enumerate(lines[:room]):
        last = n == room - 1 and len(lines) > room
        c.text(x + 12, y + 22 + 16 * n, line + " …" if last else line, "strong")
    y += 16 * (min(len(lines), room) - 1)
    kind = "hazardous" if island.kind == "hazardous" else "low voltage"
    c.text(
        x + 12, y + 40, f"{kind}, up to {show(island.volts, 'V')}" if island.volts else kind, "note"
    )
    more = [
        w
        for w, yes in (
            ("can be touched", island.touchable),
            ("bonded to protective earth", island.earthed),
        )
        if yes
    ]
    c.text(x + 12, y + 56, ", ".join(more) or "cannot be touched", "note")
    if island.loads:
        words = _short("loads: " + ", ".join(island.loads), int(width / 6.2))
        c.text(x + 12, y + 72, words, "note")
    c.close()


def _short(words: str, most: int) -> str:
    return words if len(words) <= most else words[: most - 1] + "…"


def barrier_picture(found: BarrierMap, letters: dict[str, str]) -> str:
    """
    Draw the map.

    Parameters
    ----------
    found : BarrierMap
    letters : dict
        Letter of each channel by its id
    """
    shown = [i for i in found.islands if i.titles or i.loads]
    board = next((i for i in shown if "board" in i.titles), None)
    others = [i for i in shown if i is not board]
    height = max(1, len(others)) * (TALL + GAP) + 20
    words = f"Barrier map: {len(shown)} islands, {len(found.gates)} barriers"
    c = Canvas(
        WIDTH,
        height,
        words,
        "; ".join(
            f"{p.one.name} to {p.other.name}: needs {p.needed}, has {p.present}"
            for p in found.pairs
        ),
        css="drawing barriers",
    )
    place: dict[int, float] = {}
    if board is not None:
        _island(c, board, 8, 10, LEFT - 20 if others else WIDTH - 16, height - 20)
    far = {i.index for i in others}
    across = any({gate.one, gate.other} <= far for gate in found.gates)
    for n, island in enumerate(others):
        y = 10 + n * (TALL + GAP)
        place[island.index] = y
        _island(c, island, RIGHT, y, WIDTH - RIGHT - (60 if across else 8), TALL)
    between: dict[tuple[int, int], list[tuple[str, str]]] = defaultdict(list)
    for gate in found.gates:
        between[gate.one, gate.other].append((gate.ref, gate.kind))
    side = 0
    for (one, other), refs in between.items():
        if board is not None and board.index in (one, other):
            far = other if one == board.index else one
            if far not in place:
                continue
            y = place[far] + TALL / 2
            c.line((LEFT - 12, y), (LEFT + 66, y))
            c.line((LEFT + 80, y), (RIGHT, y))
            for x in (LEFT + 68, LEFT + 78):
                c.line((x, y - 15), (x, y + 15), css="ink heavy")
            c.text(LEFT + 73, y - 20, _short(_said(refs, letters), 34), "note", "middle")
        elif one in place and other in place:
            x = WIDTH - 50 + 12 * (side % 3)
            side += 1
            a, b = sorted((place[one] + TALL / 2, place[other] + TALL / 2))
            middle = (a + b) / 2
            c.line((WIDTH - 60, a), (x, a), (x, middle - 5))
            c.line((x, middle + 5), (x, b), (WIDTH - 60, b))
            for y in (middle - 5, middle + 5):
                c.line((x - 9, y), (x + 9, y), css="ink heavy")
    return c.svg()
