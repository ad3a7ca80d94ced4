"""Logic levels that were captured at a board, from a table or a value change dump."""

from __future__ import annotations

import csv
import io
from typing import Any

from vcd.reader import Token, TokenKind, VCDParseError, tokenize

from latchcore.figures.quantity import plain_number
from latchcore.figures.typed import Refusal, quoted
from latchcore.formats.inputsfile import CHANGES, MOST_BYTES, UNITS

#: A capture holds no more changes, and no more lines.
MOST_CHANGES, MOST_LINES = 200_000, 64
#: What a column of times is called; no capture goes further from its zero [s].
TIMES, FURTHEST = ("t", "time", "t_s", "seconds", "time [s]", "time[s]"), 31 * 86400.0
HIGH, LOW = frozenset({"1", "high", "h"}), frozenset({"0", "low", "l"})
Points = list[tuple[float, int]]


class CaptureFileError(Refusal):
    """A capture that cannot be used: what stands where, and what was expected."""


def read_capture(name: str, content: bytes, known: dict[str, str]) -> dict[str, Points]:
    """
    Levels of each line that is known, by its name on the board; all or nothing.

    A table (CSV) has a column of times in seconds, which may begin before 0, and one of 0 and 1 for
    each line; a value change dump (VCD) a variable of one bit for each. What is not known is left
    out, as long as anything is.

    Parameters
    ----------
    name : str
        Of the file; a dump ends in ``.vcd``
    content : bytes
    known : dict
        Every word a line may be called by, with its name on the board

    Raises
    ------
    CaptureFileError
        If it is too large, cannot be read, or holds no line that is known

    Examples
    --------
    >>> read_capture("x.csv", b"t,D0,P25\\n-1,0,0\\n0.5,1,1\\n", {"p25": "P25"})
    {'P25': [(-1.0, 0), (0.5, 1)]}
    """
    if len(content) > MOST_BYTES:
        raise CaptureFileError(
            f"The file has {len(content) / 1e6:.1f} MB; a capture has at most"
            f" {MOST_BYTES / 1e6:.0f} MB."
        )
    found = (_dump if name.lower().endswith(".vcd") else _table)(content, known)
    if not found:
        words = ", ".join(sorted(set(known.values()))) or "none, no channel has a line"
        raise CaptureFileError(f"No line of this build is in it; expected any of {words}.")
    return {line: _changes(points) for line, points in found.items()}


def _table(content: bytes, known: dict[str, str]) -> dict[str, Points]:
    try:
        rows = list(csv.reader(io.StringIO(content.decode("utf-8-sig"))))
    except (UnicodeDecodeError, csv.Error) as error:
        raise CaptureFileError(f"The file is no table of text: {error}.") from error
    rows = [row for row in rows if any(cell.strip() for cell in row)]
    if not rows:
        raise CaptureFileError("The file is empty; expected a row of names and rows of levels.")
    if rows[0][0].strip().lower() not in TIMES:
        raise CaptureFileError(
            f"The first column is called {quoted(rows[0][0])}; expected “t”, the time in seconds."
        )
    columns = {n: line for n, cell in enumerate(rows[0]) if n and (line := known.get(_key(cell)))}
    if len(rows) * max(len(columns), 1) > MOST_CHANGES:
        raise CaptureFileError(f"It holds over {MOST_CHANGES} levels; cut it to what matters.")
    found: dict[str, Points] = {line: [] for line in columns.values()}
    before = -FURTHEST
    for number, row in enumerate(rows[1:], 2):
        before = _time(number, row[0], before)
        for n, line in columns.items():
            found[line].append((before, _level(number, line, row[n] if n < len(row) else "")))
    return {line: points for line, points in found.items() if points}


def _key(word: str) -> str:
    return word.strip().lower()


def _time(number: int, text: str, before: float) -> float:
    t = plain_number(text)
    if t is None or abs(t) > FURTHEST or t < before:
        raise CaptureFileError(
            f"Row {number}: {quoted(text)} is no time after the one before; expected seconds that"
            " ascend."
        )
    return t


def _level(number: int, line: str, cell: str) -> int:
    word = cell.strip().lower()
    if word in HIGH or word in LOW:
        return int(word in HIGH)
    raise CaptureFileError(
        f"Row {number}, {line}: {quoted(cell) if word else 'nothing stands there'}; expected 1"
        " (high) or 0 (low)."
    )


def _dump(content: bytes, known: dict[str, str]) -> dict[str, Points]:
    names: dict[str, str] = {}
    found: dict[str, Points] = {}
    scale, now, count = 1.0, 0.0, 0
    try:
        for token in tokenize(io.BytesIO(content)):
            if token.kind is TokenKind.TIMESCALE:
                stated = token.timescale
                scale = int(stated.magnitude) * UNITS[stated.unit.value]
            elif token.kind is TokenKind.VAR:
                _name(token, known, names)
            elif token.kind is TokenKind.CHANGE_TIME:
                now = token.time_change * scale
                if now > FURTHEST:
                    raise CaptureFileError(f"It goes on to {now:g} s; expected up to 31 days.")
            elif token.kind in CHANGES:
                change: Any = token.data
                line = names.get(change.id_code)
                if line is not None and str(change.value) in ("0", "1"):
                    found.setdefault(line, []).append((now, int(change.value)))
                    count += 1
                    if count > MOST_CHANGES:
                        raise CaptureFileError(
                            f"It holds over {MOST_CHANGES} levels; cut it to what matters."
                        )
    except (VCDParseError, ValueError, KeyError) as error:
        raise CaptureFileError(f"The file is no value change dump: {error}") from error
    return found


def _name(token: Token, known: dict[str, str], names: dict[str, str]) -> None:
    called = _key(token.var.reference)
    line = known.get(called) or known.get(called.replace("_", "."))
    if line is not None and len(names) < MOST_LINES:
        names[token.var.id_code] = line


def _changes(points: Points) -> Points:
    """Levels that differ from the one before."""
    kept = points[:1]
    for point in points[1:]:
        if point[1] != kept[-1][1]:
            kept.append(point)
    return kept
