"""How many of something, and what the next of a row is called."""

from __future__ import annotations

import re

from latchcore.document.models import MOST_CHANNELS, Build
from latchcore.edits.registry import EditError
from latchcore.figures.typed import quoted, whole

_NUMBERED = re.compile(r"(.*?)\s+(\d{1,4})")


def how_many(text: str, build: Build, field: str | None = "many") -> int:
    """A typed count of channels that still fit a build; raises ``EditError``."""
    room = MOST_CHANNELS - len(build.channels)
    if room < 1:
        raise EditError(f"A build holds up to {MOST_CHANNELS} channels.")
    count = whole(text or "1", 1, room)
    if count is None:
        raise EditError(
            f"{quoted(text)} is no count; expected a whole number from 1 to {room}.", field
        )
    return count


def numbered(name: str, taken: set[str]) -> str:
    """
    The next free name of a row: its number one higher, or a number where it has none.

    >>> numbered("Lamp", {"Lamp"}), numbered("Lamp 7", {"Lamp 7", "Lamp 8"})
    ('Lamp 2', 'Lamp 9')
    """
    found = _NUMBERED.fullmatch(name)
    stem, n = (found[1], int(found[2])) if found else (name, 1)
    while (made := f"{stem[:54]} {n + 1}") in taken:
        n += 1
    return made


def whole_number(text: str, field: str = "count", most: int = 10_000) -> int | str:
    """A whole number as typed, up to a most; empty text stays that. Raises ``EditError``."""
    if text.strip() == "":
        return ""
    number = whole(text, 1, most)
    if number is None:
        raise EditError(
            f"{quoted(text)} is no count; expected a whole number from 1 to {most}.", field
        )
    return number
