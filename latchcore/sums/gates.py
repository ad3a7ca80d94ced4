"""How a gate hung on its own rail is divided, held off and emptied."""

from __future__ import annotations

from latchcore.figures.windows import Bound, Window, resistor_window
from latchcore.figures.working import Working


def rail_gate_series(
    *,
    rail_min,
    rail_max,
    vgs_specified,
    vgs_max,
    share,
    pull_min,
    pull_max,
    series,
    tolerance,
    drop_max=0.0,
    floor=None,
    prefer="middle",
    working: Working | None = None,
) -> Window:
    """
    Window for the resistor between a rail-hung gate and the switch that pulls it.

    Parameters
    ----------
    rail_min, rail_max : float
        Rail corners [V]
    vgs_specified, vgs_max, share : float
        Lowest gate voltage with a specified on-resistance, absolute maximum [V], and the share of
        it to keep to
    pull_min, pull_max : float
        Corners of the resistor from gate to rail [Ω]
    drop_max : float
        Most the switch below keeps for itself [V]
    floor : float, optional
        Least printed value [Ω]

    Returns
    -------
    Window

    Notes
    -----
    V_GS = V_rail·R_pu/(R_pu + R_s), magnitudes.

    Examples
    --------
    >>> rail_gate_series(rail_min=24.4, rail_max=31.4, vgs_specified=4.5, vgs_max=20, share=0.8,
    ...     pull_min=95e3,
    ...     pull_max=105e3, series="E24", tolerance=0.05).chosen
    200000.0
    """
    w = working or Working()
    high = w.calc(
        "R_s_max",
        "R_pu_min*((V_rail_min - V_drv)/V_spec - 1)",
        "Ω",
        "low rail, least pull-up",
        "the divider must leave the specified gate voltage",
        R_pu_min=(pull_min, "Ω"),
        V_rail_min=(rail_min, "V"),
        V_drv=(drop_max, "V"),
        V_spec=(vgs_specified, "V"),
    )
    low = w.calc(
        "R_s_min",
        "larger(0, R_pu_max*(V_rail_max/(share*V_GS_max) - 1))",
        "Ω",
        "high rail, highest pull-up",
        "the divider must keep the gate under its maximum",
        R_pu_max=(pull_max, "Ω"),
        V_rail_max=(rail_max, "V"),
        share=(share, ""),
        V_GS_max=(vgs_max, "V"),
    )
    least = Bound("least_value", floor) if floor else None
    upper = [Bound("gate_on_voltage", high if high > 0 else None)]
    return resistor_window(series, tolerance, [Bound("gate_maximum", low)], upper, least, prefer)


def divided_gate(
    rail, drop, pull, series, working: Working | None = None, symbol="V_GS_on", corner="least"
):
    """
    Gate voltage of a rail-hung gate pulled through a divider [V].

    Examples
    --------
    >>> round(divided_gate(24.4, 0.0, 95e3, 210e3), 1)
    7.6
    """
    w = working or Working()
    return w.calc(
        symbol,
        "(V_rail - V_drv)*R_pu/(R_pu + R_s)",
        "V",
        corner,
        V_rail=(rail, "V"),
        V_drv=(drop, "V"),
        R_pu=(pull, "Ω"),
        R_s=(series, "Ω"),
    )


def bleed_turn_off(
    gate_on, plateau, threshold, bleed, capacitance, charge, working: Working | None = None
):
    """
    Time in which a bleeder alone empties a gate, through the plateau to the threshold [s].

    Notes
    -----
    R·(C_iss·ln(V_on/V_pl) + Q_GD/V_pl + C_iss·ln(V_pl/V_th)); a gate that never rises over its
    plateau starts there.

    Examples
    --------
    >>> round(bleed_turn_off(5.0, 3.83, 1.6, 1000.0, 2.27e-9, 4.71e-9) * 1e6, 3)
    3.816
    """
    w = working or Working()
    return w.calc(
        "t_off",
        "R*(C_iss*log(larger(V_on, V_pl)/V_pl) + Q_GD/V_pl + C_iss*log(V_pl/V_th))",
        "s",
        "bleeder alone, highest gate voltage, least threshold",
        R=(bleed, "Ω"),
        C_iss=(capacitance, "F"),
        V_on=(gate_on, "V"),
        V_pl=(plateau, "V"),
        Q_GD=(charge, "C"),
        V_th=(threshold, "V"),
    )


def direct_gate_left(same_net, rail_max, logic_min, drop_max, working: Working | None = None):
    """
    Gate voltage left on a P-channel gate when the pin drives it high [V].

    One net has one value in one corner: where the rail is the logic supply only the pin's drop is
    left.

    Examples
    --------
    >>> direct_gate_left(True, 5.25, 4.75, 0.1), round(direct_gate_left(False, 7.42, 3.13, 0.039),
    ...     3)
    (0.1, 4.329)
    """
    w = working or Working()
    if same_net:
        return w.calc("V_left", "V_drop", "V", "one net", V_drop=(drop_max, "V"))
    return w.calc(
        "V_left",
        "V_rail_max - (V_DD_min - V_drop)",
        "V",
        "high rail, low logic supply",
        V_rail_max=(rail_max, "V"),
        V_DD_min=(logic_min, "V"),
        V_drop=(drop_max, "V"),
    )
