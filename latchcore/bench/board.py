"""The board on the simulated bench: the build's own program, given words and time."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace

from latchcore.behaviour.checking import faults_of
from latchcore.behaviour.compiling import compiled
from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.layout import steps_of
from latchcore.behaviour.named import Names, Sense
from latchcore.behaviour.rehearsal import Rehearsal, Runner, Written
from latchcore.document.models import Build

#: Of one step a channel's changes are said first, then its alarms.
CHANGE, ALARM = 0, 1


class Board:
    """
    A board with the program of a build in it, from power-up on.

    Attributes
    ----------
    without : list of str
        Why it runs without the build's rules, where they cannot be done as they stand
    last : int
        The last step it has done

    Examples
    --------
    >>> load = {"kind": "lamp", "voltage": "12 V", "figure": "1 A"}
    >>> channel = {"id": "ch1", "name": "Lantern", "load": load}
    >>> board = Board(Build.model_validate({"name": "b", "channels": [channel]}))
    >>> said = [Happening(1, "alive"), Happening(1, "line", "ch1", 100)]
    >>> [line for _, line in board.go_on(said, 2)], board.level("ch1")
    (['1.000 ch1 on line'], 100)
    >>> [line for _, line in board.go_on((), 20)]
    ['11.000 ch1 off ended', '11.000 alarm line_silent line']
    """

    def __init__(self, build: Build) -> None:
        faults = faults_of(build)
        self.without = [fault.message for fault in faults]
        if faults:
            build = build.model_copy(update={"behaviour": None})
        self.program = compiled(build, by_line=True)
        self.names = Names.of(build)
        self.runner = Runner(self.program, {})
        # Its first step only starts it.
        self.last = self.runner.run((), 0).last

    @property
    def powered(self) -> bool:
        """Whether it has its supply."""
        return self.runner.powered

    @property
    def step(self) -> float:
        """Length of one step [s]."""
        return self.program.step

    @property
    def next(self) -> float:
        """When its next step is [s]."""
        return (self.last + 1) * self.step

    def go_on(
        self,
        words: Iterable[Happening],
        until: float,
        feels: Callable[[float], Iterable[Happening]] = lambda at: (),
    ) -> Iterator[tuple[Written | None, str]]:
        """
        Run on to a time [s], with what is said or happens on the way; yields each change of an
        output, or nothing, with the line the program says of it. What lies in the past counts in
        the next step; ``feels`` says what sense inputs make of a change at the step after it.
        """
        waiting = [replace(word, t=max(word.t, self.next)) for word in words]
        while True:
            ran = self.runner.run(waiting, until, to_change=True)
            self.last = max(ran.last, self.last)
            yield from self._said(ran)
            if not ran.changes or ran.last >= steps_of(until, self.step):
                return
            waiting = [w for w in waiting if steps_of(w.t, self.step) > self.last]
            waiting += feels(self.next)

    def _said(self, ran: Rehearsal) -> Iterator[tuple[Written | None, str]]:
        """The lines of what came of a stretch, in order of time."""
        said: list[tuple[int, int, Written | None, str]] = [
            (c.step, CHANGE, c, self._changed(c)) for c in ran.changes
        ]
        for alarm in ran.alarms:
            words_of = f"{self._time(alarm.step)} alarm {alarm.alarm} {alarm.of}"
            said.append((alarm.step, ALARM, None, words_of))
        for _, _, change, line in sorted(said, key=lambda s: s[:2]):
            yield change, line

    def _time(self, step: int) -> str:
        return f"{step * self.step:.3f}"

    def _changed(self, change: Written) -> str:
        part = self.program.channels[change.channel]
        words = [self._time(change.step), part.id, self._level(part.scaled, change.level)]
        return " ".join([*words, change.reason]).strip()

    @staticmethod
    def _level(scaled: bool, level: int) -> str:
        return f"{level} %" if scaled and level else "on" if level else "off"

    @property
    def contacts(self) -> frozenset[str]:
        """Inputs that are acted on or at rest, not read as a level."""
        return frozenset(key for key, sense in self.names.senses.items() if not sense.scaled)

    def fed(self, sense: str) -> object:
        """What an input is given, before the program takes it for anything."""
        return self.runner.readings[self.program.inputs.index(sense)]

    def level(self, output: str) -> int:
        """What an output was written last, in percent."""
        slots = self.runner.slots
        return 0 if slots is None else slots[self.program.channels[self.place(output)].written]

    def place(self, output: str) -> int:
        """The place of an output."""
        return self.program.place(output)

    def state(self, output: str) -> str:
        """What an output is, and what is known of it from its own sense input."""
        part, slots = self.program.channels[self.place(output)], self.runner.slots
        words = [self._level(part.scaled, self.level(output))]
        if part.confirm is not None and slots is not None:
            words.append(slots[part.confirm.state])
            words += ["blocked"] if slots[part.confirm.blocked] else []
        return " ".join(words)

    def reads(self) -> list[tuple[Sense, object]]:
        """What the program takes each input for."""
        senses = self.names.senses
        return [(senses[key], self.runner.seen[n]) for n, key in enumerate(self.program.inputs)]

    @staticmethod
    def reading(value: object) -> str:
        """
        One reading in words.

        Examples
        --------
        >>> Board.reading(True), Board.reading(None), Board.reading(41.5)
        ('acted on', 'no reading', '41.5')
        """
        if isinstance(value, bool):
            return "acted on" if value else "at rest"
        return "no reading" if value is None else f"{value:.1f}"
