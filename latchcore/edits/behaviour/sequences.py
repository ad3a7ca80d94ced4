"""Edits of sequences: phases in a row, and what each asks of the channels."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from latchcore.document.behaviour import MOST_PIECES, Phase, Sequence
from latchcore.edits.behaviour.looks import chosen, event_chosen, happening
from latchcore.edits.behaviour.pieces import added, changing, named, of_kind, replaced
from latchcore.edits.registry import EditError, edit, next_id
from latchcore.figures.typed import quoted, whole

USUAL_PHASE, USUAL_LONGEST = "5 s", "60 s"
PHASE_FIELDS = ("name", "lasts", "longest", "then", "then_phase")


def _the_phase(data: dict[str, Any], phase: str) -> dict[str, Any]:
    number = whole(phase, 0, MOST_PIECES)
    if number is None or number >= len(data["phases"]):
        raise EditError("That phase is no longer there; it was removed, perhaps in another tab.")
    return data["phases"][number]


@contextmanager
def _changing(build, sequence: str) -> Iterator[dict[str, Any]]:
    """A sequence as plain data while an edit changes it."""
    with changing(build) as behaviour:
        data = of_kind(behaviour, sequence, behaviour.sequences, "sequence")
        yield data
        replaced(behaviour, sequence, data)


@edit
def add_sequence(build, name: str, happens: str) -> str:
    """A sequence with one phase, started by an event."""
    with changing(build) as behaviour:
        data = {
            "id": next_id(build, "sq"),
            "name": name.strip() or "Sequence",
            "start": happening(build, happens),
            "phases": [{"name": "One", "lasts": USUAL_PHASE}],
        }
        return f"added {added(behaviour.sequences, Sequence, data, 'sequences').name}"


@edit
def set_sequence(build, sequence: str, **fields: str) -> str:
    """Name of a sequence, and how often it runs; 0 until it is aborted."""
    if set(fields) - {"name", "repeat"}:
        raise EditError("A sequence has a name and a number of times.")
    with _changing(build, sequence) as data:
        data |= {key: value.strip() for key, value in fields.items()}
    return f"{data['name']} changed"


@edit
def add_phase(build, sequence: str, name: str = "") -> str:
    """A phase more, behind the others."""
    with _changing(build, sequence) as data:
        if len(data["phases"]) >= MOST_PIECES:
            raise EditError(f"A sequence has up to {MOST_PIECES} phases.")
        taken = {phase["name"] for phase in data["phases"]}
        number = len(taken) + 1
        while (fresh := name.strip() or f"Phase {number}") in taken:
            if name.strip():
                raise EditError(f"There is a phase called {quoted(fresh)} already.", "name")
            number += 1
        data["phases"].append({"name": fresh, "lasts": USUAL_PHASE})
    return f"{data['name']}: phase {fresh}"


@edit
def set_phase(build, sequence: str, phase: str, **fields: str) -> str:
    """
    Name and time of a phase, or what ends it (``until`` an event, ``until_true`` a condition) with
    the longest it may take and what then.
    """
    if unknown := set(fields) - {*PHASE_FIELDS, "until", "until_true"}:
        raise EditError(f"A phase has no {quoted(', '.join(sorted(unknown)))}.")
    with _changing(build, sequence) as data:
        found = _the_phase(data, phase)
        old = Phase.model_validate(found)
        for key, value in fields.items():
            text = value.strip()
            if key == "until":
                found[key] = event_chosen(build, old.until, text)
            elif key == "until_true":
                found[key] = chosen(build, old.until_true, text)
            elif key == "then":
                found |= _then(text)
            else:
                found[key] = text or None
        _one_end(found, fields, old)
    return f"{data['name']}: {found['name']} changed"


def _then(text: str) -> dict[str, str | None]:
    if text.startswith("phase:"):
        return {"then": "phase", "then_phase": text.removeprefix("phase:")}
    return {"then": text or "abort", "then_phase": None}


def _one_end(found: dict[str, Any], fields: dict[str, str], old: Phase) -> None:
    """What ends a phase takes the place of its time, and the other way round."""
    if fields.get("until") or fields.get("until_true"):
        found["lasts"] = None
        if "longest" not in fields or old.lasts is not None:
            found["longest"] = found["longest"] or USUAL_LONGEST
    elif fields.get("lasts"):
        found["longest"] = None


@edit
def set_phase_state(build, sequence: str, phase: str, channel: str, state: str = "") -> str:
    """What a phase asks of a channel: on, off, a level, or nothing."""
    named(build, channel)
    with _changing(build, sequence) as data:
        found = _the_phase(data, phase)
        _set_state(found["states"], channel, state.strip())
    return f"{data['name']}: {found['name']} changed"


@edit
def set_after_abort(build, sequence: str, channel: str, state: str = "") -> str:
    """What stands after a sequence was aborted."""
    named(build, channel)
    with _changing(build, sequence) as data:
        _set_state(data["after_abort"], channel, state.strip())
    return f"{data['name']}: its state after an abort changed"


def _set_state(states: dict[str, str], channel: str, state: str) -> None:
    if state:
        states[channel] = state
    else:
        states.pop(channel, None)


@edit
def remove_phase(build, sequence: str, phase: str) -> str:
    """Take a phase away."""
    with _changing(build, sequence) as data:
        found = _the_phase(data, phase)
        if len(data["phases"]) == 1:
            raise EditError("It is the only phase; remove the whole sequence instead.")
        data["phases"].remove(found)
    return f"{data['name']}: {found['name']} removed"
