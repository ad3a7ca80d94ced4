"""
What a contact is held against: share by kind, DC curve, making, wetting, life, and the state when
everything is dead.
"""

from __future__ import annotations

from dataclasses import replace

from latchcore.catalogue.mains_records import Packaged
from latchcore.catalogue.records import Relay
from latchcore.design.context import ChannelContext
from latchcore.design.kinds import STAGES
from latchcore.design.report import Measure, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show
from latchcore.figures.slack import exceeds, falls_short
from latchcore.pieces import contact_life, quench
from latchcore.sums import contacts

#: What has a contact that is held against a load.
Contact = Relay | Packaged
#: How a contact is used: what it breaks of the line, and with what beside it.
USE_SETTINGS = (
    Setting(
        "contact",
        "Contact",
        "choice",
        choices=(
            ("NO", "normally open, the load off when dead"),
            ("NC", "normally closed, the load on when dead"),
        ),
    ),
    Setting(
        "breaks",
        "It breaks",
        "choice",
        choices=(
            ("live", "the plus or live side"),
            ("neutral", "the minus or neutral side"),
            ("both", "both sides, two poles of one relay"),
            ("earth", "the protective earth"),
        ),
    ),
    Setting(
        "moves",
        "It moves",
        "choice",
        choices=(
            ("hot", "while current flows"),
            ("dead", "only while nothing flows: something else breaks first and makes last"),
        ),
    ),
    Setting(
        "side_by_side",
        "Contacts",
        "choice",
        choices=(("one", "one"), ("two", "two side by side, for more current")),
    ),
    Setting(
        "load_clamp",
        "Across the load",
        "choice",
        choices=(
            ("fitting", "what fits an inductive load: diode, on AC a snubber"),
            ("diode", "a diode"),
            ("snubber", "resistor and capacitor"),
            ("varistor", "a varistor"),
            ("none", "nothing"),
        ),
    ),
    *(replace(s, when=("load_clamp", ("fitting", "snubber"))) for s in quench.SETTINGS),
)


#: Operations the usual life of a kind is a share of.
RESISTIVE_LIFE = 1e5


def duty_of(context: ChannelContext) -> tuple[str, dict[str, float]]:
    """Kind of contact duty of a load with its figures."""
    name = context.load.kind.duty or "resistive_heater"
    return name, context.around.catalogue.contacts[name]


def series_switch(context: ChannelContext):
    """
    The channel whose solid-state switch breaks before this contact moves and makes after it, or
    ``None``.
    """
    found = (
        context.around.build.channel(context.channel.series_switch)
        if context.channel.series_switch
        else None
    )
    if found is None or found.id == context.channel.id:
        return None
    traits = STAGES[found.stage.kind].traits
    return found if traits.silent and not traits.air_gap else None


def beginning(context: ChannelContext) -> dict[str, str]:
    """
    Both sides where the line asks for two poles: two lives, or a plug that can be turned round.
    """
    rail, around = context.rail, context.around
    if rail is None or not context.dangerous or not context.alternating:
        return {}
    reversible = around.plug_of(rail) == "reversible"
    return {"breaks": "both"} if around.two_lives(rail) or reversible else {}


def poles_wanted(context: ChannelContext) -> int:
    """How many poles the way it breaks the line takes."""
    turns = context.setting("pattern") == "one"
    return 2 if turns or context.setting("breaks") == "both" else 1


def shared(
    context: ChannelContext, relay: Contact, running: float, closed: bool
) -> contacts.ContactShare:
    """Share, surge and making of a relay's contact for the channel's load."""
    _, kind = duty_of(context)
    measured = context.load.surge if context.load.surge_measured else None
    return contacts.contact_share(
        rating=relay.contact_amperes,
        share=kind["share"],
        surge_ratio=kind["surge"],
        surge_lasts=kind["lasts"],
        running=running,
        making=relay.making,
        closed=closed,
        cheap_board=relay.cheap_board,
        surge=measured,
        printed=relay.printed_for(duty_of(context)[0]),
        tracks=relay.tracks,
    )


