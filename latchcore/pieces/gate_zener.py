"""A zener from gate to source: it bounds the gate's volts from above, and takes current for it."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show
from latchcore.figures.spread import Spread
from latchcore.pieces.frame import add_part

SETTING = Setting("gate_zener", "Zener from gate to source", "volts")
#: Spread of a zener's volts, and what the half-watt class bears [W].
SPREAD, WATTS = 0.05, 0.5


def volts(context: ChannelContext) -> Spread | None:
    """Volts of the zener, or ``None`` where none is fitted."""
    stated = context.given("gate_zener", "V")
    return Spread.of(stated, SPREAD) if stated else None


def bound(context: ChannelContext, value: float, end: str) -> float:
    """A gate voltage as the zener leaves it at one end of its spread [V]."""
    zener = volts(context)
    return value if zener is None else min(value, getattr(zener, end))


def fit(
    context: ChannelContext,
    result: StageResult,
    gate: str,
    source: str,
    drive: float,
    ohms: float,
    domain: str = "logic",
) -> float:
    """
    Put the zener at the gate and judge it; returns the most it takes [A], 0 where there is none.

    Parameters
    ----------
    drive, ohms : float
        Highest volts that drive the gate [V] and the least resistance between both [Ω]
    """
    zener = volts(context)
    if zener is None:
        return 0.0
    current = result.working.calc(
        "I_Z",
        "larger(0, (V_drive_max - V_Z_min)/R_path_min)",
        "A",
        "highest drive, zener at its bottom",
        V_drive_max=(drive, "V"),
        V_Z_min=(zener.min, "V"),
        R_path_min=(max(ohms, 1.0), "Ω"),
    )
    result.measures.append(
        Measure(
            "gate_zener",
            "D2",
            "Current through the gate's zener",
            "A",
            current,
            "max",
            "highest drive, zener at its bottom",
            "I_Z",
            "Over it the zener burns, and the gate sees everything.",
            stop=WATTS / zener.max,
            stop_name="what the half-watt class bears",
            setting="gate_zener",
        )
    )
    text = f"zener {show(zener.typ, 'V')} 0.5 W"
    says = f"takes up to {show(current, 'A')}"
    result.values.append(
        Sized("gate_zener", "Zener at the gate", "D8", "", None, text, True, detail=says)
    )
    # A P-channel's source is the rail, and its gate stands below it.
    ends = {"K": gate, "A": source} if domain == "logic" else {"K": source, "A": gate}
    add_part(context, result, "D8", "zener", text, "bounds the gate", domain=domain, **ends)
    return current
