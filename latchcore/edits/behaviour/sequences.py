"""Edits of sequences: phases in a row, and what each asks of the channels."""

from __future__ import annotations

from typing import Any

from latchcore.document.behaviour import MOST_PIECES, Sequence
from latchcore.edits.behaviour.looks import happening, looked
from latchcore.edits.behaviour.pieces import hold, mine, named, replaced, the_piece
from latchcore.edits.registry import EditError, edit, next_id, validated
from latchcore.figures.typed import quoted, whole

USUAL_PHASE = "5 s"
PHASE_FIELDS = ("name", "lasts", "longest", "then", "then_phase")


def _the_sequence(behaviour, sequence: str) -> dict[str, Any]:
    pieces, place = the_piece(behaviour, sequence)
    if pieces is not behaviour.sequences:
        raise EditError("That is no sequence.")
    return pieces[place].model_dump()


def _the_phase(data: dict[str, Any], phase: str) -> dict[str, Any]:
    number = whole(phase, 0, MOST_PIECES)
    if number is None or number >= len(data["phases"]):
        raise EditError("That phase is no longer there; it was removed, perhaps in another tab.")
    return data["phases"][number]


@edit
def add_sequence(build, name: str, happens: str) -> str:
    """A sequence with one phase, started by an event."""
    before = build.model_copy()
    behaviour = mine(build)
    if len(behaviour.sequences) >= MOST_PIECES:
        raise EditError(f"A behaviour holds up to {MOST_PIECES} sequences.")
    data = {
        "id": next_id(build, "sq"),
        "name": name.strip() or "Sequence",
        "start": happening(build, happens),
        "phases": [{"name": "One", "lasts": USUAL_PHASE}],
    }
    behaviour.sequences.append(validated(Sequence, data))
    hold(build, before)
    return f"added {data['name']}"


@edit
def set_sequence(build, sequence: str, **fields: str) -> str:
    """Name of a sequence, and how often it runs; 0 until it is aborted."""
    before = build.model_copy()
    behaviour = mine(build)
    data = _the_sequence(behaviour, sequence)
    if set(fields) - {"name", "repeat"}:
        raise EditError("A sequence has a name and a number of times.")
    data |= {key: value.strip() for key, value in fields.items()}
    replaced(behaviour, sequence, data)
    hold(build, before)
    return f"{data['name']} changed"


@edit
def add_phase(build, sequence: str, name: str = "") -> str:
    """A phase more, behind the others."""
    behaviour = mine(build)
    data = _the_sequence(behaviour, sequence)
    if len(data["phases"]) >= MOST_PIECES:
        raise EditError(f"A sequence has up to {MOST_PIECES} phases.")
    taken = {phase["name"] for phase in data["phases"]}
    number = len(taken) + 1
    while (fresh := name.strip() or f"Phase {number}") in taken:
        if name.strip():
            raise EditError(f"There is a phase called {quoted(fresh)} already.", "name")
        number += 1
    data["phases"].append({"name": fresh, "lasts": USUAL_PHASE})
    replaced(behaviour, sequence, data)
    return f"{data['name']}: phase {fresh}"


@edit
def set_phase(build, sequence: str, phase: str, **fields: str) -> str:
    """
    Name and time of a phase, or what ends it (``until`` an event, ``until_true`` a condition) with
    the longest it may take and what then.
    """
    before = build.model_copy()
    behaviour = mine(build)
    data = _the_sequence(behaviour, sequence)
    found = _the_phase(data, phase)
    if unknown := set(fields) - {*PHASE_FIELDS, "until", "until_true"}:
        raise EditError(f"A phase has no {quoted(', '.join(sorted(unknown)))}.")
    for key, value in fields.items():
        text = value.strip()
        if key == "until":
            found[key] = happening(build, text) if text else None
        elif key == "until_true":
            found[key] = looked(build, text) if text else None
        elif key == "then" and text.startswith("phase:"):
            found |= {"then": "phase", "then_phase": text.removeprefix("phase:")}
        elif key == "then":
            found |= {"then": text or "abort", "then_phase": None}
        else:
            found[key] = text or None
    if fields.get("until") or fields.get("until_true"):
        found["lasts"] = None
        found["longest"] = found["longest"] or "60 s"
    replaced(behaviour, sequence, data)
    hold(build, before)
    return f"{data['name']}: {found['name']} changed"


@edit
def set_phase_state(build, sequence: str, phase: str, channel: str, state: str = "") -> str:
    """What a phase asks of a channel: on, off, a level, or nothing."""
    before = build.model_copy()
    behaviour = mine(build)
    data = _the_sequence(behaviour, sequence)
    found = _the_phase(data, phase)
    named(build, channel)
    if state.strip():
        found["states"][channel] = state.strip()
    else:
        found["states"].pop(channel, None)
    replaced(behaviour, sequence, data)
    hold(build, before)
    return f"{data['name']}: {found['name']} changed"


@edit
def set_after_abort(build, sequence: str, channel: str, state: str = "") -> str:
    """What stands after a sequence was aborted."""
    before = build.model_copy()
    behaviour = mine(build)
    data = _the_sequence(behaviour, sequence)
    named(build, channel)
    if state.strip():
        data["after_abort"][channel] = state.strip()
    else:
        data["after_abort"].pop(channel, None)
    replaced(behaviour, sequence, data)
    hold(build, before)
    return f"{data['name']}: its state after an abort changed"


@edit
def remove_phase(build, sequence: str, phase: str) -> str:
    """Take a phase away."""
    behaviour = mine(build)
    data = _the_sequence(behaviour, sequence)
    found = _the_phase(data, phase)
    if len(data["phases"]) == 1:
        raise EditError("It is the only phase; remove the whole sequence instead.")
    data["phases"].remove(found)
    replaced(behaviour, sequence, data)
    return f"{data['name']}: {found['name']} removed"
