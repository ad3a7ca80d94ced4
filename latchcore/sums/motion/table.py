"""The state table: what surely conducts, what nothing decides, what the load does."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import lru_cache

from latchcore.sums.motion.outcome import Conducts, angle_of, conducts, currents, result_of, shorts
from latchcore.sums.motion.power import Power
from latchcore.sums.motion.reading import readings


@dataclass(frozen=True, slots=True)
class Row:
    """
    One combination.

    ``on`` surely conducts, ``may_be_on`` nothing decides; ``can_be`` every result it may have.
    ``flows`` [A], ``shorts`` and ``angle`` only where nothing is undecided.
    """

    result: str
    can_be: tuple[str, ...]
    on: tuple[str, ...]
    may_be_on: tuple[str, ...] = ()
    flows: tuple[tuple[str, float], ...] | None = None
    shorts: tuple[tuple[str, ...], ...] = ()
    angle: int | None = None
    printed: bool = True


class Table:
    """The rows of a stage, each worked out once."""

    def __init__(self, power: Power):
        self.power = power
        self.row = lru_cache(maxsize=None)(self._row)

    def _row(self, combination: str) -> Row:
        power = self.power
        ways = {conducts(power, levels) for levels in readings(power, combination)}
        results = {found: result_of(power, found) for found in ways}
        can_be = tuple(sorted(set(results.values())))
        names = [found.names for found in ways]
        on = frozenset.intersection(*names)
        may = frozenset.union(*names) - on
        printed = all(found.printed for found in ways)
        result = can_be[0] if len(can_be) == 1 else "undefined"
        if len(ways) > 1:
            return Row(result, can_be, tuple(sorted(on)), tuple(sorted(may)), printed=printed)
        (found,) = ways
        return self._sure(found, result, can_be, printed)

    def _sure(self, found: Conducts, result: str, can_be: tuple[str, ...], printed: bool) -> Row:
        flows = currents(self.power, found)
        stepper = self.power.kind == "stepper"
        return Row(
            result,
            can_be,
            tuple(sorted(found.names)),
            (),
            tuple(flows.items()),
            shorts(found) if result == "forbidden" else (),
            angle_of(self.power, flows) if stepper else None,
            printed,
        )

    def every(self) -> dict[str, Row]:
        """Every combination of high, low and floating lines."""
        letters = itertools.product("10z", repeat=len(self.power.lines))
        return {text: self.row(text) for text in map("".join, letters)}


def disarmed(power: Power) -> dict[str, list[str]]:
    """
    Combinations of driven lines that would short without an interlock and do not with it: by its
    name, and for all of them ``together``.

    A gate that is thought away hands on what it reads first.
    """
    locks = [g.name for g in power.gates if g.locks] + [h.name for h in power.holds_off]
    if not locks:
        return {}

    def shorts_without(text: str, without: frozenset[str]) -> bool:
        return any(
            result_of(power, conducts(power, levels, without)) == "forbidden"
            for levels in readings(power, text, without)
        )

    texts = ["".join(t) for t in itertools.product("10", repeat=len(power.lines))]
    kept = [t for t in texts if not shorts_without(t, frozenset())]
    found = {"together": [t for t in kept if shorts_without(t, frozenset(locks))]}
    return found | {n: [t for t in kept if shorts_without(t, frozenset({n}))] for n in locks}
