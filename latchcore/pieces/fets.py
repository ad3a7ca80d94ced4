"""What a MOSFET switch heats and drops, whichever side it stands on."""

from __future__ import annotations

from dataclasses import replace

from latchcore.catalogue.switch_records import Mosfet
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.figures.quantity import show
from latchcore.pieces.frame import junction_measure
from latchcore.sums import mosfet

RUNAWAY = "The hotter it gets the more it resists, and the hotter it gets: it runs away."


def fet_heat(
    context: ChannelContext,
    result: StageResult,
    part: Mosfet,
    gate: float,
    switched: float,
    turn_on: float,
    turn_off: float,
) -> float:
    """
    Self-heating of a MOSFET with its switching loss; returns its highest drop [V].

    Parameters
    ----------
    gate : float
        Least gate voltage while on, a magnitude [V]
    switched : float
        Highest voltage on the opened switch [V]
    turn_on, turn_off : float
        Longest edges [s]
    """
    w = result.working
    # Below the specified voltage nobody vouches for any figure; the worst row stands in so that the
    # rest can be shown.
    resistance = part.on_resistance(gate) or max(part.r_on)
    loss = 0.0
    if context.frequency:
        loss = mosfet.switching_loss(
            switched, result.running, turn_on, turn_off, context.frequency, w
        )
    found = mosfet.self_heating(
        current=result.running,
        on_resistance_25=resistance,
        rise=mosfet.rise_of(part.v_ds),
        switching_loss=loss,
        theta=part.theta_ja,
        ambient=context.around.ambient,
        duty=context.heat_duty,
        working=w,
    )
    result.drive.runaway = found.runaway
    result.power = found.power
    if found.runaway:
        junction_measure(context, result, float("inf"), part.t_j_max, "d", RUNAWAY)
        said = (
            f"At {show(result.running, 'A')} the on-resistance rises faster than the heat can"
            " leave: thermal runaway"
        )
        result.measures[-1] = replace(result.measures[-1], instead=said)
    else:
        junction_measure(context, result, found.junction, part.t_j_max)  # type: ignore[arg-type]
    hot = found.on_resistance or resistance * (1 + mosfet.rise_of(part.v_ds) * (part.t_j_max - 25))
    return w.calc(
        "V_DS_on",
        "I_load_max*R_hot",
        "V",
        "highest current, hot",
        I_load_max=(result.running, "A"),
        R_hot=(hot, "Ω"),
    )
