"""Records of parts that travel with a build, read once each."""

from __future__ import annotations

import json
from typing import Any

from pydantic import ValidationError

from latchcore.catalogue import read_part
from latchcore.catalogue.records import Record
from latchcore.design.memory import Memory
from latchcore.figures.typed import Refusal, quoted

#: Records that came with builds, by what is written in them: they are read once.
_READ = Memory(2048)


def read_own(key: str, raw: dict[str, Any]) -> Record:
    """
    The record that is written so.

    Raises
    ------
    Refusal
        If it cannot be read, with the first complaint
    """
    text = json.dumps(raw, sort_keys=True)
    part = _READ.get(text)
    if part is None:
        try:
            part = _READ[text] = read_part(raw)
        except ValueError as error:
            raise Refusal(
                f"The record of {quoted(key)} that came with this build cannot be read:"
                f" {_first_of(error)}"
            ) from error
    return part


def _first_of(error: ValueError) -> str:
    """The first complaint about a record, without its wrapping."""
    if isinstance(error, ValidationError):
        first = error.errors()[0]
        place = ".".join(str(p) for p in first["loc"])
        return f"{place} {first['msg'].removeprefix('Value error, ')}".strip()
    return str(error)
