"""
The whole build on one sheet: board, what stands between, loads; one line a channel, rails by their
letters.
"""

from __future__ import annotations

from drawings.svg import Canvas, number
from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.figures.quantity import show
from latchcore.whole.wire_list import module_numbers

WIDTH, ROW, HEAD = 760, 30, 40
BOARD, BETWEEN, LOADS, RAILS = (8, 150), (232, 210), (520, 232), 34


def _short(words: str, most: int) -> str:
    return words if len(words) <= most else words[: most - 1] + "…"


def _groups(around: BuildContext, report: Report) -> list[tuple[str, list]]:
    """
    Channels by what they hang on: each module one group, each other stage one of its own, in the
    order of the line-up.
    """
    modules = module_numbers(around, report)
    found: dict[object, tuple[str, list]] = {}
    for c in report.channels:
        if c.result is None:
            continue
        package = c.result.array.package
        key: object = (
            ("module", modules[c.id])
            if c.id in modules
            else ("array", package)
            if package
            else c.id
        )
        title = (
            f"module {modules[c.id]}"
            if c.id in modules
            else f"array {package}"
            if package
            else c.result.title
        )
        found.setdefault(key, (title, []))[1].append(c)
    return list(found.values())


def build_plan(around: BuildContext, report: Report) -> str:
    """
    Draw the plan.

    Parameters
    ----------
    around : BuildContext
    report : Report
        Of the same build
    """
    build, groups = around.build, _groups(around, report)
    rows = sum(len(members) for _, members in groups) + len(report.inputs)
    gaps = len(groups) + bool(report.inputs)
    tags = {r.id: f"V{n + 1}" for n, r in enumerate(build.rails)}
    top = HEAD + 6 + 22 * ((len(build.rails) + 2) // 3)
    height = top + rows * ROW + gaps * 8 + 16
    pins = {channel.id: ", ".join(channel.pins) or "no pin" for channel in build.channels}
    said = "; ".join(
        f"{c.letter} {c.name}: {pins[c.id]} to {c.result.title}"
        for _, members in groups
        for c in members[:16]
    )
    lines = rows + sum(len(channel.lines) for channel in build.channels)
    c = Canvas(WIDTH, height, f"Plan of the build: {lines} lines", said, css="drawing build-plan")
    for n, r in enumerate(build.rails):
        x, y = 12 + (n % 3) * 250, 14 + 22 * (n // 3)
        _tag(c, x, y, tags[r.id], around.hazardous(r))
        c.text(x + RAILS, y + 4, _short(f"{r.name}, {around.rail_volts(r).shown('V')}", 32), "note")
    y = float(top)
    c.add("rect", "body", x=BOARD[0], y=number(y), width=BOARD[1], height=number(height - y - 10))
    c.text(
        BOARD[0] + 8,
        y - 7,
        _short(around.board.title if around.board else "no board yet", 40),
        "strong",
    )
    c.text(BETWEEN[0], y - 7, "between", "note")
    c.text(LOADS[0], y - 7, "loads", "note")
    y += 6
    for title, members in groups:
        tall = len(members) * ROW
        hazard = any(around.hazardous(build.rail(build.channel(m.id).rail)) for m in members)
        c.add("rect", "body", x=BETWEEN[0], y=number(y), width=BETWEEN[1], height=number(tall - 2))
        for n, m in enumerate(members):
            _channel(c, around, m, y + n * ROW + ROW / 2 - 1, title if n == 0 else "", tags)
        # Where something parts the sides, the double line of a barrier runs through all of a
        # module.
        if any(
            m.result.barrier is not None
            and not m.result.netlist.joined(f"{m.id}.PIN", f"{m.id}.LOAD")
            for m in members
        ):
            x = BETWEEN[0] + BETWEEN[1] - 22
            for dx in (0, 6):
                c.line((x + dx, y), (x + dx, y + tall - 2), css="ink heavy" if hazard else "ink")
        y += tall + 8
    for item, found in zip(build.inputs, report.inputs, strict=True):
        middle = y + ROW / 2 - 1
        pins = ", ".join(p for p in (item.pin, item.pin_two) if p) or "no pin"
        c.text(BOARD[0] + BOARD[1] - 8, middle + 4, pins, "mono", "end")
        c.line((BOARD[0] + BOARD[1], middle), (BETWEEN[0], middle))
        c.line(
            (BOARD[0] + BOARD[1] + 12, middle - 5),
            (BOARD[0] + BOARD[1] + 3, middle),
            (BOARD[0] + BOARD[1] + 12, middle + 5),
        )
        c.text(BETWEEN[0] + 8, middle + 4, _short(f"{found.title}: {item.name}", 44))
        if item.rail in tags:
            _tag(c, LOADS[0], middle, tags[item.rail], around.hazardous(build.rail(item.rail)))
        y += ROW
    return c.svg()


def _channel(
    c: Canvas, around: BuildContext, report, y: float, title: str, tags: dict[str, str]
) -> None:
    build, result = around.build, report.result
    channel = build.channel(report.id)
    c.text(BOARD[0] + BOARD[1] - 8, y + 4, ", ".join(channel.pins) or "no pin", "mono", "end")
    c.text(BOARD[0] + 8, y + 4, report.letter, "strong")
    c.line((BOARD[0] + BOARD[1], y), (BETWEEN[0], y))
    if title:
        c.text(BETWEEN[0] + 8, y + 4, _short(title, 26))
    c.line((BETWEEN[0] + BETWEEN[1], y), (LOADS[0], y))
    c.text(
        (BETWEEN[0] + BETWEEN[1] + LOADS[0]) / 2,
        y - 4,
        show(result.running or result.pin_current, "A"),
        "note m",
        "middle",
    )
    c.text(
        LOADS[0] + 6,
        y + 4,
        _short(report.name, 22),
        "strong" if report.verdict in ("stop", "fix") else "",
    )
    if channel.rail in tags:
        _tag(c, LOADS[0] + 196, y, tags[channel.rail], around.hazardous(build.rail(channel.rail)))


def _tag(c: Canvas, x: float, y: float, words: str, hazard: bool) -> None:
    c.add(
        "rect",
        "flag danger" if hazard else "flag",
        x=number(x),
        y=number(y - 8),
        width=28,
        height=16,
    )
    c.text(x + 14, y + 4, words, "note", "middle")
