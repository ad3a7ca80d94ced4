"""Recorded or scripted inputs of a rehearsal, from a table or a value change dump."""

from __future__ import annotations

import csv
import io
from typing import Any

from vcd.reader import Token, TokenKind, VCDParseError, tokenize

from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.named import Names, Sense
from latchcore.document.models import Build
from latchcore.document.texts import LONGEST
from latchcore.figures.quantity import plain_number
from latchcore.figures.typed import Refusal, quoted

#: A file of inputs is no larger [bytes], and holds no more readings.
MOST_BYTES = 5_000_000
MOST_READINGS = 200_000
#: Units of a dump [s].
UNITS = {"s": 1.0, "ms": 1e-3, "us": 1e-6, "ns": 1e-9, "ps": 1e-12, "fs": 1e-15}
CHANGES = (TokenKind.CHANGE_SCALAR, TokenKind.CHANGE_VECTOR, TokenKind.CHANGE_REAL)
#: Words for a contact, as they stand in a table.
ACTED, AT_REST = frozenset({"1", "on", "true", "yes"}), frozenset({"0", "off", "false", "no"})


class InputsFileError(Refusal):
    """A file of inputs that cannot be used: what stands where, and what was expected."""


def read_inputs(build: Build, name: str, content: bytes) -> list[Happening]:
    """
    What a file says of a build's inputs, in order of time; all or nothing.

    A table (CSV) has a column ``t`` in seconds and one for each input it tells of, by id or name;
    an empty cell of a level is no reading. A value change dump (VCD) has a variable of that name.

    Parameters
    ----------
    build : Build
    name : str
        Of the file; a dump ends in ``.vcd``
    content : bytes

    Raises
    ------
    InputsFileError
        If it is too large, cannot be read, or names no input of the build

    Examples
    --------
    >>> build = Build.model_validate(
    ...     {"name": "b", "inputs": [{"id": "in1", "name": "Lever", "kind": "button"}]}
    ... )
    >>> [(h.t, h.of, h.value) for h in read_inputs(build, "x.csv", b"t,Lever\\n0,0\\n1.5,1\\n")]
    [(0.0, 'in1', False), (1.5, 'in1', True)]
    """
    if len(content) > MOST_BYTES:
        raise InputsFileError(
            f"The file has {len(content) / 1e6:.1f} MB; a file of inputs has at most"
            f" {MOST_BYTES / 1e6:.0f} MB."
        )
    if name.lower().endswith(".vcd"):
        return _dump(build, content)
    return _table(build, content)


def _known(build: Build, called: str) -> Sense | None:
    """An input by its key or its name."""
    senses = Names.of(build).senses
    for sense in senses.values():
        if called.strip() in (sense.key, sense.name):
            return sense
    return None


def _expected(build: Build) -> str:
    names = [sense.name for sense in Names.of(build).senses.values()]
    return ", ".join(names) or "none, the build has no input"


def _table(build: Build, content: bytes) -> list[Happening]:
    try:
        text = content.decode("utf-8-sig")
        rows = list(csv.reader(io.StringIO(text)))
    except (UnicodeDecodeError, csv.Error) as error:
        raise InputsFileError(f"The file is no table of text: {error}.") from error
    rows = [row for row in rows if any(cell.strip() for cell in row)]
    if not rows:
        raise InputsFileError("The file is empty; expected a row of names and rows of readings.")
    header = [cell.strip() for cell in rows[0]]
    senses = _columns(build, header)
    found: list[Happening] = []
    before = 0.0
    for line, row in enumerate(rows[1:], 2):
        before = _time(line, row[0], before)
        if len(row) != len(header):
            raise InputsFileError(
                f"Row {line} has {len(row)} cells, the first row {len(header)}; expected as many."
            )
        found += [
            Happening(before, "input", sense.key, _cell(line, sense, cell.strip()))
            for sense, cell in zip(senses, row[1:], strict=True)
        ]
        _hold_count(found)
    return _changes(found)


