"""What a stage or an input found besides its sums: small classes the floors above read by name."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from latchcore.catalogue.records import Module, Relay
from latchcore.catalogue.switch_records import Diode, Zener
from latchcore.document.models import Channel, Rail
from latchcore.figures.spread import Spread


@dataclass(slots=True)
class ContactOutcome:
    """
    A contact in the load's circuit; ``which`` is ``NO`` or ``NC``, ``None`` for a stage without
    one.

    ``allowed`` what it may carry of this kind [A], ``life`` operations, ``life_days`` at the rate
    that is wanted,
    ``least_cycle`` the shortest cycle its wanted life allows [s]; ``breaks`` which conductor;
    ``moves_dead`` while nothing flows;
    ``dry`` across somebody else's pair, ``carries`` what flows there in words.
    """

    which: str | None = None
    inverts: bool = False
    relay: Relay | None = None
    share: Any = None
    duty: str = ""
    allowed: float | None = None
    life: float | None = None
    life_days: float | None = None
    least_cycle: float | None = None
    wetting: str = ""
    under_wetting: bool = False
    dry: bool = False
    carries: str = ""
    making_unknown: bool = False
    series_switch: Channel | None = None
    side_by_side: bool = False
    moves_dead: bool = False
    #: Whether it only turns a motor round, others making and breaking its current.
    turns: bool = False
    breaks: str = "live"


@dataclass(slots=True)
class Held:
    """How a coil is held by pulses: duty, frequency, what it spares, whether the stage follows."""

    duty: float
    frequency: float
    saved: float
    follows: bool


@dataclass(slots=True)
class PanelOutcome:
    """
    A panel of pulse coils: its rows and columns, the code of each dot either way, the code at rest,
    whether both inputs of a line at once are disarmed, and what redrawing all, or one dot, takes.
    """

    rows: int
    columns: int
    codes: dict[str, str]
    rest: str
    disarmed: bool
    every: Any
    single: Any

    def burns(self, code: str) -> bool:
        """
        Whether a code turns both switches of some line on, and nothing disarms that.

        >>> PanelOutcome(1, 1, {}, "rest", False, None, None).burns("1100")
        True
        """
        both = any(code[n : n + 2] == "11" for n in range(0, len(code), 2))
        return both and not self.disarmed

    def acts(self, code: str) -> bool:
        """
        Whether a code drives a row one way and a column the other, so that some coil is pulsed.

        >>> dots = PanelOutcome(1, 1, {}, "rest", True, None, None)
        >>> dots.acts("1001"), dots.acts("1010"), dots.acts("1000")
        (True, False, False)
        """
        lines = [code[n : n + 2] for n in range(0, len(code), 2)]
        rows, columns = set(lines[: self.rows]), set(lines[self.rows :])
        return ("10" in rows and "01" in columns) or ("01" in rows and "10" in columns)


@dataclass(slots=True)
class CoilOutcome:
    """
    A coil: the nodes it hangs on, what it draws from which rail [A], how it is caught and held.

    ``release_time`` [s] with whether its inductance was assumed; ``unclamped_peak`` [V] where
    nothing catches it.
    """

    plus: str | None = None
    switch: str | None = None
    rail: str = ""
    draws: float = 0.0
    release_time: float | None = None
    release_assumed: bool = False
    inductance: float | None = None
    unclamped_peak: float | None = None
    clamp: Diode | Zener | Any = None
    built_in_clamp: bool = False
    clamped_across_switch: bool = False
    hold: dict[str, Any] | None = None
    hold_rc: dict[str, Any] | None = None
    one_shot: Any = None


@dataclass(slots=True)
class ModuleOutcome:
    """
    A module with its input circuit: what feeds its coils and what its inputs, whether
    the inputs hang on the logic supply, whether it never lets go.
    """

    part: Module | None = None
    unit: Any = None
    feed: Rail | None = None
    input_feed: Rail | None = None
    logic_fed: bool = False
    stays_on: bool = False


@dataclass(slots=True)
class OutputOutcome:
    """
    A solid-state output: kind of switch, control, firing window and what the program uses of it
    [s].

    ``gate_held``: until the next zero, for loads that do not follow the line; ``latched_after`` the
    zero it stays on without its gate [s]. ``i2t`` [A²·s], ``leaks`` [A] when off, ``sink`` the heat
    sink it wants [K/W].
    """

    kind: str | None = None
    control: str | None = None
    window: Any = None
    gate_pulse: float | None = None
    detector_error: float | None = None
    earliest: float | None = None
    latest: float | None = None
    fires_at: float | None = None
    fires_after: float | None = None
    gate_held: bool = False
    latched_after: float | None = None
    i2t: float | None = None
    leaks: float | None = None
    sink: float | None = None


@dataclass(slots=True)
class ServoOutcome:
    """
    The way of a servo: its narrowest and widest pulse [s], the travel between them [°], and how far
    a pulse may be off [s].
    """

    narrow: float
    wide: float
    travel: float
    trembles: float = 0.0

    @property
    def turned(self) -> bool:
        """Whether its ends are the wrong way round."""
        return self.wide <= self.narrow


@dataclass(slots=True)
class DriveOutcome:
    """
    What the pin drives: which of its levels is on, what flows into a dead board [A] and through
    what.

    ``base_node`` where a transistor's base hangs; ``school`` by which its resistor was sized,
    ``base_least`` [A].
    """

    active: str = "high"
    senses: bool = False
    back_feed: float = 0.0
    back_feed_through: str = "load"
    base_node: str | None = None
    base_least: float | None = None
    school: str | None = None
    runaway: bool = False


@dataclass(slots=True)
class PulseOutcome:
    """
    How fast the stage follows pulses [Hz], ``None`` where it does not say, 0 where it must not be
    pulsed.
    """

    limit: float | None = None
    flickers: bool = False
    ripple: float | None = None
    settle: float | None = None


@dataclass(slots=True)
class ArrayOutcome:
    """
    One channel of a package: which, whether its common diode pin is open, what it loses at most
    [V].
    """

    package: str | None = None
    common_open: bool = False
    drop: float = 0.0


@dataclass(slots=True)
class StringOutcome:
    """LEDs in strings."""

    per_string: int = 1
    count: int = 1
    constant_current: bool = False


@dataclass(slots=True)
class AcrossOutcome:
    """
    What lies across the load: clamp or snubber, the capacitor's class, a varistor's volts;
    ``at_load`` a snubber there in place of one across a solid-state switch;
    ``unbled`` a piezo nothing empties, ``slow_bleed`` one emptied too late.
    """

    load_clamp: str = "none"
    at_load: bool = False
    unbled: bool = False
    slow_bleed: bool = False
    snubber: Any = None
    snubber_class: str = ""
    varistor: float | None = None


@dataclass(slots=True)
class InputOutcome:
    """
    What an input found: a zero detector's pulse and how far it wanders [s], resistors in series, a
    knob's scale.

    ``adds`` what the program adds to a delay; ``known`` how long after the zero it is known.
    """

    pulse: tuple[float, float] | None = None
    edges: float = 0.0
    known: float = 0.0
    adds: float = 0.0
    late: float = 0.0
    early: float = 0.0
    edge: str = "rising"
    shifted: bool = False
    many: int = 1
    watts: float = 0.25
    scale: tuple[float, float, float] | None = None
    reversed: bool = False


@dataclass(slots=True)
class Loose:
    """
    Currents of single nodes [A] that are not the load's, and the small relay's before a contactor.
    """

    node_currents: dict[str, float] = field(default_factory=dict)
    pilot: float | None = None


__all__ = [
    "AcrossOutcome",
    "ArrayOutcome",
    "CoilOutcome",
    "ContactOutcome",
    "DriveOutcome",
    "InputOutcome",
    "Loose",
    "ModuleOutcome",
    "OutputOutcome",
    "PulseOutcome",
    "Spread",
    "StringOutcome",
]
