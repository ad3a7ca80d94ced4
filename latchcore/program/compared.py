"""A capture held against the plan: what differs, by its name."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from latchcore.figures.quantity import show
from latchcore.figures.trace import Trace

#: An edge may come so much later or earlier: two turns of a usual loop [s]. Edges nearer to each
#: other than this, more than the plan has, are chatter [s].
USUAL_LATE, NEAR = 0.02, 0.05
#: How far a time may miss by the way numbers are kept [s].
FUZZ = 1e-9
#: Reasons of a stretch that has a length of its own.
PULSES = frozenset({"pulse", "macro"})
#: So much of the time a line has to agree the other way round to be called inverted, and so little
#: the right way round.
MOSTLY, HARDLY = 0.9, 0.1


@dataclass(frozen=True, slots=True)
class Difference:
    """One thing that differs: on which line, which, from when [s], and in words."""

    line: str
    name: str
    what: str
    t: float
    words: str


def compare(
    planned: Sequence[Trace],
    captured: Sequence[Trace],
    until: float,
    late: float = USUAL_LATE,
) -> list[Difference]:
    """
    What differs between plan and capture, in order of time.

    Parameters
    ----------
    planned, captured : sequence of Trace
        By line; time 0 of both is the program's first step, what stands before it in a capture is
        the reset
    until : float
        Where both end [s]
    late : float
        How far an edge may be off [s]

    Examples
    --------
    >>> plan = Trace("P1", "Lamp", ((0.0, 0), (1.0, 1), (2.0, 0)), 0, ("while",))
    >>> seen = Trace("P1", "Lamp", ((0.0, 0), (1.0, 1), (2.5, 0)))
    >>> [d.what for d in compare([plan], [seen], 5.0)]
    ['late off']
    """
    seen = {trace.line: trace for trace in captured}
    found: list[Difference] = []
    for plan in planned:
        if plan.line in seen:
            found += _line(plan, seen[plan.line], until, late + FUZZ)
    return sorted(found, key=lambda d: (d.t, d.line, d.what))


def _line(plan: Trace, seen: Trace, until: float, late: float) -> list[Difference]:
    seen = Trace(plan.line, plan.name, seen.points, plan.off)
    if _inverted(plan, seen, until):
        words = "it is high where the plan has it low, and low where it has it high"
        return [_said(plan, "wrong polarity", plan.points[0][0], words)]
    found = _reset(plan, seen)
    chatter, smooth = _chatter(plan, seen)
    return found + chatter + _stretches(plan, smooth, until, late)


def _said(plan: Trace, what: str, t: float, words: str) -> Difference:
    return Difference(plan.line, plan.name, what, t, f"{plan.line} {plan.name}: {words}.")


def _inverted(plan: Trace, seen: Trace, until: float) -> bool:
    """Whether it agrees nearly always the other way round; one that never moves says nothing."""
    if not plan.edges() or not seen.edges() or until <= 0:
        return False
    marks = sorted({0.0, until, *(t for t, _ in (*plan.points, *seen.points) if 0 < t < until)})
    same = sum(b - a for a, b in zip(marks, marks[1:], strict=False) if plan.at(a) == seen.at(a))
    return same / until < HARDLY and 1 - same / until > MOSTLY


def _reset(plan: Trace, seen: Trace) -> list[Difference]:
    """On before the program's first step."""
    for begin, end in seen.stretches(0.0):
        if begin < 0:
            lasts = show(min(end, 0.0) - begin, "s")
            words = f"it is on for {lasts} before the program has it"
            return [_said(plan, "level during reset", begin, words)]
    return []


def _chatter(plan: Trace, seen: Trace) -> tuple[list[Difference], Trace]:
    """Edges in a burst where the plan has fewer; and the capture with each burst as one edge."""
    edges, bursts = seen.edges(), []
    for t in edges:
        if bursts and t - bursts[-1][-1] <= NEAR:
            bursts[-1].append(t)
        else:
            bursts.append([t])
    found, points = [], [p for p in seen.points if p[0] not in set(edges)]
    for burst in bursts:
        wanted = [t for t in plan.edges() if burst[0] - NEAR <= t <= burst[-1] + NEAR]
        if len(burst) > max(len(wanted), 1):
            words = f"{len(burst)} changes within {show(burst[-1] - burst[0], 's')}"
            words += f" where the plan has {len(wanted) or 'none'}"
            found.append(_said(plan, "chatter", burst[0], words))
            points.append((burst[0], seen.at(burst[-1])))
        else:
            points += [(t, seen.at(t)) for t in burst]
    return found, Trace(seen.line, seen.name, tuple(sorted(points)), seen.off)


def _stretches(plan: Trace, seen: Trace, until: float, late: float) -> list[Difference]:
    """Each stretch of the plan with the one that overlaps it; what is left over of either."""
    wanted = plan.stretches(until)
    left = [s for s in seen.stretches(until) if s[1] > 0]
    found: list[Difference] = []
    for n, (begin, end) in enumerate(wanted):
        why = plan.on_for[n] if n < len(plan.on_for) else ""
        match = next((s for s in left if s[0] < end + late and s[1] > begin - late), None)
        if match is None:
            found.append(_said(plan, "missing", begin, f"it should be on from {begin:g} s"))
            continue
        left.remove(match)
        found += _edges(plan, (begin, end), match, why, (until, late))
    found += [
        _said(plan, "not planned", begin, f"it is on from {begin:g} to {end:g} s")
        for begin, end in left
        if begin >= 0
    ]
    return found


def _edges(
    plan: Trace,
    wanted: tuple[float, float],
    got: tuple[float, float],
    why: str,
    limits: tuple[float, float],
) -> list[Difference]:
    until, late = limits
    found = []
    if got[0] - wanted[0] > late:
        words = f"it goes on {show(got[0] - wanted[0], 's')} after {wanted[0]:g} s"
        found.append(_said(plan, "late on", wanted[0], words))
    longer = (got[1] - got[0]) - (wanted[1] - wanted[0])
    if why in PULSES and longer > late and wanted[1] < until:
        words = (
            f"its pulse of {show(wanted[1] - wanted[0], 's')} lasts {show(got[1] - got[0], 's')}"
        )
        found.append(_said(plan, "pulse too long", wanted[1], words))
    elif got[1] - wanted[1] > late and wanted[1] < until:
        words = f"it goes off {show(got[1] - wanted[1], 's')} after {wanted[1]:g} s"
        found.append(_said(plan, "late off", wanted[1], words))
    elif wanted[1] - got[1] > late:
        words = f"it goes off {show(wanted[1] - got[1], 's')} before {wanted[1]:g} s"
        found.append(_said(plan, "early off", got[1], words))
    return found
