"""A digital potentiometer in the place of somebody else's knob."""

from __future__ import annotations

from latchcore.catalogue.records import DigitalPot
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show
from latchcore.pieces import lines
from latchcore.pieces.frame import Traits, add_part, join_pin, model_only

kind = "analogue_pot"
title = "Digital potentiometer"
summary = (
    "Steps in place of the knob's track; it must bear the track's volts, and its bus goes through"
    " an isolator."
)
settings = (Setting("pot", "Digital potentiometer", "part", family="digital_pot"),)
traits = Traits(
    isolates=True,
    cost=4,
    fails="stays where it was",
    note="level wanted through an isolator on the bus",
)
suits = model_only("analogue")
missing = lines.no_rail_needed


def size(context: ChannelContext) -> StageResult:
    """Match the range of the pot to what was measured at the knob."""
    result = StageResult(kind, title)
    w, add, load = result.working, result.measures.append, context.load
    fixed = context.around.part(context.setting("pot"))
    family = context.around.family("digital_pot")
    track = load.resistance.typ
    part = (
        fixed
        if isinstance(fixed, DigitalPot)
        else min(family, key=lambda p: abs(p.resistance.typ - track))
    )
    result.parts["pot"] = part
    result.values.append(
        Sized("pot", "Digital potentiometer", "U1", "", None, part.title, fixed is not None)
    )
    w.note(
        "V_track", "voltage across the track and a tenth", "V", load.rated * 1.1, {}, {}, "highest"
    )
    add(
        Measure(
            "track_volts",
            "P9",
            "Voltage across the track",
            "V",
            load.rated * 1.1,
            "max",
            "highest",
            "V_track",
            "Beyond its supply the potentiometer's protection conducts.",
            stop=part.v_max,
            stop_name="most it bears",
        )
    )
    current = w.calc(
        "I_wiper",
        "V_track/R_track_min",
        "A",
        "highest voltage, least track",
        V_track=(load.rated * 1.1, "V"),
        R_track_min=(part.resistance.min, "Ω"),
    )
    add(
        Measure(
            "wiper_current",
            "D2",
            "Current in the track",
            "A",
            current,
            "max",
            "highest voltage, least track",
            "I_wiper",
            "Its switches are small.",
            stop=part.i_max,
            stop_name="rating",
        )
    )
    off = w.calc(
        "mismatch",
        "larger(R_pot_max/R_knob, R_knob/R_pot_min)",
        "",
        "corners of the track",
        R_pot_max=(part.resistance.max, "Ω"),
        R_knob=(track, "Ω"),
        R_pot_min=(part.resistance.min, "Ω"),
    )
    add(
        Measure(
            "range_match",
            "D11",
            "Track against the knob's",
            "",
            off,
            "max",
            "corners of the track",
            "mismatch",
            "A track much higher or lower than the knob's shifts the whole range.",
            fix=3.0,
            fix_name="three times either way",
        )
    )
    w.note("R_W", "its wiper, in series with whatever reads it", "Ω", part.wiper, {}, {}, "highest")
    step = w.calc(
        "V_step", "V_track/(n - 1)", "V", "one step", V_track=(load.rated, "V"), n=(part.steps, "")
    )
    result.analogue_step = step
    result.pulses.limit = None
    result.barrier = "basic"
    board = context.board
    w.note("I_pin", "an isolator's input", "A", board.leakage * 10, {}, {}, "logic input")
    result.pin_current = board.leakage * 10
    pin = join_pin(context, result)
    top, bottom, wiper, bus = (
        f"{context.channel.id}.{n}" for n in ("LINE+", "LINE-", "WIPER", "BUS")
    )
    add_part(
        context,
        result,
        "U2",
        "isolator",
        "bus isolator",
        "basic barrier",
        barrier="basic",
        **{"in": pin, "gnd": "0V", "out": bus, "ret": bottom},
    )
    add_part(
        context,
        result,
        "U1",
        "digital_pot",
        part.title,
        domain="low",
        BUS=bus,
        H=top,
        W=wiper,
        L=bottom,
    )
    add_part(
        context,
        result,
        "LOAD",
        "load",
        f"{context.channel.load.voltage}, {context.channel.load.figure}",
        "somebody else's knob",
        domain="low",
        **{"+": top, "-": wiper},
    )
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "load": f"{show(step, 'V')} a step",
        "switch": "",
        "volts": context.channel.load.voltage,
    }
    return result
