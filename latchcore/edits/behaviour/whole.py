"""Edits of a behaviour as a whole: its step and link, commands and named conditions."""

from __future__ import annotations

from typing import Any

from latchcore.document.behaviour import Behaviour, Command, NamedCondition
from latchcore.edits.behaviour.looks import looked
from latchcore.edits.behaviour.pieces import added, changing, rewritten
from latchcore.edits.registry import EditError, edit, next_id, validated
from latchcore.figures.typed import quoted

WHOLE = ("step", "link_time_out", "watchdog", "access", "secret_changed")


@edit
def set_behaviour(build, **fields: str) -> str:
    """Step, link, watchdog and who may command; empty is as usual."""
    if unknown := set(fields) - set(WHOLE):
        raise EditError(
            f"A behaviour has no {quoted(', '.join(sorted(unknown)))}; expected any of"
            f" {', '.join(WHOLE)}."
        )
    given = {key: value.strip() or None for key, value in fields.items()}
    if "access" in given and given["access"] is None:
        given["access"] = "inputs"
    with changing(build) as behaviour:
        build.behaviour = validated(Behaviour, behaviour.model_dump() | given)
    return f"behaviour: {', '.join(k.replace('_', ' ') for k in fields) or 'nothing changed'}"


@edit
def add_command(build, name: str) -> str:
    """Something that may be asked from outside, by name."""
    with changing(build) as behaviour:
        if any(c.name == name.strip() for c in behaviour.commands):
            raise EditError(f"There is a command called {quoted(name.strip())} already.", "name")
        data = {"id": next_id(build, "cm"), "name": name.strip()}
        return f"added the command {added(behaviour.commands, Command, data, 'commands').name}"


@edit
def add_named_condition(build, name: str, looks_at: str) -> str:
    """A condition with a name, for others to rest on."""
    with changing(build) as behaviour:
        data = {
            "id": next_id(build, "co"),
            "name": name.strip(),
            "condition": looked(build, looks_at),
        }
        found = added(behaviour.conditions, NamedCondition, data, "named conditions")
        return f"added {found.name}"


@edit
def rename_piece(build, rule: str, name: str) -> str:
    """Call a command or a named condition otherwise."""

    def change(data: dict[str, Any]) -> None:
        if "name" not in data:
            raise EditError("That has no name.")
        data["name"] = name.strip()

    return f"renamed to {rewritten(build, rule, change).name}"
