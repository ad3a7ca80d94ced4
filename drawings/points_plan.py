"""
Where the wires of each rail meet: source, fuse and block of its plus and of its minus, each wire of
the star with what it carries and where it ends.
"""

from __future__ import annotations

from dataclasses import dataclass

from drawings.svg import Canvas, number
from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.figures.quantity import digits, show
from latchcore.metal.conductors import Conductor, Terminal
from latchcore.whole.laying.boards import Places
from latchcore.whole.laying.words import Ends

WIDTH, ROW, HEAD, GAP = 760, 22, 58, 26
#: Left ends of the two halves, and where in each its block stands.
HALVES, BLOCK = (12, 392), 84
MOST = 40


@dataclass(frozen=True)
class Star:
    """One pole of a rail: the way to its point, and the wires that leave it."""

    title: str
    way: tuple[Conductor, ...]
    wires: tuple[Conductor, ...]
    hazardous: bool


def stars(
    around: BuildContext, laid: list[Conductor]
) -> list[tuple[str, Star, Star, list[Conductor]]]:
    """Both poles of every rail that feeds anything, and its earths, in the order of the rails."""
    found = []
    for rail in around.build.rails:
        poles = []
        for pole, node in (("+", rail.id), ("-", around.return_of(rail))):
            there = [c for c in laid if c.node == node and not _inside(c)]
            way, point = _way(there, rail.id, pole)
            wires = [c for c in there if c.start == point and not c.joint]
            poles.append(
                Star(_pole(around, rail, pole), tuple(way), tuple(wires), around.hazardous(rail))
            )
        if poles[0].wires or poles[1].wires:
            earths = [c for c in laid if c.node == f"{rail.id}.PE"]
            found.append((rail.name, *poles, earths))
        found += [
            _of_block(around, rail, b, laid) for b in around.build.blocks if b.rail == rail.id
        ]
    return found


def _of_block(around: BuildContext, rail, block, laid: list[Conductor]):
    """The two poles of a distribution point: the wire that comes, and those that leave."""
    poles = []
    for pole in "+-":
        post = Terminal(f"BLOCK.{block.id}", pole)
        way = tuple(c for c in laid if c.end == post)
        wires = tuple(c for c in laid if c.start == post and not c.joint)
        poles.append(Star(_pole(around, rail, pole), way, wires, around.hazardous(rail)))
    return (block.name, *poles, [])


def _inside(c: Conductor) -> bool:
    return c.joint and not c.start.part.startswith("FUSE.")


def _way(there: list[Conductor], rail: str, pole: str) -> tuple[list[Conductor], Terminal]:
    """From the source to the point where the star begins."""
    own = {f"FUSE.{rail}", f"POINT.{rail}{pole}"}
    way, point = [], Terminal(f"SUPPLY.{rail}", pole)
    while step := next((c for c in there if c.start == point and c.end.part in own), None):
        way.append(step)
        point = step.end
    return way, point


def _pole(around: BuildContext, rail, pole: str) -> str:
    if not around.alternating(rail):
        return {"+": "plus", "-": "minus"}[pole]
    two = around.two_lives(rail)
    return {"+": "L1" if two else "L", "-": "L2" if two else "N"}[pole]


def points_plan(
    around: BuildContext, report: Report, laid: list[Conductor], letters: dict[str, str]
) -> str:
    """
    Draw the points of every rail; empty where nothing is fed.

    Parameters
    ----------
    around : BuildContext
    report : Report
        Of the same build
    laid : list of Conductor
        Its conductors
    letters : dict
        Of channels, inputs and rails, by id
    """
    found = stars(around, laid)
    if not found:
        return ""
    ends = Ends(Places(around, report), letters)
    rows = [max(len(plus.wires), len(minus.wires), 1) + bool(e) for _, plus, minus, e in found]
    height = sum(n * ROW + HEAD + GAP for n in rows) + 8
    said = "; ".join(f"{name}: {len(p.wires)} wires from its {p.title}" for name, p, *_ in found)
    c = Canvas(WIDTH, height, "Points of the rails", said, css="drawing points-plan")
    y = 8.0
    for (name, plus, minus, earths), many in zip(found, rows, strict=True):
        c.text(HALVES[0], y + 10, name, "strong")
        for x, star in zip(HALVES, (plus, minus), strict=True):
            _star(c, x, y + 20, star, ends)
        if earths:
            words = ", ".join(_to(ends.of(e.end)) for e in earths)
            text = (
                f"earth, {_made(earths[0])}, a conductor each from the inlet straight to: {words}"
            )
            c.text(HALVES[0], y + 20 + 22 + many * ROW, text, "note")
        y += many * ROW + HEAD + GAP
    return c.svg()


def _star(c: Canvas, x: float, y: float, star: Star, ends: Ends) -> None:
    """One pole: its way from the left, its block, and a wire to each end."""
    css = "danger" if star.hazardous else "ink"
    c.text(x, y + 12, star.title, "note")
    fuse = next((w for w in star.way if w.joint), None)
    shared = star.way[-1] if star.way else None
    c.line((x, y + 22), (x + BLOCK, y + 22), css=css)
    if fuse is not None:
        c.add("rect", "body", x=number(x + 24), y=number(y + 17), width=22, height=10)
        c.line((x + 24, y + 22), (x + 46, y + 22), css=css)
    if shared is not None:
        behind = f", behind {show(shared.fuse, 'A')}" if shared.fuse else ""
        c.text(x, y + 38, show(shared.running, "A"), "live")
        c.text(x + BLOCK + 12, y + 12, f"{_made(shared)}{behind}", "note")
    bottom = y + 22 + max(len(star.wires), 1) * ROW
    c.line((x + BLOCK, y + 16), (x + BLOCK, bottom), css="ink heavy")
    for n, wire in enumerate(star.wires):
        at = y + 34 + n * ROW
        c.line((x + BLOCK, at), (x + BLOCK + 26, at), css=css)
        carried = f"{show(wire.running, 'A')} to " if wire.running else "to "
        # The star says which rail it is; its wires say where they go.
        words = carried + ends.of(wire.end).partition(", ")[0]
        c.text(x + BLOCK + 32, at + 4, words if len(words) <= MOST else words[: MOST - 1] + "…")


def _made(wire: Conductor) -> str:
    return f"{wire.colour.split(',')[0]} {digits(wire.area * 1e6)} mm²"


def _to(words: str) -> str:
    """Where an earth leads, without saying twice that it is one."""
    return words.partition(" earth")[0].rstrip(",")