def _columns(build: Build, header: list[str]) -> list[Sense]:
    """The input of each column behind the time."""
    if header[0].lower() not in ("t", "time", "t_s", "seconds"):
        raise InputsFileError(
            f"The first column is called {quoted(header[0])}; expected “t”, the time in seconds."
        )
    found = []
    for called in header[1:]:
        sense = _known(build, called)
        if sense is None:
            raise InputsFileError(
                f"{quoted(called)} is no input of this build; expected any of {_expected(build)}."
            )
        found.append(sense)
    return found


def _time(line: int, text: str, before: float) -> float:
    t = plain_number(text)
    if t is None or not 0 <= t <= LONGEST:
        raise InputsFileError(
            f"Row {line}: {quoted(text)} is no time; expected seconds from 0 on, up to 31 days."
        )
    if t < before:
        raise InputsFileError(
            f"Row {line}: {text.strip()} s comes after {before:g} s; expected times that ascend."
        )
    return t


def _cell(line: int, sense: Sense, cell: str) -> Any:
    if sense.scaled:
        value = None if cell == "" else plain_number(cell)
        if cell != "" and value is None:
            raise InputsFileError(
                f"Row {line}, {sense.name}: {quoted(cell)} is no level; expected a number, or"
                " nothing where there was no reading."
            )
        return value
    if cell.lower() in ACTED:
        return True
    if cell.lower() in AT_REST:
        return False
    raise InputsFileError(
        f"Row {line}, {sense.name}: {quoted(cell) if cell else 'nothing stands there'}; expected 1"
        " (acted on) or 0 (at rest)."
    )


def _dump(build: Build, content: bytes) -> list[Happening]:
    dump = _Dump(build)
    try:
        for token in tokenize(io.BytesIO(content)):
            dump.take(token)
    except (VCDParseError, ValueError) as error:
        raise InputsFileError(f"The file is no value change dump: {error}") from error
    if not dump.names:
        raise InputsFileError(
            f"No variable of it is an input of this build; expected any of {_expected(build)}."
        )
    return _changes(dump.found)


class _Dump:
    """What a dump said so far."""

    def __init__(self, build: Build) -> None:
        self.build, self.scale, self.now = build, 1.0, 0.0
        self.names: dict[str, Sense] = {}
        self.found: list[Happening] = []

    def take(self, token: Token) -> None:
        """One token of it."""
        if token.kind is TokenKind.TIMESCALE:
            stated = token.timescale
            self.scale = int(stated.magnitude) * UNITS[stated.unit.value]
        elif token.kind is TokenKind.VAR:
            sense = _known(self.build, token.var.reference)
            if sense is not None:
                self.names[token.var.id_code] = sense
        elif token.kind is TokenKind.CHANGE_TIME:
            self.now = token.time_change * self.scale
            if self.now > LONGEST:
                raise InputsFileError(
                    f"It goes on to {self.now:g} s; a rehearsal is no longer than 31 days."
                )
        elif token.kind in CHANGES:
            change: Any = token.data
            sense = self.names.get(change.id_code)
            if sense is not None:
                value = _value(sense, change.value)
                self.found.append(Happening(self.now, "input", sense.key, value))
                _hold_count(self.found)


def _value(sense: Sense, value: Any) -> Any:
    """A value of a dump; ``x`` and ``z`` are no reading of a level and at rest for a contact."""
    if isinstance(value, str):
        clear = set(value) <= {"0", "1"}
        number = float(int(value, 2)) if clear else None
    else:
        number = float(value)
    return number if sense.scaled else bool(number)


def _hold_count(found: list[Happening]) -> None:
    if len(found) > MOST_READINGS:
        raise InputsFileError(
            f"It holds over {MOST_READINGS} readings; a rehearsal takes no more. Leave some out."
        )


def _changes(found: list[Happening]) -> list[Happening]:
    """Readings that differ from the one before of their input."""
    last: dict[str, Any] = {}
    kept = []
    for happening in found:
        if happening.of not in last or last[happening.of] != happening.value:
            kept.append(happening)
            last[happening.of] = happening.value
    return kept
