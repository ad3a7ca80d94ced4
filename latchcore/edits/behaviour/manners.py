"""Edits of what holds for a channel whatever asks for it."""

from __future__ import annotations

from typing import Any

from latchcore.edits.behaviour.looks import chosen
from latchcore.edits.behaviour.pieces import changing, keep_manner, named
from latchcore.edits.registry import EditError, edit
from latchcore.figures.typed import quoted

#: Fields that have a usual word instead of nothing.
USUAL = {"returns": "anew", "link": "hold", "hand": "none"}
CONDITIONS = ("idle", "idle_while")


@edit
def set_manner(build, channel: str, **fields: str) -> str:
    """Limits of a channel, how it comes back, what it does without link, what confirms it."""
    name = named(build, channel)
    with changing(build) as behaviour:
        old = behaviour.manner(channel)
        data: dict[str, Any] = old.model_dump()
        if unknown := set(fields) - set(data):
            raise EditError(
                f"A channel has no {quoted(', '.join(sorted(unknown)))}; expected any of"
                f" {', '.join(key for key in data if key != 'channel')}."
            )
        for key, value in fields.items():
            text = value.strip()
            if key in CONDITIONS:
                data[key] = chosen(build, getattr(old, key), text)
            else:
                data[key] = text or USUAL.get(key)
        keep_manner(behaviour, data)
    return f"{name}: {', '.join(k.replace('_', ' ') for k in fields) or 'nothing changed'}"
