"""
A ready-made solid-state module: the input of a relay module, a semiconductor where the contact
would be.
"""

from __future__ import annotations

from latchcore.catalogue.records import Module
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.figures.quantity import show
from latchcore.pieces import ac_leak, contact_join, contacts, low_side, module_input
from latchcore.pieces.frame import (
    Traits,
    add_part,
    load_domain,
    power_load,
    pwm_measure,
    return_node,
)

kind = "solid_module"
title = "Solid-state module"
summary = (
    "Bought ready, silent: made for direct or for alternating current, never for both; leaks when"
    " off, fails shorted."
)
OUTPUTS = ("dc", "ac_zero", "ac_random")
settings = (*module_input.SETTINGS, *(s for s in contacts.USE_SETTINGS if s.key == "load_clamp"))
traits = Traits(
    isolates=True,
    silent=True,
    side="high",
    cost=10,
    fails="shorted: the load stays on",
    note="leaks when off: no means of isolation",
)
suits = power_load
#: Edges of a direct-current output where none are printed [s]: a coupler and a gate it empties
#: slowly.
EDGE = 1e-3


def size(context: ChannelContext) -> StageResult:
    """Reckon one channel of the module."""
    wanted = ("ac_zero", "ac_random") if context.alternating else ("dc",)
    fixed = context.around.part(context.setting("module"))
    outputs = OUTPUTS if isinstance(fixed, Module) and fixed.output != "contact" else wanted
    module, auto = module_input.module_of(context, outputs)
    feed = module_input.coil_rail(context, module)
    result = StageResult(kind, title, {"module": module}, auto_part=auto)
    unit = module_input.begin(context, result, module, auto, feed)
    terminals = module_input.join_input(context, result, module, feed)
    domain, fed = load_domain(context), f"{context.channel.id}.SW"
    result.netlist.domains |= {context.feed.id: domain, fed: domain}
    add_part(
        context,
        result,
        "K1",
        module_input.kind_of(context, module, "solid"),
        module.title,
        f"{module.isolation} barrier",
        barrier=module.isolation,
        domain="low",
        **terminals,
        **{"OUT+": context.feed.id, "OUT-": fed},
    )
    contact_join.across_load(context, result, fed, return_node(context))
    module_input.drive_input(context, result, module, unit, feed)
    volts = context.around.rail_volts(feed)
    draw = result.working.calc(
        "I_module",
        "V_feed/R_in",
        "A",
        "highest rail, its input side",
        V_feed=(volts.max, "V"),
        R_in=(module.coil_resistance.min, "Ω"),
    )
    result.coil.rail, result.coil.draws = feed.id, draw
    result.barrier = module.isolation
    result.output.kind = module.output
    drop = module.out_drop or (1.6 if module.output != "dc" else 0.5)
    low_side.running_current(context, result, drop if module.output == "dc" else 0.0)
    _output(context, result, module)
    if context.alternating:
        result.load_volts = (context.volts.min - drop, context.volts.max)
        result.pulses.limit = 0.0
    else:
        low_side.load_measures(context, result, 0.0, drop / 2, drop)
        pwm_measure(
            context, result, EDGE, EDGE, "nothing printed: a coupler and a gate it empties slowly"
        )
    result.power = result.working.calc(
        "P_out",
        "V_drop*I_load_max",
        "W",
        "highest drop and current",
        V_drop=(drop, "V"),
        I_load_max=(result.running, "A"),
    )
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "coil": show(draw, "A"),
        "load": show(result.running, "A"),
        "switch": f"on ≤ {show(drop, 'V')}",
        "volts": result.shown_volts,
    }
    return result


def _output(context: ChannelContext, result: StageResult, module: Module) -> None:
    """Current, voltage, leakage and holding current of the output."""
    w, add = result.working, result.measures.append
    rating = module.contact_amperes * (0.5 if module.cheap_board else 1.0)
    w.note(
        "I_out",
        (
            "half of what is printed: its board has no heat sink"
            if module.cheap_board
            else "as printed"
        ),
        "A",
        rating,
        {},
        {},
    )
    add(
        Measure(
            "switch_current",
            "D2",
            "Current through its output",
            "A",
            result.running,
            "max",
            "highest supply, least load resistance",
            "I_load_max",
            "Unknown solid-state modules carry half of what is printed on them.",
            stop=module.contact_amperes,
            fix=rating,
            stop_name="printed current",
            fix_name="what its board sheds",
            typical=result.typical,
        )
    )
    line = context.volts.typ if context.alternating else context.volts.max
    w.note("V_out", "nominal line" if context.alternating else "highest supply", "V", line, {}, {})
    add(
        Measure(
            "blocking",
            "D3",
            "Voltage on its open output",
            "V",
            line,
            "max",
            "nominal line" if context.alternating else "highest supply",
            "V_out",
            "Over its voltage the output breaks through and stays on.",
            stop=module.contact_volts,
            stop_name="printed voltage",
        )
    )
    if module.out_leakage:
        w.note("I_typ", "typical running current", "A", result.typical, {}, {})
        ac_leak.leakage_measure(context, result, module.out_leakage)
    if module.out_holding and context.alternating:
        w.note("I_hold", "as printed", "A", module.out_holding, {}, {})
        add(
            Measure(
                "holding",
                "A4",
                "Running current against its holding current",
                "A",
                result.typical,
                "min",
                "typical load",
                "I_typ",
                "Below its holding current the output drops out in every half-cycle.",
                fix=module.out_holding,
                fix_name="holding current",
            )
        )
