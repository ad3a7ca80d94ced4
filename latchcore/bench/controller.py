"""The simulated controller in text lines: the build's program on a board, wired to the rig."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

from latchcore.behaviour.compiling import WALK_ON, WALK_WAITS
from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.named import BACK, channel_of
from latchcore.behaviour.rehearsal import DAY, Written
from latchcore.behaviour.script import ScriptError, happens_now, value_of
from latchcore.bench import instruments
from latchcore.bench.board import Board
from latchcore.bench.commands import LATCHED, OFF, acting
from latchcore.bench.instruments import Instruments
from latchcore.bench.looks import TURNED, WEAK, WORKS
from latchcore.bench.rig import Rig
from latchcore.figures.quantity import QuantityError, parse, plain_number
from latchcore.figures.typed import quoted

#: What can be said, each carried out with the rest of its line.
Spoken = dict[str, Callable[[str], list[str]]]
#: Words of a load in which something flows.
FLOWS = frozenset({WORKS, WEAK, TURNED})
#: Where no clock runs, each line takes so long, so that a contact settles and a rule answers [s].
LINE_TAKES = 0.1
#: Of what was said to a board since power-up no more is kept, nor longer [s].
MOST_WORDS, LONGEST = 500, DAY
#: What can be said to the board, each with what it does, then what else lies on the bench.
WORDS = (
    ("?", "state of every channel and input"),
    ("NAME on, off, toggle, 40", "a channel by its name, letter or id; also forward, reverse"),
    ("walk, then go", "names one channel after the other; go has it on for a look"),
    ("all off", "everything off"),
    ("clear NAME, clock 18:30, reset, hang", "as in a rehearsal"),
    ("input NAME on, off, 62, none", "acts on an input, or lets it go; a level, or no reading"),
    ("wait 5 s", "lets so long go by"),
    ("supply on, supply off", "plugs everything in, or out"),
    *instruments.WORDS,
)


@dataclass
class Kept:
    """
    What a board remembers from line to line: how far its time is [s], what was said and done since
    power-up, the output a walk has named, those still to come, and until when it waits [s].
    """

    time: float = 0.0
    words: list[list[Any]] = field(default_factory=list)
    named: str = ""
    left: list[str] = field(default_factory=list)
    waits_until: float = 0.0

    @property
    def full(self) -> bool:
        """Whether it remembers as much as is kept."""
        return len(self.words) >= MOST_WORDS or self.time >= LONGEST


class Controller:
    """
    Speaks for a rig: one line in, a few out. The board runs the program of the build: rules, limits
    and interlocks act as in its rehearsal, and what is asked by hand ends where the line falls
    silent. With a clock its time is that clock's; without one it stands between the lines.
    """

    def __init__(
        self, rig: Rig, clock: Callable[[], float] | None = None, kept: Kept | None = None
    ) -> None:
        self.rig, self.kept = rig, kept if kept is not None else Kept()
        self.beside = Instruments(rig)
        self.board = Board(rig.around.build)
        self.clock, self.ahead = clock, 0.0
        self.began = clock() if clock is not None else 0.0
        said = [Happening(t, what, of, value) for t, what, of, value in self.kept.words]
        for _ in self.board.go_on((w for w in said if self._knows(w)), self.kept.time):
            pass

    def _knows(self, word: Happening) -> bool:
        """Whether what it is of is still there: the design may have moved on."""
        program = self.board.program
        outputs = [part.id for part in program.channels]
        return not word.of or word.of in (*program.inputs, *program.commands, *outputs)

    def hello(self) -> list[str]:
        """What it says when it starts."""
        without = [f"without its rules: {why}" for why in self.board.without]
        build = self.rig.around.build
        asked = "? for the channels, words for what can be said"
        return [f"{build.name}; simulated bench", *without, asked]

    def does(self, line: str) -> list[str]:
        """
        Carry out one line.

        Examples
        --------
        >>> from latchcore.catalogue import load_catalogue
        >>> from latchcore.design.context import BuildContext
        >>> from latchcore.document.models import Build
        >>> from latchcore.evaluate import evaluate
        >>> build = Build(name="Bench")
        >>> rig = Rig(BuildContext(build, load_catalogue()), evaluate(build))
        >>> Controller(rig).does("fly")
        ['“fly” is not understood; words says what can be said.']
        """
        line = " ".join(line.split())
        came = self.poll()
        if self.kept.named and line:
            return [*came, *self._walk_on(line)]
        word, _, rest = line.partition(" ")
        asks: Spoken = {"?": self._states, "words": self._words, **self.beside.words}
        does: Spoken = {
            "walk": self._walk, "input": self._input, "clear": self._clear,
            "supply": self._supply, "wait": self._wait,
        }  # fmt: skip
        if line.lower() == "all off":
            return [*came, *self._all_off()]
        if word.lower() in does:
            return [*came, *does[word.lower()](rest.strip())]
        if word.lower() not in asks:
            return [*came, *(self._told(line) if line else self._say())]
        # Any word is a sign of life.
        return [*came, *self._say(), *asks[word.lower()](rest.strip())]

    def poll(self) -> list[str]:
        """What the program said of itself since the last line."""
        return [] if self.clock is None else self._run((), self._now())

    def _now(self) -> float:
        if self.clock is None:
            return self.kept.time
        return self.clock() - self.began + self.ahead

    def _run(self, words: Iterable[Happening], until: float) -> list[str]:
        """Let the board run on, and put what it writes on its lines."""
        lines = []
        words = [*self._felt(self.board.next), *words]
        for change, line in self.board.go_on(words, until, self._felt):
            lines.append(line)
            if change is not None:
                self._write(change)
        self.kept.time = max(self.kept.time, until)
        return lines

    def _felt(self, at: float) -> list[Happening]:
        """What inputs read that say of a load whether anything really flows in it."""
        same = {m.channel: m.sense for m in self.rig.around.build.does.manners
                if m.confirm == "same" and m.sense in self.board.contacts}  # fmt: skip
        lit = self.rig.lit() if same else {}
        felt = [
            Happening(at, "input", sense, flows)
            for channel, sense in same.items()
            if sense and channel in lit
            and self.board.fed(sense) is not (flows := lit[channel].word in FLOWS)
        ]  # fmt: skip
        self._keep(felt)
        return felt

    def _keep(self, words: Iterable[Happening]) -> None:
        """
        Remember what happened, so that a board made anew comes to where this one stands; one with a
        clock is never made anew.
        """
        if self.clock is None:
            self.kept.words += [[w.t, w.what, w.of, w.value] for w in words]

    def _say(self, *words: tuple[str, str, Any]) -> list[str]:
        """Say or do something to the board, and let it answer."""
        at = max(self._now(), self.board.next)
        said = [Happening(at, "alive"), *(Happening(at, *word) for word in words)]
        self._keep(said)
        return self._run(said, at if self.clock is not None else at + LINE_TAKES)

    def _write(self, change: Written) -> None:
        output = self.board.program.channels[change.channel].id
        key = channel_of(output)
        if key not in self.rig.commands:
            return
        ways = acting(self.rig.commands[key])
        if tuple(ways[:2]) == LATCHED:
            # Its pulse is over before anybody reads; told by its name it is held for that.
            return
        way = ways[1:] if output.endswith(BACK) else ways
        self.rig.tell(key, way[0] if change.level and way else OFF)

    def _words(self, rest: str) -> list[str]:
        return [f"{words}: {does}" for words, does in WORDS]

    def _states(self, rest: str) -> list[str]:
        letters = {key: told.letter for key, told in self.rig.told.items()}
        lines = []
        for part in self.board.program.channels:
            letter = letters.get(channel_of(part.id), "")
            title = f"{letter} {part.name}".strip()
            lines.append(f"{part.id} {self.board.state(part.id)} ({title})")
        for sense, value in self.board.reads():
            lines.append(f"{sense.key} {Board.reading(value)} ({sense.name})")
        return lines

    # A channel by hand.

    def _output(self, called: str) -> str | None:
        """An output by its id or name, or by the letter or name of its channel."""
        wanted = called.lower()
        for part in self.board.program.channels:
            if wanted in (part.id.lower(), part.name.lower()):
                return part.id
        for key, told in self.rig.told.items():
            if wanted in (told.letter.lower(), told.name.lower()):
                return key
        return None

    def _told(self, line: str) -> list[str]:
        name, _, state = line.removesuffix("%").strip().rpartition(" ")
        output, state = self._output(name), state.lower()
        if output is not None and not self.board.powered:
            return ["The board is without power; supply on first."]
        if output is not None:
            return self._tell(output, state)
        found = happens_now(self.rig.around.build, line)
        if found is None:
            return [f"{quoted(line)} is not understood; words says what can be said."]
        return self._say((found.what, found.of, found.value))

    def _tell(self, output: str, state: str) -> list[str]:
        key, level = channel_of(output), self.board.level(output)
        ways = self.rig.commands.get(key, [OFF, "on"])
        percent = plain_number(state)
        if state == "toggle":
            state = OFF if level else "on"
        if state == OFF:
            return self._off(key)
        if state in ways[2:3] and f"{key}{BACK}" in self.board.names.outputs:
            return self._one_way(key, f"{key}{BACK}")
        if state in ways[1:2] and state != LATCHED[0]:
            return self._one_way(key, key)
        if state == "on":
            return self._one_way(key, output)
        if percent is not None and 0 <= percent <= 100:
            part = self.board.program.channels[self.board.place(output)]
            asked = round(percent) if part.scaled or not percent else 100
            return self._say(("line", output, asked))
        if state in ways:
            # A pattern no rule asks for is put on its lines by hand.
            said = self._say()
            self.rig.tell(key, state)
            return [*said, f"{self._time()} {key} {state} by hand"]
        name = self.board.names.outputs[output].name
        return [
            f"{name} knows {', '.join(dict.fromkeys([*ways, 'on']))}; {quoted(state)} was said."
        ]

    def _ways(self, key: str) -> list[str]:
        """Outputs of one channel: two of a motor that turns both ways."""
        return [o for o in self.board.names.outputs if channel_of(o) == key]

    def _one_way(self, key: str, output: str) -> list[str]:
        """One way of a channel, and nothing of the other: two asked for at once would not turn."""
        others = [o for o in self._ways(key) if o != output]
        return self._say(*(("line", o, 0) for o in others), ("line", output, 100))

    def _off(self, key: str) -> list[str]:
        """Both ways of a motor are off together; what was put on its lines by hand goes with it."""
        both = self._ways(key)
        said = self._say(*(("line", o, 0) for o in both))
        if not any(self.board.level(o) for o in both) and self.rig.states.get(key, OFF) != OFF:
            if not said:
                said = [f"{self._time()} {key} off by hand"]
            self.rig.tell(key, OFF)
        return said

    def _time(self) -> str:
        return f"{self.kept.time:.3f}"

    def _all_off(self) -> list[str]:
        said = self._say(("all_off", "", 1))
        if not any(self.board.level(part.id) for part in self.board.program.channels):
            self.rig.all_off()
        return said

    # A walk.

    def _walk(self, rest: str) -> list[str]:
        said = self._all_off()
        self.kept.left = [part.id for part in self.board.program.channels]
        return [*said, *self._name_next()]

    def _name_next(self) -> list[str]:
        kept = self.kept
        kept.named = kept.left.pop(0) if kept.left else ""
        if not kept.named:
            return ["walk: through"]
        kept.waits_until = self._now() + WALK_WAITS
        name = self.board.names.outputs[kept.named].name
        return [f"walk: next {kept.named} ({name}); go within {WALK_WAITS:g} s"]

    def _walk_on(self, line: str) -> list[str]:
        """On with ``go`` in time; anything else ends the walk with everything off."""
        kept = self.kept
        late = self._now() > kept.waits_until
        if line.lower() != "go" or late or kept.named not in self.board.names.outputs:
            kept.named, kept.left = "", []
            return [*self._all_off(), f"walk: {'let go' if late else 'stopped'}, all off"]
        said = self._say(("line", kept.named, 100))
        held = not self.board.level(kept.named)
        seen = self.beside.look()
        said += [*seen, *self._lets(WALK_ON), *self._say(("line", kept.named, 0))]
        if held:
            said.append(
                f"walk: {kept.named} did not go on; a rest, a block or an interlock holds it"
            )
        return [*said, *self._name_next()]

    # What happens to it.

    def _lets(self, seconds: float) -> list[str]:
        """So long goes by."""
        until = self._now() + seconds
        self.ahead += seconds
        return self._run((), until)

    def _wait(self, rest: str) -> list[str]:
        try:
            seconds = parse(rest, "s")
        except QuantityError as error:
            return [str(error)]
        if not 0 < seconds <= DAY:
            return [
                f"A wait is longer than nothing and no longer than a day; {quoted(rest)} was said."
            ]
        return self._lets(seconds)

    def _input(self, rest: str) -> list[str]:
        called, _, text = rest.rpartition(" ")
        senses = self.board.names.senses.values()
        sense = next((s for s in senses if called.lower() in (s.key, s.name.lower())), None)
        if sense is None:
            names = ", ".join(s.name for s in senses) or "it has none"
            return [f"{quoted(rest)} names no input: {names}; input NAME on, off or a level."]
        try:
            return self._say(("input", sense.key, value_of(sense.scaled, text)))
        except ScriptError as error:
            return [str(error)]

    def _clear(self, rest: str) -> list[str]:
        output = self._output(rest)
        if output is None:
            return [f"{quoted(rest)} is no channel; clear NAME, of one that is blocked."]
        return self._say(("clear", output, 1))

    def _supply(self, rest: str) -> list[str]:
        if rest.lower() not in ("on", "off"):
            return [f"The supply is turned on or off; {quoted(rest)} was said."]
        comes = rest.lower() == "on"
        said = self._say(("power", "", comes))
        self.rig.powered = comes
        if not comes:
            self.rig.all_off()
        return [*said, f"{self._time()} supply {rest.lower()}"]
