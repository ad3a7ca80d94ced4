"""Contacts: another one, another relay, another conductor."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried


@tried
def other_contact(case: Case) -> Iterator[Candidate]:
    """The contact that gives the other state when everything is dead."""
    closed = case.result.contact is not None and case.result.contact.which == "NC"
    yield "Use the other contact", case.setting(contact="NO" if closed else "NC")
    yield "Use the {relay}", case.setting(relay="auto")


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
