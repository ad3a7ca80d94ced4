"""What lies on the simulated bench beside the board, in text lines: supplies, meter, eyes."""

from __future__ import annotations

from collections.abc import Callable

from latchcore.bench.rig import Rig
from latchcore.figures.quantity import QuantityError, parse, show
from latchcore.figures.typed import quoted

#: What can be said, each with what it does.
WORDS = (
    ("limit RAIL 200 mA", "sets the current limit of a supply; limit RAIL none takes it away"),
    ("points", "everything a probe can be put on"),
    ("volts A2, 0 V", "direct volts between two points; against 0 V where one is named"),
    ("ohms A2, 0 V", "ohms; only while the supply is off"),
    ("amps RAIL", "what a supply gives"),
    ("look", "what every load does"),
)


class Instruments:
    """Reads and sets what a rig stands in for."""

    def __init__(self, rig: Rig) -> None:
        self.rig = rig
        self.words: dict[str, Callable[[str], list[str]]] = {
            "points": self._points, "volts": self._volts, "ohms": self._ohms, "amps": self._amps,
            "look": self.look, "limit": self._limit,
        }  # fmt: skip

    def look(self, rest: str = "") -> list[str]:
        """What every load does."""
        return [f"{self.rig.told[k].name}: {found.word}" for k, found in self.rig.lit().items()]

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

    def _amps(self, rest: str) -> list[str]:
        wanted = rest.lower()
        for rail in self.rig.rails:
            if wanted in (rail.id.lower(), rail.name.lower()):
                return [self.rig.read_amps(rail.id)]
        return [f"{quoted(rest)} is no rail of low volts here."]

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
