"""Edits of macros and queues: presses in a row, asking now and doing later."""

from __future__ import annotations

from typing import Any

from latchcore.document.behaviour import MOST_PIECES, Macro, Queue
from latchcore.edits.behaviour.looks import happening
from latchcore.edits.behaviour.pieces import hold, mine, named, replaced, the_piece
from latchcore.edits.registry import EditError, edit, next_id, validated
from latchcore.figures.typed import whole

USUAL_PRESS = {"hold": "100 ms", "gap": "200 ms"}


def _the_macro(behaviour, macro: str) -> dict[str, Any]:
    pieces, place = the_piece(behaviour, macro)
    if pieces is not behaviour.macros:
        raise EditError("Those are no presses in a row.")
    return pieces[place].model_dump()


@edit
def add_macro(build, name: str, happens: str, channel: str) -> str:
    """Presses in a row, started by an event; with one press to begin with."""
    named(build, channel)
    before = build.model_copy()
    behaviour = mine(build)
    if len(behaviour.macros) >= MOST_PIECES:
        raise EditError(f"A behaviour holds up to {MOST_PIECES} rows of presses.")
    data = {
        "id": next_id(build, "mc"),
        "name": name.strip() or "Presses",
        "start": happening(build, happens),
        "presses": [{"channel": channel} | USUAL_PRESS],
    }
    behaviour.macros.append(validated(Macro, data))
    hold(build, before)
    return f"added {data['name']}"


@edit
def set_macro(build, macro: str, **fields: str) -> str:
    """Name of a row of presses, and how long one may have to wait."""
    before = build.model_copy()
    behaviour = mine(build)
    data = _the_macro(behaviour, macro)
    if set(fields) - {"name", "wait"}:
        raise EditError("A row of presses has a name and a longest wait.")
    data |= {key: value.strip() or None for key, value in fields.items()}
    replaced(behaviour, macro, data)
    hold(build, before)
    return f"{data['name']} changed"


@edit
def add_press(build, macro: str, channel: str) -> str:
    """A press more, behind the others."""
    named(build, channel)
    before = build.model_copy()
    behaviour = mine(build)
    data = _the_macro(behaviour, macro)
    if len(data["presses"]) >= MOST_PIECES:
        raise EditError(f"A row has up to {MOST_PIECES} presses.")
    last = data["presses"][-1] if data["presses"] else USUAL_PRESS
    data["presses"].append({"channel": channel, "hold": last["hold"], "gap": last["gap"]})
    replaced(behaviour, macro, data)
    hold(build, before)
    return f"{data['name']}: a press more"


@edit
def set_press(build, macro: str, press: str, **fields: str) -> str:
    """Channel, hold and gap of a press."""
    before = build.model_copy()
    behaviour = mine(build)
    data = _the_macro(behaviour, macro)
    number = whole(press, 0, MOST_PIECES)
    if number is None or number >= len(data["presses"]):
        raise EditError("That press is no longer there; it was removed, perhaps in another tab.")
    if set(fields) - {"channel", "hold", "gap"}:
        raise EditError("A press has a channel, a hold and a gap.")
    data["presses"][number] |= {key: value.strip() for key, value in fields.items()}
    replaced(behaviour, macro, data)
    hold(build, before)
    return f"{data['name']}: press {number + 1} changed"


@edit
def remove_press(build, macro: str, press: str) -> str:
    """Take a press away."""
    behaviour = mine(build)
    data = _the_macro(behaviour, macro)
    number = whole(press, 0, MOST_PIECES)
    if number is None or number >= len(data["presses"]):
        raise EditError("That press is no longer there; it was removed, perhaps in another tab.")
    if len(data["presses"]) == 1:
        raise EditError("It is the only press; remove the whole row instead.")
    data["presses"].pop(number)
    replaced(behaviour, macro, data)
    return f"{data['name']}: press {number + 1} removed"


@edit
def add_queue(build, name: str, happens: str, delay: str = "10 s") -> str:
    """A delay between asking and doing; what leaves it is an event."""
    before = build.model_copy()
    behaviour = mine(build)
    if len(behaviour.queues) >= MOST_PIECES:
        raise EditError(f"A behaviour holds up to {MOST_PIECES} queues.")
    data = {
        "id": next_id(build, "qu"),
        "name": name.strip() or "Queue",
        "event": happening(build, happens),
        "delay": delay.strip(),
    }
    behaviour.queues.append(validated(Queue, data))
    hold(build, before)
    return f"added {data['name']}"


@edit
def set_queue(build, rule: str, **fields: str) -> str:
    """Name, delay and room of a queue."""
    before = build.model_copy()
    behaviour = mine(build)
    pieces, place = the_piece(behaviour, rule)
    if pieces is not behaviour.queues or set(fields) - {"name", "delay", "length"}:
        raise EditError("A queue has a name, a delay and room for some.")
    data = pieces[place].model_dump() | {key: value.strip() for key, value in fields.items()}
    replaced(behaviour, rule, data)
    hold(build, before)
    return f"{data['name']} changed"
