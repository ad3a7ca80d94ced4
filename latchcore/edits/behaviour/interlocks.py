"""Edits of what keeps channels apart: interlocks, and turns on a rail."""

from __future__ import annotations

from latchcore.document.behaviour import Interlock, Stagger
from latchcore.edits.behaviour.pieces import added, changing, named, of_kind, replaced
from latchcore.edits.registry import EditError, edit, next_id, the_rail


@edit
def add_interlock(build, channels: str, gap: str = "", name: str = "") -> str:
    """Keep channels apart, never two of them on together; the first named goes first."""
    members = [key for key in channels.split(",") if key]
    for key in members:
        named(build, key)
    with changing(build) as behaviour:
        data = {
            "id": next_id(build, "il"),
            "name": name.strip() or "Interlock",
            "channels": members,
            "gap": gap.strip() or "0 s",
        }
        added(behaviour.interlocks, Interlock, data, "interlocks")
    return "channels kept apart"


@edit
def set_interlock(build, rule: str, **fields: str) -> str:
    """Name, gap and channels of an interlock."""
    if set(fields) - {"name", "gap", "channels"}:
        raise EditError("An interlock has a name, a gap and channels.")
    with changing(build) as behaviour:
        data = of_kind(behaviour, rule, behaviour.interlocks, "interlock")
        if "channels" in fields:
            data["channels"] = [key for key in fields["channels"].split(",") if key]
        for key, usual in (("gap", "0 s"), ("name", "Interlock")):
            if key in fields:
                data[key] = fields[key].strip() or usual
        replaced(behaviour, rule, data)
    return "an interlock changed"


@edit
def set_stagger(build, rail: str, least: str = "") -> str:
    """The least time between two switch-ons on a rail; empty for none."""
    found = the_rail(build, rail)
    with changing(build) as behaviour:
        known = next((s for s in behaviour.staggers if s.rail == rail), None)
        if known is not None:
            behaviour.staggers.remove(known)
        if least.strip():
            key = known.id if known is not None else next_id(build, "sg")
            data = {"id": key, "rail": rail, "least": least.strip()}
            added(behaviour.staggers, Stagger, data, "rails in turn")
    return f"{found.name}: switch-ons {'parted' if least.strip() else 'no longer parted'}"
