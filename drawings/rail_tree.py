"""
The supplies as a tree: sources left, rails, then what hangs on them; the lines as wide as their
current.
"""

from __future__ import annotations

from drawings.svg import Canvas, number
from latchcore.figures.quantity import show
from latchcore.whole.rails import RailReport

BOX, STEP, ROW, HEAD, MOST = 210, 256, 19, 82, 7


def _short(words: str, most: int) -> str:
    return words if len(words) <= most else words[: most - 1] + "…"


def _branches(report: RailReport) -> list[tuple[str, float]]:
    """
    Loads of a rail, the largest first, those beyond the room as one line; what goes on to another
    rail is drawn as such.
    """
    own = sorted(
        (
            (name, running)
            for name, running, _ in report.shares
            if not name.endswith(", through it")
        ),
        key=lambda r: -r[1],
    )
    if len(own) <= MOST:
        return own
    rest = own[MOST - 1 :]
    return own[: MOST - 1] + [(f"{len(rest)} more", sum(r[1] for r in rest))]


def _bar(c: Canvas, r: RailReport, x: float, y: float, width: float) -> None:
    top = max(r.rating or 0, r.worst, r.all_on, 1e-3) * 1.08
    c.add("rect", "track", x=number(x), y=number(y), width=number(width), height=15)
    for css, value, height in (
        ("worst", r.worst, 3),
        ("all", r.all_on, 7),
        ("typical", r.typical, 11),
        ("idle", r.idle, 14),
    ):
        c.add(
            "rect",
            css,
            x=number(x),
            y=number(y + 15 - height),
            width=number(max(value / top * width, 0)),
            height=height,
        )
    if r.rating:
        c.add(
            "rect",
            "limit",
            x=number(x + r.rating / top * width - 1.25),
            y=number(y - 1),
            width=2.5,
            height=17,
        )


def _ordered(reports: list[RailReport]) -> list[RailReport]:
    """Each rail before those that hang on it; one whose source is not there stands last."""
    order: list[RailReport] = []

    def walk(parent: str | None) -> None:
        for r in reports:
            if r.parent == parent and r not in order:
                order.append(r)
                walk(r.id)

    walk(None)
    return order + [r for r in reports if r not in order]


def _taken(reports: list[RailReport], rail: RailReport) -> float:
    """What a rail takes of the one that feeds it [A]."""
    return next(
        (
            share[1]
            for up in reports
            if up.id == rail.parent
            for share in up.shares
            if share[0] == f"{rail.name}, through it"
        ),
        rail.all_on,
    )


def rail_tree(reports: list[RailReport], sources: dict[str, str]) -> str:
    """
    Draw the tree.

    Parameters
    ----------
    reports : list of RailReport
    sources : dict
        What each rail comes from, in words, by its id
    """
    order = _ordered(reports)
    deepest = max((r.depth for r in order), default=0)
    width = max(760, 30 + (deepest + 1) * STEP + 260)
    most = max((r.all_on for r in reports), default=0.0) or 1.0
    place: dict[str, tuple[float, float]] = {}
    y = 10.0
    for r in order:
        place[r.id] = (12 + r.depth * STEP, y)
        y += max(HEAD + 16, len(_branches(r)) * ROW + 18)
    said = "; ".join(
        f"{r.name}: all on {show(r.all_on, 'A')}"
        + (f" of {show(r.rating, 'A')}" if r.rating else "")
        for r in order
    )
    c = Canvas(width, y + 6, f"Tree of supplies: {len(order)} rails", said, css="drawing rail-tree")

    def wide(current: float) -> float:
        return max(1.2, 16 * current / most)

    for r in order:
        x, top = place[r.id]
        if r.parent in place:
            px, ptop = place[r.parent]
            taken = _taken(reports, r)
            c.line(
                (px + 24, ptop + HEAD),
                (px + 24, top + HEAD / 2),
                (x, top + HEAD / 2),
                css="feed",
                stroke_width=number(wide(taken)),
            )
            c.text(px + 36, top + HEAD / 2 - 6 - wide(taken) / 2, show(taken, "A"), "note m")
        rows = _branches(r)
        for n, (name, current) in enumerate(rows):
            at = top + 12 + n * ROW
            c.line(
                (x + BOX, top + HEAD / 2),
                (x + BOX + 16, at),
                (x + BOX + 40, at),
                css="feed",
                stroke_width=number(wide(current)),
            )
            c.text(x + BOX + 46, at + 4, _short(name, 26), "")
            c.text(x + BOX + 236, at + 4, show(current, "A"), "note m", "end")
        if not rows:
            c.text(x + BOX + 12, top + HEAD / 2 + 4, "nothing hangs on it", "note")
    for r in order:
        x, top = place[r.id]
        full = r.rating is not None and r.all_on > r.rating
        c.add(
            "rect",
            "body island-box danger" if full else "body island-box",
            x=number(x),
            y=number(top),
            width=BOX,
            height=HEAD,
        )
        c.text(x + 9, top + 17, _short(r.name, 26), "strong")
        c.text(
            x + 9,
            top + 33,
            _short(
                f"{show(r.volts.min, 'V')} to {show(r.volts.max, 'V')}, {sources.get(r.id, '')}", 36
            ),
            "note",
        )
        _bar(c, r, x + 9, top + 40, BOX - 18)
        c.text(
            x + 9,
            top + 73,
            show(r.all_on, "A")
            + (f" of {show(r.rating, 'A')}" if r.rating else ", rating not stated"),
            "note m",
        )
    return c.svg()
