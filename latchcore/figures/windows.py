"""
Resistor windows: which printed values satisfy every corner, and which limits conflict when none
does.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from latchcore.figures import preferred
from latchcore.figures.slack import exceeds, falls_short


@dataclass(frozen=True, slots=True)
class Bound:
    """
    One limit on a real resistance: its name, and the value in ohms (``None``: no resistance is
    small enough).
    """

    name: str
    value: float | None
    why: str = ""


@dataclass(frozen=True, slots=True)
class Window:
    """
    The range a resistor must stay in at every corner, and the preferred values that do.

    ``real_*`` bounds hold for the resistance itself, ``nominal_*`` for the printed value with its
    tolerance.
    """

    series: str
    tolerance: float
    lower: tuple[Bound, ...]
    upper: tuple[Bound, ...]
    floor: Bound | None
    real_min: float
    real_max: float | None
    nominal_min: float
    nominal_max: float | None
    admissible: list[float]
    chosen: float | None
    empty_reason: str | None
    cures: list[str] = field(default_factory=list)

    @property
    def empty(self) -> bool:
        """Whether no preferred value will do."""
        return not self.admissible

    def failing(self, nominal: float, tolerance: float | None = None) -> list[Bound]:
        """
        Limits that a printed value misses at some corner of its tolerance: its own where it has
        one, else the series'.
        """
        off = self.tolerance if tolerance is None else tolerance
        low, high = nominal * (1 - off), nominal * (1 + off)
        missed = [b for b in self.lower if b.value is not None and falls_short(low, b.value)]
        missed += [b for b in self.upper if b.value is None or exceeds(high, b.value)]
        if self.floor and self.floor.value is not None and nominal < self.floor.value:
            missed.append(self.floor)
        return missed


def _nominal(lower, upper, floor, tolerance):
    real_min = max((b.value for b in lower if b.value is not None), default=0.0)
    tops = [b.value for b in upper]
    real_max = None if any(v is None for v in tops) else min(tops, default=math.inf)
    low = real_min / (1 - tolerance)
    if floor is not None and floor.value is not None:
        low = max(low, floor.value)
    high = None if real_max is None or real_max <= 0 else real_max / (1 + tolerance)
    return real_min, (None if real_max is not None and real_max <= 0 else real_max), low, high


def _shelf(series, low, high):
    if high is None:
        return []
    return preferred.between(series, low, min(high, preferred.MOST))


def resistor_window(
    series: str,
    tolerance: float,
    lower: list[Bound],
    upper: list[Bound],
    floor: Bound | None = None,
    prefer: str = "middle",
) -> Window:
    """
    Find the printed values whose every corner lies within all bounds.

    Parameters
    ----------
    series : str
        Preferred series, ``E12``, ``E24`` or ``E96``
    tolerance : float
        Share by which the real resistance may differ from the printed one
    lower, upper : list of Bound
        Limits on the real resistance [Ω]
    floor : Bound, optional
        A least *printed* value, itself allowed
    prefer : str
        ``middle``: nearest in ratio to the geometric middle; ``least``: the smallest that passes

    Returns
    -------
    Window
        With the reason and the limits in conflict where it is empty

    Examples
    --------
    >>> w = resistor_window("E12", 0.05, [Bound("pin_current", 231.5)], [Bound("base_current",
    ...     475.8)])
    >>> w.admissible, w.chosen
    ([270.0, 330.0, 390.0], 330.0)
    """
    real_min, real_max, low, high = _nominal(lower, upper, floor, tolerance)
    admissible = _shelf(series, low, high)
    chosen = reason = None
    cures: list[str] = []
    if admissible:
        if prefer == "least" or not math.isfinite(high):
            chosen = admissible[0]
        else:
            middle = math.sqrt(max(low, preferred.LEAST / 10) * high)
            chosen = min(admissible, key=lambda v: abs(math.log(v / middle)))
    else:
        reason = _why_empty(real_max, high, real_min, low, floor)
        for name in dict.fromkeys(b.name for b in (*lower, *upper, *([floor] if floor else []))):
            kept_floor = None if floor and floor.name == name else floor
            parts = [b for b in lower if b.name != name], [b for b in upper if b.name != name]
            _, _, low_2, high_2 = _nominal(*parts, kept_floor, tolerance)
            if _shelf(series, low_2, high_2):
                cures.append(name)
    return Window(
        series,
        tolerance,
        tuple(lower),
        tuple(upper),
        floor,
        real_min,
        real_max,
        low,
        high,
        admissible,
        chosen,
        reason,
        sorted(cures),
    )


def _why_empty(real_max, high, real_min, low, floor) -> str:
    if real_max is None:
        return "no_headroom"
    least = max(real_min, floor.value if floor and floor.value else 0.0)
    if least > real_max:
        return "bounds_cross"
    return "tolerance" if low > high else "no_preferred_value"
