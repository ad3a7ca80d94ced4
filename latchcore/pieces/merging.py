"""A stage put together from two that are sized on their own: sums and measures side by side."""

from __future__ import annotations

from dataclasses import replace

from latchcore.design.report import StageResult
from latchcore.figures.working import renamed


def take_in(result: StageResult, other: StageResult, mark: str) -> None:
    """
    Take another result's sums and measures in. Its symbols are marked, so that none meets its
    namesake, and so is the key of a measure both have; one that
    says the same of both is said once.
    """
    heads = {step.symbol: f"{step.symbol}_{mark}" for step in other.working.steps}
    other.working.rename(heads)
    result.working.take(other.working)
    known = {m.key for m in result.measures}
    same = {(m.key, m.worst, m.stop, m.fix) for m in result.measures}
    for measure in other.measures:
        if (measure.key, measure.worst, measure.stop, measure.fix) in same:
            continue
        key = f"{mark.lower()}_{measure.key}" if measure.key in known else measure.key
        symbol = renamed(measure.symbol, heads)
        result.measures.append(replace(measure, key=key, symbol=symbol, setting=None))
