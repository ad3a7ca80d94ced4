"""
One channel of a Darlington array: eight low-side switches in one package, shared by channels of the
build.
"""

from __future__ import annotations

from latchcore.catalogue.switch_records import Array, Diode
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show
from latchcore.pieces import clamps, five_states, load_join, low_side
from latchcore.pieces.frame import (
    Traits,
    add_part,
    join_pin,
    junction_measure,
    pin_limits,
    power_only,
    pwm_measure,
)
from latchcore.sums import heat

kind = "array_low_side"
title = "Darlington array"
summary = (
    "Eight channels in one package with input resistors and clamp diodes inside; loses about a"
    " volt."
)
PACKAGES = (("1", "array 1"), ("2", "array 2"), ("3", "array 3"), ("4", "array 4"))
settings = (
    Setting("array", "Array", "part", family="array"),
    Setting("package", "Package", "choice", choices=PACKAGES),
    Setting(
        "common_pin",
        "Common diode pin",
        "choice",
        choices=(("rail", "to the coil rail"), ("open", "left open")),
    ),
)
traits = Traits(cost=1)
suits = power_only


def array_of(context: ChannelContext) -> Array:
    """The array the user fixed, or the class that ships."""
    fixed = context.around.part(context.setting("array"))
    return fixed if isinstance(fixed, Array) else context.around.family("array")[0]


def size(context: ChannelContext) -> StageResult:
    """Measure one channel; what the package sheds is reckoned over the whole build."""
    part = array_of(context)
    result = StageResult(
        kind, title, {"transistor": part}, auto_part=context.setting("array") is None
    )
    board, w, add, volts = context.board, result.working, result.measures.append, context.volts
    running = low_side.running_current(context, result, part.drop(0.1))
    drop_max, drop_typ = part.drop(running), part.drop(result.typical, worst=False)
    package = context.setting("package") or "1"
    result.values.append(
        Sized(
            "array",
            "Array",
            f"U{package}",
            "",
            None,
            part.title,
            context.setting("array") is not None,
            detail=f"package {package}",
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
    into = w.calc(
        "I_in",
        "larger(0, (V_OH_min - V_in)/(R_in + r_pin))",
        "A",
        "low pin, high input resistor",
        V_OH_min=(board.voh_noload_min, "V"),
        V_in=(part.v_in.max, "V"),
        R_in=(part.input_resistor.max, "Ω"),
        r_pin=(board.droop, "Ω"),
    )
    level = board.voh_noload_min - board.droop * into
    guaranteed = w.note(
        "I_out",
        f"guaranteed at an input of {show(level, 'V')}",
        "A",
        part.guaranteed(level),
        {},
        {},
        "low pin",
    )
    add(
        Measure(
            "array_output",
            "D10",
            "Output guaranteed at this level",
            "A",
            guaranteed,
            "min",
            "low pin, high input resistor",
            "I_out",
            "Below the input level its data name, an array's output is a hope.",
            fix=running,
            fix_name="running current",
        )
    )
    add(
        Measure(
            "switch_current",
            "D2",
            "Channel current",
            "A",
            running,
            "max",
            "highest supply, least load",
            "I_load_max",
            "The printed figure of an array channel is its limit.",
            stop=part.i_c,
            stop_name="rating",
            typical=result.typical,
        )
    )
    if result.surge > running:
        w.note(
            "I_surge",
            "surge of the load",
            "A",
            result.surge,
            {},
            {},
            "measured or usual for the kind",
        )
        add(
            Measure(
                "switch_surge",
                "D13",
                "Surge through the channel",
                "A",
                result.surge,
                "max",
                "upper end of the usual surge",
                "I_surge",
                "Out of saturation the channel takes volts and surge at once.",
                stop=part.i_c,
                stop_name="rating",
            )
        )
    pin = w.calc(
        "I_pin",
        "(V_OH_max - V_in)/R_in",
        "A",
        "stiff high pin, least input resistor",
        V_OH_max=(board.logic.max, "V"),
        V_in=(part.v_in.min, "V"),
        R_in=(part.input_resistor.min, "Ω"),
    )
    result.pin_current = pin
    pin_limits(
        context, result, "stiff high pin, least input resistor", "The input resistor is inside."
    )
    power = heat.saturated_loss(drop_max, running, 0.0, 0.0, context.heat_duty, w)
    result.power = power
    junction_measure(
        context,
        result,
        heat.junction(power, part.theta_ja, context.around.ambient, w),
        part.t_j_max,
        why="This channel alone; the package is reckoned with all its channels.",
    )
    pwm_measure(context, result, part.t_on, part.t_off)
    low_side.load_measures(context, result, part.drop_typ[0] / 2, drop_typ, drop_max)
    clamped = volts.max + (part.v_f.max if context.load.kind.inductive else 0.0)
    clamp_open = context.setting("common_pin") == "open"
    if not (clamp_open and context.load.kind.inductive):
        low_side.blocking_measure(context, result, clamped, part.v_ce)
    _join(context, result, part, package, clamp_open)
    result.coil.built_in_clamp = True
    result.array.package = package
    result.array.common_open = clamp_open
    result.array.drop = drop_max
    if context.load.kind.inductive and not clamp_open:
        clamps.switching_off(context, result, clamps.Clamp("diode", _as_diode(part)))
    five_states.five_states(
        context,
        result,
        f"{context.channel.id}.PIN",
        part.v_in.min * 0.6,
        _inside(context, part),
        "the input is over its level",
    )
    result.live = {
        "pin": show(pin, "A"),
        "base": f"≥ {show(level, 'V')}",
        "load": show(running, "A"),
        "switch": f"on ≤ {show(drop_max, 'V')}",
        "volts": result.shown_volts,
    }
    return result


def _inside(context: ChannelContext, part: Array) -> Sized:
    """
    The resistors inside hold an open input off; they stand for a pull resistor of about three times
    the input's.
    """
    value = context.resistor(3 * part.input_resistor.max)
    return Sized("inside", "Input resistors", "R_in", "Ω", value, "inside", False)


def _as_diode(part: Array):
    figures = {"v_r": "50 V", "i_f": "500 mA", "i_peak": "600 mA", "fast": True}
    forward = f"{part.v_f.min} / {part.v_f.typ} / {part.v_f.max} V"
    named = {"family": "diode", "id": "inside", "title": "diode inside"}
    return Diode.model_validate(named | figures | {"v_f": forward})


def _join(
    context: ChannelContext, result: StageResult, part: Array, package: str, clamp_open: bool
) -> None:
    pin = join_pin(context, result)
    rail, switch = load_join.join_low_load(context, result)
    terminals = {"IN": pin, "OUT": switch, "GND": "0V"}
    if not clamp_open:
        terminals["COM"] = rail
    add_part(
        context,
        result,
        f"U{package}",
        "array",
        part.title,
        "common diode pin open" if clamp_open else "common pin to the rail",
        **terminals,
    )
