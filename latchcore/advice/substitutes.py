"""What may be fitted instead: other values and parts with which every sum of a channel holds."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.context import BuildContext, Missing
from latchcore.design.kinds import STAGES
from latchcore.design.memory import Memory, once
from latchcore.design.report import Report, StageResult
from latchcore.document.models import Channel
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import QuantityError, resistor_code
from latchcore.figures.table import Table

#: Every part that could be fitted is tried on the whole build: once is enough.
KNOWN = Memory(32)
SUBSTITUTES = ("of", "name", "what", "fitted", "instead")
#: As many other values of a resistor as a sheet has room for, on either side of the one fitted.
MOST_VALUES = 6


def substitutes_table(around: BuildContext, report: Report) -> Table:
    """
    For each value and part of each channel the others that satisfy its sums, each on its own: two
    changed at once have to be worked out again.
    """
    return once(KNOWN, around.build, around.catalogue, lambda: _tried(around, report))


def _tried(around: BuildContext, report: Report) -> Table:
    rows = []
    before = _bad(report)
    for channel, told in zip(around.build.channels, report.channels, strict=True):
        if told.result is None:
            continue
        parts = _parts(around, channel, told.result, before)
        for what, fitted, others in [*_values(told.result), *parts]:
            rows.append((told.letter, channel.name, what, fitted, others))
    return Table("substitutes", "May be fitted instead", SUBSTITUTES, tuple(rows))


def _values(result: StageResult) -> Iterator[tuple[str, str, str]]:
    for value in result.values:
        window = value.window
        if value.unit != "Ω" or window is None or value.value is None:
            continue
        others = [v for v in window.admissible if resistor_code(v) != value.text]
        near = sorted(others, key=lambda v: abs(v - value.value))[:MOST_VALUES]
        if near:
            yield value.label, value.text, ", ".join(resistor_code(v) for v in sorted(near))


def _parts(
    around: BuildContext, channel: Channel, result: StageResult, before: set[tuple[str, str]]
) -> Iterator[tuple[str, str, str]]:
    stage = STAGES[channel.stage.kind]
    for setting in stage.settings:
        fitted = result.parts.get(setting.key)
        if setting.kind != "part" or fitted is None:
            continue
        others = [
            part.title
            for part in around.family(setting.family)
            if part.id != fitted.id and _holds(around, channel, setting.key, part.id, before)
        ]
        if others:
            yield setting.label, fitted.title, "; ".join(others)


def _bad(report: Report) -> set[tuple[str, str]]:
    """What stands against a build: which finding, where."""
    return {(f.check, f.where) for f in report.all_findings if f.severity in ("stop", "fix")}


def _holds(
    around: BuildContext, channel: Channel, setting: str, part: str, before: set[tuple[str, str]]
) -> bool:
    """Whether every sum of a channel holds with another part, and nothing new stands anywhere."""
    settings = {**channel.stage.settings, setting: part}
    other = channel.model_copy(
        update={"stage": channel.stage.model_copy(update={"settings": settings})}
    )
    try:
        if STAGES[channel.stage.kind].size(around.channel(other)).badness:
            return False
    except (Missing, QuantityError, ValueError):
        return False
    channels = [other if c.id == channel.id else c for c in around.build.channels]
    changed = around.build.model_copy(update={"channels": channels})
    return _bad(evaluate(changed, around.catalogue)) <= before
