"""
What an active-low module input does with a pin: LED currents low, high, floating, pulled, dead,
with the ways to mend it.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from latchcore.figures.spread import Spread
from latchcore.figures.working import Working


@dataclass(frozen=True, slots=True)
class ModuleInput:
    """
    An LED, an indicator LED in series where there is one, and a resistor between the module's
    supply and its input pin.
    """

    supply: Spread
    resistor: Spread
    coupler: Spread
    indicator: Spread

    @property
    def drop_min(self) -> float:
        """Least sum of forward voltages [V]."""
        return self.coupler.min + self.indicator.min

    @property
    def drop_max(self) -> float:
        """Highest sum of forward voltages [V]."""
        return self.coupler.max + self.indicator.max


def on_currents(
    module: ModuleInput, low_min, low_max, working: Working | None = None, droop=0.0
) -> tuple[float, float]:
    """
    LED current with the pin low, least and most [A]; the low level is ``low_max`` [V] without load
    and rises by ``droop`` [Ω] with the current.

    Examples
    --------
    >>> m = ModuleInput(Spread(4.75, 5, 5.25), Spread(446, 470, 494), Spread(1.12, 1.2, 1.26),
    ...     Spread(0, 0, 0))
    >>> [round(i * 1e3, 3) for i in on_currents(m, 0.0, 0.35)]
    [6.356, 9.26]
    """
    w = working or Working()
    pin: dict[str, Any] = {"r_pin": (droop, "Ω")} if droop else {}
    least = w.calc(
        "I_on_min",
        "larger(0, (V_CC_min - V_F_max - V_OL)/" + ("(R_max + r_pin))" if droop else "R_max)"),
        "A",
        "low supply, high V_F, high R",
        V_CC_min=(module.supply.min, "V"),
        V_F_max=(module.drop_max, "V"),
        V_OL=(low_max, "V"),
        R_max=(module.resistor.max, "Ω"),
        **pin,
    )
    most = w.calc(
        "I_on_max",
        "larger(0, (V_CC_max - V_F_min - V_OL)/R_min)",
        "A",
        "high supply, low V_F, low R",
        V_CC_max=(module.supply.max, "V"),
        V_F_min=(module.drop_min, "V"),
        V_OL=(low_min, "V"),
        R_min=(module.resistor.min, "Ω"),
    )
    return least, most


def off_current(module: ModuleInput, logic_min, same_net, working: Working | None = None) -> float:
    """
    LED current left with the pin high and unloaded [A]; on one net with the logic supply there is
    none.

    Examples
    --------
    >>> m = ModuleInput(Spread(4.75, 5, 5.25), Spread(446, 470, 494), Spread(1.12, 1.2, 1.26),
    ...     Spread(0, 0, 0))
    >>> round(off_current(m, 3.135, False) * 1e3, 3)
    2.231
    """
    w = working or Working()
    high = module.supply.max if same_net else logic_min
    return w.calc(
        "I_off",
        "larger(0, (V_CC_max - V_high_min - V_F_min)/R_min)",
        "A",
        "high module supply, low logic supply, low V_F and R",
        "the pin, though high, stands below the module's supply and takes current in",
        V_CC_max=(module.supply.max, "V"),
        V_high_min=(high, "V"),
        V_F_min=(module.drop_min, "V"),
        R_min=(module.resistor.min, "Ω"),
    )


def held_current(
    module: ModuleInput, node, symbol, corner, working: Working | None = None
) -> float:
    """
    LED current with the pin held at a voltage [A]: by its protection, or near ground while the
    board is dead.

    Examples
    --------
    >>> m = ModuleInput(Spread(4.75, 5, 5.25), Spread(1420, 1500, 1580), Spread(1.12, 1.2, 1.3),
    ...     Spread(0, 0, 0))
    >>> round(held_current(m, 3.435, "I_inj", "floating") * 1e6, 1), round(held_current(m, 0.6,
    ...     "I_dead", "dead") * 1e3, 3)
    (489.4, 2.486)
    """
    w = working or Working()
    return w.calc(
        symbol,
        "larger(0, (V_CC_max - V_F_min - V_node)/R_min)",
        "A",
        corner,
        V_CC_max=(module.supply.max, "V"),
        V_F_min=(module.drop_min, "V"),
        V_node=(node, "V"),
        R_min=(module.resistor.min, "Ω"),
    )


def weakly_pulled_current(module: ModuleInput, weak_min, working: Working | None = None) -> float:
    """
    LED current through the board's own weak pull-down [A].

    Examples
    --------
    >>> m = ModuleInput(Spread(4.75, 5, 5.25), Spread(950, 1000, 1050), Spread(1.06, 1.2, 1.38),
    ...     Spread(1.72, 1.9, 2.09))
    >>> round(weakly_pulled_current(m, 45e3) * 1e6, 2)
    53.75
    """
    w = working or Working()
    return w.calc(
        "I_weak",
        "larger(0, (V_CC_max - V_F_min)/(R_min + R_pd_min))",
        "A",
        "high supply, low V_F, strongest pull-down",
        V_CC_max=(module.supply.max, "V"),
        V_F_min=(module.drop_min, "V"),
        R_min=(module.resistor.min, "Ω"),
        R_pd_min=(weak_min, "Ω"),
    )


@dataclass(frozen=True, slots=True)
class FedLow:
    """
    Outcome of :func:`fed_from_logic`; resistors are ``None`` where no resistor helps or none is
    needed.
    """

    headroom: float
    enough: bool
    current: float
    wanted: float | None
    parallel: float | None


#: What an input's LED is given where it is fed from the logic supply [A].
FED_LOW = 5e-3


def fed_from_logic(
    supply_min, resistance, drop_max, low_max, current_wanted=FED_LOW, headroom_needed=0.3
) -> FedLow:
    """
    The same input fed from the lower logic voltage: what flows, and what to put across its
    resistor.

    Notes
    -----
    R = (V_min − ΣV_F,max − V_OL)/I; parallel = 1/(1/R − 1/R_own). Less headroom than needed, and no
    resistor helps: an
    indicator in series has eaten it.

    Examples
    --------
    >>> found = fed_from_logic(3.2, 470.0, 1.31, 0.2)
    >>> round(found.wanted), round(found.parallel)
    (338, 1203)
    """
    headroom = supply_min - drop_max - low_max
    current = max(0.0, headroom / resistance)
    if headroom < headroom_needed:
        return FedLow(headroom, False, current, None, None)
    wanted = headroom / current_wanted
    parallel = 1 / (1 / wanted - 1 / resistance) if wanted < resistance else None
    return FedLow(headroom, True, current, wanted, parallel)
