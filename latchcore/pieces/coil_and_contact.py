"""A bare relay: its coil on an NPN, its contact in the load's own circuit, an air gap between."""

from __future__ import annotations

from dataclasses import replace

from latchcore.catalogue.records import Relay
from latchcore.design.context import ChannelContext
from latchcore.design.report import Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.document.models import Load, Rail
from latchcore.figures.quantity import show
from latchcore.figures.working import renamed
from latchcore.pieces import (
    bipolar_low,
    clamps,
    contact_join,
    contacts,
    dry_contact,
    fet_low,
    hold_rc,
    lines,
    low_side,
)
from latchcore.pieces.frame import add_part

SETTINGS = (
    Setting("relay", "Relay", "part", family="relay"),
    Setting("coil_rail", "Coil fed from", "rail"),
    *contacts.USE_SETTINGS,
    Setting(
        "drive",
        "Coil switched by",
        "choice",
        choices=(
            ("whichever", "whichever serves: an NPN, else a MOSFET"),
            ("npn", "an NPN"),
            ("nmos", "an N-channel MOSFET"),
        ),
    ),
    Setting("transistor", "Transistor", "part", family="npn", when=("drive", ("whichever", "npn"))),
    Setting("mosfet", "MOSFET", "part", family="nmos", when=("drive", ("whichever", "nmos"))),
    Setting("base_resistor", "Base resistor", "ohms", when=("drive", ("whichever", "npn"))),
    Setting(
        "gate_resistor",
        "Gate resistor",
        "ohms",
        may_omit=True,
        when=("drive", ("whichever", "nmos")),
    ),
    Setting("pull_resistor", "Pull resistor of the coil's switch", "ohms", may_omit=True),
    *clamps.SETTINGS,
    *hold_rc.SETTINGS,
    Setting("resistor_watts", "Resistor rating", "watts"),
)
#: The coil is a load of its own beside the one on the contact.
COIL_NAMES = {"I_load": "I_coil", "R_load": "R_coil", "V_supply": "V_feed", "V_rail": "V_feed"}


def choose(context: ChannelContext) -> tuple[tuple[Relay, Rail], bool]:
    """
    Relay and coil rail: as fixed, else the pair of a relay whose contact carries the load and a
    rail nearest its coil; and whether the relay was chosen here.
    """
    around = context.around
    fixed, rail = around.part(context.setting("relay")), context.fixed_rail("coil_rail")
    rails = (
        [rail]
        if rail is not None
        else [r for r in around.build.rails if not around.alternating(r)] or around.build.rails
    )
    family = [fixed] if isinstance(fixed, Relay) else around.family("relay")
    if dry_contact.across_a_pair(context):
        return _for_a_pair(context, family, rails), not isinstance(fixed, Relay)
    current, closed = low_side.rough_current(context), context.setting("contact") == "NC"

    def unfit(pair) -> tuple:
        relay, feed = pair
        limit = contacts.allowed_current(context, relay, current, closed)
        off = abs(around.rail_volts(feed).typ - relay.coil) / relay.coil
        short = limit is None or limit < current
        # A hazardous load wants the distance to the coil; a load broken on both sides wants two
        # poles.
        unfit = (
            (relay.form == ("A" if closed else "B"))
            + (context.dangerous and relay.isolation != "reinforced")
            + (relay.poles < contacts.poles_wanted(context))
            + (relay.kind == "reed")
        )
        return (
            unfit,
            short,
            off > context.limits["coil_match"],
            relay.poles,
            -relay.contact_amperes if short else relay.contact_amperes,
            off,
        )

    relay, feed = min(((r, f) for r in family for f in rails), key=unfit)
    return (relay, feed), not isinstance(fixed, Relay)


def _for_a_pair(context: ChannelContext, family: list[Relay], rails: list[Rail]):
    """Relay and coil rail for somebody's pair: one whose contact stays clean at so little."""
    pair, around = context.load, context.around

    def unfit(both: tuple[Relay, Rail]) -> tuple:
        relay, feed = both
        off = abs(around.rail_volts(feed).typ - relay.coil) / relay.coil
        dirty = pair.rated < relay.wetting_volts or pair.current.typ < relay.wetting_amperes
        return off > context.limits["coil_match"], dirty, relay.contact_amperes, off

    return min(((r, f) for r in family for f in rails), key=unfit)


