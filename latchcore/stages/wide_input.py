"""
A wide-range input: a coupler's LED behind a shunt that takes what is too much, read by a pin with a
pull-up.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult, State
from latchcore.design.stage import Setting, resistor_measures, sized_resistor
from latchcore.figures.quantity import span
from latchcore.figures.resistance import resistor_words
from latchcore.figures.spread import Spread, parse_spread
from latchcore.figures.windows import Bound, resistor_window
from latchcore.pieces import lines
from latchcore.pieces.coupler_driver import choose_coupler
from latchcore.pieces.frame import Traits, add_part, join_pin, model_only
from latchcore.sums import couplers, heat

kind = "wide_input"
title = "Wide-range coupler input"
summary = (
    "Senses whether a voltage is there, five volts or thirty alike; a small transistor shunts the"
    " LED."
)
settings = (
    Setting("coupler", "Coupler", "part", family="coupler"),
    Setting("sense_resistor", "Sense resistor", "ohms"),
    Setting("series_resistor", "Series resistor", "ohms"),
    Setting("pull_up", "Pull-up at the pin", "ohms"),
    Setting("resistor_watts", "Resistor rating", "watts"),
)
traits = Traits(isolates=True, cost=3, direction="in", fails="reads as absent")
suits = model_only("signal")
missing = lines.no_rail_needed
#: Base-emitter voltage at which the shunt takes over, cold to hot, and the customary pull-up at the
#: pin.
V_SHUNT, CUSTOMARY_PULL = Spread(0.50, 0.65, 0.75), 10e3
#: A shunt transistor of the small leaded class: how much hotter it gets a watt [K/W], and its limit
#: [°C].
SHUNT_THETA, SHUNT_LIMIT = 250.0, 150.0


def size(context: ChannelContext) -> StageResult:
    """Size series and sense resistor for the whole range of the input."""
    result = StageResult(kind, title)
    board, tol, w, add, limits = (
        context.board,
        context.tolerance,
        result.working,
        result.measures.append,
        context.limits,
    )
    volts = parse_spread(context.channel.load.voltage, ("V",))[0]
    pull = context.ohms("pull_up") or context.resistor(CUSTOMARY_PULL)
    needed = w.calc(
        "I_C_need",
        "V_DD_max/(R_pull*(1 - tol))",
        "A",
        "high logic supply, least pull-up",
        "to hold the pin low",
        V_DD_max=(board.logic.max, "V"),
        R_pull=(pull, "Ω"),
        tol=(pull.tolerance, ""),
    )
    part, auto = choose_coupler(context, needed)
    result.parts["coupler"] = part
    asked = w.calc(
        "I_F_ask",
        "larger(k*I_C_need/(d*CTR_min), I_want)",
        "A",
        "least ratio, old and hot",
        k=(limits["coupler_factor"], ""),
        I_C_need=(needed, "A"),
        d=(limits["ctr_derating"], ""),
        CTR_min=(part.ctr_min, ""),
        I_want=(context.load.current.min, "A"),
    )
    sense_top = w.calc(
        "R_sense_max",
        "V_BE_min/I_F_ask",
        "Ω",
        "shunt takes over early",
        "the LED must get what it wants before the shunt takes over",
        V_BE_min=(V_SHUNT.min, "V"),
        I_F_ask=(asked, "A"),
    )
    sense_low = V_SHUNT.max / part.i_f_max
    sense_window = resistor_window(
        context.series,
        tol,
        [Bound("led_maximum_current", sense_low)],
        [Bound("led_least_current", sense_top)],
    )
    sense = sized_resistor(
        context,
        "sense_resistor",
        "Sense resistor",
        "R_sense",
        sense_window,
        "shunt voltage at its corners",
        prefer=max(sense_window.admissible, default=None),
    )
    top = (volts.min - part.v_f.max - V_SHUNT.min) / asked
    series_window = resistor_window(
        context.series, tol, [], [Bound("led_least_current", top if top > 0 else None)]
    )
    series = sized_resistor(
        context,
        "series_resistor",
        "Series resistor",
        "R_s",
        series_window,
        "lowest input",
        prefer=max(series_window.admissible, default=None),
    )
    least = w.calc(
        "I_F_min",
        "larger(0, (V_in_min - V_F_max - V_sense)/(R_s*(1 + tol)))",
        "A",
        "lowest input, high V_F",
        V_in_min=(volts.min, "V"),
        V_F_max=(part.v_f.max, "V"),
        V_sense=(V_SHUNT.min, "V"),
        R_s=(series.value, "Ω"),
        tol=(series.tolerance, ""),
    )
    add(
        Measure(
            "led_current",
            "D1",
            "LED current",
            "A",
            least,
            "min",
            "lowest input, high V_F",
            "I_F_min",
            "Half the least transfer ratio, old and hot, and a fifth in hand.",
            stop=asked / 2,
            fix=asked,
            stop_name="half of what is needed",
            fix_name="need",
            setting="series_resistor",
        )
    )
    most = w.calc(
        "I_F_max",
        "V_BE_max/(R_sense*(1 - tol))",
        "A",
        "shunt takes over late",
        V_BE_max=(V_SHUNT.max, "V"),
        R_sense=(sense.value, "Ω"),
        tol=(sense.tolerance, ""),
    )
    add(
        Measure(
            "led_most",
            "D2",
            "Highest LED current",
            "A",
            most,
            "max",
            "shunt takes over late",
            "I_F_max",
            "What the shunt lets through at the highest input.",
            stop=part.i_f_max,
            stop_name="rating",
        )
    )
    node = part.v_f.min + V_SHUNT.min
    watts = resistor_measures(
        context, result, series, max(volts.max - node, 0.01), "P_Rs", any_watts=True
    )
    through = w.calc(
        "I_in_max",
        "(V_in_max - V_node)/(R_s*(1 - tol))",
        "A",
        "highest input",
        V_in_max=(volts.max, "V"),
        V_node=(node, "V"),
        R_s=(series.value, "Ω"),
        tol=(series.tolerance, ""),
    )
    shunt = heat.junction(
        (part.v_f.max + V_SHUNT.max) * max(through, 0.0), SHUNT_THETA, context.around.ambient, w
    )
    add(
        Measure(
            "shunt_junction",
            "D6",
            "Junction of the shunt transistor",
            "°C",
            shunt,
            "max",
            "highest input",
            "T_J",
            limits.reasons["junction_margin"],
            stop=SHUNT_LIMIT,
            fix=SHUNT_LIMIT - limits["junction_margin"],
            stop_name="limit",
            fix_name="limit less 25 K",
            zero=context.around.ambient,
        )
    )
    dark = couplers.dark_voltage(part.dark, pull, pull.tolerance, w)
    add(
        Measure(
            "dark",
            "D15",
            "Lost on the pull-up when absent",
            "V",
            dark,
            "max",
            "hot dark current, pull-up at its top",
            "V_dark",
            "A hot coupler leaks; the pin must still read high.",
            fix=0.3 * board.logic.min,
            fix_name="three tenths of the logic supply",
            setting="pull_up",
        )
    )
    result.values += [
        Sized("coupler", "Coupler", "OK1", "", None, part.title, not auto),
        sense,
        Sized(
            series.key,
            series.label,
            series.symbol,
            "Ω",
            series.value,
            series.text,
            series.yours,
            series.window,
            series.failing,
            series.corner,
            f"{watts:g} W",
        ),
        Sized(
            "pull_up",
            "Pull-up at the pin",
            "R_pull",
            "Ω",
            pull,
            resistor_words(pull, context.tolerance),
            context.ohms("pull_up") is not None,
        ),
        Sized("shunt", "Shunt transistor", "Q2", "", None, "NPN 45 V 100 mA, small leaded", False),
    ]
    result.drive.senses = True
    result.pin_current, result.pulses.limit = (
        0.0,
        limits["pwm_edge_share"] / (part.t_on + part.t_off),
    )
    _join(context, result, part, sense, series, pull)
    pin = f"{context.channel.id}.PIN"
    result.states += [
        State(
            "commanded_off",
            "Voltage absent",
            "at rest",
            pin,
            board.logic.max,
            None,
            "off",
            "the pull-up holds the pin high",
        ),
        State(
            "commanded_on",
            "Voltage there",
            "sensed",
            pin,
            None,
            None,
            "on",
            "the coupler holds the pin low",
        ),
        State(
            "unpowered",
            "Board unpowered, input live",
            "cable pulled",
            pin,
            0.0,
            None,
            "off",
            "behind the barrier nothing feeds the board",
        ),
    ]
    result.live = {
        "pin": "reads",
        "base": "",
        "load": span(least, most, "A"),
        "switch": "",
        "volts": volts.shown("V"),
    }
    return result


def _join(context, result, part, sense, series, pull) -> None:
    prefix = context.channel.id
    pin = join_pin(context, result)
    plus, minus, anode, cathode = (f"{prefix}.{n}" for n in ("LINE+", "LINE-", "LED", "SENSE"))
    supply = "board.VDD"
    add_part(
        context, result, "R3", "resistor", series.text, domain="low", **{"1": plus, "2": anode}
    )
    result.netlist.domains |= {pin: "logic", supply: "logic", anode: "low", cathode: "low"}
    add_part(
        context,
        result,
        "OK1",
        "coupler",
        part.title,
        f"{part.isolation} barrier",
        barrier=part.isolation,
        A=anode,
        K=cathode,
        C=pin,
        E="0V",
    )
    add_part(
        context, result, "R4", "resistor", sense.text, domain="low", **{"1": cathode, "2": minus}
    )
    add_part(
        context, result, "Q2", "npn", "NPN 45 V 100 mA", domain="low", B=cathode, C=anode, E=minus
    )
    printed = resistor_words(pull, context.tolerance)
    add_part(context, result, "R2", "resistor", printed, **{"1": supply, "2": pin})
    add_part(
        context,
        result,
        "LOAD",
        "load",
        context.channel.load.voltage,
        "voltage to be sensed",
        domain="low",
        **{"+": plus, "-": minus},
    )
