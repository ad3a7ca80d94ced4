"""The lines of a build in whichever language is given."""

from __future__ import annotations

from latchcore.program import hardware as hw
from latchcore.program.language import Language, Raw, Var, name_of
from latchcore.program.plan import ProgramPlan


def write_drives(plan: ProgramPlan, said: Language) -> None:
    """What drives each load, and the chains in between."""
    said.comment()
    for chain in plan.hardware.chains:
        said.chain(chain)
    names = []
    for drive in plan.hardware.drives:
        key = drive.output if isinstance(drive, hw.ByHandPlan) else drive.channel
        name = f"{name_of(key)}_drive"
        _drive(plan, said, drive, name)
        names.append(name)
    said.all_rows("DRIVES", "Drives", names)
    if plan.hardware.chains or said.lists_chains:
        said.all_rows("CHAINS", "Chain", [chain.id for chain in plan.hardware.chains])


def _lines(said: Language, lines: tuple[hw.LinePlan, ...], name: str) -> Raw:
    """Each line with the one that drives it."""
    made = []
    for n, line in enumerate(lines):
        own = f"{name}_{n + 1}"
        if line.chain:
            said.new(own, "Bit", Var(line.chain), line.place, _level(line), says="")
        else:
            said.new(own, "PinOut", line.number, _level(line), line.hertz)
        made.append(own)
    return said.row(name, "Out", made)


def _level(line: hw.LinePlan) -> Raw:
    return Raw(str(line.off))


def _drive(plan: ProgramPlan, said: Language, drive: hw.DrivePlan, name: str) -> None:
    channel = Var(name_of(getattr(drive, "channel", "")))
    match drive:
        case hw.SwitchPlan():
            lines = _lines(said, drive.lines, name)
            ways = said.ways(name, [(name_of(key), pattern) for key, pattern in drive.ways])
            said.new(name, "Drive", lines, drive.rest, ways)
            if drive.hold is not None:
                said.set(name, "hold", drive.hold)
                said.set(name, "full_first", drive.full_first)
        case hw.ServoPlan():
            said.new(name, "Servo", drive.line.number, drive.rest, drive.work, channel)
        case hw.FiringPlan():
            said.firing(name, drive)
        case hw.TurningPlan():
            lines = _lines(said, drive.lines, name)
            patterns = said.patterns(name, drive.patterns)
            said.new(name, "Turning", lines, drive.rest, patterns, drive.each, channel)
        case hw.LatchingPlan():
            lines = _lines(said, drive.lines, name)
            ends = (drive.rest, drive.on, drive.back)
            said.new(name, "Latching", lines, *ends, drive.steps, channel)
        case hw.ByHandPlan():
            title = plan.title(drive.output)
            key = name_of(drive.output)
            routine = said.routine(f"write_{key}", "output", f"{title}: {drive.why}.")
            said.new(name, "ByHand", Var(key), routine)


def write_reads(plan: ProgramPlan, said: Language) -> None:
    """How each input is read."""
    names = []
    for read in plan.hardware.reads:
        key = name_of(read.key)
        name, sense = f"{key}_pin", Var(key)
        match read:
            case hw.ContactPlan():
                acted = Raw(str(read.acted))
                said.new(name, "ContactPin", sense, read.line.number, read.pull_up, acted)
            case hw.LevelPlan():
                ends = (*read.shares, *read.values)
                said.new(name, "LevelPin", sense, read.line.number, *ends)
            case hw.CurrentPlan():
                figures = (read.middle, read.per_ampere)
                said.new(name, "CurrentPin", sense, read.line.number, *figures)
            case hw.CountedPlan():
                said.counted(name, read)
            case hw.ReadByHandPlan():
                if not read.scaled:
                    said.comment(f"{read.key}: {read.why}; it stays at rest.")
                    continue
                title = plan.names.senses[read.key].name
                routine = said.routine(f"read_{key}", "input", f"{title}: {read.why}.")
                said.new(name, "ReadByHand", sense, routine)
        names.append(name)
    said.all_rows("PINS", "Reads", names)
