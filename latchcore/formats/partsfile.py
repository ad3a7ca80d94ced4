"""
Parts as a table: comma-separated text in and out, judged row by row before anything is taken in.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from typing import Any

from latchcore.catalogue import Catalogue, load_catalogue
from latchcore.catalogue.families import PART_FAMILIES
from latchcore.figures.quantity import resistor_code, show
from latchcore.figures.typed import Refusal, quoted, whole
from latchcore.formats.partsrecord import FAMILIES, fields_of
from latchcore.formats.partsrow import (
    OWN_KEY,
    CellError,
    Row,
    figures_of,
    kept_of,
    ohms_of,
    own_key,
    resistor_key,
)

STEADY = (
    "key",
    "version",
    "family",
    "title",
    "base",
    "value",
    "quantity",
    "place",
    "price",
    "substitutes",
)
MOST_ROWS, MOST_BYTES = 20_000, 2_400_000
#: What is said of a figure a row does not give.
MISSING_IN_A_ROW = "is missing; state it, or name a class in “base” to stand in"
#: A cell that begins so may be taken for a formula by a spreadsheet.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


class PartsFileError(Refusal):
    """A table that is none at all: too large, no header, an unknown column."""


def read_parts(
    text: str,
    catalogue: Catalogue | None = None,
    told: Callable[[int, int], None] = lambda done, of: None,
) -> list[Row]:
    """
    Read a table of parts; every row is judged, none is taken in.

    Parameters
    ----------
    text : str
        Comma- or semicolon-separated, with a header; figures in columns named as in the records,
        lists with ``|`` between
    told : callable, optional
        Called now and then with how many rows are judged, of how many

    Returns
    -------
    list of Row

    Raises
    ------
    PartsFileError
        If there is no table to judge

    Examples
    --------
    >>> read_parts("family,value,quantity\\nresistor,4k7,20")[0].value
    4700.0
    >>> read_parts("family,value,quantity\\nresistor,4k7k,20")[0].error
    '“4k7k” is not a quantity; expected ohms such as “4k7”.'
    """
    catalogue = catalogue or load_catalogue()
    if len(text.encode(errors="replace")) > MOST_BYTES:
        raise PartsFileError(f"The table is larger than {MOST_BYTES / 1e6:g} MB.")
    if "\0" in text:
        raise PartsFileError("The table holds a null character; expected plain text.")
    header, lines = _table(text)
    rows, seen = [], {}
    for done, (line, cells) in enumerate(lines):
        if done % 100 == 0:
            told(done, len(lines))
        row = _judge(
            line,
            dict(zip(header, (_plain_cell(c) for c in cells), strict=False)),
            len(cells) > len(header),
            catalogue,
        )
        if not row.error and row.key and row.key in seen:
            row = Row(
                line,
                row.key,
                row.family,
                row.title,
                column="key",
                error=f"“{row.key}” stands already in line {seen[row.key]}.",
            )
        if row.key:
            seen.setdefault(row.key, line)
        rows.append(row)
    return rows


def _table(text: str) -> tuple[list[str], list[tuple[int, list[str]]]]:
    """The header in small letters and the rows below it, each with its line in the file."""
    first = text.lstrip("\ufeff").split("\n", 1)[0]
    delimiter = ";" if first.count(";") > first.count(",") else ","
    reader = csv.reader(io.StringIO(text.lstrip("\ufeff")), delimiter=delimiter)
    try:
        lines = [(reader.line_num, cells) for cells in reader if any(c.strip() for c in cells)]
    except csv.Error as error:
        raise PartsFileError(
            f"The table cannot be read: {error}, line {reader.line_num}."
        ) from error
    if not lines:
        raise PartsFileError(
            "The table is empty; expected a header such as family,title,value,quantity."
        )
    header = [c.strip().lower() for c in lines[0][1]]
    known = set(STEADY) | {name for family in PART_FAMILIES for name in fields_of(family)}
    strange = [name for name in header if name and name not in known]
    if "family" not in header or strange:
        what = (
            f"the column “{strange[0]}” is not known" if strange else "there is no column “family”"
        )
        raise PartsFileError(
            f"Line 1: {what}; expected columns among {', '.join(STEADY)} and the figures of the"
            " records."
        )
    if len(header) != len(set(header)):
        raise PartsFileError("Line 1: a column stands twice.")
    if len(lines) - 1 > MOST_ROWS:
        raise PartsFileError(
            f"The table has {len(lines) - 1} rows; at most {MOST_ROWS} are taken at once."
        )
    return header, lines[1:]


def _plain_cell(cell: str) -> str:
    cell = cell.strip()
    return cell[1:] if cell[:1] == "'" and cell[1:2] in _FORMULA else cell


def _judge(line: int, cells: dict[str, str], too_wide: bool, catalogue: Catalogue) -> Row:
    family, title = cells.get("family", "").lower(), cells.get("title", "")[:120]
    try:
        if too_wide:
            raise CellError("", "The row has more cells than the header has columns.")
        return _row(line, family, title, cells, catalogue)
    except CellError as error:
        return Row(
            line,
            cells.get("key", ""),
            family,
            title or cells.get("value", ""),
            column=error.column,
            error=str(error),
        )


def _row(line: int, family: str, title: str, cells: dict[str, str], catalogue: Catalogue) -> Row:
    if family not in FAMILIES:
        raise CellError(
            "family", f"{quoted(family)} is no family; expected one of {', '.join(FAMILIES)}."
        )
    rest = kept_of(cells) | {"version": _version(cells)}
    key = cells.get("key", "")
    if key and OWN_KEY.match(key) is None and key not in catalogue.raw:
        raise CellError(
            "key",
            f"{quoted(key)} is no key; expected small letters, digits and hyphens, or nothing for a"
            " new part.",
        )
    if family == "resistor":
        value = ohms_of(cells)
        key, title = key or resistor_key(value), title or show(value, "Ω")
        return Row(line, key, family, title, value=value, **rest)
    key = key or own_key(title, family)
    given = {
        n: [c.strip() for c in cells[n].split("|")] if "|" in cells[n] else cells[n]
        for n in fields_of(family)
        if cells.get(n)
    }
    figures = figures_of(
        family, key, title, given, cells.get("base", ""), catalogue, MISSING_IN_A_ROW
    )
    return Row(line, key, family, title, figures, tuple(given), **rest)


def _version(cells: dict[str, str]) -> int:
    version = whole(cells.get("version", "") or "0", 0, 10**9)
    if version is None:
        raise CellError(
            "version",
            f"{quoted(cells['version'])} is no version; expected the number that was exported, or"
            " nothing for a new part.",
        )
    return version


def write_parts(rows: list[dict[str, Any]]) -> str:
    """
    Write parts as a table; a cell a spreadsheet might take for a formula is led by an apostrophe.

    Parameters
    ----------
    rows : list of dict
        ``key``, ``version``, ``family``, ``title``, ``value``, ``quantity``, ``place``, ``price``,
        ``substitutes``, ``figures``, ``given``

    Returns
    -------
    str
    """
    columns = list(STEADY)
    columns += [
        n
        for f in PART_FAMILIES
        for n in fields_of(f)
        if any(f == r["family"] and r["figures"] for r in rows) and n not in columns
    ]
    columns = list(dict.fromkeys(columns))
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(columns)
    for row in rows:
        cells = {
            **{
                k: row.get(k, "")
                for k in (
                    "key",
                    "version",
                    "family",
                    "title",
                    "quantity",
                    "place",
                    "price",
                    "substitutes",
                )
            },
            **row["figures"],
        }
        cells["value"] = resistor_code(row["value"]) if row["value"] else ""
        cells["title"] = row["title"]
        writer.writerow([_cell(cells.get(name, "")) for name in columns])
    return out.getvalue()


def _cell(value: Any) -> str:
    text = (
        "|".join(str(v) for v in value)
        if isinstance(value, list)
        else ("yes" if value else "no")
        if isinstance(value, bool)
        else str(value)
    )
    return f"'{text}" if text.startswith(_FORMULA) else text
