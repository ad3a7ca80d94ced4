"""What a reading outside its window means: the single faults that would put it there."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from latchcore.bench.circuit import MIDDLE, circuit_of
from latchcore.bench.currents import LEADS, Flow, in_lead, reads
from latchcore.bench.faults import single_faults
from latchcore.bench.readings import Expected
from latchcore.bench.solver import NoPoint, solve
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult

#: As many causes are named on either side, for a step is read on a phone.
MOST_NAMED = 4


@dataclass
class Miss:
    """Faults that put a reading under its window, over it, or leave nothing to read."""

    under: list[str] = field(default_factory=list)
    over: list[str] = field(default_factory=list)
    drifts: list[str] = field(default_factory=list)

    @property
    def words(self) -> str:
        """In a sentence; what it cannot be told from is said."""
        found = [
            f"{name}: {', '.join(causes[:MOST_NAMED])}"
            for name, causes in (
                ("Too low", self.under),
                ("Too high", self.over),
                ("Drifts", self.drifts),
            )
            if causes
        ]
        return ". ".join(found) + "." if found else "No single fault that is looked for shows here."


def misses(
    context: ChannelContext, result: StageResult, windows: list[Expected]
) -> dict[tuple[str, str], Miss]:
    """
    By state and node what a reading outside its window means, from every single fault of the
    channel's circuit at the middle of all corners.
    """
    found = {(w.state, w.node): Miss() for w in windows}
    names = {rail.id: rail.name for rail in context.around.build.rails}
    for state in dict.fromkeys(w.state for w in windows):
        parts = circuit_of(context, result, state, MIDDLE)
        own = [w for w in windows if w.state == state and w.window is not None]
        for fault in single_faults(parts):
            try:
                point = solve(fault.parts)
            except NoPoint:
                continue
            if point.undecided or point.chatters:
                continue
            there = {node for part in fault.parts for node in part.at.values()}
            words = f"{short_name(fault.part, names)} {fault.words}"
            for item in own:
                volts = point.volts(item.node, item.against) if item.node in there else None
                _sort(found[state, item.node], item.window, volts, words)
    return found


def flow_misses(
    context: ChannelContext, result: StageResult, windows: list[Flow]
) -> dict[tuple[str, str], Miss]:
    """By state and rail what a current outside its window means, in the same way."""
    found = {(w.state, w.rail): Miss() for w in windows}
    names = {rail.id: rail.name for rail in context.around.build.rails}
    for item in windows:
        for fault in single_faults(circuit_of(context, result, item.state, MIDDLE)):
            parts = in_lead(fault.parts, context.channel.id, item.rail, LEADS)
            try:
                point = solve(parts)
            except NoPoint:
                continue
            if not point.undecided and not point.chatters:
                words = f"{short_name(fault.part, names)} {fault.words}"
                _sort(found[item.state, item.rail], item.window, reads(point), words)
    return found


def _sort(miss: Miss, window: tuple[float, float] | None, volts: float | None, words: str) -> None:
    if volts is None or window is None:
        miss.drifts.append(words)
    elif volts < window[0]:
        miss.under.append(words)
    elif volts > window[1]:
        miss.over.append(words)


def short_name(part: str, names: Mapping[str, str] | None = None) -> str:
    """
    A part as it is called at the bench; ``names`` are those of rails by their ids.

    Examples
    --------
    >>> short_name("ch2.R1"), short_name("BOARD.P25"), short_name("V_DD"), short_name("rail1")
    ('R1', 'pin P25', "the board's supply", 'rail1')
    """
    if names and part in names:
        return names[part]
    head, _, rest = part.partition(".")
    if part == "V_DD":
        return "the board's supply"
    if rest == "LOAD":
        return "the load"
    return f"pin {rest}" if head == "BOARD" else rest or head
