"""What a program has to know of the lines of a build, in words of no language."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class LinePlan:
    """
    One line that is driven.

    Attributes
    ----------
    id : str
        Its name on the pin deck or in its chain
    number : int or str
        What the board calls it in a program: the number in its chip's own naming, else that name
    chain : str
        Id of the chain it is an output of; empty for a pin of the board
    place : int
        Place in that chain, from the data input
    off : int
        The level while its channel is off
    hertz : int
        Pulses a second; 0 where it is switched
    """

    id: str
    number: int | str
    chain: str
    place: int
    off: int
    hertz: int = 0


@dataclass(frozen=True, slots=True)
class SwitchPlan:
    """
    Lines with a pattern while nothing is on and one for each way; ``hold`` percent after
    ``full_first`` steps at full where a coil is only held.
    """

    channel: str
    lines: tuple[LinePlan, ...]
    rest: str
    ways: tuple[tuple[str, str], ...]
    hold: int | None = None
    full_first: int = 0


@dataclass(frozen=True, slots=True)
class ServoPlan:
    """A servo: the pulse it rests at and the one it moves to [µs]."""

    channel: str
    line: LinePlan
    rest: int
    work: int


@dataclass(frozen=True, slots=True)
class FiringPlan:
    """
    A triac that is fired: the pin of the zero and whether it rises there, delays [µs] for every
    tenth of power from none to all, the last that may be used, the length of the pulse [µs].
    """

    channel: str
    line: LinePlan
    zero: LinePlan
    rising: bool
    delays: tuple[int, ...]
    latest: int
    pulse: int


@dataclass(frozen=True, slots=True)
class TurningPlan:
    """A stepper: its patterns in turn, each so long [µs]."""

    channel: str
    lines: tuple[LinePlan, ...]
    rest: str
    patterns: tuple[str, ...]
    each: int


@dataclass(frozen=True, slots=True)
class LatchingPlan:
    """A load that stays: its patterns at rest, for on and for off, and how long a pulse is."""

    channel: str
    lines: tuple[LinePlan, ...]
    rest: str
    on: str
    back: str
    steps: int


@dataclass(frozen=True, slots=True)
class ByHandPlan:
    """An output the program hands to a routine of its own, and why."""

    channel: str
    output: str
    why: str


DrivePlan = SwitchPlan | ServoPlan | FiringPlan | TurningPlan | LatchingPlan | ByHandPlan


@dataclass(frozen=True, slots=True)
class ContactPlan:
    """A contact: its pin, whether a pull-up is turned on inside, its level while acted on."""

    key: str
    line: LinePlan
    pull_up: bool
    acted: int


@dataclass(frozen=True, slots=True)
class LevelPlan:
    """A level: two shares of full scale with what they mean in the input's own scale."""

    key: str
    line: LinePlan
    shares: tuple[float, float]
    values: tuple[float, float]


@dataclass(frozen=True, slots=True)
class CurrentPlan:
    """A current sensor: its share of full scale without current, and what an ampere adds."""

    key: str
    line: LinePlan
    middle: float
    per_ampere: float


@dataclass(frozen=True, slots=True)
class CountedPlan:
    """Pulses counted by interrupt."""

    key: str
    line: LinePlan
    pull_up: bool
    rising: bool


@dataclass(frozen=True, slots=True)
class ReadByHandPlan:
    """An input a routine of its own reads, and why; ``scaled`` where it is a level."""

    key: str
    scaled: bool
    why: str


ReadPlan = ContactPlan | LevelPlan | CurrentPlan | CountedPlan | ReadByHandPlan


@dataclass(frozen=True, slots=True)
class ChainPlan:
    """
    One chain: its board pins by role, the level its clock idles at, the one that releases its
    outputs; ``why`` where its words are the part's own, and then whether it takes levels.
    """

    id: str
    name: str
    places: int
    lines: dict[str, LinePlan]
    idle: int
    released: int
    why: str = ""
    levels: bool = False


@dataclass(frozen=True, slots=True)
class Hardware:
    """All lines of a build, in the order of its channels and inputs."""

    drives: tuple[DrivePlan, ...]
    reads: tuple[ReadPlan, ...]
    chains: tuple[ChainPlan, ...]

    @property
    def by_hand(self) -> list[tuple[str, str]]:
        """What needs a routine of its own, with why: ids and reasons."""
        found = [(d.output, d.why) for d in self.drives if isinstance(d, ByHandPlan)]
        found += [(r.key, r.why) for r in self.reads if isinstance(r, ReadByHandPlan)]
        return found + [(c.id, c.why) for c in self.chains if c.why]
