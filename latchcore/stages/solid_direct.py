"""A solid-state device for direct current, in one block with its barrier."""

from __future__ import annotations

from latchcore.catalogue.mains_records import SolidDirect
from latchcore.catalogue.switch_records import Diode
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of
from latchcore.figures.quantity import show
from latchcore.pieces import ac_leak, contact_join, contacts, low_side, sink, solid_input
from latchcore.pieces.frame import (
    Traits,
    add_part,
    load_domain,
    power_load,
    pwm_measure,
    return_node,
)

kind = "solid_direct"
title = "Solid-state device for direct current"
summary = (
    "Silent, a barrier inside, for direct current only; plus and minus of its output matter. Leaks"
    " when off, fails shorted."
)
settings = (
    Setting("device", "Device", "part", family="solid_direct"),
    *solid_input.SETTINGS,
    sink.SETTING,
    *(s for s in contacts.USE_SETTINGS if s.key == "load_clamp"),
)
traits = Traits(
    isolates=True,
    silent=True,
    side="high",
    cost=10,
    fails="shorted: the load stays on",
    note="leaks when off: no means of isolation",
)
suits = power_load
#: A surge rating of such a device is printed for so long [s].
SURGE_FOR = 0.1


def size(context: ChannelContext) -> StageResult:
    """Size the stage with the user's device, or the smallest class that holds."""
    fixed = context.around.part(context.setting("device"))
    if isinstance(fixed, SolidDirect):
        return _with(context, fixed, False)
    return best_of(context.around.family("solid_direct"), lambda part: _with(context, part, True))


def _with(context: ChannelContext, part: SolidDirect, auto: bool) -> StageResult:
    result = StageResult(kind, title, {"switch": part}, auto_part=auto)
    result.values.append(Sized("device", "Device", "K1", "", None, part.title, not auto))
    result.output.kind = "dc"
    result.barrier = part.isolation
    running = low_side.running_current(context, result, part.drop)
    low_side.switch_current_measures(
        context, result, part.i_max, part.i_surge, "Output", "pulse_mosfet", SURGE_FOR
    )
    sink.measure(context, result, part, running, context.enclosed)
    low_side.load_measures(context, result, 0.0, part.drop / 2, part.drop)
    fastest = "its own edges, as printed"
    pwm_measure(context, result, part.t_on, part.t_off, fastest)
    result.working.note("I_typ", "typical running current", "A", result.typical, {}, {})
    ac_leak.leakage_measure(context, result, part.leakage)
    plus, minus = solid_input.drive(context, result, part)
    fed, domain = f"{context.channel.id}.SW", load_domain(context)
    result.netlist.domains |= {context.feed.id: domain, fed: domain}
    contact_join.across_load(context, result, fed, return_node(context))
    _blocking(context, result, part)
    add_part(
        context,
        result,
        "K1",
        "solid_direct",
        part.title,
        f"{part.isolation} barrier",
        barrier=part.isolation,
        domain=domain,
        **{"+": plus, "-": minus, "OUT+": context.feed.id, "OUT-": fed},
    )
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "coil": show(part.input_current, "A"),
        "load": show(running, "A"),
        "switch": f"on ≤ {show(part.drop, 'V')}",
        "volts": result.shown_volts,
    }
    return result


def _blocking(context: ChannelContext, result: StageResult, part: SolidDirect) -> None:
    """D3: the highest supply, and on top of it what the clamp of the load adds."""
    diode = result.parts.get("load_diode")
    added = diode.v_f.max if isinstance(diode, Diode) else 0.0
    volts = result.working.calc(
        "V_out",
        "V_supply_max + V_F_max",
        "V",
        "highest supply",
        "what the diode at the load adds as it opens" if added else "nothing kicks",
        V_supply_max=(context.volts.max, "V"),
        V_F_max=(added, "V"),
    )
    result.measures.append(
        Measure(
            "blocking",
            "D3",
            "Voltage on its open output",
            "V",
            volts,
            "max",
            "highest supply",
            "V_out",
            "Over its voltage the output breaks through and stays on.",
            stop=part.v_max,
            stop_name="printed voltage",
        )
    )
