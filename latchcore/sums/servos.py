"""Servos: a pulse in its unit, and what several of them draw stalled together."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.figures.slack import exceeds, within

#: Units a pulse is stated in, in seconds.
UNITS = {"us": 1e-6, "ms": 1e-3, "s": 1.0}
#: Of a board's supply pin only this share is taken.
PIN_SHARE = 0.8


@dataclass(frozen=True, slots=True)
class Told:
    """A pulse as it was told [s], whether it lies in the range, and the unit that was meant."""

    seconds: float
    fits: bool
    meant: str | None


def pulse_of(number: float, unit: str, least: float, most: float) -> Told:
    """
    A pulse told to a servo, against its range.

    Examples
    --------
    >>> pulse_of(1500, "ms", 0.0006, 0.0024).meant, pulse_of(1500, "us", 0.0006, 0.0024).fits
    ('us', True)
    """
    seconds = number * UNITS[unit]
    if within(least, seconds, most):
        return Told(seconds, True, None)
    others = [u for u, size in UNITS.items() if u != unit and within(least, number * size, most)]
    return Told(seconds, False, others[0] if len(others) == 1 else None)


def angle_of(pulse: float, least: float, most: float, travel: float) -> float:
    """
    Angle a pulse asks for [°], straight between the ends of its range.

    Examples
    --------
    >>> angle_of(0.0015, 0.001, 0.002, 90)
    45.0
    """
    return (pulse - least) / (most - least) * travel


@dataclass(frozen=True, slots=True)
class ServoSupply:
    """What all draw stalled and moving [A], against what may be taken, and how many may stall."""

    stalled: float
    moving: float
    limit: float
    fits: int
    pin: bool

    @property
    def verdict(self) -> str | None:
        """M5: a stop on the board's own pin, a fix on a rail, ``None`` where they may stall."""
        return ("stop" if self.pin else "fix") if exceeds(self.stalled, self.limit) else None


def servo_supply(
    stalls: list[float], moving: list[float], *, pin: bool, limit: float, others: float = 0.0
) -> ServoSupply:
    """
    Servos on one supply, all stalled together with whatever else hangs on it.

    Parameters
    ----------
    stalls, moving : list of float
        A servo each [A]
    pin : bool
        Whether a pin of the board feeds them, of which four fifths count
    limit : float
        Rating of pin or rail [A]

    Examples
    --------
    >>> servo_supply([0.75, 0.75], [0.2, 0.2], pin=True, limit=1.0).verdict
    'stop'
    """
    most, total, fits = limit * (PIN_SHARE if pin else 1.0), others, 0
    for stall in sorted(stalls):
        total += stall
        if exceeds(total, most):
            break
        fits += 1
    return ServoSupply(sum(stalls) + others, sum(moving) + others, most, fits, pin)


def torque_needed(force: float, arm: float) -> float:
    """
    Torque of a force at the end of an arm [N·m].

    Examples
    --------
    >>> torque_needed(2.0, 0.03)
    0.06
    """
    return force * arm
