"""What a behaviour may name: the inputs and channels of its build, with their places."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.document.models import Build, SenseInput
from latchcore.document.texts import seconds
from latchcore.pieces.input_kinds import KINDS

#: Kinds that are read as a level in a scale, not as a contact.
LEVELS = frozenset({"knob", "divider", "analogue", "light", "current", "serial", "tachometer"})
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


@dataclass
class Names:
    """Places of all that a behaviour may name."""

    senses: dict[str, Sense]
    places: dict[str, int]
    channels: dict[str, int]
    levels: frozenset[str]

    @classmethod
    def of(cls, build: Build) -> Names:
        """Of a build."""
        senses = {s.key: s for item in build.inputs for s in senses_of(item)}
        return cls(
            senses,
            {key: n for n, key in enumerate(senses)},
            {channel.id: n for n, channel in enumerate(build.channels)},
            frozenset(c.id for c in build.channels if c.pwm is not None or "dims" in c.needs),
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
