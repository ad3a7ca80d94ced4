"""From a build and its report to the lines a program drives."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from latchcore.behaviour.layout import steps_of
from latchcore.behaviour.named import BACK, outputs_of
from latchcore.behaviour.times import percent, step_of
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.kinds import STAGES, lines_of, pulsed_of
from latchcore.design.report import Report, StageResult
from latchcore.document.chains import part_of
from latchcore.document.models import Channel
from latchcore.figures.quantity import parse
from latchcore.pieces.firing import zero_detector
from latchcore.program.hardware import (
    ByHandPlan,
    ChainPlan,
    DrivePlan,
    FiringPlan,
    LatchingPlan,
    LinePlan,
    ServoPlan,
    SwitchPlan,
    TurningPlan,
)
from latchcore.sums import phase
from latchcore.whole.chains import codes_of

#: Loads whose signal no pin makes by a level.
OWN_WORDS = {
    "pixel_data": "its pixels take words of their own on the data line",
    "analogue_pot": "its potentiometer takes words of its own on a bus",
    "row_column": "a panel is written code by code, not switched on and off",
}


def line_plan(
    around: BuildContext, name: str | None, off: int = 0, hertz: int = 0
) -> LinePlan | None:
    """A line by its name; ``None`` where there is no such line."""
    pin = around.line(name)
    if name is None or pin is None:
        return None
    at = part_of(name)
    if at is None:
        return LinePlan(name, number_of(pin.chip, name), "", 0, off, hertz)
    chain = around.chains[at[0]]
    place = at[1] - chain.chain.base
    if chain.chain.first == "farthest":
        place = chain.outputs - 1 - place
    return LinePlan(name, place, at[0], place, off)


def number_of(chip: str, name: str) -> int | str:
    """
    What a program calls a line: the number in the chip's own naming, else its name.

    Examples
    --------
    >>> number_of("line 25", "P25"), number_of("port D, bit 3", "L3"), number_of("clock", "CK")
    (25, 3, 'CK')
    """
    found = re.findall(r"\d+", name) or re.findall(r"\d+", chip)
    return int(found[-1]) if found else name


@dataclass
class Lines:
    """Makes the plan of every channel of one build."""

    around: BuildContext
    report: Report

    def __post_init__(self) -> None:
        self.step = step_of(self.around.build.does)
        self.outputs: dict[str, list[str]] = {}
        for output in outputs_of(self.around.build):
            self.outputs.setdefault(output.channel.id, []).append(output.id)

    def drives(self) -> list[DrivePlan]:
        """One plan for each channel that is driven, one for each output where none could be."""
        found: list[DrivePlan] = []
        for channel, told in zip(self.around.build.channels, self.report.channels, strict=True):
            planned = self._drive(channel, told.result)
            if isinstance(planned, str):
                found += [ByHandPlan(channel.id, key, planned) for key in self.outputs[channel.id]]
            else:
                found.append(planned)
        return found

    def _drive(self, channel: Channel, result: StageResult | None) -> DrivePlan | str:
        """The plan of a channel, or why the program cannot have one."""
        if result is None:
            return "its stage is not worked out yet"
        if channel.stage.kind in OWN_WORDS:
            return OWN_WORDS[channel.stage.kind]
        if STAGES[channel.stage.kind].traits.direction == "in":
            return "it reads a signal and drives nothing"
        leader = self.around.build.channel(channel.moves_with or "")
        if leader is not None and leader.pin == channel.pin:
            return f"it shares the line of {leader.name} and moves with that"
        context = self.around.channel(channel)
        missing = [role or "its line" for role, name in lines_of(context) if not name]
        if missing:
            return f"no pin is chosen for {', '.join(missing)}"
        if result.servo is not None:
            return self._servo(context, result)
        if channel.stage.kind == "step_driver":
            return self._stepped(context)
        if result.output.control == "phase" and result.output.window is not None:
            return self._firing(context, result)
        if result.motion is not None:
            return self._several(context, result)
        return self._single(context, result)

    def _single(self, context: ChannelContext, result: StageResult) -> DrivePlan | str:
        if result.on_with not in ("high", "low"):
            return "it is not known which level switches it on"
        off = 0 if result.on_with == "high" else 1
        channel = context.channel
        line = line_plan(self.around, channel.pin, off, self._hertz(channel))
        if line is None:
            return f"there is no line {channel.pin}"
        ways = tuple((key, str(1 - off)) for key in self.outputs[channel.id][:1])
        return SwitchPlan(channel.id, (line,), str(off), ways, *self._held(channel))

    def _held(self, channel: Channel) -> tuple[int | None, int]:
        """What holds a coil after its first moments, where it is said."""
        if channel.pwm is None or channel.full_first is None or channel.duty is None:
            return None, 0
        first = steps_of(parse(channel.full_first, "s"), self.step)
        return percent(channel.duty), first

    @staticmethod
    def _hertz(channel: Channel) -> int:
        return round(parse(channel.pwm, "Hz")) if channel.pwm else 0

    def _servo(self, context: ChannelContext, result: StageResult) -> DrivePlan | str:
        line, servo = line_plan(self.around, context.channel.pin), result.servo
        if line is None or servo is None:
            return f"there is no line {context.channel.pin}"
        if line.chain:
            return "a servo's pulses come from a pin of the board here"
        ends = [
            usual if stated is None else stated
            for stated, usual in (
                (context.given("rest_pulse", "s"), servo.narrow),
                (context.given("work_pulse", "s"), servo.wide),
            )
        ]
        output = self.outputs[context.channel.id][0]
        return ServoPlan(output, line, round(ends[0] * 1e6), round(ends[1] * 1e6))

    def _firing(self, context: ChannelContext, result: StageResult) -> DrivePlan | str:
        detector = zero_detector(self.around, context.channel.rail)
        item = self.around.build.sense(detector.id) if detector else None
        zero = line_plan(self.around, item.pin) if item else None
        off = 1 if result.on_with == "low" else 0
        line, out = line_plan(self.around, context.channel.pin, off), result.output
        if detector is None or item is None or zero is None:
            return "it is fired after a zero of the line, and no detector of that has a pin"
        if line is None or line.chain or out.window is None:
            return "a triac is fired from a pin of the board"
        rows = phase.table(self.around.frequency, out.window, "power", detector.found.adds)
        delays = tuple(0 if math.isnan(row[1]) else round(row[1] * 1e6) for row in rows)
        latest = round(((out.latest or out.window.latest) + detector.found.adds) * 1e6)
        pulse = round((out.gate_pulse or 0.0) * 1e6)
        output = self.outputs[context.channel.id][0]
        rising = item.edge == "rising"
        return FiringPlan(output, line, zero, rising, delays, latest, pulse)

    def _several(self, context: ChannelContext, result: StageResult) -> DrivePlan | str:
        channel = context.channel
        named = lines_of(context)
        codes, rest = codes_of(context, result, [role for role, _ in named])
        pulsed = pulsed_of(context)
        lines = []
        for n, (role, name) in enumerate(named):
            hertz = self._hertz(channel) if role in pulsed else 0
            line = line_plan(self.around, name, int(codes[rest][n]), hertz)
            if line is None:
                return f"there is no line {name}"
            lines.append(line)
        return self._patterns(context, tuple(lines), codes, rest)

    def _patterns(
        self, context: ChannelContext, lines: tuple[LinePlan, ...], codes: dict[str, str], rest: str
    ) -> DrivePlan | str:
        key, outputs = context.channel.id, self.outputs[context.channel.id]
        if f"{key}{BACK}" in outputs and {"forward", "reverse"} <= set(codes):
            ways = tuple(zip(outputs, (codes["forward"], codes["reverse"]), strict=True))
            return SwitchPlan(key, lines, codes[rest], ways)
        if {"set", "reset"} <= set(codes):
            length = context.channel.longest_on or context.channel.load.act_after
            if length is None:
                return (
                    "how long its pulse lasts is not stated: its longest time on, or when it acts"
                )
            steps = max(steps_of(parse(length, "s"), self.step), 1)
            return LatchingPlan(outputs[0], lines, codes[rest], codes["set"], codes["reset"], steps)
        if context.load.kind.model == "two_windings":
            return self._turning(context, lines, codes, rest)
        ways_on = [code for state, code in codes.items() if state != rest and state != "brake"]
        if len(ways_on) == len(outputs):
            return SwitchPlan(key, lines, codes[rest], tuple(zip(outputs, ways_on, strict=True)))
        return "it has more patterns than on and off, and nothing says which is meant"

    def _stepped(self, context: ChannelContext) -> DrivePlan | str:
        """A driver chip: its enable is low while it holds, its step line goes up and down."""
        rate = context.given("step_rate", "Hz")
        if rate is None:
            return "its steps a second are not stated"
        lines = []
        for role, name in lines_of(context):
            line = line_plan(self.around, name, int(role == "enable"))
            if line is None:
                return f"there is no line {name}"
            lines.append(line)
        rest = "".join(str(line.off) for line in lines)
        steps = tuple(f"{step}0" + "0" * (len(lines) - 2) for step in ("1", "0"))
        output = self.outputs[context.channel.id][0]
        return TurningPlan(output, tuple(lines), rest, steps, round(5e5 / rate))

    def _turning(
        self, context: ChannelContext, lines: tuple[LinePlan, ...], codes: dict[str, str], rest: str
    ) -> DrivePlan | str:
        rate = context.given("step_rate", "Hz")
        if rate is None:
            return "its steps a second are not stated"
        turn = tuple(code for state, code in codes.items() if state != rest)
        output = self.outputs[context.channel.id][0]
        return TurningPlan(output, lines, codes[rest], turn, round(1e6 / rate))

    def chains(self) -> list[ChainPlan]:
        """Every chain of the build."""
        found = []
        for chain in self.around.chains.values():
            part, lines = chain.part, {}
            for role, name in chain.chain.lines.items():
                line = line_plan(self.around, name)
                if line is not None:
                    lines[role] = line
            why = "" if part.bus == "shift" else "its bus takes the part's own words"
            wanted = [role for role in chain.roles if role not in lines]
            if not why and wanted:
                why = f"no pin is chosen for its {', '.join(wanted)}"
            found.append(
                ChainPlan(
                    chain.id,
                    chain.chain.name,
                    chain.outputs,
                    lines,
                    int(chain.chain.idle == "high"),
                    int(part.release_at == "high"),
                    why,
                    bool(part.pulse_to),
                )
            )
        return found
