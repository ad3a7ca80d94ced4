"""A chain of registers: which channel is where, what is sent, and what a wrong clock edge does."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

from latchcore.sums.motion.slip import shifted


@dataclass(frozen=True, slots=True)
class Member:
    """A channel of a chain: its indices, the bits of each state, and its state at rest."""

    name: str
    indices: tuple[int, ...]
    codes: dict[str, str]
    rest: str


@dataclass(frozen=True, slots=True)
class Clock:
    """Idle level of the clock, and on which edge is sampled."""

    idle: str
    samples: str

    @property
    def rising(self) -> bool:
        """
        Whether the edge that counts rises: idle low and first, or idle high and second.

        >>> Clock("low", "first").rising, Clock("high", "second").rising
        (True, True)
        """
        return (self.idle == "low") == (self.samples == "first")


@dataclass(frozen=True, slots=True)
class Wrong:
    """Contents that may come of it, nearest first, and which channels are then not as asked."""

    contents: str
    on: tuple[str, ...]
    at_rest: tuple[str, ...]
    forbidden: tuple[str, ...]

    @property
    def harmless(self) -> bool:
        """Whether every channel is as it was asked."""
        return not (self.on or self.at_rest or self.forbidden)


@dataclass(frozen=True, slots=True)
class Chain:
    """
    Registers in a row.

    ``outputs`` of all parts together; ``base`` of its indices, ``farthest_first`` where the first
    index is farthest from the data input; ``data_rests`` the level the data line returns to, or
    ``keeps`` the last bit.
    """

    outputs: int
    members: tuple[Member, ...]
    base: int = 0
    farthest_first: bool = False
    data_rests: str = "keeps"

    @property
    def outside(self) -> list[tuple[str, int]]:
        """Indices below the base or beyond the last output, with who claims them."""
        last = self.base + self.outputs - 1
        return [(m.name, i) for m in self.members for i in m.indices if not self.base <= i <= last]

    @property
    def twice(self) -> dict[int, list[str]]:
        """Indices that several claim."""
        many = Counter(i for m in self.members for i in m.indices)
        return {
            i: [m.name for m in self.members if i in m.indices] for i, n in many.items() if n > 1
        }

    def place(self, index: int) -> int:
        """Place of an index from the data input, from 0."""
        step = index - self.base
        return self.outputs - 1 - step if self.farthest_first else step

    def contents(self, pattern: dict[str, str]) -> str:
        """What stands in the chain for a pattern, nearest first; unused outputs are 0."""
        bits = ["0"] * self.outputs
        for member in self.members:
            code = member.codes[pattern.get(member.name, member.rest)]
            for index, bit in zip(member.indices, code, strict=True):
                bits[self.place(index)] = bit
        return "".join(bits)

    def bits(self, pattern: dict[str, str]) -> str:
        """
        The bits in the order they are sent: the first ends farthest.

        >>> bell = Member("a", (0,), {"on": "1", "off": "0"}, "off")
        >>> Chain(3, (bell,)).bits({"a": "on"})
        '001'
        """
        return self.contents(pattern)[::-1]

    def judged(self, contents: str, pattern: dict[str, str]) -> Wrong:
        """Which channels are not as a pattern asks, with these contents."""
        on: list[str] = []
        at_rest: list[str] = []
        forbidden: list[str] = []
        for member in self.members:
            code = "".join(contents[self.place(i)] for i in member.indices)
            state = next((s for s, c in member.codes.items() if c == code), None)
            wanted = pattern.get(member.name, member.rest)
            if state is None:
                forbidden.append(member.name)
            elif state != wanted:
                (at_rest if state == member.rest else on).append(member.name)
        return Wrong(contents, tuple(on), tuple(at_rest), tuple(forbidden))

    def moved(self, before: dict[str, str], wanted: dict[str, str], way: str) -> Wrong:
        """A pattern that slipped by one place, farther or nearer."""
        rests = "rest" if self.data_rests == "keeps" else self.data_rests
        old, new = self.contents(before), self.contents(wanted)
        if rests == "1":
            moved = "1" + new[:-1] if way == "farther" else new[1:] + "1"
        else:
            moved = shifted(new, old, way, rests)
        return self.judged(moved, wanted)

    def may_become(
        self, before: dict[str, str], wanted: dict[str, str], program: Clock, part: Clock
    ) -> list[Wrong]:
        """
        What the contents can be where program and part sample so.

        Sampling on the edge on which data changes gets the old bit or the new one for the whole
        transfer: a program read on the second edge is one late or right, on the first right or one
        early.
        """
        right = self.judged(self.contents(wanted), wanted)
        if program.rising == part.rising:
            return [right]
        way = "nearer" if program.samples == "second" else "farther"
        other = self.moved(before, wanted, way)
        return sorted({w.contents: w for w in (right, other)}.values(), key=lambda w: w.contents)

    def slips(self, patterns: dict[str, dict[str, str]]) -> Iterator[tuple[str, str, str, Wrong]]:
        """Each pattern over each, one place either way, where anything goes wrong."""
        for before, old in patterns.items():
            for wanted, new in patterns.items():
                for way in ("farther", "nearer"):
                    wrong = self.moved(old, new, way)
                    if not wrong.harmless:
                        yield before, wanted, way, wrong

    def verdict(
        self,
        patterns: dict[str, dict[str, str]],
        program: Clock,
        part: Clock,
        compared: bool,
        armed: bool,
    ) -> str | None:
        """
        M7: only where the sampling edges differ or nobody compared them.

        ``armed`` says that nothing in hardware disarms a forbidden code.
        """
        if compared and program.rising == part.rising:
            return None
        wrong = [w for *_, w in self.slips(patterns)]
        if armed and any(w.forbidden for w in wrong):
            return "stop"
        return "fix" if any(w.forbidden or w.on for w in wrong) else None

    def update(self, clock: float, latch: float) -> float:
        """Time of one load and its latch [s]."""
        return self.outputs / clock + latch
