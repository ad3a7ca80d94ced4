"""
Parts as a table: comma-separated text in and out, judged row by row before anything is taken in.
"""

from __future__ import annotations

import csv
import io
import re
import secrets
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from pydantic import ValidationError

from latchcore.catalogue import Catalogue, load_catalogue
from latchcore.catalogue.records import PART_FAMILIES
from latchcore.edits.registry import field_of, plain
from latchcore.figures.quantity import QuantityError, parse, resistor_code, show
from latchcore.figures.typed import Refusal, can_be_kept, in_one_line, quoted, whole
from latchcore.formats.partsrecord import FAMILIES, build_record, fields_of, typed

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
#: A cell that begins so may be taken for a formula by a spreadsheet.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


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


class PartsFileError(Refusal):
    """A table that is none at all: too large, no header, an unknown column."""


#: A key every address can carry; dots are left to the classes that ship.
OWN_KEY = re.compile(r"^[a-z0-9][a-z0-9_-]{0,63}$")


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
    rows, seen = [], {}
    for done, (line, cells) in enumerate(lines[1:]):
        if done % 100 == 0:
            told(done, len(lines) - 1)
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


def _plain_cell(cell: str) -> str:
    cell = cell.strip()
    return cell[1:] if cell[:1] == "'" and cell[1:2] in _FORMULA else cell


def _judge(line: int, cells: dict[str, str], too_wide: bool, catalogue: Catalogue) -> Row:
    family, title = cells.get("family", "").lower(), cells.get("title", "")[:120]

    def wrong(column: str, error: str) -> Row:
        return Row(
            line,
            cells.get("key", ""),
            family,
            title or cells.get("value", ""),
            column=column,
            error=in_one_line(error),
        )

    if too_wide:
        return wrong("", "The row has more cells than the header has columns.")
    if family not in FAMILIES:
        return wrong("family", f"“{family}” is no family; expected one of {', '.join(FAMILIES)}.")
    count, version = (
        whole(cells.get("quantity", "") or "0", 0, 1_000_000),
        whole(cells.get("version", "") or "0", 0, 10**9),
    )
    if count is None:
        return wrong(
            "quantity",
            f"{quoted(cells['quantity'])} is no count; expected a whole number up to a million.",
        )
    if version is None:
        return wrong(
            "version",
            f"{quoted(cells['version'])} is no version; expected the number that was exported, or"
            " nothing for a new part.",
        )
    strange = next((name for name, cell in cells.items() if not can_be_kept(cell)), None)
    if strange is not None:
        return wrong(
            strange, "Holds a character that cannot be shown; expected plain text in one line."
        )
    if (
        (given_key := cells.get("key", ""))
        and OWN_KEY.match(given_key) is None
        and given_key not in catalogue.raw
    ):
        return wrong(
            "key",
            f"{quoted(given_key)} is no key; expected small letters, digits and hyphens, or nothing"
            " for a new part.",
        )
    rest = {
        "version": version,
        "quantity": count,
        "place": cells.get("place", "")[:60],
        "price": cells.get("price", "")[:20],
        "substitutes": cells.get("substitutes", "")[:200],
    }
    if family == "resistor":
        try:
            value = parse(cells.get("value", ""), "Ω")
        except QuantityError as error:
            return wrong("value", str(error))
        return Row(
            line,
            cells.get("key") or resistor_key(value),
            family,
            title or f"{show(value, 'Ω')}",
            value=value,
            **rest,
        )
    if not title:
        return wrong("title", "Nothing was typed; expected what the part is called.")
    key = cells.get("key") or own_key(title, family)
    given = {
        n: [c.strip() for c in cells[n].split("|")] if "|" in cells[n] else cells[n]
        for n in fields_of(family)
        if cells.get(n)
    }
    try:
        figures = build_record(
            family, key, title, typed(family, given), cells.get("base", ""), catalogue
        )
    except ValidationError as error:
        first = error.errors()[0]
        missing = (
            "is missing; state it, or name a class in “base” to stand in"
            if first["type"] == "missing"
            else plain(error)
        )
        return wrong(field_of(error), missing)
    except ValueError as error:
        return wrong("base", str(error))
    return Row(line, key, family, title, figures, tuple(given), **rest)


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
