"""Lanes over time: what is read, what is on, what flows; for a sentence and for a rehearsal."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from drawings.svg import Canvas, number
from latchcore.advice.rehearsed import RailLane, Rehearsed
from latchcore.behaviour.named import Sense
from latchcore.behaviour.strips import Strip
from latchcore.figures.quantity import show

STRIP_WIDTH, STRIP_LABEL, STRIP_LANE = 420, 110, 22
WIDTH, LABEL, LANE, RAIL, HEAD, RIGHT = 1000, 150, 24, 46, 26, 70
#: Marks of the time axis [s].
MARKS = (0.01, 0.05, 0.1, 0.5, 1, 2, 5, 10, 30, 60, 300, 600, 1800, 3600, 7200, 21600, 43200, 86400)
#: Nothing narrower than this is drawn by itself [px].
NARROW = 0.7

Steps = list[tuple[float, int]]


@dataclass(frozen=True, slots=True)
class Scale:
    """Where a time stands: the lane begins at ``left`` and is ``wide`` for ``seconds``."""

    left: float
    wide: float
    seconds: float

    def x(self, t: float) -> float:
        """Across [px]."""
        return self.left + self.wide * min(max(t / self.seconds, 0.0), 1.0)


def strip_plan(strip: Strip, says: str) -> str:
    """Draw what one rule does while what it looks at comes and goes once."""
    height = STRIP_LANE * len(strip.lanes) + 18
    c = Canvas(STRIP_WIDTH, height, says, "what is looked at above, what is on below")
    scale = Scale(STRIP_LABEL, STRIP_WIDTH - STRIP_LABEL - 8, strip.seconds)
    for n, (name, points) in enumerate(strip.lanes):
        top = 2 + n * STRIP_LANE
        c.text(0, top + 14, _short(name, 17), "note")
        own = n == len(strip.lanes) - 1
        _lane(c, scale, top, STRIP_LANE - 6, list(points), "on" if own else "")
    _axis(c, scale, STRIP_LANE * len(strip.lanes) + 4, tall=0)
    return c.svg()


def _short(name: str, most: int) -> str:
    return name if len(name) <= most else f"{name[: most - 1]}…"


def _lane(c: Canvas, scale: Scale, top: float, tall: float, points: Steps, css: str) -> None:
    """One lane: boxes where a channel is on, a line where something is read."""
    base = top + tall
    c.line((scale.left, base), (scale.left + scale.wide, base), css="ink", stroke_dasharray="1 4")
    if css:
        for begin, end, level in _boxes(points, scale):
            high = tall * max(level, 12) / 100
            c.add(
                "rect",
                f"does {css}",
                x=number(begin),
                y=number(base - high),
                width=number(max(end - begin, 1.0)),
                height=number(high),
            )
        return
    at, line = base, []
    for t, level in points:
        x, y = scale.x(t), base - tall * level / 100
        if not line:
            line = [(scale.left, y if t == 0 else base)]
            at = line[0][1]
        line += [(x, at), (x, y)]
        at = y
    if line:
        c.line(*_thin(line), (scale.left + scale.wide, at), css="ink heavy")


def _boxes(points: Steps, scale: Scale) -> Iterable[tuple[float, float, int]]:
    """Stretches in which something is on, those too narrow to be told apart joined."""
    found: list[list[float]] = []
    since, level = 0.0, 0
    for t, value in [*points, (scale.seconds, 0)]:
        if level and (value != level):
            begin, end = scale.x(since), scale.x(t)
            near = found and begin - found[-1][1] < NARROW and found[-1][2] == level
            if near:
                found[-1][1] = end
            else:
                found.append([begin, end, level])
        if value != level:
            since, level = t, value
    return [(a, b, int(high)) for a, b, high in found]


def _thin(line: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """A line without the points nobody could tell apart."""
    kept = line[:1]
    for point in line[1:]:
        if abs(point[0] - kept[-1][0]) >= NARROW or abs(point[1] - kept[-1][1]) >= NARROW:
            kept.append(point)
    return kept


def _axis(c: Canvas, scale: Scale, y: float, tall: float) -> None:
    """The time, with marks at round figures."""
    step = next((m for m in MARKS if scale.seconds / m <= 9), MARKS[-1])
    while scale.seconds / step > 12:
        step *= 2
    n = 0
    while n * step <= scale.seconds * 1.0001:
        x = scale.x(n * step)
        c.line((x, y - 3), (x, y + 1))
        if tall:
            c.line((x, y), (x, y + tall), css="ink", stroke_dasharray="1 6")
        anchor = "end" if n and (n + 1) * step > scale.seconds * 1.0001 else "middle"
        c.text(x, y + 12 if not tall else y - 6, _clock(n * step), "note", anchor)
        n += 1


def _clock(t: float) -> str:
    if t >= 3600:
        return f"{t / 3600:g} h"
    if t >= 120:
        return f"{t / 60:g} min"
    return show(t, "s") if t else "0"


def rehearsal_plan(found: Rehearsed, senses: dict[str, Sense], cursor: float) -> str:
    """
    Draw a rehearsal: a lane for each input, each channel that anything asks for, and each rail;
    alarms as flags, and the cursor.

    Parameters
    ----------
    found : Rehearsed
    senses : dict
        Inputs by key; where one is pressed in its lane, its reading is drawn by hand
    cursor : float
        Where it stands [s]
    """
    run, program = found.run, found.program
    seconds = max(run.last * run.step, run.step)
    shown = [n for n, key in enumerate(program.inputs) if key in senses]
    parts = [part for part in program.channels if part.requests] or program.channels
    height = HEAD + LANE * (len(shown) + len(parts)) + RAIL * len(found.rails) + 24
    c = Canvas(WIDTH, height, "Rehearsal", f"inputs, channels and currents over {seconds:g} s")
    scale = Scale(LABEL, WIDTH - LABEL - RIGHT, seconds)
    _axis(c, scale, HEAD - 6, tall=height - HEAD - 14)
    top = float(HEAD)
    for place in shown:
        points = [(s * run.step, v) for s, p, v in run.inputs if p == place]
        sense = senses[program.inputs[place]]
        c.text(0, top + 15, _short(sense.name, 22), "note")
        _lane(c, scale, top + 2, LANE - 7, _scaled(points), "")
        _pressed(c, scale, top, sense, points)
        top += LANE
    for part in parts:
        points = [(w.step * run.step, w.level) for w in run.changes if w.channel == part.place]
        c.text(0, top + 15, _short(part.name, 22), "strong")
        _lane(c, scale, top + 2, LANE - 7, points, "on")
        top += LANE
    for lane in found.rails:
        _rail(c, scale, top + 4, lane)
        top += RAIL
    for alarm in run.alarms:
        x = scale.x(alarm.step * run.step)
        c.line((x, HEAD), (x, height - 20), css="gap")
        c.add("path", "solid", d=f"M{number(x)} {HEAD}l8 4l-8 4z")
    c.open("cursor", data_left=LABEL, data_wide=number(scale.wide), data_span=number(seconds))
    x = scale.x(cursor)
    c.line((x, HEAD - 4), (x, height - 18), css="ink heavy")
    c.close()
    return c.svg()


def _pressed(
    c: Canvas, scale: Scale, top: float, sense: Sense, points: list[tuple[float, object]]
) -> None:
    """Where a reading is drawn by hand: what a script needs to say what was meant."""
    ends = {"data_low": sense.low, "data_high": sense.high} if sense.scaled else {}
    c.add(
        "rect",
        "hit",
        x=number(scale.left),
        y=number(top),
        width=number(scale.wide),
        height=LANE - 2,
        data_sense=sense.name,
        data_on=" ".join(f"{t:g}" for t, value in points if value and not sense.scaled),
        data_off=" ".join(f"{t:g}" for t, value in points if not value and not sense.scaled),
        **ends,
    )


def _scaled(points: list[tuple[float, object]]) -> Steps:
    """Readings as a share of the largest; none is drawn at the bottom."""
    values = [abs(float(v)) for _, v in points if isinstance(v, int | float)]
    most = max(values, default=1.0) or 1.0
    return [
        (t, round(100 * float(v) / most) if isinstance(v, int | float) else 0) for t, v in points
    ]


def _rail(c: Canvas, scale: Scale, top: float, lane: RailLane) -> None:
    """The current of a rail, with its rating as a line where it is near."""
    tall = RAIL - 12
    most = max(lane.most, lane.rating if lane.rating and lane.rating < 2 * lane.most else 0) or 1.0
    base = top + tall
    c.text(0, top + 16, _short(lane.name, 22), "note")
    c.text(0, top + 30, f"up to {show(lane.most, 'A')}", "note")
    line, at = [(scale.left, base)], base
    for t, amps in lane.points:
        y = base - tall * amps / most
        line += [(scale.x(t), at), (scale.x(t), y)]
        at = y
    c.line(*_thin(line), (scale.left + scale.wide, at))
    if lane.rating and lane.rating <= most:
        y = base - tall * lane.rating / most
        c.line((scale.left, y), (scale.left + scale.wide, y), css="gap")
        c.text(scale.left + scale.wide + 4, y + 4, show(lane.rating, "A"), "alarm")
