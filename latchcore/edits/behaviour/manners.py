"""Edits of what holds for a channel whatever asks for it."""

from __future__ import annotations

from typing import Any

from latchcore.document.behaviour import Manner
from latchcore.edits.behaviour.looks import looked
from latchcore.edits.behaviour.pieces import hold, mine, named
from latchcore.edits.registry import EditError, edit, validated
from latchcore.figures.typed import quoted

#: Fields that have a usual word instead of nothing.
USUAL = {"returns": "anew", "link": "hold", "hand": "none"}
CONDITIONS = ("idle", "idle_while")


@edit
def set_manner(build, channel: str, **fields: str) -> str:
    """Limits of a channel, how it comes back, what it does without link, what confirms it."""
    name = named(build, channel)
    before = build.model_copy()
    behaviour = mine(build)
    known = next((m for m in behaviour.manners if m.channel == channel), None)
    data: dict[str, Any] = (known or Manner(channel=channel)).model_dump()
    if unknown := set(fields) - set(data):
        raise EditError(
            f"A channel has no {quoted(', '.join(sorted(unknown)))}; expected any of"
            f" {', '.join(key for key in data if key != 'channel')}."
        )
    for key, value in fields.items():
        text = value.strip()
        if key in CONDITIONS:
            data[key] = looked(build, text) if text else None
        else:
            data[key] = text or USUAL.get(key)
    fresh = validated(Manner, data)
    if known is not None:
        behaviour.manners[behaviour.manners.index(known)] = fresh
    else:
        behaviour.manners.append(fresh)
    hold(build, before)
    return f"{name}: {', '.join(k.replace('_', ' ') for k in fields) or 'nothing changed'}"
