"""Edits of what keeps channels apart: interlocks, and turns on a rail."""

from __future__ import annotations

from latchcore.document.behaviour import MOST_PIECES, Interlock, Stagger
from latchcore.edits.behaviour.pieces import hold, mine, named, replaced, the_piece
from latchcore.edits.registry import EditError, edit, next_id, the_rail, validated


@edit
def add_interlock(build, channels: str, gap: str = "", name: str = "") -> str:
    """Keep channels apart, never two of them on together; the first named goes first."""
    before = build.model_copy()
    behaviour = mine(build)
    if len(behaviour.interlocks) >= MOST_PIECES:
        raise EditError(f"A behaviour holds up to {MOST_PIECES} interlocks.")
    members = [key for key in channels.split(",") if key]
    for key in members:
        named(build, key)
    data = {
        "id": next_id(build, "il"),
        "name": name.strip() or "Interlock",
        "channels": members,
        "gap": gap.strip() or "0 s",
    }
    behaviour.interlocks.append(validated(Interlock, data))
    hold(build, before)
    return "channels kept apart"


@edit
def set_interlock(build, rule: str, **fields: str) -> str:
    """Name, gap and channels of an interlock."""
    before = build.model_copy()
    behaviour = mine(build)
    pieces, place = the_piece(behaviour, rule)
    data = pieces[place].model_dump()
    if pieces is not behaviour.interlocks or set(fields) - {"name", "gap", "channels"}:
        raise EditError("An interlock has a name, a gap and channels.")
    if "channels" in fields:
        data["channels"] = [key for key in fields["channels"].split(",") if key]
    if "gap" in fields:
        data["gap"] = fields["gap"].strip() or "0 s"
    if "name" in fields:
        data["name"] = fields["name"].strip() or "Interlock"
    replaced(behaviour, rule, data)
    hold(build, before)
    return "an interlock changed"


@edit
def set_stagger(build, rail: str, least: str = "") -> str:
    """The least time between two switch-ons on a rail; empty for none."""
    found = the_rail(build, rail)
    before = build.model_copy()
    behaviour = mine(build)
    known = next((s for s in behaviour.staggers if s.rail == rail), None)
    if known is not None:
        behaviour.staggers.remove(known)
    if least.strip():
        key = known.id if known is not None else next_id(build, "sg")
        data = {"id": key, "rail": rail, "least": least.strip()}
        behaviour.staggers.append(validated(Stagger, data))
    hold(build, before)
    return f"{found.name}: switch-ons {'parted' if least.strip() else 'no longer parted'}"
