"""Edits of what an event is, wherever one stands."""

from __future__ import annotations

from latchcore.edits.behaviour.looks import happening
from latchcore.edits.behaviour.pieces import at, hold, mine, put, replaced, the_piece
from latchcore.edits.registry import EditError, edit
from latchcore.figures.typed import quoted

TIMES = {"double": "within", "hold": "over"}


@edit
def set_event(build, piece: str, path: str, happens: str) -> str:
    """Let something else be what happens; nothing chosen means that nothing does."""
    before = build.model_copy()
    behaviour = mine(build)
    pieces, place = the_piece(behaviour, piece)
    data = pieces[place].model_dump()
    put(data, path, happening(build, happens) if happens else None)
    replaced(behaviour, piece, data)
    hold(build, before)
    return "another event"


@edit
def set_event_time(build, piece: str, path: str, **fields: str) -> str:
    """How soon a second press must follow, or how long one is held."""
    before = build.model_copy()
    behaviour = mine(build)
    pieces, place = the_piece(behaviour, piece)
    data = pieces[place].model_dump()
    event = at(data, path)
    wanted = TIMES.get(event["kind"]) if isinstance(event, dict) else None
    if set(fields) != {wanted}:
        raise EditError(f"That event has no {quoted(', '.join(sorted(fields)))}.")
    put(data, path, event | {key: value.strip() for key, value in fields.items()})
    replaced(behaviour, piece, data)
    hold(build, before)
    return "an event's time"