def size(context: ChannelContext, kind: str, title: str) -> StageResult:
    """Size the coil's transistor on its rail, then hold the contact against the load."""
    (relay, feed), auto = choose(context)
    spread = relay.coil_resistance
    coil_load = Load(
        kind="relay_coil",
        voltage=f"{relay.coil:g} V",
        figure=f"{spread.min:g} / {spread.typ:g} / {spread.max:g} Ω",
        pull_in=f"{relay.pull_in * 100:g} %",
        maximum=f"{relay.maximum * 100:g} %",
        hazards=context.channel.load.hazards or [],
    )
    coil = context.around.channel(
        # The channel's wire is its load's; the coil is on the stage's own board.
        context.channel.model_copy(
            update={
                "load": coil_load,
                "rail": feed.id,
                "pwm": None,
                "wire_length": None,
                "wire_area": None,
            }
        )
    )
    result = _driven(coil, context.setting("drive") or "whichever", kind, title)
    result.parts["relay"] = relay
    result.values.insert(
        0,
        Sized(
            "relay",
            "Relay",
            "K1",
            "",
            None,
            relay.title,
            not auto,
            detail=f"coil on {feed.name}",
        ),
    )
    closed = context.setting("contact") == "NC"
    # Pulses on this channel would be meant for the load: a coil is not held with less here.
    result.coil.hold = None
    draw = result.running
    _join(context, result, relay, closed)
    result.coil.rail, result.coil.draws = feed.id, draw
    result.barrier = relay.isolation
    result.contact.which = "NC" if closed else "NO"
    result.contact.inverts = closed
    result.contact.relay = relay
    # From here on the figures are the load's: the coil's keep names of their own.
    result.working.rename(COIL_NAMES)
    for held in (result.measures, result.states):
        held[:] = [replace(item, symbol=renamed(item.symbol, COIL_NAMES)) for item in held]  # type: ignore[misc]
    if dry_contact.across_a_pair(context):
        dry_contact.measures(context, result, relay, closed)
        contacts.no_pulses(context, result)
        result.live |= lines.live(context, result, context.load.current.max, "closed")
        result.live |= {"coil": show(draw, "A")}
        return result
    low_side.running_current(context, result)
    contacts.contact_measures(context, result, relay, closed)
    result.load_volts = (context.volts.min, context.volts.max)
    contacts.no_pulses(context, result)
    result.live |= {
        "coil": show(draw, "A"),
        "load": show(result.running, "A"),
        "volts": result.shown_volts,
    }
    return result


def _driven(coil: ChannelContext, drive: str, kind: str, title: str) -> StageResult:
    """The coil on an NPN, or on a MOSFET where the pin cannot feed the base it needs."""
    if drive != "nmos":
        result = bipolar_low.size(coil, "npn", kind, title)
        if drive == "npn" or result.badness == 0:
            return result
    own = coil.channel.stage.settings
    on_fet = {k: v for k, v in own.items() if k not in ("transistor", "mosfet")}
    if "mosfet" in own:
        on_fet["transistor"] = own["mosfet"]
    stage = coil.channel.stage.model_copy(update={"settings": on_fet})
    on_mosfet = coil.around.channel(coil.channel.model_copy(update={"stage": stage}))
    other = fet_low.size(on_mosfet, kind, title)
    return other if drive == "nmos" or other.badness < result.badness else result


def _join(context: ChannelContext, result: StageResult, relay: Relay, closed: bool) -> None:
    net, prefix = result.netlist, context.channel.id
    coil = net.the(f"{prefix}.LOAD")
    net.parts.remove(coil)
    result.coil.plus = coil.terminals["+"]
    result.coil.switch = coil.terminals["-"]
    pair = dry_contact.across_a_pair(context)
    contact = (dry_contact if pair else contact_join).join(context, result, closed)
    add_part(
        context,
        result,
        "K1",
        "relay",
        relay.title,
        f"{'NC' if closed else 'NO'} contact, {relay.isolation} barrier",
        barrier=relay.isolation,
        domain="low",
        **{"1": coil.terminals["+"], "2": coil.terminals["-"], **contact},
    )
