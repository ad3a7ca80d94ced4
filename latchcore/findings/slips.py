"""What a wrong clock edge does to a chain: every command of the build one place off."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from latchcore.design.report import Finding, StageResult
from latchcore.sums.motion.chain import Wrong
from latchcore.sums.motion.judge import ACTING
from latchcore.whole.chains import RISING, ChainReport, Uses


@dataclass(frozen=True)
class Slipped:
    """One command that went wrong: which, over what, one place farther or nearer, what comes."""

    wanted: str
    way: str
    wrong: Wrong


def commands(report: ChainReport) -> dict[str, dict[str, str]]:
    """
    Commands of a build on a chain: everything at rest, and each channel alone in each other state.
    """
    found: dict[str, dict[str, str]] = {"everything off": {}}
    for member in report.logic.members:
        for state in member.codes:
            if state != member.rest:
                found[f"{member.name} {state}"] = {member.name: state}
    return found


def slips(report: ChainReport) -> Iterator[Slipped]:
    """
    Every command one place off, either way. Of what stood there before only the bit nearest to the
    data input can come back, so that one command with it low and one with it high stand for all.
    """
    logic, known = report.logic, commands(report)
    before: dict[str, dict[str, str]] = {}
    for pattern in known.values():
        before.setdefault(logic.contents(pattern)[:1], pattern)
    for wanted, pattern in known.items():
        seen = set()
        for way in ("farther", "nearer"):
            for old in before.values():
                wrong = logic.moved(old, pattern, way)
                if not wrong.harmless and (way, wrong.contents) not in seen:
                    seen.add((way, wrong.contents))
                    yield Slipped(wanted, way, wrong)


def strange(report: ChainReport, uses: Uses, wrong: Wrong) -> tuple[list[str], list[str]]:
    """
    Names of channels that come to a code nobody writes: those it burns, and those that then act.
    """
    burning, acting = [], []
    members = {m.name: m for m in report.logic.members}
    for context, result in uses:
        if context.channel.id not in wrong.forbidden:
            continue
        indices = members[context.channel.id].indices
        code = "".join(wrong.contents[report.logic.place(i)] for i in indices)
        if _burns(result, code):
            burning.append(context.channel.name)
        elif _acts(result, code):
            acting.append(context.channel.name)
    return burning, acting


def _burns(result: StageResult, code: str) -> bool:
    if result.panel is not None:
        return len(code) % 2 == 0 and result.panel.burns(code)
    motion = result.motion
    if motion is None or motion.power.kind == "stepper":
        return False
    if len(code) != len(motion.power.lines):
        # Some of its lines are elsewhere: any code may meet them.
        return any("forbidden" in row.can_be for row in motion.rows.values())
    return "forbidden" in motion.table.row(code).can_be


def _acts(result: StageResult, code: str) -> bool:
    if result.panel is not None:
        return result.panel.acts(code)
    motion = result.motion
    if motion is None or len(code) != len(motion.power.lines):
        return True
    return bool(ACTING[motion.power.kind] & set(motion.table.row(code).can_be))


def slipped(report: ChainReport, uses: Uses) -> Iterator[Finding]:
    """M7, where the sampling edges differ or nobody compared them."""
    chain = report.context.chain
    differ = report.program.rising != RISING.rising
    if report.context.part.bus != "shift" or (chain.compared and not differ):
        return
    names = {c.channel.id: c.channel.name for c, _ in uses}
    worst: tuple[int, Slipped, list[str]] | None = None
    for one in slips(report):
        stops, acting = strange(report, uses, one.wrong) if one.wrong.forbidden else ([], [])
        who = stops or [*(names[n] for n in one.wrong.on), *acting]
        rank = 2 if stops else 1 if who else 0
        if rank and (worst is None or rank > worst[0]):
            worst = (rank, one, who)
        if worst is not None and worst[0] == 2:
            break
    if worst is None:
        return
    rank, one, who = worst
    does = "comes to a code that burns" if rank == 2 else "acts unasked"
    edges = (
        f"The program's clock rests {chain.idle} and is read on its {chain.samples} edge; the part"
        " reads on the rising one."
        if differ
        else "Nobody compared yet on which edge the program is read and on which the part reads."
    )
    wanted = _words(one.wanted, names)
    yield Finding(
        "M7",
        "stop" if rank == 2 else "fix",
        f"chain:{report.id}",
        f"{report.name} may be one bit off",
        f"{edges} Told “{wanted}”, one place {one.way}, {', '.join(who[:3])} {does}.",
        "Read on the edge at which data changes, a chain gets the old bit or the new one.",
        "every command shifted by one place",
        lasting=rank == 2,
    )


def _words(command: str, names: dict[str, str]) -> str:
    """A command with the channel's name in place of its id."""
    who, _, state = command.partition(" ")
    return f"{names[who]} {state}" if who in names else command
