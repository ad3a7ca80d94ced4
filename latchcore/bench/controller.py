"""The simulated controller and meter in text lines, as a real board and a patient hand would be."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, field

from latchcore.bench.commands import OFF
from latchcore.bench.rig import Rig
from latchcore.figures.quantity import QuantityError, parse, show
from latchcore.figures.typed import quoted

#: How long the walk waits for its word [s].
WALK_WAITS = 10.0
#: What can be said, each with what it does.
WORDS = (
    ("?", "state of every channel"),
    ("NAME on, off, toggle", "a channel by its name, its letter or its id; also forward, reverse"),
    ("walk, then go", "names one channel after the other; go has it on for a look"),
    ("all off", "everything off"),
    ("supply on, supply off", "plugs the supplies in, or out"),
    ("limit RAIL 200 mA", "sets the current limit of a supply; limit RAIL none takes it away"),
    ("points", "everything a probe can be put on"),
    ("volts A2, 0 V", "direct volts between two points; against 0 V where one is named"),
    ("ohms A2, 0 V", "ohms; only while the supply is off"),
    ("amps RAIL", "what a supply gives"),
    ("look", "what every load does"),
)


@dataclass
class Kept:
    """
    What a controller remembers from line to line: when it began [s], the channel a walk has named,
    those still to come, and until when it waits.
    """

    began: float
    named: str = ""
    left: list[str] = field(default_factory=list)
    waits_until: float = 0.0


class Controller:
    """
    Speaks for a rig: one line in, a few out. Channels are commanded by hand and at once; what rules
    and limits make of it over time is the rehearsal's.
    """

    def __init__(
        self, rig: Rig, clock: Callable[[], float] = time.time, kept: Kept | None = None
    ) -> None:
        self.rig, self.clock = rig, clock
        self.kept = kept if kept is not None else Kept(clock())

    def hello(self) -> list[str]:
        """What it says when it starts."""
        build = self.rig.around.build
        return [f"{build.name}; simulated bench", "? for the channels, words for what can be said"]

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
        if self.kept.named:
            return self._walk_on(line)
        word, _, rest = line.partition(" ")
        known: dict[str, Callable[[str], list[str]]] = {
            "?": self._states, "words": self._words, "walk": self._walk, "points": self._points,
            "volts": self._volts, "ohms": self._ohms, "amps": self._amps, "look": self._look,
            "supply": self._supply, "limit": self._limit,
        }  # fmt: skip
        if not line:
            return []
        if line.lower() == "all off":
            return self._all_off()
        if word.lower() in known:
            return known[word.lower()](rest.strip())
        return self._tell(line)

    def _now(self) -> str:
        return f"{self.clock() - self.kept.began:.3f}"

    def _words(self, rest: str) -> list[str]:
        return [f"{words}: {does}" for words, does in WORDS]

    def _states(self, rest: str) -> list[str]:
        return [
            f"{told.letter} {key} {told.name}: {self.rig.states[key]}"
            for key, told in self.rig.told.items()
        ]

    def _channel(self, name: str) -> str | None:
        """A channel by its id, letter or name."""
        wanted = name.lower()
        for key, told in self.rig.told.items():
            if wanted in (key.lower(), told.letter.lower(), told.name.lower()):
                return key
        return None

    def _tell(self, line: str) -> list[str]:
        name, _, state = line.rpartition(" ")
        key, state = self._channel(name), state.lower()
        if key is None:
            return [f"{quoted(line)} is not understood; words says what can be said."]
        ways = self.rig.commands[key]
        if state == "toggle":
            state = OFF if self.rig.states[key] != OFF else "on"
        if state == "on" and state not in ways:
            state = self.rig.first_way(key)
        if state not in ways:
            return [f"{self.rig.told[key].name} knows {', '.join(ways)}; {quoted(state)} was said."]
        return self._do(key, state)

    def _do(self, key: str, state: str) -> list[str]:
        before = dict(self.rig.states)
        self.rig.tell(key, state)
        changed = before.get(key) != state
        return [f"{self._now()} {key} {state} line"] if changed else []

    def _all_off(self) -> list[str]:
        was = [key for key, state in self.rig.states.items() if state != OFF]
        self.rig.all_off()
        return [f"{self._now()} {key} off line" for key in was]

    def _walk(self, rest: str) -> list[str]:
        said = self._all_off()
        self.kept.left = list(self.rig.told)
        return [*said, *self._name_next()]

    def _name_next(self) -> list[str]:
        kept = self.kept
        kept.named = kept.left.pop(0) if kept.left else ""
        if not kept.named:
            return ["walk: done"]
        kept.waits_until = self.clock() + WALK_WAITS
        return [f"walk: {self.rig.told[kept.named].name}, go?"]

    def _walk_on(self, line: str) -> list[str]:
        """On with ``go`` in time; anything else ends the walk with everything off."""
        kept = self.kept
        late = self.clock() > kept.waits_until
        if line.lower() != "go" or late or kept.named not in self.rig.told:
            kept.named, kept.left = "", []
            return [*self._all_off(), "walk: ended, everything off"]
        said = self._do(kept.named, self.rig.first_way(kept.named))
        seen = self._look("")
        return [*said, *seen, *self._all_off(), *self._name_next()]

    def _points(self, rest: str) -> list[str]:
        return [", ".join(self.rig.points)]

    def _between(self, rest: str) -> tuple[str, str] | str:
        """Two nodes by what they are called, or what is wrong with that."""
        points = {name.lower(): node for name, node in self.rig.points.items()}
        named = [part.strip().lower() for part in rest.split(",")]
        named = [*named, "0 v"][:2] if len(named) < 2 else named
        if len(named) != 2 or not all(n in points for n in named):
            wrong = next((n for n in named if n not in points), rest)
            return f"{quoted(wrong)} is no point; points says them."
        return points[named[0]], points[named[1]]

    def _volts(self, rest: str) -> list[str]:
        pair = self._between(rest)
        return [pair] if isinstance(pair, str) else [f"{self.rig.volts(*pair)} V"]

    def _ohms(self, rest: str) -> list[str]:
        if self.rig.powered:
            return ["Ohms only on a dead circuit: supply off first."]
        pair = self._between(rest)
        return [pair] if isinstance(pair, str) else [f"{self.rig.ohms(*pair)} Ω"]

    def _rail(self, name: str) -> str | None:
        wanted = name.lower()
        for rail in self.rig.rails:
            if wanted in (rail.id.lower(), rail.name.lower()):
                return rail.id
        return None

    def _amps(self, rest: str) -> list[str]:
        rail = self._rail(rest)
        if rail is None:
            return [f"{quoted(rest)} is no rail of low volts here."]
        return [self.rig.read_amps(rail)]

    def _limit(self, rest: str) -> list[str]:
        for rail in self.rig.rails:
            for name in (rail.id, rail.name):
                if rest.lower().startswith(f"{name.lower()} "):
                    return self._limited(rail.id, rail.name, rest[len(name) :].strip())
        return [f"{quoted(rest)} names no rail of low volts; limit RAIL 200 mA."]

    def _limited(self, rail: str, name: str, typed: str) -> list[str]:
        if typed.lower() == "none":
            self.rig.limits.pop(rail, None)
            return [f"{name}: no limit"]
        try:
            self.rig.limits[rail] = parse(typed, "A")
        except QuantityError as error:
            return [str(error)]
        return [f"{name}: limited to {show(self.rig.limits[rail], 'A')}"]

    def _supply(self, rest: str) -> list[str]:
        if rest.lower() not in ("on", "off"):
            return [f"The supply is turned on or off; {quoted(rest)} was said."]
        self.rig.powered = rest.lower() == "on"
        return [f"{self._now()} supply {rest.lower()}"]

    def _look(self, rest: str) -> list[str]:
        return [f"{self.rig.told[k].name}: {found.word}" for k, found in self.rig.lit().items()]
