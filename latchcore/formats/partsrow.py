"""One part as it is typed, in a row of a table or in a form: judged before it is taken in."""

from __future__ import annotations

import re
import secrets
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from pydantic import ValidationError

from latchcore.catalogue import Catalogue
from latchcore.edits.registry import field_of, plain
from latchcore.figures.quantity import QuantityError, parse
from latchcore.figures.typed import Refusal, can_be_kept, quoted, whole
from latchcore.formats.partsrecord import build_record, typed

#: A key every address can carry; dots are left to the classes that ship.
OWN_KEY = re.compile(r"^[a-z0-9][a-z0-9_-]{0,63}$")
#: Most of one part a drawer holds.
MOST_COUNT = 1_000_000
#: What is kept of a part besides its figures, and how long it may be.
KEPT = {"place": 60, "price": 20, "substitutes": 200}


@dataclass(frozen=True)
class Row:
    """One row as understood: where it stood, the part, and what is wrong with it, if anything."""

    line: int
    key: str
    family: str
    title: str
    figures: dict[str, Any] = field(default_factory=dict)
    given: tuple[str, ...] = ()
    value: float | None = None
    quantity: int = 0
    place: str = ""
    price: str = ""
    substitutes: str = ""
    version: int = 0
    column: str = ""
    error: str = ""


class CellError(Refusal):
    """A cell that does not do, with its column."""

    def __init__(self, column: str, message: str):
        super().__init__(message)
        self.column = column


def own_key(title: str, family: str) -> str:
    """
    A key of its own for a new part: a title is a word, and two parts may have the same.

    Examples
    --------
    >>> own_key("NPN, old radio", "npn").startswith("own-npn-old-radio-"), own_key("Реле",
    ...     "relay").startswith("own-relay-")
    (True, True)
    >>> own_key("Twin", "npn") == own_key("Twin", "npn")
    False
    """
    slug = re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")[:40].strip("-")
    return f"own-{slug or family.replace('_', '-')}-{secrets.token_hex(3)}"


def resistor_key(value: float) -> str:
    """
    The key of a resistor value.

    Examples
    --------
    >>> resistor_key(4700.0), resistor_key(1.5)
    ('resistor-4700', 'resistor-1-5')
    """
    return f"resistor-{value:g}".replace(".", "-").replace("+", "")


def kept_of(cells: Mapping[str, str]) -> dict[str, Any]:
    """
    What is kept of a part besides its figures.

    Raises
    ------
    CellError
        At a count that is none, or a character that cannot be shown

    Examples
    --------
    >>> kept_of({"quantity": "20", "place": "Box 3"})
    {'quantity': 20, 'place': 'Box 3', 'price': '', 'substitutes': ''}
    """
    typed_count = cells.get("quantity", "").strip() or "0"
    count = whole(typed_count, 0, MOST_COUNT)
    if count is None:
        raise CellError(
            "quantity",
            f"{quoted(typed_count)} is no count; expected a whole number up to a million.",
        )
    strange = next((name for name, cell in cells.items() if not can_be_kept(cell)), None)
    if strange is not None:
        raise CellError(
            strange, "Holds a character that cannot be shown; expected plain text in one line."
        )
    return {"quantity": count} | {name: cells.get(name, "")[:most] for name, most in KEPT.items()}


def ohms_of(cells: Mapping[str, str]) -> float:
    """The value of a resistor; ``CellError`` where it is none."""
    try:
        return parse(cells.get("value", ""), "Ω")
    except QuantityError as error:
        raise CellError("value", str(error)) from error


def figures_of(
    family: str, key: str, title: str, given: dict, base: str, catalogue: Catalogue, missing: str
) -> dict[str, Any]:
    """
    The record of a part from the figures that were given and the class that stands in for the rest.

    Raises
    ------
    CellError
        At the first figure that does not do; ``missing`` is said of one that is not given
    """
    if not title:
        raise CellError("title", "Nothing was typed; expected what the part is called.")
    try:
        return build_record(family, key, title, typed(family, given), base, catalogue)
    except ValidationError as error:
        absent = error.errors()[0]["type"] == "missing"
        raise CellError(field_of(error), missing if absent else plain(error)) from error
    except ValueError as error:
        raise CellError("base", str(error)) from error
