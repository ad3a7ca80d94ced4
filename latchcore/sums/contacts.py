"""What a contact may carry, break and make, with how long it lasts."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from latchcore.figures.slack import exceeds
from latchcore.figures.working import Working

#: Direct voltage, absolute current and share of the rating: above 30 V no zero puts the arc out.
DC_VOLTS = (30.0, 48.0, 60.0, 110.0, 220.0)
DC_AMPERES = (10.0, 2.0, 1.0, 0.45, 0.27)
DC_SHARES = (1.0, 0.2, 0.1, 0.045, 0.027)
#: Where no making capacity is given: so many times the resistive rating, for surges of that length
#: [s] and longer.
MAKING_FACTOR, MAKING_FROM = 2.0, 8e-3
#: An NC contact presses more weakly; a cheap board's tracks carry half of what its relay may.
NC_SHARE, BOARD_SHARE = 0.5, 0.5
MECHANICAL_LIFE, LIFE_EXPONENT = 1e7, -1.5


def _between(volts: float, points: tuple[float, ...]) -> float:
    return float(np.exp(np.interp(math.log(volts), np.log(DC_VOLTS), np.log(points))))


def dc_curve(voltage_max, rating, good_to=None, working: Working | None = None) -> float | None:
    """
    Direct current a contact may break at a voltage, whatever the load [A]; ``None`` where it is
    refused.

    Parameters
    ----------
    voltage_max : float
        Highest supply [V]
    rating : float
        Resistive rating at 30 V [A]
    good_to : float, optional
        Highest voltage of a contact rated for less than 30 V [V]

    Notes
    -----
    Up to and including 30 V the rating; above, the smaller of the absolute curve and its share of
    the rating, straight
    on logarithms between the points; over 220 V refused.

    Examples
    --------
    >>> round(dc_curve(52.0, 5.0), 3), dc_curve(300.0, 10.0), dc_curve(15.75, 3.0, 15.0)
    (0.78, None, None)
    """
    w = working or Working()
    if voltage_max > (good_to if good_to is not None else DC_VOLTS[-1]):
        return None
    if voltage_max <= DC_VOLTS[0]:
        limit = rating
    else:
        limit = min(_between(voltage_max, DC_AMPERES), _between(voltage_max, DC_SHARES) * rating)
    return w.note(
        "I_DC",
        f"DC curve of the contact at {voltage_max:g} V",
        "A",
        limit,
        {},
        {},
        "highest supply",
    )


@dataclass(frozen=True, slots=True)
class ContactShare:
    """Outcome of :func:`contact_share`; ``making`` is ``None`` where nothing says what it is."""

    rating: float
    steady: float
    surge: float
    making: float | None
    verdict: str
    allowed: float
    printed: bool = False


def contact_share(
    *,
    rating,
    share,
    surge_ratio,
    surge_lasts,
    running,
    making=None,
    closed=False,
    cheap_board=False,
    surge=None,
    printed=None,
    tracks=None,
) -> ContactShare:
    """
    Steady limit and making of a contact for a kind of load.

    Parameters
    ----------
    rating : float
        Resistive rating of the NO contact [A]
    share, surge_ratio, surge_lasts : float
        Of the kind of load: share of the rating, surge in multiples of the running current, how
        long it lasts [s]
    running : float
        Running current [A]
    making : float, optional
        Making capacity as printed [A]
    closed : bool
        Whether it is the NC contact
    cheap_board : bool
        Whether tracks and terminals of a cheap board cap it
    surge : float, optional
        The surge as measured [A]
    printed : float, optional
        What is printed for this kind of load [A]: it counts in place of the share, and says that
        the contact makes the kind's usual surge onto it
    tracks : float, optional
        What tracks and terminals carry [A], in place of half of a cheap board's relay

    Returns
    -------
    ContactShare

    Examples
    --------
    >>> found = contact_share(rating=10, share=0.25, surge_ratio=15, surge_lasts=0.00833,
    ...     running=1.5)
    >>> found.steady, found.verdict, round(found.allowed, 3)
    (2.5, 'over', 1.333)
    """
    pressed = NC_SHARE if closed else 1.0
    own = rating * pressed
    steady = own * share if printed is None else min(own, printed * pressed)
    if tracks is not None:
        steady = min(steady, tracks)
    elif cheap_board:
        steady = min(steady, own * BOARD_SHARE)
    peak = surge if surge is not None else surge_ratio * running
    if making is not None:
        capacity = making * pressed
    elif surge_lasts >= MAKING_FROM or surge_ratio <= 1.0:
        capacity = MAKING_FACTOR * own
    else:
        capacity = None
    if printed is not None:
        capacity = max(capacity or 0.0, surge_ratio * printed * pressed)
    verdict = "check" if capacity is None else "over" if exceeds(peak, capacity) else "ok"
    allowed = (
        steady if capacity is None or running <= 0 else min(steady, capacity / (peak / running))
    )
    return ContactShare(own, steady, peak, capacity, verdict, allowed, printed is not None)


def contact_life(current, allowed, life_at_allowed, working: Working | None = None):
    """
    Switching cycles a contact lasts; ``None`` where more than the allowed current flows.

    Notes
    -----
    N₁·(I/I_allowed)^−1.5, never more than the mechanical life.

    Examples
    --------
    >>> round(contact_life(0.7, 2.0, 5e4)), contact_life(3.2, 2.0, 5e4) is None
    (241473, True)
    """
    if exceeds(current, allowed):
        return None
    w = working or Working()
    return w.calc(
        "N",
        "smaller(N_mech, N_1*(I/I_allowed)**e)",
        "",
        "at the highest running current",
        N_mech=(MECHANICAL_LIFE, ""),
        N_1=(life_at_allowed, ""),
        I=(current, "A"),
        I_allowed=(allowed, "A"),
        e=(LIFE_EXPONENT, ""),
    )
