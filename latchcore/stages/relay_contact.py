"""A bare relay: its coil on an NPN, its contact in the load's own circuit, an air gap between."""

from __future__ import annotations

from dataclasses import replace

from latchcore.catalogue.records import Relay
from latchcore.context import ChannelContext
from latchcore.document.models import Load
from latchcore.quantity import show, span
from latchcore.report import Sized, StageResult
from latchcore.stages import bipolar_low, contacts, low_side
from latchcore.stages.base import Setting
from latchcore.stages.frame import Traits, add_part, power_only, return_node
from latchcore.working import renamed

kind = "relay_contact"
title = "Relay contact"
summary = "A coil on a transistor, a contact for the load: an air gap, no polarity, a click, and a contact that wears."
settings = (
    Setting("relay", "Relay", "part", family="relay"),
    Setting("coil_rail", "Coil fed from", "rail"),
    Setting("contact", "Contact", "choice", choices=(("NO", "normally open, the load off when dead"), ("NC", "normally closed, the load on when dead"))),
    Setting("load_clamp", "Clamp at the load", "choice", choices=(("diode", "diode across an inductive load"), ("none", "none"))),
    *bipolar_low.settings_for("npn", schools=False),
)
traits = Traits(isolates=True, air_gap=True, silent=False, side="high", cost=4, fails="welds on, or does not close", note="the contact breaks either side of the load")
suits = power_only
#: The coil is a load of its own beside the one on the contact.
COIL_NAMES = {"I_load": "I_coil", "R_load": "R_coil", "V_supply": "V_feed", "V_rail": "V_feed"}


def missing(context: ChannelContext) -> list[str]:
    """A coil needs a rail of its own voltage besides the load's."""
    return context.missing


def choose(context: ChannelContext) -> tuple[Relay, object, bool]:
    """Relay and coil rail: as fixed, else the pair of a relay whose contact carries the load and a rail nearest its coil."""
    around = context.around
    fixed, rail = around.part(context.setting("relay")), context.fixed_rail("coil_rail")
    rails = [rail] if rail is not None else around.build.rails
    family = [fixed] if isinstance(fixed, Relay) else around.family("relay")
    current = low_side.rough_current(context)

    def unfit(pair) -> tuple:
        relay, feed = pair
        limit = contacts.allowed_current(context, relay, current)
        off = abs(around.rail_volts(feed).typ - relay.coil) / relay.coil
        short = limit is None or limit < current
        return (short, off > 0.12, -relay.contact_amperes if short else relay.contact_amperes, off)

    relay, feed = min(((r, f) for r in family for f in rails), key=unfit)
    return relay, feed, not isinstance(fixed, Relay)


def size(context: ChannelContext) -> StageResult:
    """Size the coil's transistor on its rail, then hold the contact against the load."""
    relay, feed, auto = choose(context)
    spread = relay.coil_resistance
    coil_load = Load(
        kind="relay_coil", voltage=f"{relay.coil:g} V", figure=f"{spread.min:g} / {spread.typ:g} / {spread.max:g} Ω",
        pull_in=f"{relay.pull_in * 100:g} %", maximum=f"{relay.maximum * 100:g} %", hazards=context.channel.load.hazards or [],
    )  # fmt: skip
    coil = context.around.channel(context.channel.model_copy(update={"load": coil_load, "rail": feed.id, "pwm": None}))
    result = bipolar_low.size(coil, "npn", kind, title)
    result.parts["relay"] = relay
    result.values.insert(0, Sized("relay", "Relay", "K1", "", None, relay.title, not auto, detail=f"coil on {feed.name}"))
    closed = context.setting("contact") == "NC"
    # Pulses on this channel would be meant for the load: a coil is not held with less here.
    result.facts.pop("hold", None)
    draw = result.running
    _join(context, result, relay, closed)
    result.facts |= {"coil_draw": (feed.id, draw), "barrier": relay.barrier, "contact": "NC" if closed else "NO", "inverts": closed, "relay": relay}
    # From here on the figures are the load's: the coil's keep names of their own.
    result.working.rename(COIL_NAMES)
    for held in (result.measures, result.states):
        held[:] = [replace(item, symbol=renamed(item.symbol, COIL_NAMES)) for item in held]
    low_side.running_current(context, result)
    contacts.contact_measures(context, result, relay, closed)
    result.load_volts = (context.volts.min, context.volts.max)
    contacts.no_pulses(context, result)
    result.live |= {"coil": show(draw, "A"), "load": show(result.running, "A"), "volts": span(*result.load_volts, "V")}
    return result


def _join(context: ChannelContext, result: StageResult, relay: Relay, closed: bool) -> None:
    net, prefix, ground = result.netlist, context.channel.id, return_node(context)
    coil = net.part(f"{prefix}.LOAD")
    net.parts.remove(coil)
    result.facts |= {"coil_rail": coil.terminals["+"], "coil_switch": coil.terminals["-"]}
    rail, fed = context.rail.id, f"{prefix}.FED"
    net.domains |= {rail: "low", fed: "low"}
    net.domains.setdefault(ground, "low")
    add_part(context, result, "K1", "relay", relay.title, f"{'NC' if closed else 'NO'} contact, {relay.barrier} barrier", domain="low",
             **{"1": coil.terminals["+"], "2": coil.terminals["-"], "COM": rail, "NC" if closed else "NO": fed})  # fmt: skip
    contacts.load_on_contact(context, result, fed, ground)
