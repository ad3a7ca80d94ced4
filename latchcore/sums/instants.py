"""
Instants on a supply: what a surge takes off it, what a capacitor carries, who starts when;
regulators and batteries.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from latchcore.figures.slack import exceeds, falls_short
from latchcore.figures.working import Working

#: Bulk capacitors as sold [F].
BULK = (10e-6, 22e-6, 47e-6, 100e-6, 220e-6, 470e-6, 1e-3, 2.2e-3, 4.7e-3, 10e-3)
#: Share of a battery's capacity that counts.
USABLE = 0.8


def sag(source, resistance, steady, extra, working: Working | None = None) -> tuple[float, float]:
    """
    Volts before and during a surge on a source of some resistance [V].

    Examples
    --------
    >>> [round(v, 3) for v in sag(4.75, 0.2, 0.26, 2.6)]
    [4.698, 4.178]
    """
    w = working or Working()
    before = w.calc(
        "V_before",
        "V_source_min - I_steady*R_source",
        "V",
        "lowest source",
        V_source_min=(source, "V"),
        I_steady=(steady, "A"),
        R_source=(resistance, "Ω"),
    )
    during = w.calc(
        "V_sag",
        "V_before - I_extra*R_source",
        "V",
        "worst instant",
        V_before=(before, "V"),
        I_extra=(extra, "A"),
        R_source=(resistance, "Ω"),
    )
    return before, during


def bulk_capacitor(
    before, floor, current, time, working: Working | None = None, stock=BULK
) -> tuple[float, float | None, float | None]:
    """
    Capacitor that alone carries a pulse: the least, the stock value, and the volts that one leaves
    [F, F, V].

    Examples
    --------
    >>> least, chosen, left = bulk_capacitor(4.9, 4.4, 1.0, 0.0016)
    >>> round(least * 1e3, 2), chosen, round(left, 3)
    (3.2, 0.0047, 4.56)
    """
    w = working or Working()
    least = w.calc(
        "C_bulk",
        "I_extra*t_surge/(V_before - V_floor)",
        "F",
        "the source gives nothing",
        I_extra=(current, "A"),
        t_surge=(time, "s"),
        V_before=(before, "V"),
        V_floor=(floor, "V"),
    )
    chosen = next((c for c in stock if not falls_short(c, least)), None)
    return least, chosen, None if chosen is None else before - current * time / chosen


def bulk_with_source(source, resistance, capacitor, current, time):
    """
    Volts at the end of a pulse drawn from a capacitor the source goes on feeding [V].

    Notes
    -----
    The capacitor begins at the source's volts and settles towards V − I·R with R·C.

    Examples
    --------
    >>> round(bulk_with_source(11.4, 1.4, 1e-3, 1.8, 0.0014), 4)
    9.8071
    """
    return source - current * resistance * (1 - math.exp(-time / (resistance * capacitor)))


def pumped_up(highest, energy, capacitor, working: Working | None = None):
    """
    Volts a rail rises to when a load gives energy back and the source takes none of it [V].

    Notes
    -----
    sqrt(V_max² + 2·E/C): all of it goes into the capacitor across the rail.

    Examples
    --------
    >>> round(pumped_up(25.2, 0.4, 1e-3), 2)
    37.88
    """
    w = working or Working()
    return w.calc(
        "V_pumped",
        "sqrt(V_max**2 + 2*E_back/C_bulk)",
        "V",
        "highest supply, all of it returned",
        V_max=(highest, "V"),
        E_back=(energy, "J"),
        C_bulk=(capacitor, "F"),
    )


def stagger(count, running, surge, surge_time, spacing) -> tuple[float, float]:
    """
    Highest total of equal loads switched on one after another, and of all at once [A].

    Examples
    --------
    >>> [round(i, 6) for i in stagger(6, 0.25, 2.2, 0.01, 0.006)]
    [5.4, 13.2]
    """
    peak = 0.0
    for last in range(count):
        now = last * spacing
        total = sum(
            surge if falls_short(now - k * spacing, surge_time) else running
            for k in range(last + 1)
        )
        peak = max(peak, total)
    return peak, count * surge


@dataclass(frozen=True, slots=True)
class Start:
    """
    One load of a staggered start: its name, when it is switched on [s], and the total at that
    instant [A].
    """

    name: str
    at: float
    total: float


def staggered(loads: list[tuple[str, float, float, float]], limit: float) -> list[Start] | None:
    """
    Order and moments of switching on that keep the sum under a limit; ``None`` where the running
    currents alone are over it.

    Parameters
    ----------
    loads : list of (name, running, surge, surge_time)
        [A], [A], [s]
    limit : float
        [A]

    Notes
    -----
    The largest surge first, while little else is on; each next one as soon as the sum allows, which
    is at the start or
    at the end of some surge.

    Examples
    --------
    >>> [(s.name, round(s.at, 3)) for s in staggered([("a", 1, 3, 0.1), ("b", 1, 3, 0.1)], 4.0)]
    [('a', 0.0), ('b', 0.1)]
    """
    order = sorted(loads, key=lambda load: load[2] - load[1], reverse=True)
    started: list[tuple[str, float, float, float, float]] = []

    def total(at: float) -> float:
        return sum(
            surge if at < begun + lasts - 1e-12 else running
            for _, running, surge, lasts, begun in started
            if begun <= at + 1e-12
        )

    plan = []
    for name, running, surge, lasts in order:
        moments = sorted(
            {
                0.0,
                *(begun + length for *_, length, begun in started),
                *(begun for *_, begun in started),
            }
        )
        for at in (m for m in moments if not started or m >= started[-1][4] - 1e-12):
            # While this one is in its surge no other starts later than it, so its first instant is
            # the highest.
            if not exceeds(total(at) + max(surge, running), limit):
                started.append((name, running, max(surge, running), lasts, at))
                plan.append(Start(name, at, total(at)))
                break
        else:
            return None
    return plan


def linear_regulator(
    highest, lowest, out, current, drop_out, theta, ambient, working: Working | None = None
) -> tuple[float, float, bool]:
    """
    Heat [W], junction [°C] and whether a linear regulator drops out.

    Examples
    --------
    >>> linear_regulator(9.54, 8.28, 5.0, 0.11, 2.0, 50.0, 40.0)[2], round(linear_regulator(9.54,
    ...     8.28, 5.0, 0.11, 2.0, 50.0, 40.0)[1], 2)
    (False, 64.97)
    """
    w = working or Working()
    power = w.calc(
        "P_reg",
        "(V_in_max - V_out)*I_out",
        "W",
        "highest input",
        V_in_max=(highest, "V"),
        V_out=(out, "V"),
        I_out=(current, "A"),
    )
    junction = w.calc(
        "T_J",
        "T_A + P_reg*R_θJA",
        "°C",
        "highest input and ambient",
        T_A=(ambient, "°C"),
        P_reg=(power, "W"),
        R_θJA=(theta, "K/W"),
    )
    return power, junction, falls_short(lowest - out, drop_out)


def switching_input(lowest, out, current, efficiency, working: Working | None = None):
    """
    Input current of a switching regulator at its lowest input [A].

    Examples
    --------
    >>> round(switching_input(8.1, 3.3, 2.8, 0.85), 4)
    1.342
    """
    w = working or Working()
    return w.calc(
        "I_in",
        "V_out*I_out/(eta*V_in_min)",
        "A",
        "lowest input",
        V_out=(out, "V"),
        I_out=(current, "A"),
        eta=(efficiency, ""),
        V_in_min=(lowest, "V"),
    )


def running_time(capacity, average, working: Working | None = None):
    """
    Time a battery lasts [s]: its capacity [A·s], four fifths of it, over the average current [A].

    Examples
    --------
    >>> round(running_time(25200, 0.056 + 0.68 * 0.25))
    89204
    """
    w = working or Working()
    return w.calc(
        "t_batt",
        "u*Q_batt/I_mean",
        "s",
        "typical currents",
        u=(USABLE, ""),
        Q_batt=(capacity, "C"),
        I_mean=(average, "A"),
    )
