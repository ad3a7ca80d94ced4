"""What a behaviour may name: the inputs and channels of its build, with their places."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.catalogue import load_catalogue
from latchcore.document.models import Build, Channel, SenseInput
from latchcore.document.texts import seconds
from latchcore.pieces.input_kinds import KINDS

#: Kinds that are read as a level in a scale, not as a contact.
LEVELS = frozenset({"knob", "divider", "analogue", "light", "current", "serial", "tachometer"})
#: What stands behind the id of a channel for the way back.
BACK = ".2"
#: Kinds that say nothing a rule could use: they time the firing of a triac.
TIMING = frozenset({"zero_transformer", "zero_coupler"})


@dataclass(frozen=True, slots=True)
class Sense:
    """
    One thing that is read: its key (an id, with ``.2`` for the second of a pair), its name,
    whether it is a level, its debounce [s], the ends of its scale, and how long it may be without a
    reading before that is an alarm.
    """

    key: str
    name: str
    scaled: bool
    debounce: float
    low: float = 0.0
    high: float = 100.0
    gone_after: str | None = None


@dataclass(frozen=True, slots=True)
class Output:
    """
    One thing a behaviour has on or off: a channel, or one way of a channel that turns both ways;
    ``id`` is the channel's, with ``.2`` for the way back.
    """

    id: str
    name: str
    channel: Channel


def outputs_of(build: Build) -> list[Output]:
    """
    Every output of a build, in the order of its channels.

    Examples
    --------
    >>> load = {"kind": "motor_both", "voltage": "12 V", "figure": "1 A"}
    >>> channel = {"id": "ch1", "name": "Winch", "load": load}
    >>> [o.name for o in outputs_of(Build.model_validate({"name": "b", "channels": [channel]}))]
    ['Winch', 'Winch, backwards']
    """
    loads, found = load_catalogue().loads, []
    for channel in build.channels:
        found.append(Output(channel.id, channel.name, channel))
        kind = loads.get(channel.load.kind)
        if kind is not None and kind.model == "reversing":
            found.append(Output(f"{channel.id}{BACK}", f"{channel.name}, backwards", channel))
    return found


def channel_of(output: str) -> str:
    """
    The channel an output is of.

    Examples
    --------
    >>> channel_of("ch10.2"), channel_of("ch3")
    ('ch10', 'ch3')
    """
    return output.removesuffix(BACK)


@dataclass
class Names:
    """Places of all that a behaviour may name."""

    senses: dict[str, Sense]
    places: dict[str, int]
    outputs: dict[str, Output]
    channels: dict[str, int]
    levels: frozenset[str]

    @classmethod
    def of(cls, build: Build) -> Names:
        """Of a build."""
        senses = {s.key: s for item in build.inputs for s in senses_of(item)}
        outputs = {output.id: output for output in outputs_of(build)}
        return cls(
            senses,
            {key: n for n, key in enumerate(senses)},
            outputs,
            {key: n for n, key in enumerate(outputs)},
            frozenset(
                key
                for key, output in outputs.items()
                if output.channel.pwm is not None or "dims" in output.channel.needs
            ),
        )

    def scaled(self, channel: str) -> bool:
        """Whether a channel has levels between off and full."""
        return channel in self.levels


def senses_of(item: SenseInput) -> list[Sense]:
    """What is read of an input: none, one, or both of a pair."""
    if item.kind in TIMING:
        return []
    kind = KINDS[item.kind]
    debounce = kind.debounce if item.debounce is None else seconds(item.debounce)
    if item.kind == "end_pair":
        return [
            Sense(item.id, f"{item.name}, first end", False, debounce),
            Sense(f"{item.id}.2", f"{item.name}, second end", False, debounce),
        ]
    low, high = float(item.lowest), float(item.highest)
    scaled = item.kind in LEVELS
    return [Sense(item.id, item.name, scaled, debounce, low, high, item.gone_after)]