def allowed_current(
    context: ChannelContext, relay: Contact, running: float, closed: bool = False
) -> float | None:
    """
    Running current a relay's contact is allowed for the channel's load at its highest supply [A];
    ``None`` where refused.
    """
    _, kind = duty_of(context)
    found = shared(context, relay, running, closed)
    if context.alternating:
        return found.allowed if not falls_short(relay.contact_volts, context.volts.typ) else None
    curve = contacts.dc_curve(context.volts.max, found.rating, relay.dc_good_to)
    if curve is None:
        return None
    allowed = min(found.allowed, curve * _share(context, found))
    return min(allowed, relay.product / context.volts.max) if relay.product else allowed


def _share(context: ChannelContext, found: contacts.ContactShare) -> float:
    """
    What of the DC curve this kind of load gets: its share, or all of it where the print names the
    kind and the volts are ones such prints are made for.
    """
    if found.printed and not exceeds(context.volts.max, contacts.DC_VOLTS[0]):
        return 1.0
    return duty_of(context)[1]["share"]


def contact_measures(
    context: ChannelContext, result: StageResult, relay: Contact, closed: bool
) -> None:
    """Everything a contact is held against, added to the measures of a stage."""
    running, relieved = result.running, series_switch(context)
    dead = bool(relieved) or context.setting("moves") == "dead"
    name, kind = duty_of(context)
    found = shared(context, relay, running, closed)
    contact = result.contact
    contact.share, contact.duty, contact.allowed = (
        found,
        name,
        allowed_current(context, relay, running, closed),
    )
    contact.series_switch, contact.side_by_side = relieved, context.setting("side_by_side") == "two"
    contact.breaks = context.setting("breaks") or "live"
    (_alternating if context.alternating else _direct)(context, result, relay, found, dead)
    contact.moves_dead = dead
    if dead:
        _carries(result, found)
    else:
        _surge(context, result, found)
        life = kind["life"] * (relay.life / RESISTIVE_LIFE if relay.life else 1.0)
        contact_life.measure(context, result, contact.allowed, running, life)
    typical = result.typical
    result.contact.under_wetting = (
        context.volts.min < relay.wetting_volts or typical < relay.wetting_amperes
    ) and typical > 0
    result.contact.wetting = (
        f"{show(relay.wetting_volts, 'V')} and {show(relay.wetting_amperes, 'A')}"
    )


def _alternating(context, result, relay, found, relieved) -> None:
    """
    On alternating current the zero puts the arc out: the printed voltage, and the share of the
    kind.
    """
    w, add, (name, kind) = result.working, result.measures.append, duty_of(context)
    w.note(
        "V_line", "nominal line voltage, as such ratings are meant", "V", context.volts.typ, {}, {}
    )
    add(
        Measure(
            "contact_volts",
            "K3",
            "Voltage across the open contact",
            "V",
            context.volts.typ,
            "max",
            "nominal line",
            "V_line",
            "A contact printed for less does not put the arc out in time.",
            stop=relay.contact_volts,
            stop_name="printed voltage",
        )
    )
    if not relieved:
        if found.printed:
            share = w.note("I_share", "as printed for this kind", "A", found.steady, {}, {})
        else:
            share = w.calc(
                "I_share",
                "share*I_rated",
                "A",
                name.replace("_", " "),
                "what a contact bears of this kind of load",
                share=(kind["share"], ""),
                I_rated=(found.rating, "A"),
            )
        _steady(result, found, min(share, found.steady), name)


