"""Edits of macros and queues: presses in a row, asking now and doing later."""

from __future__ import annotations

from typing import Any

from latchcore.document.behaviour import MOST_PIECES, Behaviour, Macro, Queue
from latchcore.edits.behaviour.looks import happening
from latchcore.edits.behaviour.pieces import added, changing, named, of_kind, replaced
from latchcore.edits.registry import EditError, edit, next_id
from latchcore.figures.typed import whole

USUAL_PRESS = {"hold": "100 ms", "gap": "200 ms"}


def _the_macro(behaviour: Behaviour, macro: str) -> dict[str, Any]:
    return of_kind(behaviour, macro, behaviour.macros, "row of presses")


def _place(data: dict[str, Any], press: str) -> int:
    number = whole(press, 0, MOST_PIECES)
    if number is None or number >= len(data["presses"]):
        raise EditError("That press is no longer there; it was removed, perhaps in another tab.")
    return number


@edit
def add_macro(build, name: str, happens: str, channel: str) -> str:
    """Presses in a row, started by an event; with one press to begin with."""
    named(build, channel)
    with changing(build) as behaviour:
        data = {
            "id": next_id(build, "mc"),
            "name": name.strip() or "Presses",
            "start": happening(build, happens),
            "presses": [{"channel": channel} | USUAL_PRESS],
        }
        return f"added {added(behaviour.macros, Macro, data, 'rows of presses').name}"


@edit
def set_macro(build, macro: str, **fields: str) -> str:
    """Name of a row of presses, and how long one may have to wait."""
    if set(fields) - {"name", "wait"}:
        raise EditError("A row of presses has a name and a longest wait.")
    with changing(build) as behaviour:
        data = _the_macro(behaviour, macro)
        data |= {key: value.strip() or None for key, value in fields.items()}
        return f"{replaced(behaviour, macro, data).name} changed"


@edit
def add_press(build, macro: str, channel: str) -> str:
    """A press more, behind the others."""
    named(build, channel)
    with changing(build) as behaviour:
        data = _the_macro(behaviour, macro)
        if len(data["presses"]) >= MOST_PIECES:
            raise EditError(f"A row has up to {MOST_PIECES} presses.")
        last = data["presses"][-1] if data["presses"] else USUAL_PRESS
        data["presses"].append({"channel": channel, "hold": last["hold"], "gap": last["gap"]})
        return f"{replaced(behaviour, macro, data).name}: a press more"


@edit
def set_press(build, macro: str, press: str, **fields: str) -> str:
    """Channel, hold and gap of a press."""
    if set(fields) - {"channel", "hold", "gap"}:
        raise EditError("A press has a channel, a hold and a gap.")
    with changing(build) as behaviour:
        data = _the_macro(behaviour, macro)
        number = _place(data, press)
        data["presses"][number] |= {key: value.strip() for key, value in fields.items()}
        return f"{replaced(behaviour, macro, data).name}: press {number + 1} changed"


@edit
def remove_press(build, macro: str, press: str) -> str:
    """Take a press away."""
    with changing(build) as behaviour:
        data = _the_macro(behaviour, macro)
        number = _place(data, press)
        if len(data["presses"]) == 1:
            raise EditError("It is the only press; remove the whole row instead.")
        data["presses"].pop(number)
        return f"{replaced(behaviour, macro, data).name}: press {number + 1} removed"


@edit
def add_queue(build, name: str, happens: str, delay: str = "10 s") -> str:
    """A delay between asking and doing; what leaves it is an event."""
    with changing(build) as behaviour:
        data = {
            "id": next_id(build, "qu"),
            "name": name.strip() or "Queue",
            "event": happening(build, happens),
            "delay": delay.strip(),
        }
        return f"added {added(behaviour.queues, Queue, data, 'queues').name}"


@edit
def set_queue(build, rule: str, **fields: str) -> str:
    """Name, delay and room of a queue."""
    if set(fields) - {"name", "delay", "length"}:
        raise EditError("A queue has a name, a delay and room for some.")
    with changing(build) as behaviour:
        data = of_kind(behaviour, rule, behaviour.queues, "queue")
        data |= {key: value.strip() for key, value in fields.items()}
        return f"{replaced(behaviour, rule, data).name} changed"
