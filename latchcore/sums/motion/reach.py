"""Which combinations program, start and power bring about, and by how few steps."""

from __future__ import annotations

import itertools
from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass, field

from latchcore.sums.motion.power import Power
from latchcore.sums.motion.slip import Slip, slipped


@dataclass(frozen=True, slots=True)
class At:
    """
    Where a board is: the lines as they stand, and what it is about.

    ``doing`` is ``dead``, ``boot`` with its stage, or ``write`` with the pattern that is written;
    ``left`` are lines still to be written, ``last`` the pattern that stood, ``slips`` how many
    happened, ``first_load`` whether nothing was written since power came.
    """

    lines: str
    doing: str
    stage: int = 0
    pattern: str = ""
    left: tuple[int, ...] = ()
    last: str = ""
    slips: int = 0
    low: frozenset[int] = frozenset()


@dataclass(frozen=True, slots=True)
class Step:
    """One step of a way: what happened, and the combination after it."""

    event: str
    lines: str


@dataclass
class Reached:
    """
    Everything that comes about.

    ``ways`` holds for each state the state before and the event; ``order`` the states as they were
    found, nearest first; ``edges`` each pair of combinations of one step.
    """

    ways: dict[At, tuple[At | None, str]] = field(default_factory=dict)
    depth: dict[At, int] = field(default_factory=dict)
    edges: dict[tuple[str, str], None] = field(default_factory=dict)

    @property
    def combinations(self) -> list[str]:
        """Every combination that comes about, in the order of their letters."""
        return sorted({at.lines for at in self.ways})

    def way(self, at: At) -> list[Step]:
        """One of the shortest ways to a state."""
        steps: list[Step] = []
        now: At | None = at
        while now is not None:
            before, event = self.ways[now]
            steps.append(Step(event, now.lines))
            now = before
        return steps[::-1]


def _orders(power: Power, now: str, wanted: str, begun: bool) -> Iterator[tuple[int, ...]]:
    """
    Orders in which the lines that change are written; after a start every line is.
    """
    program = power.program
    places = list(program.order or range(len(power.lines)))
    todo = [n for n in places if not begun or now[n] != wanted[n]]
    if program.writes == "any_order":
        yield from itertools.permutations(todo)
        return
    if program.writes == "off_first":
        rest = program.patterns[program.first]
        todo.sort(key=lambda n: wanted[n] != rest[n])
    yield tuple(todo)


class Explorer:
    """Walks every state of a board with its program, breadth first."""

    def __init__(self, power: Power, slips: int = 0):
        self.power, self.most = power, slips

    def walk(self) -> Reached:
        """Everything that comes about from the first power on."""
        found = Reached()
        begin = self._dead() if self.power.start.dies_alone else self._boot(0)
        found.ways[begin], found.depth[begin] = (None, "begin"), 0
        queue = deque([begin])
        while queue:
            at = queue.popleft()
            for event, after in self._steps(at):
                found.edges.setdefault((at.lines, after.lines))
                if after not in found.ways:
                    found.ways[after] = (at, event)
                    found.depth[after] = found.depth[at] + 1
                    queue.append(after)
        return found

    def _dead(self, slips: int = 0) -> At:
        return At("p" * len(self.power.lines), "dead", slips=slips)

    def _boot(self, stage: int, slips: int = 0) -> At:
        return At(self.power.start.boot[stage], "boot", stage, slips=slips)

    def _steps(self, at: At) -> Iterator[tuple[str, At]]:
        if at.doing == "dead":
            yield "power", self._boot(0, at.slips)
            return
        yield from self._interrupted(at)
        if at.doing == "boot":
            if at.stage + 1 < len(self.power.start.boot):
                yield "boot", self._boot(at.stage + 1, at.slips)
                return
            yield from self._begin(at, self.power.program.first, begun=False)
        elif at.left or at.low:
            yield from self._go_on(at)
        else:
            for pattern in self.power.program.follows(at.pattern):
                yield from self._begin(at, pattern, begun=True)

    def _interrupted(self, at: At) -> Iterator[tuple[str, At]]:
        """Reset and loss of power come at any moment."""
        if self.power.start.reset == "keeps":
            last = len(self.power.start.boot) - 1
            yield "reset", At(at.lines, "boot", last, last=at.last, slips=at.slips)
        else:
            yield "reset", self._boot(0, at.slips)
        if self.power.start.dies_alone:
            yield "power off", self._dead(at.slips)

    def _begin(self, at: At, pattern: str, begun: bool) -> Iterator[tuple[str, At]]:
        """Start writing a pattern: one latch, or the first of its lines."""
        wanted = self.power.program.patterns[pattern]
        if self.power.program.writes == "together":
            done = At(wanted, "write", pattern=pattern, last=pattern, slips=at.slips)
            yield f"write {pattern}", done
            if at.slips < self.most:
                before = at.lines if begun else None
                for slip in slipped(self.power, before, wanted):
                    event = f"write {pattern}, slipped {slip.way}, {slip.moves_in}"
                    yield event, self._after(slip, pattern, at.slips + 1)
            return
        begin_low = self.power.program.begin_low and not begun
        for order in _orders(self.power, at.lines, wanted, begun):
            ready = At(at.lines, "write", pattern=pattern, left=order, slips=at.slips)
            if not order:
                yield f"write {pattern}", At(at.lines, "write", pattern=pattern, slips=at.slips)
                continue
            yield self._write(ready, wanted, begin_low)

    @staticmethod
    def _after(slip: Slip, pattern: str, slips: int) -> At:
        return At(slip.becomes, "write", pattern=pattern, last=pattern, slips=slips)

    def _write(self, at: At, wanted: str, begin_low: bool) -> tuple[str, At]:
        """The next line goes to its level; where pins begin low, over that."""
        n = at.left[0]
        name = self.power.lines[n].name
        if begin_low and n not in at.low and wanted[n] == "1":
            lines = at.lines[:n] + "0" + at.lines[n + 1 :]
            waits = At(lines, "write", 0, at.pattern, at.left, at.last, at.slips, frozenset({n}))
            return f"write {name}", waits
        lines = at.lines[:n] + wanted[n] + at.lines[n + 1 :]
        return f"write {name}", At(lines, "write", 0, at.pattern, at.left[1:], at.last, at.slips)

    def _go_on(self, at: At) -> Iterator[tuple[str, At]]:
        wanted = self.power.program.patterns[at.pattern]
        low = self.power.program.begin_low and any(
            at.lines[n] not in "01" for n in at.left if n not in at.low
        )
        yield self._write(at, wanted, low or bool(at.low))
