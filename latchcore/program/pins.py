"""The pin table: every line a program knows, under the board's own names."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import ClassVar

from latchcore.program import hardware as hw
from latchcore.program.plan import ProgramPlan


@dataclass(frozen=True, slots=True)
class PinRow:
    """
    One line: its name on the board, where it comes out, who has it, with which role, the level
    that is off or at rest, and what else is to be known.
    """

    HEADER: ClassVar[tuple[str, ...]] = ("id", "line", "name", "role", "level", "more")

    key: str
    line: str
    name: str
    role: str
    level: str
    more: str = ""
    header: str = ""
    number: str = ""

    @property
    def cells(self) -> tuple[str, ...]:
        """As text, in the order of the header."""
        return (self.key, self.line, self.name, self.role, self.level, self.more)


LEVEL = {0: "low", 1: "high"}


def pin_rows(plan: ProgramPlan) -> list[PinRow]:
    """
    Every line in the order of channels, inputs and chains.

    Examples
    --------
    >>> from latchcore.document.models import Build
    >>> pin_rows(ProgramPlan(Build(name="Bench")))
    []
    """
    rows = [row for drive in plan.hardware.drives for row in _driven(plan, drive)]
    rows += [_read(plan, read) for read in plan.hardware.reads]
    for chain in plan.hardware.chains:
        rows += [
            _row(plan, line, chain.id, chain.name, role, "", f"clock idles {LEVEL[chain.idle]}"
                 if role == "clock" else "")
            for role, line in chain.lines.items()
        ]  # fmt: skip
    return rows


def _row(plan: ProgramPlan, line: hw.LinePlan, key: str, name: str, role: str, level: str,
         more: str = "") -> PinRow:  # fmt: skip
    pin = plan.context.line(line.id)
    number = f"{line.chain} place {line.place}" if line.chain else str(line.number)
    return PinRow(key, line.id, name, role, level, more, pin.header if pin else "", number)


def _driven(plan: ProgramPlan, drive: hw.DrivePlan) -> Iterator[PinRow]:
    if isinstance(drive, hw.ByHandPlan):
        yield PinRow(drive.output, "", plan.title(drive.output), "output", "", drive.why)
        return
    outputs = plan.outputs_of(drive.channel)
    key, name = outputs[0], plan.title(outputs[0])
    if isinstance(drive, hw.ServoPlan):
        pulses = f"pulses {drive.rest} to {drive.work} µs, 50 a second"
        yield _row(plan, drive.line, key, name, "servo", "off low", pulses)
        return
    if isinstance(drive, hw.FiringPlan):
        fires = f"fires {min(filter(None, drive.delays))} to {drive.latest} µs after the zero"
        yield _row(plan, drive.line, key, name, "gate", f"off {LEVEL[drive.line.off]}", fires)
        yield _row(plan, drive.zero, key, name, "zero", "rises" if drive.rising else "falls")
        return
    roles = _roles(plan, drive)
    for line, role in zip(drive.lines, roles, strict=True):
        more = f"{line.hertz} pulses a second" if line.hertz else ""
        if isinstance(drive, hw.SwitchPlan) and drive.hold is not None:
            more += f", full for {drive.full_first * plan.program.step:g} s, then {drive.hold} %"
        yield _row(plan, line, key, name, role, f"off {LEVEL[line.off]}", more)


def _roles(plan: ProgramPlan, drive: hw.SwitchPlan | hw.TurningPlan | hw.LatchingPlan) -> list[str]:
    from_pin = next(c for c in plan.build.channels if c.id == plan.outputs_of(drive.channel)[0])
    further = {name: role for role, name in from_pin.lines.items()}
    return [further.get(line.id, "output") for line in drive.lines]


def _read(plan: ProgramPlan, read: hw.ReadPlan) -> PinRow:
    name = plan.names.senses[read.key].name
    if isinstance(read, hw.ReadByHandPlan):
        return PinRow(read.key, "", name, "input", "", read.why)
    if isinstance(read, hw.ContactPlan):
        pull = "pull-up inside" if read.pull_up else "no pull inside"
        wait = plan.names.senses[read.key].debounce
        more = f"{pull}, debounce {wait * 1e3:g} ms"
        return _row(plan, read.line, read.key, name, "input", f"acted {LEVEL[read.acted]}", more)
    if isinstance(read, hw.LevelPlan):
        (a, b), (x, y) = read.shares, read.values
        more = f"{a:.3f} to {b:.3f} of full scale is {x:g} to {y:g}"
        return _row(plan, read.line, read.key, name, "level", "", more)
    if isinstance(read, hw.CurrentPlan):
        more = f"middle {read.middle:.3f}, {read.per_ampere:.4f} of full scale an ampere"
        return _row(plan, read.line, read.key, name, "level", "", more)
    return _row(plan, read.line, read.key, name, "counted", "", "pulses a second")
