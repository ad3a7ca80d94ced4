"""
Edits of a build are named actions: each takes a build, changes its own copy, and says in one line
what it did.
"""

from __future__ import annotations

import inspect
from collections.abc import Callable
from contextlib import contextmanager
from contextvars import ContextVar
from functools import lru_cache
from typing import Any

from pydantic import ValidationError

from latchcore.catalogue import Catalogue, using
from latchcore.document.models import PIECES, Build
from latchcore.figures.quantity import QuantityError
from latchcore.figures.typed import Refusal, can_be_kept, in_one_line, quoted

#: The longest text any field takes [characters].
MOST_TYPED = 4000
EDITS: dict[str, Callable[..., str]] = {}
#: Pieces the edit at work has copied for itself, by identity.
_TAKEN: ContextVar[dict[int, Any] | None] = ContextVar("taken by the edit", default=None)


class EditError(Refusal):
    """An edit that cannot be carried out: what was typed, what was expected, and in which field."""

    def __init__(self, message: str, field: str | None = None):
        super().__init__(message)
        self.field = field


def edit(function: Callable[..., str]) -> Callable[..., str]:
    """
    Register a function as a named edit; its keyword arguments are what a form or a remedy sends.
    """
    EDITS[function.__name__] = function
    return function


def plain(error: ValidationError) -> str:
    """The first complaint of the document models, without their wrapping."""
    first = error.errors()[0]
    message = first["msg"].removeprefix("Value error, ").removeprefix("Assertion failed, ")
    if first["type"] == "string_too_short" or (
        first["type"] == "string_type" and first["input"] is None
    ):
        message = "Nothing was typed; expected a name of 1 to 60 characters."
    elif first["type"] == "string_too_long":
        message = f"That is too long; at most {first['ctx']['max_length']} characters fit."
    elif first["type"] == "literal_error":
        message = f"{quoted(first['input'])} is not one of {first['ctx']['expected']}."
    elif first["type"] in ("greater_than", "greater_than_equal", "less_than", "less_than_equal"):
        limit = next(iter(first["ctx"].values()))
        words = (
            first["type"]
            .replace("greater_than_equal", "at least")
            .replace("less_than_equal", "at most")
            .replace("greater_than", "above")
            .replace("less_than", "below")
        )
        message = f"{quoted(first['input'])} is out of range; expected {words} {limit:g}."
    elif first["type"] in (
        "finite_number",
        "float_parsing",
        "float_type",
        "int_parsing",
        "int_type",
        "int_from_float",
    ):
        message = (
            f"{quoted(first['input'])} is no number that can be used; expected plain digits such as"
            " “0.8”."
        )
    elif first["type"] == "string_unicode":
        message = "That text holds half a character, which no file can keep; expected whole ones."
    elif first["type"] == "string_pattern_mismatch":
        message = f"{quoted(first['input'])} is no key; expected small letters, digits and hyphens."
    elif first["type"] == "extra_forbidden":
        message = (
            f"there is no such field; {quoted(first['loc'][-1])} is misspelt, or of a newer"
            " program."
        )
    elif first["type"] in (
        "dict_type",
        "list_type",
        "model_type",
        "string_type",
        "bool_type",
        "bool_parsing",
    ):
        message = (
            f"{quoted(first['input'])} is of another kind than what belongs here"
            f" ({first['type'].split('_')[0]})."
        )
    return message


def validated(model: type, data: dict[str, Any]):
    """
    Validate a piece of the document, turning complaints into :class:`EditError` with their field.
    """
    try:
        return model.model_validate(data)
    except ValidationError as error:
        raise EditError(plain(error), _place(error)) from error


@lru_cache(maxsize=256)
def _takes(function: Callable[..., str]) -> tuple[str, frozenset[str], frozenset[str], bool]:
    """
    What an edit calls the build, the arguments it knows, those it must have, and whether it takes
    others too.
    """
    build_name, *parameters = inspect.signature(function).parameters.values()
    open_ended = any(p.kind is p.VAR_KEYWORD for p in parameters)
    wanted = frozenset(
        p.name for p in parameters if p.default is p.empty and p.kind is not p.VAR_KEYWORD
    )
    return build_name.name, frozenset(p.name for p in parameters), wanted, open_ended


