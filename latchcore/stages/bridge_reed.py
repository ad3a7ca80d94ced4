"""
A reed relay bridges somebody else's button: no polarity, no leakage, an air gap; its coil hangs on
an NPN.
"""

from __future__ import annotations

from latchcore.catalogue.records import Reed
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.document.models import Load, Rail
from latchcore.pieces import bipolar_low, dry_contact, lines
from latchcore.pieces.frame import Traits, add_part, model_only

kind = "bridge_reed"
title = "Reed relay across the pair"
summary = (
    "A dry contact that knows no polarity and leaks nothing; the coil takes some milliamperes from"
    " a rail."
)
settings = (
    Setting("reed", "Reed relay", "part", family="reed"),
    Setting("coil_rail", "Coil fed from", "rail"),
    *bipolar_low.settings_for("npn", schools=False),
)
traits = Traits(
    isolates=True,
    air_gap=True,
    silent=True,
    cost=3,
    fails="stays open, or welds on a surge",
    note="a faint tick, half a millisecond",
)
suits = model_only(*dry_contact.FOREIGN)
missing = dry_contact.missing


def reed_of(context: ChannelContext) -> tuple[Reed, Rail, bool]:
    """
    The reed the user fixed, or the class whose coil fits a rail best, with that rail: as fixed,
    else the nearest to a coil's volts, the one its channel hangs on first among equals.
    """
    around = context.around
    fixed, rail = around.part(context.setting("reed")), context.fixed_rail("coil_rail")
    own = sorted(dry_contact.coil_rails(context), key=lambda r: r.id != context.channel.rail)
    rails = [rail] if rail else own or around.build.rails
    family = [fixed] if isinstance(fixed, Reed) else around.family("reed")
    reed, feed = min(
        ((r, f) for f in rails for r in family),
        key=lambda both: abs(both[0].coil - around.rail_volts(both[1]).typ),
    )
    return reed, feed, not isinstance(fixed, Reed)


def size(context: ChannelContext) -> StageResult:
    """Size an NPN for the coil, then hold the contact against the pair."""
    reed, feed, auto = reed_of(context)
    load = Load(
        kind="relay_coil",
        voltage=f"{reed.coil:g} V",
        figure=f"{reed.coil_resistance:g} Ω",
        pull_in=f"{reed.pull_in * 100:g} %",
        hazards=[],
        inductance="50 mH",
    )
    # The channel's wire is the pair's; the coil is on the stage's own board.
    bare = {"load": load, "rail": feed.id, "wire_length": None, "wire_area": None}
    coil = context.around.channel(context.channel.model_copy(update=bare))
    result = bipolar_low.size(coil, "npn", kind, title)
    result.parts["reed"] = reed
    result.values.insert(0, Sized("reed", "Reed relay", "K1", "", None, reed.title, not auto))
    net, prefix = result.netlist, context.channel.id
    coil_part = net.the(f"{prefix}.LOAD")
    net.parts.remove(coil_part)
    plus, minus = f"{prefix}.LINE+", f"{prefix}.LINE-"
    add_part(
        context,
        result,
        "K1",
        "reed",
        reed.title,
        f"{reed.isolation} barrier",
        barrier=reed.isolation,
        domain="low",
        **{"1": coil_part.terminals["+"], "2": coil_part.terminals["-"], "3": plus, "4": minus},
    )
    lines.join_line(context, result, plus, minus)
    w, add = result.working, result.measures.append
    volts, current = dry_contact.pair_measures(
        context,
        result,
        reed,
        1.0,
        "Each of volts, amperes and their product is a limit of a reed.",
        "A reed welds on what a power contact laughs at.",
    )
    product = w.calc(
        "VA", "V_line*I_line", "W", "opening under load", V_line=(volts, "V"), I_line=(current, "A")
    )
    add(
        Measure(
            "contact_product",
            "K3",
            "Volts times amperes",
            "W",
            product,
            "max",
            "opening under load",
            "VA",
            "Each of volts, amperes and their product is a limit of a reed.",
            stop=reed.contact_product,
            stop_name="contact rating",
        )
    )
    # A contact that opens and closes mechanically is no pulse-width modulator, whatever its
    # transistor could do.
    result.measures[:] = [m for m in result.measures if m.key != "pwm"]
    slow = w.calc(
        "f_mech",
        "share/(2*t_op)",
        "Hz",
        "armature",
        share=(context.limits["pwm_edge_share"], ""),
        t_op=(reed.operate, "s"),
    )
    result.pulses.limit = 0.0
    if context.frequency:
        add(
            Measure(
                "pwm",
                "D9",
                "PWM on a mechanical contact",
                "Hz",
                context.frequency,
                "max",
                "armature",
                "f_mech",
                "A contact wears with every operation: PWM is not for it.",
                stop=min(slow, 0.01 * context.frequency),
                stop_name="nothing a contact should follow",
            )
        )
    result.barrier = reed.isolation
    result.coil.rail, result.coil.draws = feed.id, result.running
    result.running = 0.0
    result.coil.switch = coil_part.terminals["-"]
    result.coil.plus = coil_part.terminals["+"]
    result.live |= {
        "line": lines.live(context, result, current, "closed")["load"],
        "volts": context.channel.load.voltage,
    }
    return result
