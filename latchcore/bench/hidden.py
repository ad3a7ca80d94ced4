"""Faults a simulated bench can carry: every one of them is told by a short name."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from latchcore.bench.circuit import MIDDLE, NotModelled, circuit_of
from latchcore.bench.commands import OFF, acting, commands_of
from latchcore.bench.faults import SHORT, WEAK_SHARE, BenchFault, single_faults
from latchcore.bench.looks import load_amps
from latchcore.bench.readings import Expected
from latchcore.bench.solver import NoPoint, Part, solve
from latchcore.bench.undriven import in_reset, undriven
from latchcore.design.context import BuildContext
from latchcore.design.memory import Memory, once
from latchcore.design.report import ChannelReport, Report

#: A supply set too high, as a share of what it should give; what an earth that is there measures.
HIGH_SHARE = 1.4
#: A load that has so much more or less is seen, as a share; nothing flows under this [A].
SEEN, LEAST_AMPS = 0.3, 1e-6
#: Kinds of faults that belong to no channel.
SHORTED, LOW, HIGH = "shorted", "too-low", "too-high"
BARRIER, EARTH, FUSE, SLIPPED, NO_PULL = "barrier", "earth", "fuse", "slipped", "no-pull"
NO_GROUND = "no-ground"
KNOWN = Memory(16)


@dataclass(frozen=True, slots=True)
class Hidden:
    """
    One hidden fault.

    Attributes
    ----------
    id : str
        Its name, such as ``ch2.R1:shorted`` or ``rail1:too-low``
    words : str
    of : str
        Channel, rail or input it is in; empty where it is of the whole build
    part, what : str
        Which part of a channel's circuit, and what is wrong with it
    """

    id: str
    words: str
    of: str = ""
    part: str = ""
    what: str = ""


def slug(words: str) -> str:
    """
    Words as they stand in a name.

    Examples
    --------
    >>> slug("the wrong way round")
    'the-wrong-way-round'
    """
    return re.sub(r"[^a-z0-9]+", "-", words.lower()).strip("-")


def hidden_faults(around: BuildContext, report: Report) -> list[Hidden]:
    """
    Every fault that shows: of each channel those that change what a load does, of the supplies, of
    inputs, of what hurts.
    """
    return once(KNOWN, around.build, around.catalogue, lambda: list(_every(around, report)))


def _every(around: BuildContext, report: Report) -> Iterator[Hidden]:
    for told in report.channels:
        channel = around.build.channel(told.id)
        if channel is None or told.result is None:
            continue
        context = around.channel(channel)
        try:
            commands = commands_of(context, told.result)
            circuits = {s: circuit_of(context, told.result, s, MIDDLE) for s in commands}
        except NotModelled:
            continue
        shown = _of_channel(told, circuits, acting(commands)[0])
        held = in_reset(context, told.result)
        if held is not None and around.board is not None:
            for fault in single_faults(undriven(circuits[OFF], around.board.leakage)):
                if (fault.part, fault.words) in shown and not shown[fault.part, fault.words]:
                    shown[fault.part, fault.words] = _lets_go(fault, held)
        for (part, what), seen in shown.items():
            if seen:
                words = f"{told.letter} {told.name}: {part.rpartition('.')[2]} {what}"
                yield Hidden(f"{part}:{slug(what)}", words, told.id, part, what)
    yield from _supplied(around)
    yield from _built(around, report)


def _supplied(around: BuildContext) -> Iterator[Hidden]:
    """What can be wrong with a rail of low volts."""
    for rail in around.build.rails:
        if around.alternating(rail) or around.hazardous(rail):
            continue
        for what, words in ((SHORTED, "shorted to its return"), (LOW, "gives half of its volts"),
                            (HIGH, "is set too high"),
                            (NO_GROUND, "has a return that is not joined")):  # fmt: skip
            yield Hidden(f"{rail.id}:{what}", f"{rail.name} {words}", rail.id, rail.id, what)


def _built(around: BuildContext, report: Report) -> Iterator[Hidden]:
    """What can be wrong with inputs, the order of the lines, and what keeps the line apart."""
    for item in around.build.inputs:
        words = f"{item.name}: what holds it at rest is missing"
        yield Hidden(f"{item.id}:{NO_PULL}", words, item.id, what=NO_PULL)
    if len(report.channels) > 1:
        yield Hidden(SLIPPED, "Every line drives its neighbour: counted from the wrong end",
                     what=SLIPPED)  # fmt: skip
    if any(around.hazardous(rail) for rail in around.build.rails):
        yield Hidden(BARRIER, "A strand of wire bridges the barrier to the line", what=BARRIER)
        yield Hidden(EARTH, "The earth of the metal parts is not joined", what=EARTH)
        yield Hidden(FUSE, "The fuse is not the printed one", what=FUSE)


def _of_channel(
    told: ChannelReport, circuits: dict[str, list[Part]], first: str
) -> dict[tuple[str, str], bool]:
    """Faults of one channel, and whether they change what flows in its load in any state."""
    own = {p.id for p in circuits[first] if p.id.startswith((f"{told.id}.", "BOARD."))}
    sound = {s: load_amps(solve(parts), parts, told.id, told.result)
             for s, parts in circuits.items()}  # fmt: skip
    shows: dict[tuple[str, str], bool] = {}
    for state, parts in circuits.items():
        for fault in single_faults(parts):
            key = (fault.part, fault.words)
            if fault.part in own and not shows.get(key):
                shows[key] = _shows(fault, told, sound[state])
    return shows


def _lets_go(fault: BenchFault, held: Expected) -> bool:
    """Whether it shows while nobody drives the line: its control node is not held where it was."""
    try:
        point = solve(fault.parts)
    except NoPoint:
        return True
    if point.undecided or held.window is None:
        return True
    there = any(held.node in part.at.values() for part in fault.parts)
    volts = point.volts(held.node, held.against) if there else None
    return volts is None or not held.window[0] <= volts <= held.window[1]


def _shows(fault: BenchFault, told: ChannelReport, sound: float) -> bool:
    """Whether a fault changes what flows in the load by more than anybody overlooks."""
    try:
        point = solve(fault.parts)
    except NoPoint:
        return True
    if point.undecided or point.chatters:
        return True
    amps = load_amps(point, fault.parts, told.id, told.result)
    return abs(amps - sound) > SEEN * max(abs(amps), abs(sound), LEAST_AMPS)


def named(around: BuildContext, report: Report, name: str) -> Hidden | None:
    """A fault by its name; ``None`` where the build has no such fault."""
    return next((f for f in hidden_faults(around, report) if f.id == name), None)


def with_fault(parts: Sequence[Part], fault: Hidden, shared: bool) -> list[Part]:
    """
    Parts of a circuit with a fault in it, where the fault is in those; ``shared`` says whether they
    are the supplies.
    """
    if not shared:
        for found in single_faults(list(parts)):
            if (found.part, found.words) == (fault.part, fault.what):
                return list(found.parts)
        return list(parts)
    made = []
    for part in parts:
        if part.id != fault.part:
            made.append(part)
        elif fault.what == SHORTED:
            tie = {"a": part.at["plus"], "b": part.at["minus"]}
            made += [part, Part(f"{part.id}.short", "resistor", tie, {"ohm": SHORT})]
        elif fault.what == NO_GROUND:
            made.append(replace(part, at={**part.at, "minus": f"{part.id}:loose"}))
        else:
            share = {LOW: WEAK_SHARE, HIGH: HIGH_SHARE}.get(fault.what, 1.0)
            figures = {**part.figures, "volts_v": share * part.figures["volts_v"]}
            made.append(Part(part.id, part.kind, part.at, figures))
    return made
