"""A resistor and a capacitor that smooth pulses into a level."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show
from latchcore.figures.resistance import Resistor, resistor_words

SETTINGS = (
    Setting("filter_resistor", "Filter resistor", "ohms"),
    Setting("filter_capacitor", "Filter capacitor", "farads"),
)
#: Steps the level should resolve.
STEPS = 64
STOCK_CAPACITORS = (100e-9, 220e-9, 470e-9, 1e-6, 2.2e-6, 4.7e-6, 10e-6, 22e-6, 47e-6, 100e-6)
#: Of a capacitor of such a size as printed.
CAPACITOR_LEAST = 0.8


def smooth(
    context: ChannelContext,
    result: StageResult,
    resistor: Resistor,
    frequency: float,
    swing: float,
    whole: float,
) -> float:
    """
    Size the capacitor behind a resistor, and hold the ripple of the level against one step.

    Parameters
    ----------
    frequency : float
        Of the pulses [Hz]
    swing : float
        Volts between their low and their high at the most [V]
    whole : float
        The range the steps divide [V]

    Returns
    -------
    float
        The capacitor as printed [F]

    Notes
    -----
    At half duty, the worst, the ripple of a filter far slower than its pulses is swing/(4·f·R·C).
    """
    w = result.working
    tol = (resistor.tolerance, "")
    need = w.calc(
        "C_min",
        "n/(4*f*R*(1 - tol))",
        "F",
        "half duty is the worst",
        "ripple under one step of the range",
        n=(STEPS, ""),
        f=(frequency, "Hz"),
        R=(resistor, "Ω"),
        tol=tol,
    )
    given = context.given("filter_capacitor", "F")
    capacitor = given or next(
        (c for c in STOCK_CAPACITORS if CAPACITOR_LEAST * c >= need), STOCK_CAPACITORS[-1]
    )
    ripple = w.calc(
        "V_ripple",
        "V_swing/(4*f*R*(1 - tol)*k*C)",
        "V",
        "half duty, capacitor at its least",
        V_swing=(swing, "V"),
        f=(frequency, "Hz"),
        R=(resistor, "Ω"),
        tol=tol,
        k=(CAPACITOR_LEAST, ""),
        C=(capacitor, "F"),
    )
    result.measures.append(
        Measure(
            "ripple",
            "D11",
            "Ripple on the level",
            "V",
            ripple,
            "max",
            "half duty, capacitor at its least",
            "V_ripple",
            "More ripple than a step and the other device sees the level tremble.",
            fix=whole / STEPS,
            fix_name=f"one of {STEPS} steps",
            setting="filter_capacitor",
        )
    )
    settle = w.calc(
        "t_settle", "5*R*C", "s", "five time constants", R=(resistor, "Ω"), C=(capacitor, "F")
    )
    result.pulses.settle = settle
    result.values += [
        Sized(
            "filter_resistor",
            "Filter resistor",
            "R_f",
            "Ω",
            resistor,
            resistor_words(resistor, context.tolerance),
            context.ohms("filter_resistor") is not None,
        ),
        Sized(
            "filter_capacitor",
            "Filter capacitor",
            "C_f",
            "F",
            capacitor,
            show(capacitor, "F"),
            given is not None,
            detail=f"settles in {show(settle, 's')}",
        ),
    ]
    result.live = {
        "pin": "",
        "base": "",
        "load": f"settles in {show(settle, 's')}",
        "switch": "",
        "volts": context.channel.load.voltage,
    }
    return capacitor
