"""What every line should do over time: in a rehearsal, and from power-up to the first step."""

from __future__ import annotations

from latchcore.advice.rehearsed import Rehearsed
from latchcore.figures.trace import Level, Trace
from latchcore.program import hardware as hw
from latchcore.program.plan import ProgramPlan
from latchcore.whole.timeline import moments

#: What a pin does at a moment of the start, as a level.
DOES: dict[str, Level] = {
    "low": 0,
    "high": 1,
    "driven_low": 0,
    "driven_high": 1,
    "pull_down": 0,
    "pull_up": 1,
}
#: A moment of the start that has no length of its own is drawn so long [s].
USUAL_MOMENT = 0.1


def planned_traces(plan: ProgramPlan, found: Rehearsed) -> list[Trace]:
    """
    Every line of the board or of a chain that is switched, as a rehearsal has it; a line that
    pulses counts as on while it does.
    """
    traces: list[Trace] = []
    for drive in plan.hardware.drives:
        if isinstance(drive, hw.SwitchPlan):
            traces += _switched(plan, drive, found)
    return traces


def _switched(plan: ProgramPlan, drive: hw.SwitchPlan, found: Rehearsed) -> list[Trace]:
    places = {found.program.place(key): pattern for key, pattern in drive.ways}
    levels = dict.fromkeys(places, 0)
    pattern, moves = drive.rest, [(0.0, drive.rest, "")]
    for w in found.run.changes:
        if w.channel not in places:
            continue
        levels[w.channel] = w.level
        on = next((p for place, p in places.items() if levels[place]), drive.rest)
        if on != pattern:
            pattern = on
            moves.append((found.time(w.step), on, w.reason if w.level else ""))
    traces = []
    for n, line in enumerate(drive.lines):
        points: list[tuple[float, Level]] = []
        why: list[str] = []
        for t, code, reason in moves:
            level = int(code[n])
            if points and points[-1][1] == level:
                continue
            if points and points[-1][0] == t:
                points.pop()
            points.append((t, level))
            if level != line.off:
                why.append(reason)
        title = plan.title(drive.ways[0][0])
        traces.append(Trace(line.id, title, tuple(points), line.off, tuple(why)))
    return traces


def start_traces(plan: ProgramPlan) -> list[Trace]:
    """Every switched line from power-on until the program has it, by the board's own times."""
    report = plan.report
    traces: list[Trace] = []
    for drive in plan.hardware.drives:
        if not isinstance(drive, hw.SwitchPlan) or len(drive.lines) != 1 or report is None:
            continue
        told = report.channel(drive.channel)
        channel = plan.build.channel(drive.channel)
        if channel is None or told.result is None:
            continue
        t, points = 0.0, []
        for moment in moments(plan.context.channel(channel), told.result):
            if moment.story == "Switched on":
                points.append((t, DOES.get(moment.pin)))
                t += USUAL_MOMENT if moment.lasts is None else moment.lasts
        line = drive.lines[0]
        traces.append(Trace(line.id, channel.name, tuple(points), line.off))
    return traces


def called(plan: ProgramPlan) -> dict[str, str]:
    """Every word a line of the build may be called by in a capture, in small letters."""
    known: dict[str, str] = {}
    for drive in plan.hardware.drives:
        for line in getattr(drive, "lines", ()):
            known[line.id.lower()] = line.id
    for drive in plan.hardware.drives:
        if isinstance(drive, hw.SwitchPlan) and len(drive.lines) == 1:
            for key, _ in drive.ways:
                known.setdefault(key.lower(), drive.lines[0].id)
                known.setdefault(plan.title(key).lower(), drive.lines[0].id)
    return known
