"""What an evaluation says: sized values, measures against limits, states, findings, rails."""

from __future__ import annotations

import json
import math
import re
from dataclasses import dataclass, field
from typing import Any

from latchcore.catalogue.records import Record
from latchcore.design.outcomes import (
    AcrossOutcome,
    ArrayOutcome,
    CoilOutcome,
    ContactOutcome,
    DriveOutcome,
    Loose,
    ModuleOutcome,
    OutputOutcome,
    PanelOutcome,
    PulseOutcome,
    ServoOutcome,
    StringOutcome,
)
from latchcore.figures.quantity import show, span
from latchcore.figures.resistance import Resistor
from latchcore.figures.slack import exceeds, falls_short
from latchcore.figures.windows import Bound, Window
from latchcore.figures.working import Step, Working
from latchcore.metal.netlist import Netlist
from latchcore.sums.motion.judge import Motion

#: So many channels are named one by one.
MOST_NAMED = 12
SEVERITIES = ("stop", "fix", "check", "note")


@dataclass(frozen=True, slots=True)
class Measure:
    """
    One value held against its limits; margin bar and finding both come from it, so they cannot
    disagree.

    ``sense`` is ``max`` (the worst value must not be above) or ``min`` (not below). ``stop`` and
    ``fix`` are the
    limits beyond which each severity begins; ``zero`` is where the scale of the quantity starts.
    ``instead`` is what is
    said in place of value and limit, where these are not what is wrong.
    """

    key: str
    check: str
    label: str
    unit: str
    worst: float
    sense: str
    corner: str
    symbol: str
    why: str
    stop: float | None = None
    fix: float | None = None
    typical: float | None = None
    zero: float = 0.0
    setting: str | None = None
    stop_name: str = "limit"
    fix_name: str = "limit"
    instead: str = ""

    def beyond(self, limit: float | None) -> bool:
        """Whether the worst value lies beyond a limit; a limit just met is met."""
        if limit is None:
            return False
        return exceeds(self.worst, limit) if self.sense == "max" else falls_short(self.worst, limit)

    @property
    def verdict(self) -> str:
        """``stop``, ``fix`` or ``sound``."""
        return "stop" if self.beyond(self.stop) else "fix" if self.beyond(self.fix) else "sound"

    @property
    def limit(self) -> float:
        """The limit that bites first; the one that was broken, where one was."""
        bites = self.stop if self.verdict == "stop" or self.fix is None else self.fix
        if bites is None:
            raise ValueError(f"the measure {self.key} has no limit")
        return bites

    @property
    def limit_name(self) -> str:
        """What the governing limit is called."""
        return self.stop_name if self.verdict == "stop" or self.fix is None else self.fix_name

    @property
    def headroom(self) -> float:
        """Distance to the governing limit as a share of it; negative beyond it."""
        span = self.limit - self.zero
        if not span or not math.isfinite(self.worst):
            return -1.0 if self.verdict != "sound" else 0.0
        share = (self.worst - self.zero) / span
        return 1 - share if self.sense == "max" else share - 1

    @property
    def sentence(self) -> str:
        """Value, limit and corner in words."""
        if self.instead:
            return self.instead
        value, limit = show(self.worst, self.unit), show(self.limit, self.unit)
        relation = {"max": ("within", "over"), "min": ("at or above", "under")}[self.sense]
        return (
            f"{self.label} {value}, {relation[self.verdict != 'sound']} {limit} ({self.limit_name})"
        )


