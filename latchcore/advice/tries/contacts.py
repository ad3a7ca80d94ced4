"""Contacts: another one, another relay, another conductor."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried


@tried
def other_contact(case: Case) -> Iterator[Candidate]:
    """The contact that gives the other state when everything is dead."""
    if case.result.contact.which is None:
        return
    closed = case.result.contact.which == "NC"
    yield "Use the other contact", case.setting(contact="NO" if closed else "NC")
    yield "Use the {relay}", case.setting(relay="auto")


@tried
def closed_contact(case: Case) -> Iterator[Candidate]:
    """The closed contact of a relay, where nothing else keeps a load on."""
    if case.result.contact.which is None and case.context.channel.when_dead == "on":
        yield "Use the closed contact of {relay}", case.stage("relay_contact", contact="NC")


@tried
def relay(case: Case) -> Iterator[Candidate]:
    """The relay that would be chosen."""
    if "relay" in case.knows:
        yield "Use the {relay}", case.setting(relay="auto")


@tried
def one_contact(case: Case) -> Iterator[Candidate]:
    """One contact that carries it all."""
    yield (
        "Use one contact, of a relay that carries it: the {relay}",
        case.setting(side_by_side="auto", relay="auto"),
    )
    yield "Use one contact", case.setting(side_by_side="auto")


@tried
def both_sides(case: Case) -> Iterator[Candidate]:
    """The live side, or both at once."""
    yield "Break the live side", case.setting(breaks="auto")
    if "contactor" in case.result.parts:
        yield "Break both sides: the {contactor}", case.setting(breaks="both", contactor="auto")
    else:
        yield (
            "Break both sides by two poles: the {relay}",
            case.setting(breaks="both", relay="auto"),
        )


@tried
def looked_at_plug(case: Case) -> Iterator[Candidate]:
    """A plug that was looked at settles it."""
    if case.context.rail is not None and case.context.rail.plug == "unknown":
        edits = (("set_rail", {"rail": case.context.rail.id, "plug": "polarised"}),)
        yield "It was looked at: the plug fits one way only", edits


@tried
def one_way_plug(case: Case) -> Iterator[Candidate]:
    """Another plug, where the present one may be turned round."""
    rail = case.context.rail
    if rail is not None and case.context.around.plug_of(rail) == "reversible":
        edits = (("set_rail", {"rail": rail.id, "plug": "polarised"}),)
        yield "Fit a plug that goes in one way only", edits
