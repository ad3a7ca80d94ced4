"""The table of a stage of several lines, as it is told: each combination, and the way to it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from latchcore.sums.motion.judge import Motion
from latchcore.sums.motion.reach import At, Step
from latchcore.sums.motion.table import Row

#: What a letter of a combination means.
LETTERS = {
    "1": "high",
    "0": "low",
    "z": "floating",
    "u": "weakly up",
    "d": "weakly down",
    "p": "board dead",
    "x": "unknown",
}


@dataclass(frozen=True, slots=True)
class Told:
    """
    One combination: the letter of each line, what results, what may result where nothing decides,
    whether it comes about, and by which shortest way.
    """

    inputs: str
    result: str
    can_be: tuple[str, ...]
    reachable: bool
    by: tuple[str, ...]
    row: Row

    @property
    def words(self) -> str:
        """
        The result, or every result it may have; a combination its print does not name says so.
        """
        named = " or ".join(self.can_be)
        return named if self.row.printed else f"{named}, not named in its print"

    @property
    def letters(self) -> list[str]:
        """What each line is, in words."""
        return [LETTERS[letter] for letter in self.inputs]

    def as_data(self) -> dict[str, Any]:
        """As plain data, for other programs."""
        return {
            "inputs": self.inputs,
            "result": self.result,
            "can_be": list(self.can_be),
            "reachable": self.reachable,
            "by": list(self.by),
        }


def told(motion: Motion) -> list[Told]:
    """
    Every combination of driven and floating lines, and each other one that comes about: what does,
    first, in the order in which it is reached.

    Examples
    --------
    >>> from latchcore.sums.motion.power import Line, Power, Program, Pull, Start, Switch, Winding
    >>> from latchcore.sums.motion.judge import judge
    >>> line = Line("run", 0.5, 2.5, Pull("low", 10e3))
    >>> program = Program({"rest": "0", "run": "1"}, "rest")
    >>> found = judge(Power("motor", 12.0, 0.1, 5.0, 5.0, (line,), program, Start(("z",), True),
    ...     switches=(Switch("lower", ("a", "minus"), 0.1, "run"),),
    ...     windings=(Winding("M", "motor", ("plus", "a"), 8.0),)))
    >>> [(t.inputs, t.result, t.reachable, t.by[-1]) for t in told(found)][:2]
    [('p', 'coast', True, 'begin'), ('z', 'coast', True, 'power')]
    """
    nearest: dict[str, At] = {}
    for at in sorted(motion.reached.ways, key=lambda a: motion.reached.depth[a]):
        nearest.setdefault(at.lines, at)
    rows = [
        Told(
            lines,
            row.result,
            row.can_be,
            lines in nearest,
            tuple(event(motion, s) for s in motion.reached.way(nearest[lines]))
            if lines in nearest
            else (),
            row,
        )
        for lines, row in motion.rows.items()
    ]
    order = {"1": 0, "0": 1}
    return sorted(
        rows,
        key=lambda t: (
            not t.reachable,
            motion.reached.depth[nearest[t.inputs]] if t.reachable else 0,
            [order.get(c, 2) for c in t.inputs],
        ),
    )


def event(motion: Motion, step: Step) -> str:
    """A step in words: which line took which level, where one was written."""
    name = step.event.removeprefix("write ")
    place = motion.power.index.get(name) if name != step.event else None
    return step.event if place is None else f"{name} {LETTERS[step.lines[place]]}"