@dataclass(frozen=True, slots=True)
class Sized:
    """One part of the stage as it is to be fitted."""

    key: str
    label: str
    symbol: str
    unit: str
    value: float | None
    text: str
    yours: bool
    window: Window | None = None
    failing: tuple[Bound, ...] = ()
    corner: str = ""
    detail: str = ""
    #: How many of them the stage has, all alike.
    many: int = 1

    @property
    def size(self) -> float:
        """Its value where it has one; ``ValueError`` for a part that is named, not sized."""
        if self.value is None:
            raise ValueError(f"{self.label} has no value")
        return self.value

    @property
    def fitted(self) -> Resistor:
        """It as a resistor, with its ends; ``TypeError`` for what is none."""
        if not isinstance(self.value, Resistor):
            raise TypeError(f"{self.label} is no resistor")
        return self.value

    @property
    def low(self) -> float:
        """The least a resistor may be [Ω]."""
        return self.fitted.low

    @property
    def high(self) -> float:
        """The most a resistor may be [Ω]."""
        return self.fitted.high

    @property
    def tolerance(self) -> float:
        """Share a resistor may be off by."""
        return self.fitted.tolerance

    @property
    def brief(self) -> str:
        """Its text without the package, which a title has behind its second comma."""
        return ",".join(self.text.split(",")[:2])

    @property
    def window_text(self) -> str:
        """The printed values that would do."""
        if self.window is None:
            return ""
        if self.window.empty:
            return "no preferred value satisfies every corner"
        low, high = show(self.window.nominal_min, "Ω"), self.window.nominal_max
        return (
            f"{low} and up" if high is None or math.isinf(high) else f"{low} to {show(high, 'Ω')}"
        )


@dataclass(frozen=True, slots=True)
class State:
    """What a stage does in one of the five states of its board."""

    key: str
    title: str
    when: str
    node: str
    voltage: float | None
    limit: float | None
    load: str
    says: str
    symbol: str = ""


@dataclass(frozen=True, slots=True)
class Remedy:
    """A change of the document that mends a finding, with what it leads to."""

    label: str
    edits: tuple[tuple[str, dict[str, Any]], ...] = ()
    result: str = ""

    @property
    def edit_name(self) -> str:
        """The named edit one press applies; several are applied as one."""
        return self.edits[0][0] if len(self.edits) == 1 else "together"

    @property
    def edit_args(self) -> dict[str, Any]:
        """
        Arguments of that edit.

        >>> both = (("set_stage", {"channel": "ch1"}), ("set_stage", {"channel": "ch2"}))
        >>> Remedy("Use another", both).edit_args["step002"]
        '["set_stage", {"channel": "ch2"}]'
        """
        if len(self.edits) == 1:
            return self.edits[0][1]
        return {
            f"step{n:03d}": json.dumps([name, args], ensure_ascii=False)
            for n, (name, args) in enumerate(self.edits, 1)
        }


@dataclass(frozen=True, slots=True)
class Finding:
    """One mistake: what, where, how bad, by which sum, and what mends it."""

    check: str
    severity: str
    where: str
    title: str
    sentence: str
    why: str = ""
    corner: str = ""
    measure: Measure | None = None
    remedies: tuple[Remedy, ...] = ()
    node: str | None = None
    lasting: bool = False
    #: Ids of the channels it is about, where it stands at none of them alone.
    concerns: tuple[str, ...] = ()
    #: What tells two mistakes of one check at one place apart.
    cause: str = ""

    @property
    def sort(self) -> tuple[str, str, str]:
        """What makes two findings of different channels the same one."""
        return self.check, self.severity, self.cause or self.title

    @property
    def of(self) -> str:
        """Ids of what it is about, with commas between."""
        return ",".join(self.concerns) or self.where

    @property
    def mistake(self) -> str:
        """Identity: the same check at the same place for the same cause."""
        return f"{self.key}: {self.cause}"

    @property
    def key(self) -> str:
        """Identity for acceptance: the same check at the same place."""
        return f"{self.check}@{self.where}"

    @property
    def mark(self) -> str:
        """
        Check and cause as one word, for an anchor.

        >>> Finding("D14", "stop", "ch2", "Too many watts", "", cause="base_watts").mark
        'D14-base_watts'
        """
        return re.sub(r"[^a-zA-Z0-9_-]+", "-", f"{self.check}-{self.cause or self.title}")

    @property
    def acceptable(self) -> bool:
        """Whether a builder may accept it with a reason; never a stop on hazard."""
        return not self.lasting


