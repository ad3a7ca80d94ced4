"""Edits of rules: what is asked of a channel, when, and what bars it."""

from __future__ import annotations

from typing import Any

from pydantic import TypeAdapter, ValidationError

from latchcore.document import behaviour as said
from latchcore.document.behaviour import MOST_PIECES
from latchcore.edits.behaviour.looks import happening, looked
from latchcore.edits.behaviour.pieces import (
    added,
    changing,
    mine,
    named,
    of_kind,
    replaced,
    rewritten,
    the_piece,
)
from latchcore.edits.registry import EditError, edit, next_id, plain
from latchcore.figures.typed import quoted

#: What a fresh rule of each kind has beside its condition or event.
FRESH: dict[str, dict[str, str]] = {
    "while": {},
    "pulse": {"length": "1 s"},
    "toggle": {},
    "ramp": {"time": "2 s", "to": "100 %"},
    "follow": {},
}
#: What is of a rule from its beginning, or changed by edits of its own.
FIXED = ("id", "kind", "channel", "condition", "event")
REQUEST: TypeAdapter[Any] = TypeAdapter(said.Request)


@edit
def add_rule(build, channel: str, kind: str, looks_at: str = "", happens: str = "") -> str:
    """Ask something of a channel: while a condition, upon an event, or following an input."""
    name = named(build, channel)
    if kind not in FRESH:
        raise EditError(
            f"{quoted(kind)} is no kind of rule; expected one of {', '.join(FRESH)}.", "kind"
        )
    with changing(build) as behaviour:
        data: dict[str, Any] = {"id": next_id(build, "ru"), "kind": kind, "channel": channel}
        data |= FRESH[kind] | _begun(build, kind, looks_at, happens)
        if len(behaviour.requests) >= 4 * MOST_PIECES:
            raise EditError(f"A behaviour holds up to {4 * MOST_PIECES} rules.")
        behaviour.requests.append(_request(data))
    return f"{name}: a rule more"


def _begun(build, kind: str, looks_at: str, happens: str) -> dict[str, Any]:
    """What a fresh rule looks at, or what starts it."""
    if kind in ("while", "follow"):
        if not looks_at:
            raise EditError("Nothing was chosen to look at.", "looks_at")
        whiled = {"condition": looked(build, looks_at)} if kind == "while" else None
        return whiled or _followed(build, looks_at)
    if not happens:
        raise EditError("Nothing was chosen that starts it.", "happens")
    return {"event": happening(build, happens)}


def _followed(build, looks_at: str) -> dict[str, str]:
    _, _, of = looks_at.partition(":")
    found = looked(build, f"over:{of or looks_at}")
    item = build.sense(found["of"].split(".")[0])
    low, high = (item.lowest, item.highest) if item is not None else ("0", "100")
    return {"of": found["of"], "low": low, "high": high}


def _request(data: dict[str, Any]) -> Any:
    try:
        return REQUEST.validate_python(data)
    except ValidationError as error:
        raise EditError(plain(error)) from error


@edit
def set_rule(build, rule: str, **fields: str) -> str:
    """Length, level and the like of a rule; empty means as usual."""
    with changing(build) as behaviour:
        data = of_kind(behaviour, rule, behaviour.requests, "rule of one channel")
        allowed = [key for key in data if key not in FIXED]
        if unknown := set(fields) - set(allowed):
            raise EditError(
                f"That rule has no {quoted(', '.join(sorted(unknown)))}; expected any of"
                f" {', '.join(allowed)}."
            )
        pieces, place = the_piece(behaviour, rule)
        usual = type(pieces[place]).model_fields
        for key, value in fields.items():
            text = value.strip()
            if text == "" and usual[key].is_required():
                raise EditError("Nothing was typed; it wants a figure here.", key)
            data[key] = text or usual[key].get_default()
        replaced(behaviour, rule, data)
    return f"a rule: {', '.join(k.replace('_', ' ') for k in fields)}"


@edit
def remove_rule(build, rule: str) -> str:
    """Take a rule, a block, an interlock, a sequence or the like away."""
    # What others name may go: they then say so themselves.
    behaviour = mine(build)
    pieces, place = the_piece(behaviour, rule)
    if pieces is behaviour.manners:
        raise EditError("What holds for a channel is changed, not removed.")
    removed = pieces.pop(place)
    return f"removed {getattr(removed, 'name', 'a rule')}"


@edit
def give_rule(build, rule: str, channel: str) -> str:
    """Let a rule ask for another channel."""
    name = named(build, channel)

    def change(data: dict[str, Any]) -> None:
        if "channel" not in data or data["channel"] == rule:
            raise EditError("That is of no single channel.")
        data["channel"] = channel

    rewritten(build, rule, change)
    return f"{name}: a rule more"


@edit
def move_rule(build, rule: str, way: str) -> str:
    """Move a piece one place up or down its list; the order counts."""
    if way not in ("up", "down"):
        raise EditError(f"{quoted(way)} is no way; expected up or down.", "way")
    with changing(build) as behaviour:
        pieces, place = the_piece(behaviour, rule)
        target = place + (1 if way == "down" else -1)
        if not 0 <= target < len(pieces):
            raise EditError(
                f"It is the {'last' if way == 'down' else 'first'} of its list already."
            )
        pieces[place], pieces[target] = pieces[target], pieces[place]
    return f"a rule moved {way}"


@edit
def add_bar(build, channel: str, looks_at: str) -> str:
    """Say when a channel is off whatever is asked of it."""
    name = named(build, channel)
    with changing(build) as behaviour:
        condition = looked(build, looks_at)
        data = {"id": next_id(build, "ba"), "channel": channel, "condition": condition}
        added(behaviour.bars, said.Bar, data, "blocks")
    return f"{name}: a block more"
