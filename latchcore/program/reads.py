"""From the inputs of a build to what a program reads."""

from __future__ import annotations

from latchcore.behaviour.named import Sense, senses_of
from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.document.models import SenseInput
from latchcore.figures.quantity import parse
from latchcore.figures.spread import parse_spread
from latchcore.program.hardware import (
    ContactPlan,
    CountedPlan,
    CurrentPlan,
    LevelPlan,
    LinePlan,
    ReadByHandPlan,
    ReadPlan,
)
from latchcore.program.lines import line_plan

#: Kinds of contact that pull their line low while acted on, whatever their rest.
PULLS_LOW = frozenset({"opto", "presence"})


def reads(around: BuildContext, report: Report) -> list[ReadPlan]:
    """What is read of every input, in the order a behaviour knows them in."""
    found: list[ReadPlan] = []
    for item, told in zip(around.build.inputs, report.inputs, strict=True):
        for sense in senses_of(item):
            line = line_plan(around, item.pin_two if sense.key.endswith(".2") else item.pin)
            if line is None:
                found.append(ReadByHandPlan(sense.key, sense.scaled, "no pin is chosen for it"))
            elif sense.scaled:
                found.append(_level(around, item, sense, line, told))
            else:
                found.append(ContactPlan(sense.key, line, pulls_inside(item), acted_at(item)))
    return found


def pulls_inside(item: SenseInput) -> bool:
    """
    Whether the program turns on a pull-up inside; what was fitted outside needs none.

    Examples
    --------
    >>> pulls_inside(SenseInput(id="in1", name="Door", kind="reed", pull="internal"))
    True
    """
    return item.pull == "internal"


def acted_at(item: SenseInput) -> int:
    """
    The level of a line while it is acted on.

    Examples
    --------
    >>> acted_at(SenseInput(id="in1", name="Door", kind="reed", rest="closed"))
    1
    """
    if item.kind in PULLS_LOW:
        return 0
    if item.kind in ("sensor", "motion"):
        return 0 if item.output == "open_collector" else 1
    return 0 if item.rest == "open" else 1


def _level(around: BuildContext, item: SenseInput, sense: Sense, line: LinePlan, told) -> ReadPlan:
    board, key = around.board, sense.key
    if item.kind == "serial" or board is None:
        return ReadByHandPlan(key, True, "it speaks a language of its own over its lines")
    if item.kind == "tachometer":
        return CountedPlan(key, line, pulls_inside(item), item.output != "open_collector")
    full = board.logic.typ
    values = (sense.low, sense.high)
    if item.kind == "knob":
        dead = parse(item.dead_end, "%") / 100 if item.dead_end else 0.02
        return LevelPlan(key, line, (dead, 1 - dead), values)
    if item.kind == "current":
        if not item.per_ampere:
            return ReadByHandPlan(key, True, "what it gives for an ampere is not stated")
        middle = 0.5 * (_volts(around, item) or full) / full
        return CurrentPlan(key, line, middle, parse(item.per_ampere, "V") / full)
    if item.kind == "divider":
        return _divided(key, line, told, full)
    if item.kind == "light":
        return _light(key, line, item, told, values)
    volts = parse_spread(item.voltage, ("V",))[0] if item.voltage else None
    low, high = (volts.min, volts.max) if volts is not None else (0.0, full)
    if high <= low:
        low = 0.0
    return LevelPlan(key, line, (low / full, high / full), values)


def _volts(around: BuildContext, item: SenseInput) -> float | None:
    if item.voltage:
        return parse_spread(item.voltage, ("V",))[0].typ
    rail = around.build.rail(item.rail)
    return None if rail is None else around.rail_volts(rail).typ


def _divided(key: str, line: LinePlan, told, full: float) -> ReadPlan:
    """A divided voltage is read in volts."""
    upper, lower = told.value("upper"), told.value("lower")
    if upper is None or lower is None or not lower.value:
        return ReadByHandPlan(key, True, "its divider is not worked out yet")
    times = (upper.value + lower.value) / lower.value
    return LevelPlan(key, line, (0.0, 1.0), (0.0, full * times))


def _light(key: str, line: LinePlan, item: SenseInput, told, values) -> ReadPlan:
    """Between what is read in the dark and what is read in the light."""
    fixed = told.value("pull")
    if fixed is None or not fixed.value or not item.dark or not item.bright:
        return ReadByHandPlan(key, True, "its resistances in the dark and the light are not stated")
    ends = tuple(fixed.value / (fixed.value + parse(r, "Ω")) for r in (item.dark, item.bright))
    return LevelPlan(key, line, (ends[0], ends[1]), values)