def _direct(context, result, relay, found, relieved) -> None:
    """
    On direct current nothing puts the arc out but distance: the curve, and the share of the kind.
    """
    w, add, volts, running, (name, _) = (
        result.working,
        result.measures.append,
        context.volts.max,
        result.running,
        duty_of(context),
    )
    w.note("V_supply_max", "highest rail voltage", "V", volts, {}, {}, "highest supply")
    good_to = relay.dc_good_to if relay.dc_good_to is not None else contacts.DC_VOLTS[-1]
    add(
        Measure(
            "contact_volts",
            "K3",
            "Voltage across the open contact",
            "V",
            volts,
            "max",
            "highest supply",
            "V_supply_max",
            "Direct current has no zero that puts the arc out.",
            stop=good_to,
            stop_name="highest direct voltage it is good to",
        )
    )
    if relay.product and not relieved:
        product = w.calc(
            "P_break",
            "V_supply_max*I_load_max",
            "W",
            "highest supply, least load resistance",
            V_supply_max=(volts, "V"),
            I_load_max=(running, "A"),
        )
        add(
            Measure(
                "contact_product",
                "K3",
                "Volts times amperes at the contact",
                "W",
                product,
                "max",
                "highest supply, least load resistance",
                "P_break",
                "A reed is limited by volts, by amperes, and by both together.",
                stop=relay.product,
                stop_name="product it is printed for",
            )
        )
    curve = contacts.dc_curve(volts, found.rating, relay.dc_good_to, w)
    if curve is None or relieved:
        return
    within = running <= curve
    if volts > contacts.DC_VOLTS[0]:
        add(
            Measure(
                "contact_curve",
                "K3",
                "Current broken at this voltage",
                "A",
                running,
                "max",
                "highest supply, least load resistance",
                "I_load_max",
                "Above thirty volts the arc stands longer and longer: the printed current is for"
                " less.",
                stop=curve,
                stop_name="DC curve of the contact",
            )
        )
    share = w.calc(
        "I_share",
        "share*I_DC",
        "A",
        name.replace("_", " "),
        "what a contact bears of this kind of load",
        share=(_share(context, found), ""),
        I_DC=(curve, "A"),
    )
    _steady(result, found, min(share, found.steady) if within else None, name)


def _steady(
    result: StageResult, found: contacts.ContactShare, steady: float | None, name: str
) -> None:
    result.measures.append(
        Measure(
            "contact_current",
            "K1",
            "Current through the contact",
            "A",
            result.running,
            "max",
            "highest supply, least load resistance",
            "I_load_max",
            "The number on the lid is for a resistive load; this kind gets its share of it.",
            stop=found.rating,
            fix=steady,
            stop_name="rating",
            fix_name=("printed" if found.printed else "share") + f" for a {name.replace('_', ' ')}",
            typical=result.typical,
        )
    )


def _carries(result: StageResult, found: contacts.ContactShare) -> None:
    """
    A contact that moves dead: the switch in series makes and breaks, the contact carries and
    wears by its springs alone.
    """
    result.working.note(
        "N", "mechanical, it opens without current", "", contacts.MECHANICAL_LIFE, {}, {}
    )
    result.contact.life = contacts.MECHANICAL_LIFE
    result.measures.append(
        Measure(
            "contact_current",
            "K1",
            "Current it carries",
            "A",
            result.running,
            "max",
            "highest supply, least load resistance",
            "I_load_max",
            "With a switch in series that breaks first and makes last it only carries.",
            stop=found.rating,
            stop_name="rating",
            typical=result.typical,
        )
    )


def no_pulses(context: ChannelContext, result: StageResult) -> None:
    """D9: a contact follows no PWM, whatever drives its coil."""
    result.pulses.limit = 0.0
    result.measures[:] = [m for m in result.measures if m.key != "pwm"]
    if context.frequency:
        result.working.note("f_mech", "a contact follows no pulses", "Hz", 0.0, {}, {})
        result.measures.append(
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
                stop=context.limits["contact_hertz"],
                stop_name="what a contact should follow",
            )
        )


def _surge(context: ChannelContext, result: StageResult, found: contacts.ContactShare) -> None:
    if not exceeds(found.surge, result.running):
        return
    w = result.working
    w.note(
        "I_make",
        "upper end of the usual surge" if not context.load.surge_measured else "as measured",
        "A",
        found.surge,
        {},
        {},
    )
    result.contact.making_unknown = found.making is None
    if found.making is None:
        return
    limits = dict(stop=found.making) if context.hazardous else dict(fix=found.making)
    result.measures.append(
        Measure(
            "contact_surge",
            "K2",
            "Current at closing",
            "A",
            found.surge,
            "max",
            "upper end of the usual surge",
            "I_make",
            "A contact that closes onto more than it can make welds, and the load then stays on.",
            **limits,  # type: ignore[arg-type]
            stop_name="making capacity",
            fix_name="making capacity",
        )
    )
