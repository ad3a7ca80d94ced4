"""Coils for short pulses: the window of a pulse, the capacitor behind it, its driver's heat."""

from __future__ import annotations

import math
from dataclasses import dataclass

from latchcore.figures.slack import exceeds, falls_short
from latchcore.figures.working import Working
from latchcore.sums.coils import COPPER_RISE
from latchcore.sums.mosfet import self_heating
from latchcore.sums.pulsed_hold import COPPER_HEAT


@dataclass(frozen=True, slots=True)
class PulseWindow:
    """
    From the least that moves the armature to the most the wire survives [s]; ``least`` is ``None``
    where some corner never gets there, ``acts_somewhere`` whether any corner does.
    """

    least: float | None
    most: float
    power: float
    rise_per_second: float
    acts_somewhere: bool

    def verdict(self, pulse: float) -> str | None:
        """C8 of a program's pulse [s]: stop, fix, or ``None`` where it fits at every corner."""
        if exceeds(pulse, self.most) or not self.acts_somewhere:
            return "stop"
        return "fix" if self.least is None or falls_short(pulse, self.least) else None


def _rise(volts: float, ohms: float, henries: float, amperes: float) -> float | None:
    """Time to a current [s], ``None`` where the volts never drive so much."""
    share = amperes * ohms / volts if volts > 0 else 1.0
    return None if share >= 1.0 else -henries / ohms * math.log(1 - share)


def pulse_window(
    *,
    supply_min: float,
    supply_max: float,
    drop_min: float,
    drop_max: float,
    resistance: float,
    resistance_tolerance: float,
    inductance: float,
    inductance_tolerance: float,
    cold: float,
    hot: float,
    operate: float,
    armature: float,
    mass: float,
    rise: float,
    working: Working | None = None,
) -> PulseWindow:
    """
    The window of a pulse coil's on-time.

    Parameters
    ----------
    resistance : float
        At 20 °C [Ω]
    cold, hot : float
        Coldest and hottest winding [°C]
    operate : float
        Current the armature moves at [A]
    armature : float
        What it then takes to move [s]
    mass, rise : float
        Of the wire [kg], and by how much it may warm [K]

    Notes
    -----
    Least: current at the slowest corner (lowest supply, hottest and highest coil, highest
    inductance) plus the armature. Most: no heat leaves, cold least coil, highest supply, its full
    current at once.
    """
    w = working or Working()
    high = resistance * (1 + resistance_tolerance) * (1 + COPPER_RISE * (hot - 20))
    low = resistance * (1 - resistance_tolerance) * (1 + COPPER_RISE * (cold - 20))
    slow = _rise(supply_min - drop_max, high, inductance * (1 + inductance_tolerance), operate)
    quick = _rise(supply_max - drop_min, low, inductance * (1 - inductance_tolerance), operate)
    power = w.calc(
        "P_pulse",
        "(V_max - V_drop_min)**2/R_cold",
        "W",
        "cold least coil, highest supply",
        "its full current from the first instant",
        V_max=(supply_max, "V"),
        V_drop_min=(drop_min, "V"),
        R_cold=(low, "Ω"),
    )
    speed = w.calc(
        "dT_dt",
        "P_pulse/(m*c)",
        "K/s",
        "no heat leaves",
        P_pulse=(power, "W"),
        m=(mass, "kg"),
        c=(COPPER_HEAT, "J/(kg·K)"),
    )
    most = w.calc(
        "t_most", "dT/dT_dt", "s", "cold least coil, highest supply", dT=(rise, "K"),
        dT_dt=(speed, "K/s"),
    )  # fmt: skip
    least = None
    if slow is not None:
        least = w.calc(
            "t_least",
            "t_rise + t_armature",
            "s",
            "lowest supply, hot high coil, high inductance",
            t_rise=(slow, "s"),
            t_armature=(armature, "s"),
        )
    return PulseWindow(least, most, power, speed, quick is not None)


@dataclass(frozen=True, slots=True)
class Bulk:
    """
    A capacitor that gives a coil's pulses: its volts at the end of the first pulse and in the
    steady state [V], the most it and its source give [A].
    """

    first_end: float
    steady_start: float
    steady_end: float
    peak: float
    source: float

    @property
    def sag(self) -> float:
        """How far it falls in a pulse of the steady state [V]."""
        return self.steady_start - self.steady_end


