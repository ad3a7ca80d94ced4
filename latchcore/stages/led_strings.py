"""Single LEDs in strings with a resistor each, switched together by an N-channel MOSFET."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.document.models import Load
from latchcore.figures.quantity import show
from latchcore.figures.resistance import resistor_words
from latchcore.figures.spread import Spread
from latchcore.pieces import fet_low
from latchcore.pieces.frame import Traits, add_part, model_only
from latchcore.sums import strings
from latchcore.sums.heat import resistor_power

kind = "led_strings"
title = "LED strings on an N-channel"
summary = (
    "As many LEDs in a row as the supply leaves room for, a resistor each, one MOSFET for all."
)
settings = (
    Setting("transistor", "MOSFET", "part", family="nmos"),
    Setting("string_resistor", "Resistor of a string", "ohms"),
    Setting("gate_resistor", "Gate resistor", "ohms", may_omit=True),
    Setting("pull_resistor", "Gate pull-down", "ohms", may_omit=True),
    Setting("resistor_watts", "Resistor rating", "watts"),
)
traits = Traits(cost=2)
suits = model_only("led_array")


def size(context: ChannelContext) -> StageResult:
    """Put the LEDs into strings, then size the switch for their sum."""
    volts, limits, tol, load = context.volts, context.limits, context.tolerance, context.load
    forward, count = Spread.of(load.rated, 0.1), context.channel.load.count or 1
    quiet_result = StageResult(kind, title)
    found = strings.led_strings(
        supply_min=volts.min,
        supply_max=volts.max,
        vf_min=forward.min,
        vf_max=forward.max,
        headroom_share=limits["led_headroom"],
        constant_over=limits["led_constant_current"],
        current_max=load.current.max,
        count=count,
        series=context.series,
        tolerance=tol,
        working=quiet_result.working,
    )
    total = found.total_most or load.current.max
    twin = _as_strip(context, volts.max, total)
    result = fet_low.size(twin, kind, title)
    result.working.steps[:0] = quiet_result.working.steps
    for step in quiet_result.working.steps:
        result.working._by_symbol.setdefault(step.symbol, step)
    result.measures = [m for m in result.measures if m.key != "load_volts"]
    _string_measures(context, result, found, forward, count)
    net = result.netlist
    load_part = net.the(f"{context.channel.id}.LOAD")
    middle = f"{context.channel.id}.STRING"
    net.parts.remove(load_part)
    add_part(
        context,
        result,
        "R3",
        "resistor",
        result.the_value("string_resistor").text,
        f"one in each of {found.count} strings" if found.count > 1 else "in its string",
        domain="low",
        **{"1": load_part.terminals["+"], "2": middle},
    )
    add_part(
        context,
        result,
        "LOAD",
        "load",
        f"{found.count} × {found.per_string} LEDs",
        domain="low",
        **{"+": middle, "-": load_part.terminals["-"]},
    )
    return result


def _as_strip(context: ChannelContext, volts: float, total: float) -> ChannelContext:
    """
    The same channel with the strings' sum as a plain load, so that the MOSFET stage sizes the
    switch.
    """
    plain = Load(kind="heater", voltage=f"{volts:.9g} V", figure=f"{total:.9g} A ±0 %", hazards=[])
    settings_kept = {
        k: v for k, v in context.channel.stage.settings.items() if k != "string_resistor"
    }
    stage = context.channel.stage.model_copy(update={"settings": settings_kept})
    return context.around.channel(
        context.channel.model_copy(update={"load": plain, "stage": stage})
    )


def _string_measures(context, result, found, forward, count) -> None:
    w, load, volts = result.working, context.load, context.volts
    yours = context.ohms("string_resistor")
    value = yours or context.resistor(found.resistor or 0.0)
    result.strings.per_string = found.per_string
    result.strings.count = found.count
    result.strings.constant_current = found.constant_current
    if not found.per_string:
        w.note(
            "V_one",
            "forward voltage of one LED and the headroom",
            "V",
            forward.max + found.headroom,
            {},
            {},
        )
        result.measures.append(
            Measure(
                "led_headroom",
                "P7",
                "Supply for one LED",
                "V",
                volts.min,
                "min",
                "lowest supply, highest V_F",
                "V_one",
                "Not even one LED leaves the resistor its share.",
                stop=forward.max + found.headroom,
                stop_name="one LED and the headroom",
            )
        )
        result.values.insert(
            0,
            Sized(
                "string_resistor", "Resistor of a string", "R_str", "Ω", None, "none fits", False
            ),
        )
        return
    most = w.calc(
        "I_string",
        "(V_max - n*V_F_min)/(R*(1 - tol))",
        "A",
        "highest supply, least V_F and R",
        V_max=(volts.max, "V"),
        n=(found.per_string, ""),
        V_F_min=(forward.min, "V"),
        R=(value, "Ω"),
        tol=(value.tolerance, ""),
    )
    advice = (
        "; constant current is advised, the resistor hardly steers"
        if found.constant_current
        else ""
    )
    result.values.insert(
        0,
        Sized(
            "string_resistor",
            "Resistor of a string",
            "R_str",
            "Ω",
            value,
            resistor_words(value, context.tolerance),
            yours is not None,
            corner="highest supply, least V_F",
            detail=f"{found.count} strings of {found.per_string}{advice}",
        ),
    )
    result.measures.append(
        Measure(
            "string_current",
            "D2",
            "Current in a string",
            "A",
            most,
            "max",
            "highest supply, least V_F and R",
            "I_string",
            "Over its current an LED ages in hours.",
            stop=1.5 * load.current.max,
            fix=load.current.max,
            stop_name="half as much again as it may have",
            fix_name="current it may have",
            setting="string_resistor",
        )
    )
    power = resistor_power(
        volts.max - found.per_string * forward.min, value, value.tolerance, w, "P_str"
    )
    rating = context.limits["resistor_watts"]
    result.measures.append(
        Measure(
            "string_watts",
            "D14",
            "Heat in a string's resistor",
            "W",
            power,
            "max",
            "highest supply, least V_F and R",
            "P_str",
            context.limits.reasons["resistor_power_share"],
            stop=rating,
            fix=rating / 2,
            stop_name="rating",
            fix_name=f"half of its {show(rating, 'W')} rating",
        )
    )
    result.load_volts = (volts.min, volts.max)
    result.live["load"] = f"{found.count} × {show(most, 'A')}"
    result.live["volts"] = f"{found.per_string} × {forward.shown('V')}"
