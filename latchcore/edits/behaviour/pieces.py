"""Pieces of a behaviour as one that may be changed, and the places within them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

from latchcore.behaviour.checking import faults_of
from latchcore.behaviour.named import outputs_of
from latchcore.document.behaviour import LISTS, MOST_PIECES, Behaviour, Manner
from latchcore.document.models import Build
from latchcore.edits.registry import EditError, validated
from latchcore.figures.typed import quoted

GONE = "That is no longer in the behaviour; it was removed, perhaps in another tab."


def mine(build: Build) -> Behaviour:
    """What the loads of a build do, as one that may be changed."""
    build.behaviour = build.does.model_copy(deep=True)
    return build.behaviour


@contextmanager
def changing(build: Build) -> Iterator[Behaviour]:
    """
    The behaviour of a build while an edit changes it; refused where the edit makes one that cannot
    be run, and could before.
    """
    before = build.model_copy()
    yield mine(build)
    _hold(build, before)


def rewritten(build: Build, key: str, change: Callable[[dict[str, Any]], None]) -> Any:
    """A piece changed as plain data, validated as a whole and put in place of what it was."""
    with changing(build) as behaviour:
        pieces, place = the_piece(behaviour, key)
        data = pieces[place].model_dump()
        change(data)
        return replaced(behaviour, key, data)


def added(pieces: list[Any], model: type, data: dict[str, Any], words: str) -> Any:
    """One more piece at the end of its list, as long as there is room."""
    if len(pieces) >= MOST_PIECES:
        raise EditError(f"A behaviour holds up to {MOST_PIECES} {words}.")
    pieces.append(validated(model, data))
    return pieces[-1]


def of_kind(behaviour: Behaviour, key: str, pieces: list[Any], words: str) -> dict[str, Any]:
    """A piece of one list as plain data; refused where that id is of another."""
    found, place = the_piece(behaviour, key)
    if found is not pieces:
        raise EditError(f"That is no {words}.")
    return found[place].model_dump()


def the_piece(behaviour: Behaviour, key: str) -> tuple[list[Any], int]:
    """The list a piece stands in and its place there; that of a channel's manner by its id."""
    for name in LISTS:
        pieces = getattr(behaviour, name)
        for place, piece in enumerate(pieces):
            if piece.id == key:
                return pieces, place
    for place, manner in enumerate(behaviour.manners):
        if manner.channel == key:
            return behaviour.manners, place
    raise EditError(GONE)


def replaced(behaviour: Behaviour, key: str, data: dict[str, Any]) -> Any:
    """A piece put in place of what it was, validated as a whole."""
    pieces, place = the_piece(behaviour, key)
    pieces[place] = validated(type(pieces[place]), data)
    return pieces[place]


def keep_manner(behaviour: Behaviour, data: dict[str, Any]) -> None:
    """What holds for a channel put in place of what did, or as the first that is said of it."""
    fresh = validated(Manner, data)
    known = [n for n, m in enumerate(behaviour.manners) if m.channel == fresh.channel]
    if known:
        behaviour.manners[known[0]] = fresh
    else:
        behaviour.manners.append(fresh)


def steps_in(path: str) -> list[str | int]:
    """
    A place within a piece.

    Examples
    --------
    >>> steps_in("event.condition.parts.0")
    ['event', 'condition', 'parts', 0]
    """
    return [int(step) if step.isdigit() else step for step in path.split(".") if step]


def at(data: Any, path: str) -> Any:
    """What stands at a place of a piece, as plain data."""
    for step in steps_in(path):
        try:
            data = data[step]
        except (KeyError, IndexError, TypeError) as error:
            raise EditError(GONE) from error
    return data


def put(data: dict[str, Any], path: str, value: Any) -> None:
    """Put something at a place of a piece."""
    *way, last = steps_in(path)
    inner: Any = at(data, ".".join(map(str, way)))
    if not isinstance(inner, dict | list) or (
        isinstance(inner, list) and not (isinstance(last, int) and last < len(inner))
    ):
        raise EditError(f"There is no place {quoted(path)} in it.")
    inner[last] = value


def _hold(build: Build, before: Build) -> None:
    """
    Refuse an edit that makes a behaviour that cannot be run, where it could before.

    Raises
    ------
    EditError
        With the first fault the edit brings
    """
    known = {(f.of, f.message) for f in faults_of(before)}
    for fault in faults_of(build):
        if (fault.of, fault.message) not in known:
            raise EditError(fault.message, fault.field.split(".")[-1])


def named(build: Build, channel: str) -> str:
    """What a channel is called; refused where it is not there."""
    found = next((o for o in outputs_of(build) if o.id == channel), None)
    if found is None:
        raise EditError(
            "That channel is no longer in the build; it was removed, perhaps in another tab.",
            "channel",
        )
    return found.name
