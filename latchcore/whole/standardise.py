"""The smallest set of resistor values that serves every channel of a build."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.catalogue import Stock
from latchcore.design.report import Report

#: Steps the exact search may take before the greedy answer stands; far more than a build of 64
#: channels needs.
MOST_STEPS = 20_000


@dataclass(frozen=True)
class Common:
    """
    One value for each sized resistor, from as few distinct values as possible.

    ``chosen`` maps (channel id, setting) to ohms; ``before`` and ``after`` are the distinct values
    now and then.
    """

    chosen: dict[tuple[str, str], float]
    before: tuple[float, ...]
    after: tuple[float, ...]


def smallest_cover(
    sets: list[frozenset[float]], liked: frozenset[float] = frozenset()
) -> list[float]:
    """
    The fewest values that hit every set; among as few, those that are liked.

    Examples
    --------
    >>> smallest_cover([frozenset({270, 330}), frozenset({330, 390}), frozenset({10000})])
    [330, 10000]
    """
    best = _greedy(sets, liked)
    steps = 0

    def search(picked: list[float], left: list[frozenset[float]]) -> None:
        nonlocal best, steps
        steps += 1
        if steps > MOST_STEPS or len(picked) >= len(best):
            return
        if not left:
            best = picked
            return
        narrowest = min(left, key=len)
        reach = {value: sum(value in s for s in left) for value in narrowest}
        for value in sorted(narrowest, key=lambda v: (-reach[v], v not in liked, v)):
            search([*picked, value], [s for s in left if value not in s])

    search([], list(sets))
    return sorted(best)


def _greedy(sets: list[frozenset[float]], liked: frozenset[float]) -> list[float]:
    picked, left = [], list(sets)
    while left:
        everything = {value for s in left for value in s}
        value = max(everything, key=lambda v: (sum(v in s for s in left), v in liked, -v))
        picked.append(value)
        left = [s for s in left if value not in s]
    return picked


def common_resistors(report: Report, stock: Stock | None = None) -> Common | None:
    """
    Propose one value for every resistor that is sized by a window, from as few distinct values as
    possible.

    Parameters
    ----------
    report : Report
        The build as it is; resistors the user fixed stay and count as values that are there anyway
    stock : Stock, optional
        Values in the drawer are allowed too, and liked

    Returns
    -------
    Common or None
        ``None`` where nothing would be saved
    """
    held = stock.resistors if stock else frozenset()
    free: dict[tuple[str, str], frozenset[float]] = {}
    fixed: set[float] = set()
    before: set[float] = set()
    for channel in report.channels:
        for value in channel.result.values if channel.result else []:
            if value.unit != "Ω" or value.value is None:
                continue
            before.add(value.value)
            window = value.window
            if value.yours or window is None or window.empty:
                fixed.add(value.value)
                continue
            inside = {v for v in held if not window.failing(v) and window.nominal_max is not None}
            free[channel.id, value.key] = frozenset(window.admissible) | inside
    open_sets = [values for values in free.values() if not values & fixed]
    picked = set(smallest_cover(open_sets, held)) | fixed
    chosen = {
        key: min((v for v in picked if v in values), key=lambda v: (v not in held, v))
        for key, values in free.items()
    }
    after = fixed | set(chosen.values())
    if len(after) >= len(before):
        return None
    return Common(chosen, tuple(sorted(before)), tuple(sorted(after)))
