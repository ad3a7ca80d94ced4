"""
Contacts: wetting, making nobody states, the state when everything is dead, life, and which
conductor is broken.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import digits, show
from latchcore.figures.slack import within
from latchcore.pieces import contact_life
from latchcore.sums import suppression


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """
    K2 (undecided), K4, K5, K6 (note), K7 to K10, and C4, C5, A5 at the load, of one channel that
    switches by a contact.
    """
    if result.contact.which is None:
        return []
    where, contact, found = context.channel.id, result.contact, []
    if result.drive.active == "unknown":
        found.append(
            Finding(
                "P12",
                "check",
                where,
                "Which level switches this module on?",
                "Its trigger level is not known; every state below is a guess until it is.",
                "Touch its input to 0 V with a wire, the board away: if it clicks it is active"
                " low.",
            )
        )
    if contact.making_unknown and not contact.moves_dead:
        surge = contact.share.surge
        found.append(
            Finding(
                "K2",
                "check",
                where,
                "Can the contact make this surge?",
                f"It closes onto up to {show(surge, 'A')} for under a millisecond; nothing states"
                " what it can make.",
                "A short gulp needs an inrush rating, or a relay with a printed making capacity.",
            )
        )
    if contact.under_wetting:
        found.append(
            Finding(
                "K4",
                "check",
                where,
                "Too little current to keep the contact clean",
                f"{contact.carries or _carries(context, result)}; it wants at least"
                f" {contact.wetting}.",
                "A power contact that never burns its film off turns unsure; dry signals want gold,"
                " a reed or solid state.",
            )
        )
    relay = contact.relay
    found += _form(context, result, relay) if relay is not None else []
    if contact.dry:
        return found
    days, wanted = contact.life_days, contact_life.years_wanted(context) * 365
    if days is not None and 365 <= days < wanted:
        found.append(
            Finding(
                "K6",
                "note",
                where,
                "The contact wears out before long",
                f"About {digits(days / 365, 2)} years at {context.channel.cycles_per_day} times a"
                " day.",
                "Every opening burns a little of the contact away; a larger relay lasts longer.",
                "at the highest running current",
            )
        )
    return found + across(context, result) + _line(context, result, relay)


def _carries(context: ChannelContext, result: StageResult) -> str:
    return f"{show(result.typical, 'A')} at {show(context.volts.typ, 'V')}"


def _form(context: ChannelContext, result: StageResult, relay) -> list[Finding]:
    """
    What the relay does not have, and what its contact does not bear: form, poles, hot switching,
    contacts side by side.
    """
    where, contact, hazard, found = context.channel.id, result.contact, context.hazardous, []
    if (contact.which == "NC" and relay.form == "A") or (
        contact.which == "NO" and relay.form == "B"
    ):
        found.append(
            Finding(
                "K7",
                "stop",
                where,
                f"This relay has no {contact.which} contact",
                f"{relay.title} is form {relay.form}.",
                "Form A makes, B breaks, C changes over.",
                lasting=hazard,
                cause="form",
            )
        )
    if contact.side_by_side:
        found.append(
            Finding(
                "K9",
                "stop",
                where,
                "Contacts side by side for more current",
                f"{show(result.running, 'A')} is meant to share itself between two contacts.",
                "They never make together: the first one in and the last one out carries"
                " everything, and welds.",
                lasting=hazard,
            )
        )
    if contact.moves_dead and contact.series_switch is None and not contact.turns:
        found.append(
            Finding(
                "K5",
                "note",
                where,
                "It moves dead because it is said to",
                f"{show(result.running, 'A')} at {show(context.volts.max, 'V')} would be its first"
                " hot move; nothing in this build sees to it.",
                "One slip of the program and it makes or breaks under load: name the switch in"
                " series where it is in the build.",
            )
        )
    if relay.kind == "reed" and not contact.moves_dead and not contact.dry:
        found.append(
            Finding(
                "K5",
                "fix",
                where,
                "A reed opened and closed under load",
                f"{show(result.running, 'A')} at {show(context.volts.max, 'V')} is made and broken"
                " by a reed.",
                "A reed's thin contacts weld and burn on the least arc; it routes what another"
                " switch has stopped.",
            )
        )
    return found


def across(context: ChannelContext, result: StageResult) -> list[Finding]:
    """C4, C5 and A5: what takes the kick of the load on the contact."""
    where, hazard, clamp = context.channel.id, context.hazardous, result.across.load_clamp
    if clamp == "diode" and context.alternating:
        return [
            Finding(
                "C5",
                "stop",
                where,
                "A plain diode across an AC load",
                "Every other half-cycle it is a short across the line.",
                "On alternating current a snubber or a varistor takes the kick, never a diode.",
                "negative half-cycle",
                lasting=True,
            )
        ]
    if (
        result.across.snubber is not None
        and context.alternating
        and (wrong := _snubber(context, result))
    ):
        return wrong
    if not context.load.kind.inductive:
        return []
    if context.alternating:
        if clamp in ("snubber", "varistor"):
            return []
        if result.contact.share is not None and result.contact.share.printed:
            return [
                Finding(
                    "A5",
                    "note",
                    where,
                    "Nothing quenches the inductive load",
                    f"{show(result.running, 'A')} is broken by a contact printed for this kind.",
                    "It bears its arc; the board beside it may still be disturbed by each opening.",
                )
            ]
        return [
            Finding(
                "A5",
                "fix",
                where,
                "Nothing quenches the inductive load",
                f"{show(result.running, 'A')} is broken with nothing across the load.",
                "Each opening then strikes over in the contact and disturbs the board: resistor and"
                " capacitor, or a varistor, across the load.",
            )
        ]
    if clamp == "none" and not result.contact.turns:
        return [
            Finding(
                "C4",
                "stop",
                where,
                "Nothing clamps the load on the contact",
                f"{show(result.running, 'A')} arcs across the opening contact.",
                "The diode at the relay's own coil does nothing for the load on its contact.",
                lasting=hazard,
            )
        ]
    return []


def _snubber(context: ChannelContext, result: StageResult) -> list[Finding]:
    """A5 of a snubber as stated: the class of its capacitor, then the resistor."""
    where, found = context.channel.id, result.across.snubber
    if context.dangerous and result.across.snubber_class == "plain":
        return [
            Finding(
                "A5",
                "stop",
                where,
                "A capacitor that is not made for the line",
                f"{show(found.capacitance, 'F')} without a class stand across"
                f" {show(context.volts.typ, 'V')} for as long as it is plugged in.",
                "Class X2 fails open and bears the line's spikes; any other fails short, and"
                " burns.",
                "any",
                lasting=True,
            )
        ]
    low, high = suppression.QUENCHES
    if not within(low, found.resistance, high):
        why = (
            "With less, the charged capacitor's own gulp welds the contact or kills the triac."
            if found.resistance < low
            else "With more, the capacitor comes too late and the arc stays."
        )
        return [
            Finding(
                "A5",
                "fix",
                where,
                "The snubber's resistor does not quench",
                f"{show(found.resistance, 'Ω')}; {low:g} to {high:g} Ω do.",
                why,
                "opening and closing",
            )
        ]
    return []


def single_pole(context: ChannelContext, solid: bool = False) -> list[Finding]:
    """
    K8 where one conductor of a hazardous line is switched: both must open where either may be live.
    A ``solid`` output isolates neither way, so that there it is less than a stop.
    """
    where, rail = context.channel.id, context.rail
    ahead = context.around.build.channel(rail.switched_by) if rail.switched_by else None
    if (
        not context.dangerous
        or not context.alternating
        or (ahead is not None and ahead.stage.settings.get("breaks") == "both")
    ):
        return []
    two = context.around.two_lives(rail)
    if two or context.around.plug_of(rail) == "reversible":
        why = (
            "both conductors are live"
            if two
            else "a plug that can be turned round swaps live and neutral"
        )
        return [
            Finding(
                "K8",
                "fix" if solid else "stop",
                where,
                "One pole is broken where both are wanted",
                f"{rail.name}: {why}; off, one of them stays on the load.",
                "A solid-state output isolates neither way round: a contact of two poles ahead of"
                " it does, or a plug that fits one way."
                if solid
                else "Both poles, at the same instant, with a fuse in every live pole.",
                "switched off",
                lasting=True,
                cause="plug",
            )
        ]
    if context.around.plug_of(rail) == "unknown":
        return [
            Finding(
                "K8",
                "check",
                where,
                "Can the plug be turned round?",
                f"Of {rail.name} it is not said whether its plug fits one way only.",
                "A reversible plug wants both poles broken at once; say at the rail which it is.",
                cause="plug",
            )
        ]
    return []


def _line(context: ChannelContext, result: StageResult, relay) -> list[Finding]:
    """
    K8 and K10: which conductor of a hazardous line is broken, and how far its contact lies from the
    coil.
    """
    if relay is None or (not context.dangerous and result.contact.breaks != "earth"):
        return []
    where, breaks, found = context.channel.id, result.contact.breaks, []
    if breaks == "earth":
        found.append(
            Finding(
                "K8",
                "stop",
                where,
                "The protective earth is broken",
                "Its metal stands without earth whenever the contact is open, and the load is never"
                " off.",
                "Earth goes straight through to every touchable metal part: no switch, no fuse, no"
                " plug of its own.",
                "contact open",
                lasting=True,
                cause="earth",
            )
        )
    elif context.alternating:
        if breaks == "neutral":
            found.append(
                Finding(
                    "K8",
                    "stop",
                    where,
                    "The neutral is broken, the live goes through",
                    "Switched off, the load and everything in it still stands at the line's"
                    " voltage.",
                    "Live goes through fuse and contact; neutral goes straight through.",
                    "switched off",
                    lasting=True,
                )
            )
        elif breaks == "live":
            found += single_pole(context)
    main = result.parts.get("contactor", relay)
    if breaks == "both" and main.poles < 2:
        found.append(
            Finding(
                "K8",
                "stop",
                where,
                "One pole cannot break both sides",
                f"{main.title} has {main.poles} pole a channel.",
                "Two relays never open at the same instant; two poles of one relay do.",
                lasting=True,
                cause="poles",
            )
        )
    if result.kind == "relay_module":
        if relay.creepage is None:
            found.append(
                Finding(
                    "K10",
                    "check",
                    where,
                    "How far is the contact from the low side?",
                    f"The way along the board of {relay.title} is not known.",
                    f"Measure it: a hazardous contact wants {context.around.creepage:g} mm to"
                    " anything of low voltage"
                    + (
                        "."
                        if context.around.damp
                        else f", {context.limits['creepage_damp']:g} mm where damp or dusty."
                    ),
                )
            )
        elif relay.creepage < context.around.creepage:
            found.append(
                Finding(
                    "K10",
                    "stop",
                    where,
                    "Hazardous and low voltage too close on one board",
                    f"{relay.creepage:g} mm along the surface; {context.around.creepage:g} mm are"
                    " wanted"
                    + (
                        " in a damp place."
                        if context.around.damp
                        else f", {context.limits['creepage_damp']:g} mm where damp."
                    ),
                    "A speck of moisture or a loose strand then joins the line with what you"
                    " touch.",
                    lasting=True,
                )
            )
    return found
