"""Edits of sense inputs."""

from __future__ import annotations

from latchcore.catalogue import in_use
from latchcore.catalogue.records import Coupler
from latchcore.design.context import BuildContext
from latchcore.document.models import MOST_CHANNELS, Build, SenseInput
from latchcore.edits.behaviour.mirror import mirror
from latchcore.edits.registry import (
    EditError,
    edit,
    next_id,
    own,
    reread,
    the_channel,
    the_rail,
    validated,
)
from latchcore.figures.quantity import QuantityError, parse
from latchcore.figures.typed import quoted
from latchcore.pieces.input_kinds import KINDS
from latchcore.pieces.knob_scale import number
from latchcore.whole.pinning import assign, demands

INPUT_FIELDS = tuple(n for n in SenseInput.model_fields if n not in ("id", "pin_locked"))


def the_input(build: Build, what: str) -> SenseInput:
    """The input of that id, or an error that says it is gone."""
    found = build.sense(what)
    if found is None:
        raise EditError(
            "That input is no longer in the build; it was removed, perhaps in another tab."
        )
    return own(build, found)


def _held(fields: dict[str, str], build: Build) -> None:
    """Refuse what no field of an input can mean."""
    if fields.get("kind") and fields["kind"] not in KINDS:
        raise EditError(
            f"“{fields['kind']}” is no kind of input; expected one of {', '.join(KINDS)}.", "kind"
        )
    _names(fields, build)
    pull = fields.get("pull", "auto")
    if pull not in ("auto", "internal", "none", ""):
        try:
            parse(pull, "Ω")
        except QuantityError as error:
            raise EditError(f"{error} Or one of auto, internal, none.", "pull") from error
    for key in ("lowest", "highest"):
        if fields.get(key):
            try:
                number(fields[key])
            except QuantityError as error:
                raise EditError(str(error), key) from error


def _names(fields: dict[str, str], build: Build) -> None:
    """Refuse a rail, a channel or a part that is not there."""
    for key in ("rail", "pulled_to"):
        if fields.get(key):
            the_rail(build, fields[key])
    for key in ("watches", "moved_by"):
        if fields.get(key):
            the_channel(build, fields[key])
    part = fields.get("part")
    if part and not isinstance(BuildContext(build, in_use()).part(part), Coupler):
        raise EditError(f"{quoted(part)} is no coupler of the drawer.", "part")


@edit
def add_input(build: Build, kind: str, name: str = "", **fields: str) -> str:
    """Add a sense input; it takes a free line that can do what it wants."""
    if len(build.inputs) >= MOST_CHANNELS:
        raise EditError(f"A build holds up to {MOST_CHANNELS} inputs.")
    _held(fields | {"kind": kind}, build)
    given = {key: value.strip() for key, value in fields.items() if value.strip()}
    item = validated(
        SenseInput,
        {
            "id": next_id(build, "in"),
            "name": name.strip() or KINDS[kind].title,
            "kind": kind,
            **given,
        },
    )
    build.inputs.append(item)
    around = BuildContext(build, in_use())
    if around.deck is not None and item.pin is None:
        plan = assign(around.deck, demands(build, around), keep=True)
        item.pin, item.pin_two = plan.pins.get(item.id), plan.pins.get(f"{item.id}.2")
    return f"added {item.name}"


@edit
def set_input(build: Build, what: str, **fields: str) -> str:
    """Set any field of an input; empty text means that it is not stated."""
    found = the_input(build, what)
    unknown = set(fields) - set(INPUT_FIELDS)
    if unknown:
        raise EditError(
            f"An input has no “{', '.join(sorted(unknown))}”; expected any of"
            f" {', '.join(INPUT_FIELDS)}."
        )
    _held(fields, build)
    if "name" in fields and not fields["name"].strip():
        raise EditError("Nothing was typed; expected a name of 1 to 60 characters.", "name")
    given: dict[str, object] = {key: value.strip() for key, value in fields.items()}
    if "shifter" in given:
        given["shifter"] = str(given["shifter"]).split(",")[-1] == "yes"
    for key, usual in (("pull", "auto"), ("lowest", "0"), ("highest", "100"), ("note", "")):
        if given.get(key) == "":
            given[key] = usual
    reread(found, SenseInput, **given)
    return f"{found.name}: {', '.join(k.replace('_', ' ') for k in fields) or 'nothing changed'}"


@edit
def remove_input(build: Build, what: str) -> str:
    """Take an input out of the build."""
    found = the_input(build, what)
    build.inputs.remove(found)
    for channel in list(build.channels):
        if channel.confirmed_by == found.id:
            own(build, channel).confirmed_by = None
    return f"removed {found.name}"


@edit
def set_confirmation(build: Build, channel: str, confirmed_by: str = "") -> str:
    """Name the input that says what a channel's load really did."""
    found = the_channel(build, channel)
    found.confirmed_by = the_input(build, confirmed_by).id if confirmed_by else None
    mirror(build, found, {"confirmed_by": confirmed_by})
    return f"{found.name}: " + (
        f"confirmed by {build.sense(confirmed_by).name}" if confirmed_by else "taken at its word"
    )
