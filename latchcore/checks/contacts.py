"""Contacts: wetting, making that nobody states, the state when everything is dead, life that is wanted."""

from __future__ import annotations

from latchcore.context import ChannelContext
from latchcore.quantity import digits, show
from latchcore.report import Finding, StageResult


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """K2 (undecided), K4, K6 (note), K7 and C4 at the load of one channel that switches by a contact."""
    if "contact" not in result.facts:
        return []
    where, facts, found = context.channel.id, result.facts, []
    hazard = context.hazardous
    if facts.get("active") == "unknown":
        found.append(Finding("P12", "check", where, "Which level switches this module on?", "Its trigger level is not known; every state below is a guess until it is.",
                             "Touch its input to 0 V with a wire, the board away: if it clicks it is active low."))  # fmt: skip
    if facts.get("making_unknown"):
        surge = facts["share"].surge
        found.append(Finding("K2", "check", where, "Can the contact make this surge?", f"It closes onto up to {show(surge, 'A')} for under a millisecond; nothing states what it can make.",
                             "A short gulp needs an inrush rating, or a relay with a printed making capacity."))  # fmt: skip
    if facts.get("under_wetting"):
        found.append(Finding("K4", "check", where, "Too little current to keep the contact clean", f"{show(result.typical, 'A')} at {show(context.volts.typ, 'V')}; it wants at least {facts['wetting']}.",
                             "A power contact that never burns its film off turns unsure; dry signals want gold, a reed or solid state."))  # fmt: skip
    wants_on = context.channel.when_dead == "on"
    if wants_on != facts["inverts"]:
        severity = "stop" if hazard else "fix"
        state = "on" if facts["inverts"] else "off"
        found.append(Finding("K7", severity, where, f"Dead, the load is {state}", f"The {facts['contact']} contact leaves it {state} when everything is dead; wanted is {context.channel.when_dead}.",
                             "NO or NC is chosen by the state wanted when nothing has power.", "everything dead", lasting=hazard))  # fmt: skip
    relay = facts.get("relay")
    if relay is not None and ((facts["contact"] == "NC" and relay.form == "A") or (facts["contact"] == "NO" and relay.form == "B")):
        found.append(Finding("K7", "stop", where, f"This relay has no {facts['contact']} contact", f"{relay.title} is form {relay.form}.", "Form A makes, B breaks, C changes over.", lasting=hazard))
    days, wanted = facts.get("life_days"), context.limits["contact_years"] * 365
    if days is not None and 365 <= days < wanted:
        found.append(Finding("K6", "note", where, "The contact wears out before long", f"About {digits(days / 365, 2)} years at {context.channel.cycles_per_day} times a day.",
                             "Every opening burns a little of the contact away; a larger relay lasts longer.", "at the highest running current"))  # fmt: skip
    net = result.netlist
    if context.load.kind.inductive and net.part(f"{where}.D3") is None:
        found.append(Finding("C4", "stop", where, "Nothing clamps the load on the contact", f"{show(result.running, 'A')} arcs across the opening contact.",
                             "The diode at the relay's own coil does nothing for the load on its contact.", lasting=hazard))  # fmt: skip
    return found
