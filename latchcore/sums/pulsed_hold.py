"""How little holds a coil that is in, and how fast one that is stuck on heats up."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.figures.working import Working
from latchcore.sums.coils import COIL_SELF_HEATING, COPPER_RISE

#: Specific heat of copper [J/(kg·K)].
COPPER_HEAT = 385.0


@dataclass(frozen=True, slots=True)
class Hold:
    """Outcome of :func:`hold_by_pwm`."""

    duty: float
    resistance_hot: float
    longest_period: float
    least_frequency: float
    power_ratio: float


def hold_by_pwm(
    *,
    rated,
    resistance,
    inductance,
    ambient,
    hold_share,
    supply_min,
    switch_drop,
    diode_drop,
    period_share=0.1,
    self_heating=COIL_SELF_HEATING,
    working: Working | None = None,
) -> Hold:
    """
    Duty and frequency that hold a coil with a plain freewheel diode at the lowest supply.

    Parameters
    ----------
    rated, resistance, inductance : float
        Rated voltage [V]; resistance at 20 °C [Ω] and inductance [H]
    ambient, self_heating : float
        [°C], [K]
    hold_share : float
        Share of the rated voltage that holds
    supply_min, switch_drop, diode_drop : float
        Lowest supply and highest drops [V]
    period_share : float
        Longest period as a share of L/R

    Returns
    -------
    Hold

    Notes
    -----
    D = (x·V_nom + V_F)/(V_supply − V_switch + V_F); the heat, against rated volts put on steadily,
    is that of the mean
    current and its triangular ripple.

    Examples
    --------
    >>> hold = hold_by_pwm(rated=6.0, resistance=112.0, inductance=0.121, ambient=50,
    ...     hold_share=0.6, supply_min=6.18,
    ...     switch_drop=0.15, diode_drop=0.76)
    >>> round(hold.duty, 4), round(hold.least_frequency)
    (0.6421, 11439)
    """
    w = working or Working()
    hot = w.calc(
        "R_hot",
        "R_20*(1 + a_Cu*(T_A + ΔT - 20))",
        "Ω",
        "coil that has been on",
        R_20=(resistance, "Ω"),
        a_Cu=(COPPER_RISE, "1/K"),
        T_A=(ambient, "°C"),
        ΔT=(self_heating, "K"),
    )
    duty = w.calc(
        "D",
        "(x*V_nom + V_F)/(V_supply_min - V_sw + V_F)",
        "",
        "lowest supply, highest drops",
        x=(hold_share, ""),
        V_nom=(rated, "V"),
        V_F=(diode_drop, "V"),
        V_supply_min=(supply_min, "V"),
        V_sw=(switch_drop, "V"),
    )
    period = w.calc(
        "T_max",
        "k*L/R_hot",
        "s",
        "hottest coil",
        k=(period_share, ""),
        L=(inductance, "H"),
        R_hot=(hot, "Ω"),
    )
    swing = (supply_min - switch_drop + diode_drop) * duty * (1 - duty) * period / inductance
    mean = hold_share * rated / hot
    power = w.calc(
        "p",
        "(I_m**2 + ΔI**2/12)*R_hot/(V_nom**2/R_hot)",
        "",
        "against the rated volts put on steadily",
        I_m=(mean, "A"),
        ΔI=(swing, "A"),
        R_hot=(hot, "Ω"),
        V_nom=(rated, "V"),
    )
    return Hold(duty, hot, period, 1 / period, power)


def stuck_heating(
    voltage, resistance, copper_mass, start, limit, working: Working | None = None
) -> tuple[float, float]:
    """
    Rate at which a coil that stays on heats, copper alone taking the heat, and the time to a limit.

    Returns
    -------
    tuple of (float, float)
        [K/s], [s]

    Examples
    --------
    >>> rate, time = stuck_heating(24.0, 4.15, 0.015, 40.0, 130.0)
    >>> round(rate, 2), round(time, 2)
    (24.03, 3.74)
    """
    w = working or Working()
    rate = w.calc(
        "dT/dt",
        "V**2/(R*m*c)",
        "K",
        "adiabatic",
        V=(voltage, "V"),
        R=(resistance, "Ω"),
        m=(copper_mass, ""),
        c=(COPPER_HEAT, ""),
    )
    return rate, (limit - start) / rate
