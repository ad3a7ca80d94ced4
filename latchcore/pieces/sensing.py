"""
What all inputs share: thresholds of the board, what the report of one holds, how a pin and its pull
are joined.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from latchcore.catalogue.boards import Board, Pin
from latchcore.design.context import BuildContext, Missing
from latchcore.design.outcomes import InputOutcome
from latchcore.design.report import Measure, Sized
from latchcore.document.models import SenseInput
from latchcore.document.texts import seconds
from latchcore.figures import preferred
from latchcore.figures.quantity import parse
from latchcore.figures.spread import Spread, parse_spread
from latchcore.figures.working import Working
from latchcore.metal.netlist import Netlist
from latchcore.pieces.input_kinds import KINDS

VDD = "board.VDD"


@dataclass
class InputReport:
    """
    Everything about one input; ``rows`` are (state, level in volts as text, what the program reads,
    what it means).
    """

    id: str
    name: str
    kind: str
    missing: list[str]
    values: list[Sized] = field(default_factory=list)
    measures: list[Measure] = field(default_factory=list)
    rows: list[tuple[str, str, str, str]] = field(default_factory=list)
    netlist: Netlist = field(default_factory=Netlist)
    working: Working = field(default_factory=Working)
    latency: float | None = None
    debounce: float | None = None
    draws: tuple[str, float] | None = None
    found: InputOutcome = field(default_factory=InputOutcome)

    @property
    def title(self) -> str:
        """The kind in words."""
        return KINDS[self.kind].title

    def value(self, key: str) -> Sized | None:
        """The sized value of that key, or ``None``."""
        return next((v for v in self.values if v.key == key), None)


@dataclass
class InputContext:
    """One input with what it hangs on."""

    around: BuildContext
    item: SenseInput

    @property
    def board(self) -> Board:
        """The board; an input is not sized before there is one."""
        if self.around.board is None:
            raise Missing("The build has no board yet; choose one first.")
        return self.around.board

    @property
    def pin(self) -> Pin | None:
        """Its pin, or ``None``."""
        return self.board.pin(self.item.pin)

    @property
    def low(self) -> float:
        """Highest level that reads low [V]."""
        stated = self.board.reads_low
        return stated or self.around.catalogue.limits["input_low"] * self.board.logic.min

    @property
    def high(self) -> float:
        """Least level that reads high [V]."""
        stated = self.board.reads_high
        return stated or self.around.catalogue.limits["input_high"] * self.board.logic.max

    @property
    def high_at_low(self) -> float:
        """Least level that reads high while the logic supply is at its low corner [V]."""
        stated = self.board.reads_high
        return stated or self.around.catalogue.limits["input_high"] * self.board.logic.min

    @property
    def bears(self) -> float:
        """The most the pin bears [V]."""
        return self.board.logic.min + self.board.over_supply

    @property
    def tolerance(self) -> float:
        """Tolerance of the resistors."""
        return preferred.TOLERANCE[self.around.build.series]

    @property
    def rail(self):
        """The rail that is sensed, or that feeds the sensor."""
        return self.around.build.rail(self.item.rail)

    @property
    def known(self) -> bool:
        """Whether it is said what is on the far side."""
        return bool(self.item.voltage) or self.rail is not None

    @property
    def volts(self) -> Spread:
        """What is on the far side: as stated, else the rail's."""
        if self.item.voltage:
            return parse_spread(self.item.voltage, ("V",))[0]
        if self.rail is None:
            raise Missing(f"{self.item.name}: the volts on its far side are not stated yet.")
        return self.around.rail_volts(self.rail)

    @property
    def fitted_pull(self) -> float | None:
        """The pull somebody fitted [Ω], or ``None`` where it is left to be sized."""
        text = self.item.pull
        return None if text in ("auto", "internal", "none") else parse(text, "Ω")

    @property
    def lead(self) -> float:
        """Length of the lead [m]."""
        return parse(self.item.lead_length, "m") if self.item.lead_length else 0.5

    @property
    def lives_alone(self) -> bool:
        """Whether what it senses can be live while the board is dead."""
        rail = self.rail
        if rail is None:
            return bool(self.item.voltage) and KINDS[self.item.kind].drives
        return rail.source != "board_pin" and rail.id != self.around.build.board_feed

    def time(self, report: InputReport) -> None:
        """Debounce and latency: what is waited, and two sampling intervals on top of it."""
        item, w = self.item, report.working
        usual = KINDS[item.kind].debounce
        report.debounce = usual if item.debounce is None else seconds(item.debounce)
        every = parse(item.sampled, "s") if item.sampled else None
        if every is not None:
            report.latency = w.calc(
                "t_late",
                "t_debounce + 2*t_sample",
                "s",
                "change just after a sample",
                "the change is seen at the next sample and held once more",
                t_debounce=(report.debounce, "s"),
                t_sample=(every, "s"),
            )
        if KINDS[item.kind].bounce:
            report.measures.append(
                Measure(
                    "debounce",
                    "T5",
                    "Debounce",
                    "s",
                    report.debounce,
                    "min",
                    "worst bounce of its kind",
                    "t_debounce",
                    "A contact bounces: one press is then counted several times.",
                    fix=KINDS[item.kind].bounce,
                    stop_name="bounce",
                    fix_name="bounce of its kind",
                )
            )
            if item.debounce is None:
                w.note("t_debounce", "twice the bounce of its kind", "s", usual, {}, {})

    def join_pin(self, report: InputReport, second: bool = False) -> str:
        """The board's pin in the netlist; returns its node."""
        pin, mark = (self.item.pin_two, ".PIN2") if second else (self.item.pin, ".PIN")
        node = self.item.id + mark
        report.netlist.domains |= {node: "logic", "0V": "logic"}
        report.netlist.add(
            f"BOARD.{pin or 'pin ?'}", "pin", pin or "no pin yet", self.item.id, pin=node
        )
        return node

    def add(
        self,
        report: InputReport,
        ref: str,
        kind: str,
        value: str,
        note: str = "",
        domain: str = "logic",
        barrier: str = "functional",
        **terminals,
    ) -> None:
        """A part of this input."""
        for node in terminals.values():
            report.netlist.domains.setdefault(node, domain)
        report.netlist.add(
            f"{self.item.id}.{ref}", kind, value, self.item.id, note, barrier, **terminals
        )


#: Fields without which a kind cannot be worked out, in words.
NEEDED = {
    "dark": "resistance in the dark",
    "bright": "resistance in the light",
    "per_ampere": "volts an ampere",
    "watches": "which channel",
}


def missing_of(around: BuildContext, item: SenseInput) -> list[str]:
    """What must be said before an input can be worked out."""
    missing = [] if around.board is not None else ["board"]
    kind, unfed = KINDS[item.kind], around.build.rail(item.rail) is None
    if kind.needs_voltage and not item.voltage and unfed:
        missing.append("voltage")
    if kind.of_the_line and unfed:
        missing.append("rail")
    missing += [NEEDED[name] for name in kind.needs if not getattr(item, name)]
    if item.pin is None or (len(kind.wants) > 1 and item.pin_two is None):
        missing.append("pin")
    return missing
