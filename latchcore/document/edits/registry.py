"""Edits of a build are named actions: each takes a build, changes its own copy, and says in one line what it did."""

from __future__ import annotations

import inspect
from collections.abc import Callable
from typing import Any

from pydantic import ValidationError

from latchcore.catalogue import Catalogue, using
from latchcore.document.models import Build
from latchcore.quantity import QuantityError

EDITS: dict[str, Callable[..., str]] = {}


class EditError(ValueError):
    """An edit that cannot be carried out: what was typed, what was expected, and in which field."""

    def __init__(self, message: str, field: str | None = None):
        super().__init__(message)
        self.field = field


def edit(function: Callable[..., str]) -> Callable[..., str]:
    """Register a function as a named edit; its keyword arguments are what a form or a remedy sends."""
    EDITS[function.__name__] = function
    return function


def plain(error: ValidationError) -> str:
    """The first complaint of the document models, without their wrapping."""
    first = error.errors()[0]
    message = first["msg"].removeprefix("Value error, ")
    if first["type"] == "string_too_short" or (first["type"] == "string_type" and first["input"] is None):
        message = "Nothing was typed; expected a name of 1 to 60 characters."
    elif first["type"] == "string_too_long":
        message = f"That is too long; at most {first['ctx']['max_length']} characters fit."
    elif first["type"] == "literal_error":
        message = f"“{first['input']}” is not one of {first['ctx']['expected']}."
    return message


def validated(model: type, data: dict[str, Any]):
    """Validate a piece of the document, turning complaints into :class:`EditError` with their field."""
    try:
        return model.model_validate(data)
    except ValidationError as error:
        place = error.errors()[0]["loc"]
        raise EditError(plain(error), str(place[-1]) if place else None) from error


def apply(build: Build, name: str, args: dict[str, Any], catalogue: Catalogue | None = None) -> tuple[Build, str]:
    """
    Carry out one named edit on a copy of a build.

    Parameters
    ----------
    build : Build
        Left as it is
    name : str
        A key of ``EDITS``
    args : dict
        Keyword arguments of the edit
    catalogue : Catalogue, optional
        Parts that may be chosen; the generic ones by default

    Returns
    -------
    tuple of (Build, str)
        The changed copy, and a one-line summary

    Raises
    ------
    EditError
        If there is no such edit, an argument is missing or unknown, or a value is refused

    Examples
    --------
    >>> build, says = apply(Build(name="Bench"), "rename_build", {"name": "Foundry"})
    >>> build.name, says
    ('Foundry', 'renamed to Foundry')
    """
    function = EDITS.get(name)
    if function is None:
        raise EditError(f"There is no edit called “{name}”.")
    parameters = list(inspect.signature(function).parameters.values())[1:]
    open_ended = any(p.kind is p.VAR_KEYWORD for p in parameters)
    known = {p.name for p in parameters}
    unknown = [key for key in args if key not in known]
    absent = [p.name for p in parameters if p.default is p.empty and p.kind is not p.VAR_KEYWORD and p.name not in args]
    if (unknown and not open_ended) or absent:
        raise EditError(f"The edit “{name}” takes {', '.join(sorted(known))}; got {', '.join(sorted(args)) or 'nothing'}.")
    changed = build.duplicate()
    try:
        with using(catalogue):
            summary = function(changed, **args)
    except ValidationError as error:
        raise EditError(plain(error)) from error
    except QuantityError as error:
        raise EditError(str(error)) from error
    return changed, summary


def the_channel(build: Build, channel: str):
    """The channel of that id, or an error that says it is gone."""
    found = build.channel(channel)
    if found is None:
        raise EditError("That channel is no longer in the build; it was removed, perhaps in another tab.")
    return found


def the_rail(build: Build, rail: str):
    """The rail of that id, or an error that says it is gone."""
    found = build.rail(rail)
    if found is None:
        raise EditError("That rail is no longer in the build; it was removed, perhaps in another tab.", "rail")
    return found


def next_id(build: Build, prefix: str) -> str:
    """A new stable id; numbers are never used twice within a build."""
    build.serial += 1
    return f"{prefix}{build.serial}"


def reread(target, model: type, **fields: str | None) -> None:
    """Set fields of a piece of the document, empty text meaning "not stated", and validate the whole piece."""
    data = target.model_dump() | {key: (value if value != "" else None) for key, value in fields.items()}
    fresh = validated(model, data)
    for key in fields:
        setattr(target, key, getattr(fresh, key))
