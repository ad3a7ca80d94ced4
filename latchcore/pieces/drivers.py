"""
What stands between a pin and a power switch that the pin cannot drive itself: a level shifter or a
coupler.
"""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.catalogue.records import Bipolar, Coupler
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, resistor_measures, sized_resistor
from latchcore.pieces import low_side
from latchcore.pieces.frame import add_part, join_pin
from latchcore.sums import bipolar, couplers, pulls

SHIFTER_SETTINGS = (
    Setting("shifter", "Level shifter", "part", family="npn"),
    Setting("base_resistor", "Base resistor", "ohms"),
    Setting("pull_resistor", "Base-emitter resistor", "ohms", may_omit=True),
)
COUPLER_SETTINGS = (
    Setting("coupler", "Coupler", "part", family="coupler"),
    Setting("led_resistor", "LED resistor", "ohms"),
    Setting("pull_resistor", "Pull-down across the LED", "ohms", may_omit=True),
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
    pull_min = pull.value * (1 - tol) if pull else None
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
    low_side.five_states(context, result, base_node, pulls.BASE_LIMIT, pull, "the shifter conducts")
    result.drive.base_node = base_node
    return Driver(part.v_ce_sat.min, part.v_ce_sat.max, part.t_on, part.t_off, 0.0, "Q2")


def drive_measures(context, result, v_be, resistor, pull_min, needed) -> None:
    """Headroom, base current and pin current of a bipolar input on a pin."""
    board, tol, w, add = context.board, context.tolerance, result.working, result.measures.append
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
        resistor.value * (1 + tol),
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
    board, tol, w = context.board, context.tolerance, result.working
    pin = w.calc(
        "I_pin",
        "(V_OH_max - V_j_min)/(R*(1 - tol))",
        "A",
        f"stiff high pin, {corner}, resistor at its bottom",
        V_OH_max=(board.logic.max, "V"),
        V_j_min=(drop_min, "V"),
        R=(resistor.value, "Ω"),
        tol=(tol, ""),
    )
    result.pin_current = pin
    result.measures.append(
        Measure(
            "pin_current",
            "P1",
            "Pin current",
            "A",
            pin,
            "max",
            f"stiff high pin, {corner}, resistor at its bottom",
            "I_pin",
            "A pin over its recommended current loses level and ages; over its absolute limit it"
            " dies.",
            stop=board.pin_absolute,
            fix=board.pin_recommended,
            stop_name="absolute limit",
            fix_name="recommended current",
            setting=setting,
        )
    )
    resistor_measures(context, result, resistor, board.logic.max - drop_min, "P_R1")
    return pin


def choose_coupler(context: ChannelContext, current: float) -> tuple[Coupler, bool]:
    """
    The coupler the user fixed, or the plainest whose LED the pin can drive for the current wanted.
    """
    fixed = context.around.part(context.setting("coupler"))
    if isinstance(fixed, Coupler):
        return fixed, False
    limits, board = context.limits, context.board
    family = context.around.family("coupler")
    for part in family:
        asked = limits["coupler_factor"] * current / (limits["ctr_derating"] * part.ctr_min)
        if (
            asked <= 0.6 * board.pin_recommended
            and part.i_c >= current
            and part.v_ceo >= limits["blocking_factor"] * context.coupler_volts
        ):
            return part, True
    return family[-1], True


def coupler(
    context: ChannelContext, result: StageResult, current: float, collector: str, emitter: str
) -> Driver:
    """
    An optocoupler on the pin whose transistor carries a current between two nodes of the power
    side.

    Parameters
    ----------
    current : float
        Most its transistor has to carry saturated [A]
    collector, emitter : str
        Nodes of its transistor
    """
    board, limits, tol, w, add = (
        context.board,
        context.limits,
        context.tolerance,
        result.working,
        result.measures.append,
    )
    part, auto = choose_coupler(context, current)
    result.parts["coupler"] = part
    default = limits["coupler_led_low"] if board.logic.typ < 4 else limits["coupler_led_high"]
    w.note(
        "I_C_need",
        "what the coupler's transistor carries",
        "A",
        current,
        {},
        {},
        "highest rail, least resistors",
    )
    led = couplers.coupler_led(
        voh_min=board.voh_noload_min,
        droop=board.droop,
        voh_max=board.logic.max,
        vf_min=part.v_f.min,
        vf_max=part.v_f.max,
        collector_needed=current,
        ratio_min=part.ctr_min,
        derating=limits["ctr_derating"],
        factor=limits["coupler_factor"],
        default_current=default,
        pin_current=board.pin_recommended,
        series=context.series,
        tolerance=tol,
        working=w,
    )
    resistor = sized_resistor(
        context, "led_resistor", "LED resistor", "R_LED", led.window, "low pin, high V_F"
    )
    limit = 0.6 * part.v_f.min
    pull = low_side.pull_down(
        context, result, "pull_resistor", "Pull-down across the LED", "R_pd", limit
    )
    result.values += [Sized("coupler", "Coupler", "OK1", "", None, part.title, not auto), resistor]
    least = couplers.led_current(
        board.voh_noload_min, board.droop, part.v_f.max, resistor.value * (1 + tol), w
    )
    add(
        Measure(
            "led_current",
            "D1",
            "LED current",
            "A",
            least,
            "min",
            "low pin, high V_F, resistor at its top",
            "I_F_min",
            "Half the least transfer ratio, old and hot, and a fifth in hand.",
            stop=led.asked / 2,
            fix=led.asked,
            stop_name="half of what is needed",
            fix_name="need",
            setting="led_resistor",
        )
    )
    couplers.collector_available(least, part.ctr_min, limits["ctr_derating"], w)
    w.note("I_C_carried", "what the coupler's transistor carries", "A", current, {}, {})
    add(
        Measure(
            "coupler_current",
            "D2",
            "Current in the coupler's transistor",
            "A",
            current,
            "max",
            "highest rail, least resistors",
            "I_C_carried",
            "A coupler alone switches no lamp and no coil.",
            stop=part.i_c,
            stop_name="rating",
        )
    )
    w.note(
        "V_coupler",
        "highest voltage on its transistor",
        "V",
        context.coupler_volts,
        {},
        {},
        "highest supply",
    )
    add(
        Measure(
            "coupler_blocking",
            "D3",
            "Voltage on the coupler",
            "V",
            context.coupler_volts,
            "max",
            "highest supply",
            "V_coupler",
            limits.reasons["blocking_factor"],
            stop=part.v_ceo,
            fix=part.v_ceo / limits["blocking_factor"],
            stop_name="blocking rating",
            fix_name="blocking rating over 1.5",
        )
    )
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
            "Under the LED's forward voltage no resistor helps.",
            stop=part.v_f.max,
            stop_name="highest forward voltage",
        )
    )
    pin_measure(context, result, part.v_f.min, resistor, "led_resistor", "low V_F")
    pin, anode = join_pin(context, result), f"{context.channel.id}.LED"
    add_part(context, result, "R1", "resistor", resistor.text, **{"1": pin, "2": anode})
    for node in (collector, emitter):
        result.netlist.domains.setdefault(node, "low")
    add_part(
        context,
        result,
        "OK1",
        "coupler",
        part.title,
        f"{part.barrier} barrier",
        A=anode,
        K="0V",
        C=collector,
        E=emitter,
    )
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
    low_side.five_states(context, result, pin, limit, pull, "the LED is lit")
    result.drive.base_node = anode
    result.barrier = part.barrier
    return Driver(part.v_ce_sat.min, part.v_ce_sat.max, part.t_on, part.t_off, part.dark, "OK1")


def dark_measure(
    context: ChannelContext,
    result: StageResult,
    dark: float,
    bleed: float,
    limit: float,
    setting: str,
) -> None:
    """D15: what the coupler leaks when hot must not lift the next stage."""
    volts = couplers.dark_voltage(dark, bleed, context.tolerance, result.working)
    result.measures.append(
        Measure(
            "dark",
            "D15",
            "Left on the bleeder when off",
            "V",
            volts,
            "max",
            "hot dark current, bleeder at its top",
            "V_dark",
            "A hot coupler leaks; a bleeder that is too weak lets the next stage come on by"
            " itself.",
            fix=limit,
            fix_name="off limit",
            setting=setting,
        )
    )
