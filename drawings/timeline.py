"""
The five states drawn as strips: what the pin does above, what the load does below, column by column
the same for all.
"""

from __future__ import annotations

from drawings.svg import Canvas, number
from latchcore.figures.quantity import show
from latchcore.whole.timeline import STORIES, Moment, Row

LABEL, CELL, HEAD, GAP = 132, 40, 112, 8
COLUMNS = [(story, n, words) for story, parts in STORIES for n, (words, *_) in enumerate(parts)]


def _columns() -> list[float]:
    """Left edge of each column."""
    x, found, last = float(LABEL), [], None
    for story, _, _ in COLUMNS:
        if last is not None and story != last:
            x += GAP
        found.append(x)
        x += CELL
        last = story
    return found


def _pin(c: Canvas, does: str, x: float, y: float) -> None:
    """
    The pin's level: a line low or high, dashed where it only floats or is pulled, teeth where it
    pulses.
    """
    high, low, middle = y + 2, y + 12, y + 7
    if does in ("low", "driven_low", "dead"):
        c.line((x, low), (x + CELL, low), css="gap" if does == "dead" else "ink")
    elif does in ("high", "driven_high"):
        c.line((x, high), (x + CELL, high))
    elif does == "pulses":
        c.line(*[(x + CELL * k / 8, high if (k // 1) % 2 else low) for k in range(9)])
    else:
        at = {"pull_up": high + 2, "pull_down": low - 2}.get(does, middle)
        c.line((x, at), (x + CELL, at), css="ink", stroke_dasharray="3 3")


def _load(c: Canvas, load: str, x: float, y: float, height: float) -> None:
    c.add(
        "rect",
        f"does {load}",
        x=number(x + 0.5),
        y=number(y),
        width=CELL - 1,
        height=number(height),
    )
    if load == "undecided":
        c.line((x + 3, y + height - 1), (x + CELL - 3, y + 1), css="gap")


def _unasked(row: Row) -> str:
    """What a load does at moments nobody asked for it, in words."""
    acts = [m for m in row.moments if m.load != "off" and not m.asked]
    return ", ".join(f"{m.story}, {m.words}: {m.load}" for m in acts) or "quiet while nobody asks"


def timeline_picture(rows: list[Row], times: dict[str, float], compare: bool = False) -> str:
    """
    Draw the strips.

    Parameters
    ----------
    rows : list of Row
    times : dict
        How long a moment lasts, by its words [s]
    compare : bool
        Whether a second bar shows the load with the pull resistor the other way
    """
    edges, tall = _columns(), 46 if compare else 32
    width, height = edges[-1] + CELL + 10, HEAD + len(rows) * tall + 8
    said = "; ".join(f"{r.letter} {r.name}: {_unasked(r)}" for r in rows[:20])
    c = Canvas(
        width,
        height,
        f"What {len(rows)} load{'s' * (len(rows) != 1)} do from power-on to a hung program",
        said,
        css="drawing timeline",
    )
    last = None
    for (story, _, words), x in zip(COLUMNS, edges, strict=True):
        if story != last:
            count = sum(s == story for s, *_ in COLUMNS)
            c.line((x, 26), (x + count * CELL, 26), css="ink")
            _wrapped(c, story, x, 10, count * CELL)
            last = story
        took = f", {show(times[words], 's')}" if words in times else ""
        c.text(
            0,
            0,
            {
                "later": "later",
                "before the program sets it": "before it is set",
                "rail up, board dead": "rail up first",
            }.get(words, words)
            + took,
            "note",
            "start",
            transform=f"translate({number(x + CELL / 2 + 3)} {HEAD - 4}) rotate(-62)",
        )
    for n, r in enumerate(rows):
        y = HEAD + n * tall
        c.text(
            6,
            y + 18,
            _short(f"{r.letter} {r.name}".strip(), 19),
            "strong" if r.acts_unasked else "",
        )
        _strip(c, r.moments, edges, y + 1, 11)
        if compare and r.other:
            c.text(6, y + 38, f"{'without' if r.pull else 'with'} the pull", "note")
            _strip(c, r.other, edges, y + 16, 8, pin=False)
        c.line((4, y + tall - 3), (width - 6, y + tall - 3), css="rule")
    return c.svg()


def _strip(
    c: Canvas,
    moments: tuple[Moment, ...],
    edges: list[float],
    y: float,
    height: float,
    pin: bool = True,
) -> None:
    by_place = {}
    for m in moments:
        by_place.setdefault(m.story, []).append(m)
    for (story, n, _), x in zip(COLUMNS, edges, strict=True):
        there = by_place.get(story, [])
        if n < len(there):
            if pin:
                _pin(c, there[n].pin, x, y)
            _load(c, there[n].load, x, y + 15, height)


def _short(words: str, most: int) -> str:
    return words if len(words) <= most else words[: most - 1] + "…"


def _wrapped(c: Canvas, words: str, x: float, y: float, width: float) -> None:
    """A heading in as many lines as its room wants."""
    if len(words) * 6.2 <= width:
        c.text(x, y + 10, words, "strong")
        return
    cut = words.split()
    half = next(
        n for n in range(len(cut), 0, -1) if len(" ".join(cut[:n])) * 6.2 <= width + 8 or n == 1
    )
    c.text(x, y, " ".join(cut[:half]), "strong")
    c.text(x, y + 12, " ".join(cut[half:]), "strong")
