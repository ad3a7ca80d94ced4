"""Speed and turn mixed into two drives, and energy that comes back into a rail."""

from __future__ import annotations

import math


def _out_of_band(value: float, dead: float) -> float:
    """A stick value with its dead band taken out and the rest spread again."""
    size = abs(value)
    return 0.0 if size <= dead else math.copysign((size - dead) / (1 - dead), value)


def _lifted(value: float, dead: float) -> float:
    """What is not 0 begins at the motor's dead band."""
    return 0.0 if value == 0 else math.copysign(dead + (1 - dead) * abs(value), value)


def mix(
    speed: float, turn: float, stick_dead: float = 0.0, motor_dead: float = 0.15
) -> tuple[float, float]:
    """
    Left and right drive of a two-motor vehicle, each from −1 to 1.

    Notes
    -----
    Left = speed + turn, right = speed − turn; where one passes 1 both are divided by the larger, so
    that the curve is kept. 0 stays exactly 0.

    Examples
    --------
    >>> [round(side, 4) for side in mix(0.9, 0.4, 0.05, 0.15)]
    [1.0, 0.5042]
    >>> mix(0.3, 0.3)[1]
    0.0
    """
    speed, turn = _out_of_band(speed, stick_dead), _out_of_band(turn, stick_dead)
    left, right = speed + turn, speed - turn
    larger = max(1.0, abs(left), abs(right))
    return _lifted(left / larger, motor_dead), _lifted(right / larger, motor_dead)


def rail_rise(supply: float, capacitance: float, energy: float, takes_back: bool) -> float:
    """
    Volts a rail rises to by energy that comes back into it [V].

    Parameters
    ----------
    supply : float
        Highest volts before [V]
    capacitance : float
        At its least [F]
    energy : float
        What comes back [J]
    takes_back : bool
        Whether the source keeps its volts then, as batteries do

    Examples
    --------
    >>> round(rail_rise(12.6, 0.0008, 0.155876, False), 2), rail_rise(12.6, 0.0008, 0.1, True)
    (23.42, 12.6)
    """
    if takes_back:
        return supply
    return math.sqrt(supply**2 + 2 * energy / capacitance) if capacitance else math.inf
