"""A coupler on the pin, driving what is on the far side."""

from __future__ import annotations

from latchcore.catalogue.records import Coupler
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, sized_resistor
from latchcore.figures.resistance import Resistor
from latchcore.pieces import five_states, low_side
from latchcore.pieces.drivers import Driver, led_measure, pin_measure
from latchcore.pieces.frame import add_part, join_pin
from latchcore.sums import couplers

COUPLER_SETTINGS = (
    Setting("coupler", "Coupler", "part", family="coupler"),
    Setting("led_resistor", "LED resistor", "ohms"),
    Setting("pull_resistor", "Pull-down across the LED", "ohms", may_omit=True),
)


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
    least = couplers.led_current(board.voh_noload_min, board.droop, part.v_f.max, resistor.high, w)
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
    w.note("I_F_at", "LED current its ratio is stated at", "A", part.ctr_at, {}, {})
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
    most = pin_measure(context, result, part.v_f.min, resistor, "led_resistor", "low V_F")
    led_measure(result, most, part.i_f_max)
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
        f"{part.isolation} barrier",
        barrier=part.isolation,
        A=anode,
        K="0V",
        C=collector,
        E=emitter,
    )
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
    five_states.five_states(context, result, pin, limit, pull, "the LED is lit")
    result.drive.base_node = anode
    result.barrier = part.isolation
    return Driver(part.v_ce_sat.min, part.v_ce_sat.max, part.t_on, part.t_off, part.dark, "OK1")


def dark_measure(
    context: ChannelContext,
    result: StageResult,
    dark: float,
    bleed: Resistor,
    limit: float,
    setting: str,
) -> None:
    """D15: what the coupler leaks when hot must not lift the next stage."""
    volts = couplers.dark_voltage(dark, bleed, bleed.tolerance, result.working)
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
