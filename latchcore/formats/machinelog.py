"""Events a machine wrote down by itself: a table of time, channel and what happened."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime

from latchcore.figures.typed import Refusal, can_be_kept, quoted

#: A log of a machine is up to so long [bytes], in so many rows, each word so long.
MOST_BYTES, MOST_ROWS, MOST_WORDS = 8_000_000, 100_000, 200
COLUMNS = ("time", "channel", "event")
#: Words for a contact that closed or opened.
ON, OFF = "on", "off"


class MachineLogError(Refusal):
    """A machine's log that cannot be taken in; the text says where and why."""


@dataclass(frozen=True, slots=True)
class MachineEvent:
    """When, of which channel (its id, empty for none), and what happened."""

    at: datetime
    channel: str
    words: str


def read_machine_log(content: bytes, channels: Mapping[str, str]) -> list[MachineEvent]:
    """
    Read a table with a head of ``time,channel,event``; all of it or nothing.

    Parameters
    ----------
    content : bytes
        UTF-8; times as ISO 8601, without a zone they are taken for UTC
    channels : mapping
        Ids by every name a channel may be called, in small letters

    Raises
    ------
    MachineLogError
        If it is too long, no such table, or a row of it is wrong

    Examples
    --------
    >>> text = b"time,channel,event\\n2026-11-01T06:00,Lamp,on\\n"
    >>> found = read_machine_log(text, {"lamp": "c1"})
    >>> found[0].channel, found[0].words, found[0].at.hour
    ('c1', 'on', 6)
    """
    if len(content) > MOST_BYTES:
        raise MachineLogError(
            f"The file has {len(content) / 1e6:.1f} MB; up to {MOST_BYTES / 1e6:.0f} MB are taken."
        )
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise MachineLogError("The file is no text; expected a table in UTF-8.") from error
    rows = csv.reader(io.StringIO(text), strict=True)
    try:
        head = tuple(cell.strip().lower() for cell in next(rows, []))
        if head[:3] != COLUMNS:
            raise MachineLogError(
                f"Its first line is {quoted(','.join(head)[:60])}; expected “{','.join(COLUMNS)}”."
            )
        return list(_events(rows, channels))
    except csv.Error as error:
        raise MachineLogError(f"It is no table: {error}.") from error


def _events(rows: Iterable[list[str]], channels: Mapping[str, str]) -> Iterable[MachineEvent]:
    for number, row in enumerate(rows, 2):
        if number > MOST_ROWS + 1:
            raise MachineLogError(f"It has more than {MOST_ROWS:,} rows; take it in by parts.")
        if not any(cell.strip() for cell in row):
            continue
        if len(row) < 3:
            raise MachineLogError(f"Line {number} has {len(row)} columns; expected three.")
        when, name, words = (cell.strip() for cell in row[:3])
        try:
            at = datetime.fromisoformat(when)
        except ValueError as error:
            raise MachineLogError(
                f"Line {number}: {quoted(when)} is no time; expected such as 2026-11-28T18:30:00."
            ) from error
        if name and name.lower() not in channels:
            raise MachineLogError(f"Line {number}: the build has no channel {quoted(name)}.")
        if not words or len(words) > MOST_WORDS or not can_be_kept(words):
            raise MachineLogError(
                f"Line {number}: {quoted(words)} is no event; expected up to {MOST_WORDS} letters."
            )
        yield MachineEvent(
            at if at.tzinfo else at.replace(tzinfo=UTC), channels.get(name.lower(), ""), words
        )


def counted(events: Iterable[MachineEvent]) -> dict[str, tuple[int, float]]:
    """
    Cycles and hours on of each channel, from events “on” and “off” in the order of time; one that
    is still on has no hours yet.

    Examples
    --------
    >>> at = datetime(2026, 11, 1, tzinfo=UTC)
    >>> counted([MachineEvent(at, "c1", "on"), MachineEvent(at.replace(hour=2), "c1", "off")])
    {'c1': (1, 2.0)}
    """
    found: dict[str, tuple[int, float]] = {}
    since: dict[str, datetime] = {}
    for event in sorted(events, key=lambda e: e.at):
        word = event.words.lower()
        cycles, hours = found.get(event.channel, (0, 0.0))
        if word == ON and event.channel not in since:
            since[event.channel] = event.at
            found[event.channel] = (cycles + 1, hours)
        elif word == OFF and event.channel in since:
            began = since.pop(event.channel)
            found[event.channel] = (cycles, hours + (event.at - began).total_seconds() / 3600)
    return found
