"""What of the step a build has need of."""

from __future__ import annotations

from latchcore.behaviour import asking
from latchcore.behaviour.channel import ChannelPart
from latchcore.behaviour.confirming import EndConfirm, SameConfirm, ToggleConfirm
from latchcore.behaviour.running import RunningMacro, RunningSequence
from latchcore.behaviour.seeing import Contact, Level
from latchcore.behaviour.step import Program
from latchcore.program import hardware as hw

ASKS = {
    asking.AskedWhile: "while",
    asking.Followed: "follow",
    asking.AskedPulse: "pulse",
    asking.Toggled: "toggle",
    asking.Ramped: "ramp",
    asking.Held: "sequence",
    asking.Pressed: "macro",
}
CONFIRMS = {
    SameConfirm: "same_confirm",
    EndConfirm: "end_confirm",
    ToggleConfirm: "toggle_confirm",
}
DRIVES = {
    hw.ServoPlan: "servo",
    hw.FiringPlan: "firing",
    hw.TurningPlan: "turning",
    hw.LatchingPlan: "latching",
    hw.ByHandPlan: "by_hand",
}
READS = {
    hw.ContactPlan: "contact_pin",
    hw.LevelPlan: "level_pin",
    hw.CurrentPlan: "current_pin",
    hw.CountedPlan: "counted_pin",
    hw.ReadByHandPlan: "read_by_hand",
}
#: What a look needs besides its own word.
WORDS = {"command": {"commanded"}, "same": {"named"}, "any": {"joined"}, "all": {"joined"},
         "not": {"joined"}}  # fmt: skip


def features(program: Program, lines: hw.Hardware) -> frozenset[str]:
    """
    Names of all parts of the step one program uses.

    Examples
    --------
    >>> sorted(features(Program(0.01), hw.Hardware((), (), ())))
    []
    """
    found = _seen(program) | _asked(program) | _driven(lines)
    for part in program.channels:
        found |= _limited(part)
    found |= {"interlock"} if program.interlocks else set()
    found |= {"stagger"} if program.staggers else set()
    found |= {"watchdog"} if program.watchdog is not None else set()
    if "same_confirm" in found or "end_confirm" in found or "toggle_confirm" in found:
        found.add("kept")
    return frozenset(found)


def _seen(program: Program) -> set[str]:
    found = {"contact" if isinstance(s, Contact) else "level" for s in program.seeing}
    if any(isinstance(s, Level) and s.steps is not None for s in program.seeing):
        found.add("gone")
    found |= {"command"} if program.commands else set()
    found |= {"link"} if program.link is not None else set()
    for plan in program.look_plans:
        if plan.word == "channel":
            found.add("channel_on" if plan.figures[1] == "on" else "channel_state")
        else:
            found |= ({plan.word} - {"command"}) | WORDS.get(plan.word, set())
        found |= {"held"} if plan.held is not None else set()
        found |= {"lasts"} if plan.lasts is not None else set()
    return found | {plan.word for plan in program.event_plans}


def _asked(program: Program) -> set[str]:
    found: set[str] = set()
    for part in program.channels:
        for ask in part.requests:
            found |= {ASKS[type(ask)]} if type(ask) in ASKS else set()
            if isinstance(ask, asking.AskedPulse) and ask.bring is not None:
                found.add("bring")
            kept = isinstance(ask, asking.Toggled | asking.Ramped) and part.returns == "as_was"
            found |= {"kept", "kept_level"} if kept else set()
    for runner in program.runners:
        found |= {"sequence"} if isinstance(runner, RunningSequence) else set()
        found |= {"macro"} if isinstance(runner, RunningMacro) else set()
    return found


def _limited(part: ChannelPart) -> set[str]:
    limits, found = part.limits, set()
    found |= {"starts"} if limits.starts is not None else set()
    found |= {"share"} if limits.share is not None else set()
    found |= {"idle"} if limits.idle is not None else set()
    return found | ({CONFIRMS[type(part.confirm)]} if part.confirm is not None else set())


def _driven(lines: hw.Hardware) -> set[str]:
    found = {DRIVES[type(d)] for d in lines.drives if type(d) in DRIVES}
    found |= {READS[type(r)] for r in lines.reads
              if not isinstance(r, hw.ReadByHandPlan) or r.scaled}  # fmt: skip
    for drive in lines.drives:
        if isinstance(drive, hw.SwitchPlan):
            found |= {"economy"} if drive.hold is not None else set()
            found |= {"pulsed"} if any(line.hertz for line in drive.lines) else set()
        found |= {"pulsed"} if isinstance(drive, hw.ServoPlan) else set()
    for chain in lines.chains:
        found.add("by_hand_chain" if chain.why else "registers")
        found |= {"chain_levels"} if chain.levels else set()
    return found