@dataclass
class StageResult:
    """What a stage returns: sized parts and how they are joined, with every sum behind them."""

    kind: str
    title: str
    parts: dict[str, Record] = field(default_factory=dict)
    values: list[Sized] = field(default_factory=list)
    measures: list[Measure] = field(default_factory=list)
    states: list[State] = field(default_factory=list)
    netlist: Netlist = field(default_factory=Netlist)
    working: Working = field(default_factory=Working)
    live: dict[str, str] = field(default_factory=dict)
    running: float = 0.0
    #: Of it what each of several windings carries, where there are several.
    each: float | None = None
    typical: float = 0.0
    surge: float = 0.0
    surge_time: float | None = None
    pin_current: float = 0.0
    power: float | None = None
    load_volts: tuple[float, float] | None = None
    barrier: str | None = None
    contact: ContactOutcome = field(default_factory=ContactOutcome)
    coil: CoilOutcome = field(default_factory=CoilOutcome)
    module: ModuleOutcome = field(default_factory=ModuleOutcome)
    output: OutputOutcome = field(default_factory=OutputOutcome)
    drive: DriveOutcome = field(default_factory=DriveOutcome)
    pulses: PulseOutcome = field(default_factory=PulseOutcome)
    array: ArrayOutcome = field(default_factory=ArrayOutcome)
    strings: StringOutcome = field(default_factory=StringOutcome)
    across: AcrossOutcome = field(default_factory=AcrossOutcome)
    loose: Loose = field(default_factory=Loose)
    motion: Motion | None = None
    servo: ServoOutcome | None = None
    panel: PanelOutcome | None = None
    analogue_step: float | None = None
    auto_part: bool = True

    @property
    def shown_volts(self) -> str:
        """What is left for the load, from its least to its most, as text."""
        return span(*self.load_volts, "V") if self.load_volts else "not known"

    @property
    def badness(self) -> int:
        """How far from sound: stops weigh over fixes."""
        return sum({"stop": 100, "fix": 1, "sound": 0}[m.verdict] for m in self.measures)

    def value(self, key: str) -> Sized | None:
        """The sized value of that key, or ``None``."""
        return next((v for v in self.values if v.key == key), None)

    def the_value(self, key: str) -> Sized:
        """The sized value of that key; ``KeyError`` where the stage has none."""
        found = self.value(key)
        if found is None:
            raise KeyError(key)
        return found

    def measure(self, key: str) -> Measure | None:
        """The measure of that key, or ``None``."""
        return next((m for m in self.measures if m.key == key), None)

    @property
    def on_with(self) -> str:
        """Level of the pin that switches the load on: ``high``, ``low``, or ``unknown``."""
        active = self.drive.active
        # Behind a closed contact the load is on while the coil is off.
        return (
            {"high": "low", "low": "high"}.get(active, active) if self.contact.inverts else active
        )

    def load_in(self, state: State) -> str:
        """What the load does in a state: behind a closed contact the other way round."""
        if state.load == "undecided" or not self.contact.inverts:
            return state.load
        return "off" if state.load == "on" else "on"

    @property
    def loads(self) -> list[tuple[State, str]]:
        """Every state of the board with what the load does in it."""
        return [(state, self.load_in(state)) for state in self.states]

    def steps_for(self, symbol: str) -> list[Step]:
        """The working that leads to a symbol."""
        return self.working.leading_to(symbol)