def apply(
    build: Build, name: str, args: dict[str, Any], catalogue: Catalogue | None = None
) -> tuple[Build, str]:
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
    function = _asked(name, args)
    changed = build.draft()
    try:
        with using(catalogue), _owning():
            summary = function(changed, **args)
    except ValidationError as error:
        raise EditError(plain(error), _place(error)) from error
    except QuantityError as error:
        raise EditError(str(error)) from error
    return changed, in_one_line(summary)


def carry_out(build: Build, name: str, args: dict[str, Any]) -> str:
    """A named edit as a step of another one, on the copy that one has; returns its summary."""
    return _asked(name, args)(build, **args)


def _asked(name: str, args: dict[str, Any]) -> Callable[..., str]:
    """
    The edit of that name, once its arguments are looked over.

    Raises
    ------
    EditError
        If there is none, or an argument is missing, unknown, too long or cannot be kept
    """
    function = EDITS.get(name)
    if function is None:
        raise EditError(f"There is no edit called {quoted(name)}.")
    build_name, known, wanted, open_ended = _takes(function)
    # The build itself is never an argument, whatever a form calls its fields.
    if (
        (not open_ended and any(key not in known for key in args))
        or any(key not in args for key in wanted)
        or build_name in args
    ):
        raise EditError(
            f"The edit “{name}” takes {', '.join(sorted(known))}; got"
            f" {', '.join(sorted(map(quoted, args))) or 'nothing'}."
        )
    for key, value in args.items():
        if not can_be_kept(str(key)) or (
            value is not None and not (isinstance(value, str) and can_be_kept(value, lines=True))
        ):
            raise EditError(
                f"{quoted(key)} holds what cannot be written down; expected plain text.", str(key)
            )
        if value is not None and len(value) > MOST_TYPED:
            raise EditError(
                f"That is {len(value)} characters long; a field takes up to {MOST_TYPED}.", str(key)
            )
    return function


def _place(error: ValidationError) -> str | None:
    """The field a complaint of the models is about."""
    place = error.errors()[0]["loc"]
    return str(place[-1]) if place else None


def field_of(error: ValidationError, usual: str = "title") -> str:
    """
    The field of a form a complaint belongs to: where it is about a whole record, the first figure
    it names.
    """
    first = error.errors()[0]
    if first["loc"]:
        return str(first["loc"][0])
    named = getattr(first["ctx"].get("error"), "field", None) if first.get("ctx") else None
    return named or usual


@contextmanager
def _owning():
    """
    Note what one edit has taken as its own; an edit that carries out others shares what it took.
    """
    token = _TAKEN.set({})
    try:
        yield
    finally:
        _TAKEN.reset(token)


def own(build: Build, piece):
    """
    A piece of a build as one that may be changed: copied the first time an edit asks for it, and
    put in its place.

    What an edit never asks for stays shared with the build it began from, so that trying one out
    costs the same in a small
    build as in a large one.
    """
    taken = _TAKEN.get()
    if taken is None or id(piece) in taken:
        return piece
    lists = (getattr(build, name) for name in PIECES)
    place, index = next((pieces, n) for pieces in lists for n, p in enumerate(pieces) if p is piece)
    mine = piece.duplicate() if hasattr(piece, "duplicate") else piece.model_copy(deep=True)
    place[index] = taken[id(mine)] = mine
    return mine


def the_channel(build: Build, channel: str):
    """The channel of that id, one that may be changed, or an error that says it is gone."""
    found = build.channel(channel)
    if found is None:
        raise EditError(
            "That channel is no longer in the build; it was removed, perhaps in another tab."
        )
    return own(build, found)


def the_rail(build: Build, rail: str):
    """The rail of that id, or an error that says it is gone."""
    found = build.rail(rail)
    if found is None:
        raise EditError(
            "That rail is no longer in the build; it was removed, perhaps in another tab.", "rail"
        )
    return own(build, found)


def next_id(build: Build, prefix: str) -> str:
    """A new stable id; numbers are never used twice within a build."""
    build.serial += 1
    return f"{prefix}{build.serial}"


def reread(target, model: type, **fields: str | None) -> None:
    """
    Set fields of a piece of the document, empty text meaning "not stated", and validate the whole
    piece.
    """
    data = target.model_dump() | {
        key: value if value != "" else None for key, value in fields.items()
    }
    fresh = validated(model, data)
    for key in fields:
        setattr(target, key, getattr(fresh, key))
