"""Stepper motors: the rise of a step, heat standing still, what a chopper chip is set to."""

from __future__ import annotations

import math
from dataclasses import dataclass

from latchcore.figures.slack import exceeds
from latchcore.figures.working import Working


def rise_time(inductance: float, ohms: float, volts: float, amperes: float) -> float:
    """
    Time for a winding's current to reach a value [s], never counted longer than three time
    constants.

    Examples
    --------
    >>> round(rise_time(0.018, 13.2, 4.75, 0.4), 5), round(rise_time(0.0042, 2.4, 22.8, 0.7576), 6)
    (0.00409, 0.000145)
    """
    longest = 3 * inductance / ohms
    share = amperes * ohms / volts
    return longest if share >= 1 else min(longest, -inductance / ohms * math.log(1 - share))


@dataclass(frozen=True, slots=True)
class Stepping:
    """
    A resistance-driven stepper: its rise [s] and the rate it allows [Hz], current at the end of a
    step and standing still [A], heat at rest, reduced, in each series resistor [W].
    """

    rise: float
    rate: float
    at_end: float
    holding: float
    over_rated: float
    heat: float
    reduced: float
    series_heat: float
    supply: float

    def keeps(self, wanted: float, limit: float) -> bool:
        """Whether a step rate [Hz] is within what the rise and the start-stop rate allow."""
        return not exceeds(wanted, self.rate) and not exceeds(wanted, limit)


def stepping(
    *,
    winding: float,
    tolerance: float,
    inductance: float,
    rated: float,
    supply_min: float,
    supply_max: float,
    phases: int,
    step_rate: float,
    rest: float,
    series: float = 0.0,
    working: Working | None = None,
) -> Stepping:
    """
    What a winding driven by its resistance takes and does.

    Parameters
    ----------
    winding, series : float
        Of one phase, and what stands before it [Ω]
    rated : float
        Current of a phase [A]
    phases : int
        On at once
    rest : float
        Share of the current that holds it standing still
    """
    w = working or Working()
    high, low = winding * (1 + tolerance) + series, winding * (1 - tolerance) + series
    holding = w.calc(
        "I_hold",
        "V_max/(R_min + R_s)",
        "A",
        "highest supply, least winding",
        V_max=(supply_max, "V"),
        R_min=(winding * (1 - tolerance), "Ω"),
        R_s=(series, "Ω"),
    )
    # Three time constants at the slowest corner, that of the least resistance; where the rated
    # current is reached sooner, the corner that is slowest to reach it.
    rises = [rise_time(inductance, r, supply_min, rated) for r in (high, low)]
    rise = max(rises)
    at_end = min(
        supply_min / r * (1 - math.exp(-r / (inductance * step_rate))) for r in (high, low)
    )
    # Behind a series resistor a winding of more ohms takes more of the heat, not less.
    heat = phases * max(
        (supply_max / (r + series)) ** 2 * r
        for r in (winding * (1 - tolerance), winding * (1 + tolerance))
    )
    return Stepping(
        rise,
        1 / rise,
        at_end,
        holding,
        holding / rated,
        heat,
        heat * rest**2,
        holding**2 * series,
        holding * phases,
    )


@dataclass(frozen=True, slots=True)
class Chopper:
    """A chip that sets the current: its least and most [A], its rise [s], heat of the motor [W]."""

    least: float
    most: float
    rise: float
    heat: float
    reduced: float


def chopper(
    *,
    reference_min: float,
    reference_max: float,
    sense: float,
    sense_tolerance: float,
    gain: float,
    winding: float,
    inductance: float,
    supply_min: float,
    rated: float,
    rest: float,
) -> Chopper:
    """
    Current a chopper chip is set to by its reference and sense resistor.

    Examples
    --------
    >>> found = chopper(reference_min=0.56, reference_max=0.6, sense=0.1, sense_tolerance=0.01,
    ...     gain=8, winding=2.4, inductance=0.0042, supply_min=22.8, rated=0.85,
    ...     rest=0.5)
    >>> round(found.least, 4), round(found.most, 4)
    (0.6931, 0.7576)
    """
    least = reference_min / (gain * sense * (1 + sense_tolerance))
    most = reference_max / (gain * sense * (1 - sense_tolerance))
    heat = 2 * most**2 * winding
    rise = rise_time(inductance, winding, supply_min, rated)
    return Chopper(least, most, rise, heat, heat * rest**2)