@dataclass
class ChannelReport:
    """Everything about one channel."""

    id: str
    letter: str
    name: str
    result: StageResult | None
    missing: list[str]
    findings: list[Finding] = field(default_factory=list)
    accepted: list[tuple[Finding, str]] = field(default_factory=list)

    @property
    def tightest(self) -> Measure | None:
        """The measure with the least headroom."""
        # A voltage class is met or not; that it is just met says nothing of how tight a design is.
        measures = (
            [m for m in self.result.measures if m.check != "A6" or m.verdict != "sound"]
            if self.result
            else []
        )
        return min(measures, key=lambda m: m.headroom, default=None)

    @property
    def telling(self) -> Measure | None:
        """The measure of its worst finding, else the tightest; none of a finding without one."""
        if self.findings and self.verdict != "sound":
            return self.findings[0].measure
        return self.tightest

    @property
    def bridged(self) -> bool:
        """Whether metal runs round the barrier of its stage."""
        return (
            self.result is not None
            and self.result.barrier is not None
            and self.result.netlist.joined(f"{self.id}.PIN", f"{self.id}.LOAD")
        )

    @property
    def verdict(self) -> str:
        """The worst severity, ``open`` while facts are missing, else ``sound``."""
        for severity in ("stop", "fix", "check"):
            if any(f.severity == severity for f in self.findings):
                return severity
        return "open" if self.missing else "sound"


@dataclass
class PinUse:
    """Who uses a pin."""

    pin: str
    channels: list[str]


@dataclass
class Report:
    """The whole verdict on a build."""

    name: str
    channels: list[ChannelReport]
    rails: list[Any]
    findings: list[Finding]
    netlist: Netlist
    pins: dict[str, list[str]]
    pin_total: float
    catalogue: str
    inputs: list[Any] = field(default_factory=list)
    unanswered: int = 0
    #: What one rail or module does to several channels, each said once.
    gathered: list[Finding] = field(default_factory=list)
    #: Chains with their places, of the floor above.
    chains: list[Any] = field(default_factory=list)

    @property
    def all_findings(self) -> list[Finding]:
        """
        Every standing finding, worst first, in the order of the line-up; what one rail or module
        does to several channels once.
        """
        told = {(f.sort, where) for f in self.gathered for where in f.concerns}
        own = (f for c in self.channels for f in c.findings if (f.sort, f.where) not in told)
        found = [*self.findings, *self.gathered, *own]
        return sorted(found, key=lambda f: SEVERITIES.index(f.severity))

    def count(self, severity: str) -> int:
        """How many findings of a severity stand."""
        return sum(f.severity == severity for f in self.all_findings)

    @property
    def counts(self) -> dict[str, int]:
        """Findings by severity."""
        return {severity: self.count(severity) for severity in SEVERITIES}

    @property
    def open_count(self) -> int:
        """Facts that are not stated yet."""
        return sum(len(c.missing) for c in (*self.channels, *self.inputs))

    def where(self, finding: Finding) -> str:
        """The place of a finding in the words of the build."""
        if finding in self.gathered:
            names = [c.letter for c in self.channels if c.id in finding.concerns]
            return f"{', '.join(names[:MOST_NAMED])}" + (
                f" and {len(names) - MOST_NAMED} more" if len(names) > MOST_NAMED else ""
            )
        for channel in self.channels:
            if channel.id == finding.where:
                return f"{channel.letter} {channel.name}"
        for item in self.inputs:
            if item.id == finding.where:
                return item.name
        for rail in self.rails:
            if f"rail:{rail.id}" == finding.where:
                return rail.name
        for chain in self.chains:
            if f"chain:{chain.id}" == finding.where:
                return chain.name
        return finding.where.removeprefix("pin:").removeprefix("chain:")

    @property
    def sound(self) -> bool:
        """
        No stop and no fix stands, nothing is missing, and nothing that guards somebody is left
        unstated.
        """
        return (
            not self.count("stop")
            and not self.count("fix")
            and not self.unanswered
            and not any(c.missing for c in (*self.channels, *self.inputs))
        )

    def channel(self, channel_id: str) -> ChannelReport | None:
        """The channel's report, or ``None``."""
        return next((c for c in self.channels if c.id == channel_id), None)
