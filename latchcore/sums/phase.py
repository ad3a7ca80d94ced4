"""
Phase control: what a delay after the zero leaves of voltage, power and light, and between which
delays it may lie.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from latchcore.figures.working import Working

#: Light of a filament goes with the rms voltage to this power.
LIGHT = 3.4
#: Corners of the line frequency, by its nominal value [Hz].
CORNERS = {50.0: (47.0, 53.0), 60.0: (57.0, 63.0)}
#: Nothing is fired sooner after the zero, nor later than this before the next [s].
MARGIN_START, MARGIN_END = 0.3e-3, 0.5e-3


def half(frequency):
    """Half a period [s]."""
    return 1 / (2 * frequency)


def rms_ratio(angle):
    """
    Rms voltage left of the whole at a firing angle in 0 to π.

    Notes
    -----
    sqrt(1 − α/π + sin 2α/2π), the integral of the half-wave from α on; exactly 1 at 0 and 0 at π.

    Examples
    --------
    >>> rms_ratio(0.0), round(float(rms_ratio(math.pi / 2)), 6), rms_ratio(math.pi)
    (1.0, 0.707107, 0.0)
    """
    angle = np.asarray(angle, dtype=float)
    inside = 1 - angle / math.pi + np.sin(2 * angle) / (2 * math.pi)
    found = np.sqrt(
        np.clip(np.where(angle >= math.pi, 0.0, np.where(angle <= 0, 1.0, inside)), 0.0, 1.0)
    )
    return float(found) if found.ndim == 0 else found


def left(angle, quantity: str = "power", light: float = LIGHT):
    """
    Share of power, or of a filament's light, that a firing angle leaves.

    Examples
    --------
    >>> round(left(math.pi / 2), 6), left(0.0, "light")
    (0.5, 1.0)
    """
    return rms_ratio(angle) ** (2.0 if quantity == "power" else light)


def angle_for(share: float, quantity: str = "power", light: float = LIGHT) -> float:
    """
    Firing angle that leaves a share of power or light, by halving the interval.

    Raises
    ------
    ValueError
        If the share is not in 0 to 1

    Examples
    --------
    >>> round(angle_for(0.5) - math.pi / 2, 9)
    0.0
    """
    if not 0 <= share <= 1:
        raise ValueError(f"{share} is no share; expected 0 to 1.")
    low, high = 0.0, math.pi
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if left(middle, quantity, light) > share else (low, middle)
    return 0.0 if share == 1 else math.pi if share == 0 else (low + high) / 2


def delay(angle: float, frequency: float) -> float:
    """
    Delay after the zero [s] of a firing angle.

    Examples
    --------
    >>> delay(math.pi, 50.0)
    0.01
    """
    return angle / math.pi * half(frequency)


@dataclass(frozen=True, slots=True)
class FiringWindow:
    """
    Earliest and latest delay after the detected zero [s], and the shares of power at both, at
    nominal frequency.
    """

    earliest: float
    latest: float
    most: float
    least: float

    @property
    def empty(self) -> bool:
        """Whether nothing is left between them."""
        return self.latest <= self.earliest


def firing_window(
    slowest: float,
    nominal: float,
    fastest: float,
    gate_pulse: float,
    error: float = 0.0,
    start: float = MARGIN_START,
    end: float = MARGIN_END,
    working: Working | None = None,
) -> FiringWindow:
    """
    Delays that hold at every frequency corner.

    Parameters
    ----------
    slowest, nominal, fastest : float
        Line frequency [Hz]
    gate_pulse : float
        [s]
    error : float
        How late the detector may report [s]
    start, end : float
        Margins after the zero and before the next [s]

    Examples
    --------
    >>> found = firing_window(47.0, 50.0, 53.0, 100e-6, 20e-6)
    >>> round(found.latest * 1e3, 4)
    8.814
    """
    w = working or Working()
    shortest = w.calc("T_h_min", "1/(2*f_max)", "s", "fastest line", f_max=(fastest, "Hz"))
    latest = w.calc(
        "t_latest",
        "T_h_min - t_gate - t_end - t_error",
        "s",
        "fastest line, detector late",
        T_h_min=(shortest, "s"),
        t_gate=(gate_pulse, "s"),
        t_end=(end, "s"),
        t_error=(error, "s"),
    )
    angles = [min(max(t / half(nominal) * math.pi, 0.0), math.pi) for t in (start, latest)]
    return FiringWindow(start, latest, left(angles[0]), left(angles[1]))


def zero_pulse(
    secondary: float, frequency: float, threshold: float, working: Working | None = None
) -> tuple[float, float] | None:
    """
    Width of a zero detector's pulse and half of it, by which the program corrects [s]; ``None``
    where the peak stays under.

    Parameters
    ----------
    secondary : float
        Voltage at the detector [V rms]
    threshold : float
        Voltage under which it reports, drops included [V]

    Examples
    --------
    >>> [round(t * 1e3, 4) for t in zero_pulse(6.0, 50.0, 2.91)]
    [2.2285, 1.1143]
    >>> zero_pulse(12.0, 60.0, 19.0) is None
    True
    """
    w = working or Working()
    peak = secondary * math.sqrt(2)
    if threshold >= peak:
        return None
    width = w.calc(
        "t_zero",
        "a_zero/(pi*f)",
        "s",
        "line at this voltage",
        "the pulse straddles the zero",
        a_zero=(math.asin(threshold / peak), ""),
        pi=(math.pi, ""),
        f=(frequency, "Hz"),
    )
    return width, width / 2


def table(
    frequency: float, window: FiringWindow, quantity: str, correction: float = 0.0, steps: int = 10
) -> list[tuple[float, float, float, bool]]:
    """
    Delays for the program in equal steps of power or light, as (share wanted, delay, share left,
    held).

    A delay that would lie outside the window is moved to its edge, and ``held`` says so;
    ``correction`` is added to
    count from the detector's edge.

    Examples
    --------
    >>> w = firing_window(47.0, 50.0, 53.0, 100e-6)
    >>> [row[0] for row in table(50.0, w, "power", steps=4)]
    [0.0, 0.25, 0.5, 0.75, 1.0]
    """
    rows = []
    for n in range(steps + 1):
        share = n / steps
        if share == 0:
            rows.append((0.0, math.nan, 0.0, False))
            continue
        wanted = delay(angle_for(share, quantity), frequency)
        kept = min(max(wanted, window.earliest), window.latest)
        rows.append(
            (
                share,
                kept + correction,
                left(kept / half(frequency) * math.pi, quantity),
                abs(kept - wanted) > 1e-9,
            )
        )
    return rows
