"""Driver chains: registers in a row, an expander, a driver on a bus: lines beside the board's."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from latchcore.document.texts import HertzText, Id, Key, Model, Name, Note, OhmsText

#: As many packages as one chain holds.
MOST_PACKAGES = 16


class Chain(Model):
    """
    Packages of one kind in a row, their outputs numbered through as ``chain1.0``, ``chain1.1``, …

    ``lines`` are the board's pins by role, ``rail`` feeds it, the board's own logic supply where it
    is empty. ``base`` is the number of the first output and ``first`` the end it is at, seen from
    the data input. ``enable_pull`` holds the outputs released while nobody drives the enable:
    ``auto``, ``none`` or what is fitted. ``shifter`` stands between other levels. ``idle`` and
    ``samples`` are what the program does with the clock, ``compared`` whether that was held against
    the part's data; ``data_rests`` where the data line stands between loads.
    """

    id: Id
    name: Name
    part: Key
    count: Annotated[int, Field(ge=1, le=MOST_PACKAGES)] = 1
    rail: Id | None = None
    lines: Annotated[dict[Key, Annotated[str, Field(max_length=12)]], Field(max_length=8)] = {}
    base: Literal[0, 1] = 0
    first: Literal["nearest", "farthest"] = "nearest"
    enable: Literal["line", "tied"] = "line"
    enable_pull: Literal["auto", "none"] | OhmsText = "auto"
    shifter: bool = False
    idle: Literal["low", "high"] = "low"
    samples: Literal["first", "second"] = "first"
    compared: bool = False
    data_rests: Literal["keeps", "0", "1"] = "keeps"
    clock: HertzText | None = None
    note: Note = ""


def part_of(line: str) -> tuple[str, int] | None:
    """
    The chain a line is named after and its number there; ``None`` for a line of a board.

    Examples
    --------
    >>> part_of("chain1.12"), part_of("L4"), part_of("chain1.x")
    (('chain1', 12), None, None)
    """
    chain, dot, number = line.partition(".")
    return (chain, int(number)) if dot and number.isascii() and number.isdigit() else None
