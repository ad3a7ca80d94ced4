"""
How the current of a coil rises when it is switched on, and where it goes when it is switched off.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from latchcore.figures.working import Working

#: Copper's rise of resistance per kelvin.
COPPER_RISE = 0.00393
#: A coil that has been on is this much warmer than the air around it [K].
COIL_SELF_HEATING = 30.0


def coil_current(time, supply, resistance, inductance):
    """
    Current of a coil switched onto a stiff supply at time zero [A].

    Notes
    -----
    i(t) = (V/R)·(1 − e^(−t/τ)), τ = L/R.

    Examples
    --------
    >>> round(float(coil_current(0.001784283, 6.0, 70.6, 0.119)), 4)
    0.0555
    """
    return supply / resistance * -np.expm1(-time * resistance / inductance)


def operate_time(supply, resistance, inductance, operate_current):
    """
    Time to the operate current [s], or ``None`` when it is never reached.

    Examples
    --------
    >>> round(operate_time(6.0, 70.6, 0.119, 0.0555) * 1e3, 3)
    1.784
    >>> operate_time(5.0, 70.6, 0.119, 0.08) is None
    True
    """
    final = supply / resistance
    if operate_current >= final:
        return None
    return float(inductance / resistance * np.log(final / (final - operate_current)))


def decaying_current(time, current, resistance, inductance, clamp_voltage):
    """
    Current of a clamped coil after the switch has opened [A], 0 once it is spent.

    Notes
    -----
    i(t) = (I₀ + V_c/R)·e^(−t/τ) − V_c/R.

    Examples
    --------
    >>> round(float(decaying_current(0.00987383, 1.35, 9.41, 0.0673, 0.81)), 4)
    0.275
    """
    standing = clamp_voltage / resistance
    value = (current + standing) * np.exp(-np.asarray(time) * resistance / inductance) - standing
    return np.maximum(value, 0.0)


def release_time(
    current, inductance, resistance, clamp_voltage, release_current, working: Working | None = None
):
    """
    Time for a clamped coil to fall to its release current.

    Parameters
    ----------
    current : float or array
        Coil current at the instant of opening [A]
    inductance, resistance : float or array
        Of the coil [H], [Ω]
    clamp_voltage : float or array
        Voltage the clamp puts across the coil [V]
    release_current : float or array
        Current at which the armature lets go [A]

    Returns
    -------
    float or array
        Time [s]; 0 where the current is already at or below the release current

    Raises
    ------
    ValueError
        If a resistance, inductance or clamp voltage is not positive

    Notes
    -----
    Solution of L·di/dt + R·i + V_c = 0: τ·ln((I₀ + V_c/R)/(I_r + V_c/R)).

    Examples
    --------
    >>> round(release_time(0.0714, 0.25, 70, 0.8, 0.0107) * 1e3, 2)
    4.71
    """
    if np.any(
        np.less_equal(inductance, 0)
        | np.less_equal(resistance, 0)
        | np.less_equal(clamp_voltage, 0)
    ):
        raise ValueError("Inductance, resistance and clamp voltage must be above zero.")
    w = working or Working()
    return w.calc(
        "t_rel",
        "larger(0, L/R*log((I_0 + V_c/R)/(I_r + V_c/R)))",
        "s",
        "highest current, lowest clamp",
        "the clamp sets how fast the field collapses",
        L=(inductance, "H"),
        R=(resistance, "Ω"),
        I_0=(current, "A"),
        V_c=(clamp_voltage, "V"),
        I_r=(release_current, "A"),
    )


@dataclass(frozen=True, slots=True)
class TurnOff:
    """What happens when a clamped coil is opened; see :func:`turn_off`."""

    clamp_voltage: float
    switch_voltage: float
    release_time: float
    zero_time: float
    clamp_charge: float
    clamp_energy: float
    supply_energy: float
    stored_energy: float


def clamp_voltage(clamp, supply, diode=0.0, zener=0.0):
    """
    Voltage the clamp puts across the *coil* [V]; not positive when it conducts always.

    Examples
    --------
    >>> clamp_voltage("diode", 12, 0.8), clamp_voltage("diode_zener", 12, 0.6, 15)
    (0.8, 15.6)
    >>> clamp_voltage("zener_across_switch", 24.7, zener=18) < 0
    True
    """
    if clamp == "diode":
        return diode
    if clamp == "diode_zener":
        return diode + zener
    return zener - supply


def turn_off(
    clamp, supply, resistance, inductance, current, release_current, diode=0.0, zener=0.0
) -> TurnOff | None:
    """
    Times, charge and energies of a coil that is opened with a clamp on it.

    Parameters
    ----------
    clamp : str
        ``diode`` or ``diode_zener`` (both across the coil), or ``zener_across_switch``
    supply, resistance, inductance, current, release_current : float
        [V], [Ω], [H], [A] at opening, [A]
    diode, zener : float
        Forward drop and zener voltage [V]

    Returns
    -------
    TurnOff or None
        ``None`` where a zener across the switch stands under the supply: it conducts always

    Notes
    -----
    A zener across the switch stands at its own voltage, so the supply adds to its energy: V_Z·Q.

    Examples
    --------
    >>> round(turn_off("diode", 12.7, 9.41, 0.0673, 1.35, 0.275, 0.81).zero_time * 1e3, 2)
    20.13
    """
    across_coil = clamp_voltage(clamp, supply, diode, zener)
    if across_coil <= 0:
        return None
    tau = inductance / resistance
    zero = tau * np.log1p(current * resistance / across_coil)
    charge = tau * current - across_coil * zero / resistance
    across_clamp = zener if clamp == "zener_across_switch" else across_coil
    return TurnOff(
        across_coil,
        zener if clamp == "zener_across_switch" else supply + across_coil,
        release_time(current, inductance, resistance, across_coil, release_current),
        float(zero),
        float(charge),
        float(across_clamp * charge),
        float(supply * charge) if clamp == "zener_across_switch" else 0.0,
        0.5 * inductance * current**2,
    )


def unclamped_peak(supply, inductance, stray, current, working: Working | None = None):
    """
    Voltage an open switch heads for when nothing clamps the coil [V].

    Notes
    -----
    V + sqrt(V² + I₀²·L/C), nothing lost, the stray capacitance across the switch.

    Examples
    --------
    >>> round(unclamped_peak(24.0, 1.32e-5, 3.95e-10, 0.292), 1)
    82.5
    """
    w = working or Working()
    return w.calc(
        "V_peak",
        "V + sqrt(V**2 + I_0**2*L/C)",
        "V",
        "highest supply and current, stray capacitance of the switch",
        "until something breaks down",
        V=(supply, "V"),
        I_0=(current, "A"),
        L=(inductance, "H"),
        C=(stray, "F"),
    )


def hot_pull_in(pull_in, ambient, self_heating=COIL_SELF_HEATING, working: Working | None = None):
    """
    Pull-in voltage of a coil that has been on [V].

    Notes
    -----
    V_pi·(1 + 0.00393·(T_A + ΔT − 20)): pull-in is a matter of current, and hot copper lets less
    through.

    Examples
    --------
    >>> round(hot_pull_in(4.5, 45), 3)
    5.473
    """
    w = working or Working()
    return w.calc(
        "V_pi_hot",
        "V_pi*(1 + a_Cu*(T_A + ΔT - 20))",
        "V",
        "coil that has been on, highest ambient",
        V_pi=(pull_in, "V"),
        a_Cu=(COPPER_RISE, "1/K"),
        T_A=(ambient, "°C"),
        ΔT=(self_heating, "K"),
    )


def pwm_ripple(supply, duty, inductance, frequency, working: Working | None = None):
    """
    Peak-to-peak ripple of a pulsed coil or motor with a freewheel diode, its current never reaching
    zero [A].

    Notes
    -----
    V·D·(1 − D)/(L·f), the period short against L/R.

    Examples
    --------
    >>> round(pwm_ripple(24.0, 0.2, 0.00236, 20e3) * 1e3, 1)
    81.4
    """
    w = working or Working()
    return w.calc(
        "ΔI",
        "V*D*(1 - D)/(L*f)",
        "A",
        "highest supply",
        V=(supply, "V"),
        D=(duty, ""),
        L=(inductance, "H"),
        f=(frequency, "Hz"),
    )
