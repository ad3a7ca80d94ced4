"""Edits of what an event is, wherever one stands."""

from __future__ import annotations

from typing import Any

from latchcore.edits.behaviour.looks import happening
from latchcore.edits.behaviour.pieces import at, put, rewritten
from latchcore.edits.registry import EditError, edit
from latchcore.figures.typed import quoted

TIMES = {"double": "within", "hold": "over"}


@edit
def set_event(build, piece: str, path: str, happens: str) -> str:
    """Let something else be what happens; nothing chosen means that nothing does."""
    fresh = happening(build, happens) if happens else None
    rewritten(build, piece, lambda data: put(data, path, fresh))
    return "another event"


@edit
def set_event_time(build, piece: str, path: str, **fields: str) -> str:
    """How soon a second press must follow, or how long one is held."""

    def change(data: dict[str, Any]) -> None:
        event = at(data, path)
        wanted = TIMES.get(event["kind"]) if isinstance(event, dict) else None
        if set(fields) != {wanted}:
            raise EditError(f"That event has no {quoted(', '.join(sorted(fields)))}.")
        put(data, path, event | {key: value.strip() for key, value in fields.items()})

    rewritten(build, piece, change)
    return "an event's time"
