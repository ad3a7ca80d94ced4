"""
What stands between a pin and a power switch that the pin cannot drive itself: a level shifter or a
coupler.
"""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.catalogue.switch_records import Bipolar
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, resistor_measures, sized_resistor
from latchcore.pieces import five_states, low_side
from latchcore.pieces.frame import add_part, join_pin, pin_limits
from latchcore.sums import bipolar, pulls

SHIFTER_SETTINGS = (
    Setting("shifter", "Level shifter", "part", family="npn"),
    Setting("base_resistor", "Base resistor", "ohms"),
    Setting("pull_resistor", "Base-emitter resistor", "ohms", may_omit=True),
)


@dataclass(frozen=True)
class Driver:
    """
    What a driver offers the power side: how much it keeps for itself, its edges, its leakage when
    off.
    """

    drop_min: float
    drop_max: float
    turn_on: float
    turn_off: float
    dark: float
    ref: str


def npn_shifter(
    context: ChannelContext, result: StageResult, current: float, collector: str
) -> Driver:
    """
    A small NPN on the pin whose collector pulls a rail-hung control electrode.

    Parameters
    ----------
    current : float
        Most it has to sink [A]
    collector : str
        Node it pulls
    """
    board, limits, tol, w = context.board, context.limits, context.tolerance, result.working
    fixed = context.around.part(context.setting("shifter"))
    family = context.around.family("npn")
    fits = [
        p
        for p in family
        if limits["current_share"] * p.i_c >= current
        and p.v_ceo >= limits["blocking_factor"] * context.volts.max
    ]
    part = fixed if isinstance(fixed, Bipolar) else (fits or family)[0]
    result.parts["shifter"] = part
    pull = low_side.pull_down(
        context, result, "pull_resistor", "Base-emitter resistor", "R_BE", pulls.BASE_LIMIT
    )
    pull_min = pull.low if pull else None
    w.note(
        "I_C_max", "what the shifter sinks", "A", current, {}, {}, "highest rail, least resistors"
    )
    base = bipolar.base_resistor(
        school=context.around.build.school,
        collector_current=current,
        vbe_min=part.v_be.min,
        vbe_max=part.v_be.max,
        base_emitter_min=pull_min,
        voh_noload_min=board.voh_noload_min,
        voh_rated_min=board.voh_rated_min,
        rated_current=board.rated_current,
        voh_max=board.logic.max,
        pin_current=board.pin_recommended,
        series=context.series,
        tolerance=tol,
        working=w,
        forced_gain=limits["forced_gain"],
        gain_min=part.gain(max(current, 1e-4)),
        overdrive=limits["overdrive"],
        gain_limit=limits["gain_limit"],
    )
    # Millivolts matter little here and the pin is to be spared: the largest value that saturates
    # it, 10 kΩ at most.
    least = [v for v in base.window.admissible if v <= 10e3]
    resistor = sized_resistor(
        context,
        "base_resistor",
        "Base resistor",
        "R_B",
        base.window,
        "low pin, high V_BE",
        prefer=max(least, default=None),
    )
    result.values += [
        Sized("shifter", "Level shifter", "Q2", "", None, part.title, isinstance(fixed, Bipolar)),
        resistor,
    ]
    drive_measures(context, result, part.v_be, resistor, pull_min, base.base_current_needed)
    w.note("V_clamped_shifter", "highest rail", "V", context.volts.max, {}, {}, "highest supply")
    result.measures.append(
        Measure(
            "shifter_blocking",
            "D3",
            "Voltage on the level shifter",
            "V",
            context.volts.max,
            "max",
            "highest supply",
            "V_clamped_shifter",
            limits.reasons["blocking_factor"],
            stop=part.v_ceo,
            fix=part.v_ceo / limits["blocking_factor"],
            stop_name="blocking rating",
            fix_name="blocking rating over 1.5",
        )
    )
    pin = join_pin(context, result)
    base_node = f"{context.channel.id}.BASE"
    add_part(context, result, "R1", "resistor", resistor.text, **{"1": pin, "2": base_node})
    add_part(context, result, "Q2", "npn", part.title, B=base_node, C=collector, E="0V")
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": base_node, "2": "0V"})
    five_states.five_states(
        context, result, base_node, pulls.BASE_LIMIT, pull, "the shifter conducts"
    )
    result.drive.base_node = base_node
    return Driver(part.v_ce_sat.min, part.v_ce_sat.max, part.t_on, part.t_off, 0.0, "Q2")


def drive_measures(context, result, v_be, resistor, pull_min, needed) -> None:
    """Headroom, base current and pin current of a bipolar input on a pin."""
    board, w, add = context.board, result.working, result.measures.append
    w.note(
        "V_OH_min",
        "logic supply at its lowest less the pin's drop",
        "V",
        board.voh_noload_min,
        {},
        {},
        "low pin",
    )
    add(
        Measure(
            "drive_headroom",
            "P7",
            "High level of the pin",
            "V",
            board.voh_noload_min,
            "min",
            "low pin, unloaded",
            "V_OH_min",
            "With less than the base-emitter voltage no resistor helps.",
            stop=v_be.max,
            stop_name="highest base-emitter voltage",
        )
    )
    least = bipolar.base_current(
        board.voh_noload_min,
        board.droop,
        resistor.high,
        v_be.max,
        pull_min or float("inf"),
        w,
    )
    add(
        Measure(
            "base_current",
            "D1",
            "Base current",
            "A",
            least,
            "min",
            "low pin, high V_BE, resistor at its top",
            "I_B",
            "Short of it the transistor is not saturated.",
            stop=needed / 2,
            fix=needed,
            stop_name="half of what is needed",
            fix_name="need",
            setting="base_resistor",
        )
    )
    pin_measure(context, result, v_be.min, resistor, "base_resistor", "low V_BE")


def pin_measure(context, result, drop_min, resistor, setting, corner) -> float:
    """
    Current the pin gives through a resistor into a junction, against its limits; the resistor's
    watts with it.
    """
    board, w = context.board, result.working
    pin = w.calc(
        "I_pin",
        "(V_OH_max - V_j_min)/(R*(1 - tol))",
        "A",
        f"stiff high pin, {corner}, resistor at its bottom",
        V_OH_max=(board.logic.max, "V"),
        V_j_min=(drop_min, "V"),
        R=(resistor.value, "Ω"),
        tol=(resistor.tolerance, ""),
    )
    result.pin_current = pin
    pin_limits(
        context, result, f"stiff high pin, {corner}, resistor at its bottom", setting=setting
    )
    resistor_measures(context, result, resistor, board.logic.max - drop_min, "P_R1")
    return pin


def led_measure(result: StageResult, current: float, rating: float) -> None:
    """The most the pin sends through a coupler's LED, against what that bears."""
    result.measures.append(
        Measure(
            "led_most",
            "D2",
            "Highest LED current",
            "A",
            current,
            "max",
            "stiff high pin, low V_F, resistor at its bottom",
            "I_pin",
            "Over its rating an LED ages fast: the ratio falls until nothing switches.",
            stop=rating,
            stop_name="rating",
            setting="led_resistor",
        )
    )
