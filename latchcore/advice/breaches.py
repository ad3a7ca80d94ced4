"""What a rehearsal does to the loads that they do not bear: too long, too often on, no rest."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.behaviour.rehearsal import Rehearsal
from latchcore.document.models import Channel
from latchcore.figures.quantity import parse, show
from latchcore.figures.slack import exceeds, falls_short

#: One stretch of being on: first step, the step after the last, and its level while that is one.
Stretch = tuple[int, int, int]


@dataclass(frozen=True, slots=True)
class Breach:
    """When something is passed [s], and what."""

    t: float
    words: str


def stretches(run: Rehearsal, place: int) -> list[Stretch]:
    """
    Where a channel is on, a stretch for each level; those that touch are one time on.

    Examples
    --------
    >>> from latchcore.behaviour.rehearsal import Written
    >>> run = Rehearsal(0.01, 9, [Written(2, 0, 100, "while"), Written(5, 0, 0, "ended")])
    >>> stretches(run, 0)
    [(2, 5, 100)]
    """
    found, begun, level = [], 0, 0
    for written in [w for w in run.changes if w.channel == place]:
        if level:
            found.append((begun, written.step, level))
        begun, level = written.step, written.level
    if level:
        found.append((begun, run.last + 1, level))
    return found


def times_on(found: list[Stretch]) -> list[tuple[int, int]]:
    """
    Times on, whatever the level: first step and the one after the last.

    Examples
    --------
    >>> times_on([(2, 5, 100), (5, 7, 40), (9, 10, 100)])
    [(2, 7), (9, 10)]
    """
    merged: list[tuple[int, int]] = []
    for begin, end, _ in found:
        if merged and merged[-1][1] == begin:
            merged[-1] = (merged[-1][0], end)
        else:
            merged.append((begin, end))
    return merged


def breaches_of(
    channel: Channel, name: str, on: list[tuple[int, int]], run: Rehearsal
) -> list[Breach]:
    """What one load does not bear of a run: each kind where it happens first."""
    load, step, found = channel.load, run.step, []
    rated = parse(load.longest_rated, "s") if load.longest_rated else None
    for begin, end in on:
        if rated is not None and exceeds((end - begin) * step, rated):
            t = begin * step + rated
            found.append(
                Breach(t, f"{name} is on for longer than the {load.longest_rated} it bears")
            )
            break
    rest = parse(load.least_off, "s") if load.least_off else None
    for (_, off), (again, _) in zip(on, on[1:], strict=False):
        if rest is not None and falls_short((again - off) * step, rest):
            words = f"{name} starts again after {show((again - off) * step, 's')}"
            found.append(Breach(again * step, f"{words}; it wants to rest for {load.least_off}"))
            break
    share = parse(load.duty_rated, "%") / 100 if load.duty_rated else None
    total = sum(end - begin for begin, end in on) / (run.last + 1)
    if share is not None and exceeds(total, share):
        words = f"{name} is on for {show(total * 100, '%')} of all, rated {load.duty_rated}"
        found.append(Breach(run.last * step, words))
    return found
