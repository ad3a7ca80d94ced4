"""Edits of a behaviour as a whole: its step and link, commands and named conditions."""

from __future__ import annotations

from latchcore.document.behaviour import MOST_PIECES, Behaviour, Command, NamedCondition
from latchcore.edits.behaviour.looks import looked
from latchcore.edits.behaviour.pieces import hold, mine, replaced, the_piece
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
    before = build.model_copy()
    given = {key: value.strip() or None for key, value in fields.items()}
    if "access" in given and given["access"] is None:
        given["access"] = "inputs"
    build.behaviour = validated(Behaviour, build.does.model_dump() | given)
    hold(build, before)
    return f"behaviour: {', '.join(k.replace('_', ' ') for k in fields) or 'nothing changed'}"


@edit
def add_command(build, name: str) -> str:
    """Something that may be asked from outside, by name."""
    behaviour = mine(build)
    if len(behaviour.commands) >= MOST_PIECES:
        raise EditError(f"A behaviour knows up to {MOST_PIECES} commands.")
    taken = any(c.name == name.strip() for c in behaviour.commands)
    if taken:
        raise EditError(f"There is a command called {quoted(name.strip())} already.", "name")
    data = {"id": next_id(build, "cm"), "name": name.strip()}
    behaviour.commands.append(validated(Command, data))
    return f"added the command {data['name']}"


@edit
def add_named_condition(build, name: str, looks_at: str) -> str:
    """A condition with a name, for others to rest on."""
    before = build.model_copy()
    behaviour = mine(build)
    if len(behaviour.conditions) >= MOST_PIECES:
        raise EditError(f"A behaviour holds up to {MOST_PIECES} named conditions.")
    data = {
        "id": next_id(build, "co"),
        "name": name.strip(),
        "condition": looked(build, looks_at),
    }
    behaviour.conditions.append(validated(NamedCondition, data))
    hold(build, before)
    return f"added {data['name']}"


@edit
def rename_piece(build, rule: str, name: str) -> str:
    """Call a command or a named condition otherwise."""
    behaviour = mine(build)
    pieces, place = the_piece(behaviour, rule)
    if not hasattr(pieces[place], "name"):
        raise EditError("That has no name.")
    replaced(behaviour, rule, pieces[place].model_dump() | {"name": name.strip()})
    return f"renamed to {name.strip()}"