def pulse_bulk(
    *,
    supply: float,
    charge: float,
    capacitance: float,
    coil: float,
    drop: float,
    on_time: float,
    period: float,
) -> Bulk:
    """
    Volts of a capacitor behind a charging resistor that is emptied through coil and stage.

    Parameters
    ----------
    supply, drop : float
        Lowest supply and least drop of the stage [V]
    charge, coil : float
        Charging resistor and least coil resistance [Ω]
    capacitance : float
        At its least [F]

    Examples
    --------
    >>> found = pulse_bulk(supply=11.4, charge=47.0, capacitance=0.00176, coil=14.0, drop=0.2,
    ...     on_time=0.01, period=0.25)
    >>> round(found.first_end, 3), round(found.steady_end, 3)
    (7.866, 7.748)
    """
    # Towards what source and coil together would hold, with both in parallel.
    rest = (supply / charge + drop / coil) / (1 / charge + 1 / coil)
    fall = math.exp(-on_time * (1 / charge + 1 / coil) / capacitance)
    rise = math.exp(-(period - on_time) / (charge * capacitance))
    first = rest + (supply - rest) * fall
    # A pulse and a pause are straight lines of the volts before them: the fixed point of both.
    start = (supply * (1 - rise) + rise * rest * (1 - fall)) / (1 - rise * fall)
    end = rest + (start - rest) * fall
    # The source helps with what it can push through its resistor.
    peak = (start - drop) / coil - (supply - start) / charge
    return Bulk(first, start, end, peak, (supply - end) / charge)


@dataclass(frozen=True, slots=True)
class DriverHeat:
    """Share of time its switches are on, its heat [W] and junction [°C]."""

    duty: float
    power: float
    junction: float


def driver_heat(
    *,
    current: float,
    on_time: float,
    repetition: float,
    count: int,
    theta: float,
    ambient: float,
    on_voltage: float | None = None,
    on_resistance: float | None = None,
    rise: float = 0.0,
    continuous_over: float = 0.1,
) -> DriverHeat:
    """
    Heat of one package whose switches are pulsed in turn, each once a period.

    Examples
    --------
    >>> round(driver_heat(current=0.45, on_time=0.012, repetition=9, count=8, theta=65, ambient=50,
    ...     on_voltage=1.6).junction, 2)
    90.44
    """
    duty = 1.0 if exceeds(on_time, continuous_over) else min(on_time * repetition * count, 1.0)
    if on_voltage is not None:
        power = on_voltage * current * duty
        return DriverHeat(duty, power, ambient + power * theta)
    found = self_heating(
        current=current,
        on_resistance_25=on_resistance,
        rise=rise,
        switching_loss=0.0,
        theta=theta,
        ambient=ambient,
        duty=duty,
    )
    if found.junction is None or found.runaway:
        return DriverHeat(duty, math.inf, math.inf)
    return DriverHeat(duty, float(found.power or 0.0), float(found.junction))


@dataclass(frozen=True, slots=True)
class Refresh:
    """
    Writing a panel of latching dots: shots, their time [s], most current at once [A], and the share
    of the period in which dots are energised, which is the chance that a reset meets a pulse.
    """

    load: float
    pulse: float
    shots: int
    lasts: float
    peak: float
    energised: float


def _shots(dots: list[tuple[int, int, str]], at_once: int) -> list[int]:
    """How many dots go in each shot: those of one row that go the same way, at most so many."""
    groups: dict[tuple[int, str], int] = {}
    for row, _, way in dots:
        groups[row, way] = groups.get((row, way), 0) + 1
    found = []
    for many in groups.values():
        found += [at_once] * (many // at_once) + ([many % at_once] if many % at_once else [])
    return found


def panel_refresh(
    before: list[str],
    after: list[str],
    *,
    on_time: float,
    gap: float,
    at_once: int,
    bits: int,
    clock: float,
    latch: float,
    current: float,
    period: float,
    changed_only: bool = False,
) -> Refresh:
    """
    Shots that bring a panel of rows and columns from one picture to another.

    Parameters
    ----------
    before, after : list of str
        A row each, ``1`` and ``0`` a dot
    at_once : int
        Columns pulsed together
    bits, clock, latch : int, float, float
        Of the chain: its length, its clock [Hz], what a latch takes [s]

    Notes
    -----
    A shot loads the drive, pulses (never shorter than one load), and rests.
    """
    load = bits / clock + latch
    pulse = max(on_time, load)
    dots = [
        (r, c, bit)
        for r, row in enumerate(after)
        for c, bit in enumerate(row)
        if not changed_only or before[r][c] != bit
    ]
    shots = _shots(dots, at_once)
    return Refresh(
        load,
        pulse,
        len(shots),
        len(shots) * (load + pulse + gap),
        max(shots, default=0) * current,
        len(shots) * pulse / period,
    )
