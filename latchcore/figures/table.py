"""A table of plain text, and its file."""

from __future__ import annotations

import csv
import io
import re
from dataclasses import dataclass

#: What a spreadsheet would take for the beginning of a formula.
RUNS = ("=", "+", "-", "@", "\t", "\r")
NUMBER = re.compile(r"[+-]?\d+([.,]\d+)?([eE][+-]?\d+)?")


@dataclass(frozen=True, slots=True)
class Table:
    """A table: what its file is called, what it is about, its head and its rows."""

    name: str
    title: str
    header: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]

    def as_csv(self) -> str:
        """
        The table as RFC 4180 has it; what a spreadsheet would run has an apostrophe in front.

        Examples
        --------
        >>> Table("t", "T", ("a", "b"), (("=1+1", "one, two"),)).as_csv()
        'a,b\\r\\n\\'=1+1,"one, two"\\r\\n'
        """
        text = io.StringIO()
        writer = csv.writer(text, lineterminator="\r\n")
        writer.writerow(self.header)
        writer.writerows([harmless(cell) for cell in row] for row in self.rows)
        return text.getvalue()


def harmless(cell: str) -> str:
    """
    A cell no spreadsheet runs; numbers stay numbers.

    Examples
    --------
    >>> harmless("-3.5"), harmless("-lamp"), harmless("@home"), harmless("12 V")
    ('-3.5', "'-lamp", "'@home", '12 V')
    """
    if cell.lstrip(" ").startswith(RUNS) and not NUMBER.fullmatch(cell):
        return f"'{cell}"
    return cell
