"""What can be measured on a real build and used in place of what was assumed."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from latchcore.catalogue import Catalogue
from latchcore.document.models import Build
from latchcore.figures.typed import Refusal

#: Moves that are needed for a line through them, and the most.
LEAST_MOVES, MOST_MOVES = 3, 200


class CalibrationError(Refusal):
    """Measurements nothing can be made of."""


@dataclass(frozen=True, slots=True)
class Calibration:
    """
    One figure that can be measured: what it is of, the edit that takes it, its argument and unit.

    ``of`` is the id of a channel, an input or a rail; ``target`` how the edit calls that.
    """

    key: str
    title: str
    of: str
    edit: str
    target: str
    argument: str
    unit: str

    @property
    def id(self) -> str:
        """By which it is chosen."""
        return f"{self.of}:{self.key}"


#: By the model of a load: settings and figures of a channel.
OF_SERVO = (
    ("rest_pulse", "pulse it rests at", "set_setting", "s"),
    ("work_pulse", "pulse it moves to", "set_setting", "s"),
)
OF_COIL = (
    ("inductance", "inductance", "set_load", "H"),
    ("pull_in", "volts it pulls in at", "set_load", "V"),
    ("release", "volts it lets go at", "set_load", "V"),
    ("armature", "time its armature moves in", "set_load", "s"),
)
OF_LOAD = (("figure", "current, power or resistance", "set_load", "A, W or Ω"),)
#: By the kind of an input.
OF_INPUT = {
    "light": (("dark", "resistance in the dark", "Ω"), ("bright", "resistance in the light", "Ω")),
    "knob": (
        ("lowest", "what its left end means", ""),
        ("highest", "what its right end means", ""),
        ("dead_end", "dead end on each side", "%"),
    ),
    "zero": (("shift", "how far its edge lies from the zero", "s"),),
    "current": (("per_ampere", "volts an ampere", "V"),),
}


def calibrations_of(build: Build, catalogue: Catalogue) -> Iterator[Calibration]:
    """
    Everything of a build that can be measured.

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> from latchcore.edits import apply
    >>> build, _ = apply(Build(name="B"), "add_rail", {"voltage": "12 V", "rating": "2 A"})
    >>> [c.title for c in calibrations_of(build, load_catalogue())]
    ['12 V regulated adapter: its volts']
    """
    for channel in build.channels:
        kind = catalogue.loads[channel.load.kind]
        rows = [*(OF_SERVO if kind.model == "servo" else ()), *OF_LOAD]
        rows += OF_COIL if kind.inductive else ()
        for argument, words, edit, unit in rows:
            title = f"{channel.name}: {words}"
            yield Calibration(argument, title, channel.id, edit, "channel", argument, unit)
    for item in build.inputs:
        for prefix, fields in OF_INPUT.items():
            if prefix in item.kind:
                for argument, words, unit in fields:
                    title = f"{item.name}: {words}"
                    yield Calibration(argument, title, item.id, "set_input", "what", argument, unit)
    for rail in build.rails:
        title = f"{rail.name}: its volts"
        yield Calibration("voltage", title, rail.id, "set_rail", "rail", "voltage", "V")


def whole_way(build: Build, channel: str) -> Calibration:
    """
    What the time of the whole way is used for: until when an input has to confirm it, where one
    does, else the longest it is on.

    Examples
    --------
    >>> load = {"kind": "motor", "voltage": "12 V", "figure": "1 A"}
    >>> channel = {"id": "ch1", "name": "Vent", "load": load}
    >>> whole_way(Build.model_validate({"name": "B", "channels": [channel]}), "ch1").title
    'Vent: longest on, by the whole way'
    """
    found = build.channel(channel)
    name = found.name if found is not None else channel
    if build.does.manner(channel).confirm is not None:
        title = f"{name}: confirmed within, by the whole way"
        return Calibration("within", title, channel, "set_manner", "channel", "within", "s")
    title = f"{name}: longest on, by the whole way"
    return Calibration("longest_on", title, channel, "set_switching", "channel", "longest_on", "s")


def stands_at(build: Build, of: str, key: str) -> str | None:
    """What a build holds for a figure now, as it was typed; ``None`` where it is gone."""
    channel = build.channel(of)
    if channel is not None:
        kept = {**channel.stage.model_dump().get("settings", {}), **channel.load.model_dump()}
        kept |= {"longest_on": channel.longest_on, "within": build.does.manner(of).within}
        return kept.get(key)
    rail = build.rail(of)
    if rail is not None:
        return getattr(rail, key, None)
    item = build.sense(of)
    return getattr(item, key, None) if item is not None else None


@dataclass(frozen=True, slots=True)
class Moves:
    """
    A line through timed moves: it stands still for ``lag`` [s] and then goes ``speed`` a second;
    ``residual`` is how far the worst of them lies off.
    """

    speed: float
    lag: float
    residual: float

    def time_for(self, distance: float) -> float:
        """
        How long to run for a distance [s].

        Examples
        --------
        >>> Moves(20.0, 0.1, 0.5).time_for(10.0)
        0.6
        """
        return max(self.lag, 0.0) + distance / self.speed

    def at_most(self, distance: float) -> float:
        """
        How long a distance takes where it goes as slowly as the worst of them [s].

        Examples
        --------
        >>> Moves(20.0, 0.1, 0.5).at_most(10.0)
        0.625
        """
        return self.time_for(distance) + self.residual / self.speed


def timed_moves(moves: Sequence[tuple[float, float]]) -> Moves:
    """
    Speed and lag from several runs, each with its time [s] and how far it went.

    Raises
    ------
    CalibrationError
        If there are too few, or no line goes through them

    Examples
    --------
    >>> found = timed_moves([(0.5, 8.0), (1.0, 18.0), (2.0, 38.0)])
    >>> round(found.speed, 3), round(found.lag, 3), round(found.residual, 3)
    (20.0, 0.1, 0.0)
    """
    if not LEAST_MOVES <= len(moves) <= MOST_MOVES:
        raise CalibrationError(
            f"{len(moves)} moves; expected {LEAST_MOVES} to {MOST_MOVES}, short and long ones."
        )
    times, far = (np.array(side) for side in zip(*moves, strict=True))
    if np.ptp(times) <= 0:
        raise CalibrationError("Every move took the same time: run it short and long.")
    speed, offset = np.polyfit(times, far, 1)
    if speed <= 0:
        raise CalibrationError("Longer runs went no farther: look at the ends it stops at.")
    residual = float(np.abs(far - (speed * times + offset)).max())
    return Moves(float(speed), float(-offset / speed), residual)
