"""
A board profile as a file: a table or JSON, every line of the board in a row of its own, judged
before it is taken.
"""

from __future__ import annotations

import csv
import io
import json
from dataclasses import dataclass, field
from typing import Any

from pydantic import ValidationError

from latchcore.catalogue.boards import Board, Pin
from latchcore.edits.registry import field_of, plain
from latchcore.figures.typed import Refusal

#: Figures a board has besides its name, its power pins and its lines.
FIGURES = tuple(
    n
    for n in Board.model_fields
    if n not in ("id", "title", "source", "family", "power_pins", "pins")
)
PIN_CELLS = (
    "id",
    "chip",
    "header",
    "can",
    "owner",
    "reset",
    "pull",
    "start",
    "group",
    "timer",
    "pull_up",
)
COLUMNS = ("row", *PIN_CELLS, "value")
MOST_PINS, MOST_POWER, MOST_BYTES = 200, 20, 200_000
CAN = ("in", "out", "pwm", "analogue", "interrupt")
FIGURE_WORDS = {
    "logic": "logic supply",
    "voh_drop_noload": "high level below its supply, unloaded",
    "voh_drop_rated": "high level below its supply, at the current below",
    "rated_current": "current that high level is given at",
    "vol_noload": "low level, unloaded",
    "vol_max": "low level, at that current",
    "pin_recommended": "a pin, recommended",
    "pin_absolute": "a pin, absolute limit",
    "total_recommended": "all pins, recommended",
    "total_absolute": "all pins, absolute limit",
    "group_limit": "pins of one group together, if limited",
    "sink_recommended": "a pin that sinks, recommended, if not the same",
    "leakage": "leakage of a floating pin",
    "injection_limit": "current a pin bears from outside",
    "internal_pull": "pull-ups the program can turn on",
    "over_supply": "volts a pin bears above its supply",
    "reads_low": "reads low up to, if its sheet says",
    "reads_high": "reads high from, if its sheet says",
    "feed": "supply it is fed with",
    "idle": "draws when idle",
    "peak": "draws at most",
    "brown_out": "resets below",
    "boot_time": "boots in",
    "upload_time": "longest upload",
    "program": "program it takes: either, cpp or neither",
}


@dataclass
class BoardDraft:
    """
    A board as cells of text: what a form or file holds before it is a profile; ``pins`` are dicts
    of PIN_CELLS.
    """

    title: str = ""
    figures: dict[str, str] = field(default_factory=dict)
    power: list[tuple[str, str]] = field(default_factory=list)
    pins: list[dict[str, str]] = field(default_factory=list)


class BoardFileError(Refusal):
    """
    A board that cannot be taken: what is wrong, and where: a figure's name, or ``pin:ROW:CELL``.
    """

    def __init__(self, message: str, place: str = ""):
        super().__init__(message)
        self.place = place


def draft_of(raw: dict[str, Any]) -> BoardDraft:
    """
    The cells of a board record.

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> draft = draft_of(load_catalogue().raw["board-radio-3v3"])
    >>> draft.figures["logic"], len(draft.pins) > 20
    ('3.3 V ±5 %', True)
    """
    pins = [
        {
            cell: "|".join(v) if isinstance(v := pin.get(cell) or "", list) else v
            for cell in PIN_CELLS
        }
        for pin in raw.get("pins", [])
    ]
    return BoardDraft(
        raw.get("title", ""),
        {n: str(raw.get(n, "")) for n in FIGURES},
        list(raw.get("power_pins", {}).items()),
        pins,
    )


def _pin_record(row: int, cells: dict[str, str], seen: dict[str, int]) -> dict[str, Any]:
    """One line of a draft, judged; ``seen`` holds the labels of the rows above it."""
    known: dict[str, Any] = {
        c: cells.get(c, "").strip() for c in PIN_CELLS if cells.get(c, "").strip()
    }
    known["can"] = [c.strip() for c in known.get("can", "").split("|") if c.strip()]
    name = known.get("id", "")
    if not name:
        raise BoardFileError(
            "A line without a name; expected the label printed on the board.", f"pin:{row}:id"
        )
    if name in seen:
        raise BoardFileError(
            f"“{name}” stands already in row {seen[name] + 1}; each line has a label of its own.",
            f"pin:{row}:id",
        )
    seen[name] = row
    if known.get("reset", "floating") in ("pull_up", "pull_down") and "pull" not in known:
        raise BoardFileError(
            f"{name} is pulled in reset, but how strongly is not stated; expected a range such as"
            " “30 to 80 kΩ”.",
            f"pin:{row}:pull",
        )
    record = known | {"chip": known.get("chip", name), "header": known.get("header", name)}
    try:
        Pin.model_validate(record)
    except ValidationError as error:
        cell = field_of(error, "id")
        expected = (
            f"“{cells.get('can', '')}” holds what no line does; expected any of {', '.join(CAN)}."
            if cell == "can"
            else plain(error)
        )
        raise BoardFileError(f"{name}: {expected}", f"pin:{row}:{cell}") from error
    return record


def board_record(draft: BoardDraft, key: str, source: str) -> dict[str, Any]:
    """
    The record of a draft.

    Raises
    ------
    BoardFileError
        At the first cell that does not do, named
    """
    if not draft.title.strip():
        raise BoardFileError(
            "Nothing was typed; expected what the board is called, by its class.", "title"
        )
    if not draft.pins:
        raise BoardFileError("The board has no line at all; expected at least one.", "pins")
    if len(draft.pins) > MOST_PINS or len(draft.power) > MOST_POWER:
        raise BoardFileError(
            f"A board has up to {MOST_PINS} lines and {MOST_POWER} power pins here.", "pins"
        )
    seen: dict[str, int] = {}
    pins = [_pin_record(row, cells, seen) for row, cells in enumerate(draft.pins)]
    given = {
        n: draft.figures.get(n, "").strip() for n in FIGURES if draft.figures.get(n, "").strip()
    }
    power = {
        name.strip(): amperes.strip()
        for name, amperes in draft.power
        if name.strip() or amperes.strip()
    }
    record = {
        "family": "board",
        "id": key,
        "title": draft.title.strip()[:120],
        "source": source[:200],
        **given,
        "power_pins": power,
        "pins": pins,
    }
    try:
        board = Board.model_validate(record)
    except ValidationError as error:
        first = error.errors()[0]
        says = (
            f"{FIGURE_WORDS.get(str(first['loc'][0]), first['loc'][0])}: not stated; a profile"
            " wants every figure."
            if first["type"] == "missing"
            else plain(error)
        )
        raise BoardFileError(says, field_of(error)) from error
    for low, high in (
        ("pin_recommended", "pin_absolute"),
        ("total_recommended", "total_absolute"),
        ("idle", "peak"),
    ):
        if getattr(board, low) > getattr(board, high):
            raise BoardFileError(
                f"{FIGURE_WORDS[low]} {given[low]} is above {FIGURE_WORDS[high]} {given[high]}.",
                low,
            )
    return record


def write_json(raw: dict[str, Any]) -> str:
    """A board as JSON, figures as text with units."""
    return (
        json.dumps(
            {k: v for k, v in raw.items() if k not in ("id", "family")},
            ensure_ascii=False,
            indent=1,
        )
        + "\n"
    )


def write_csv(raw: dict[str, Any]) -> str:
    """
    A board as a table: ``title``, ``figure``, ``power`` and ``pin`` rows, told apart by the first
    column.
    """
    out, draft = io.StringIO(), draft_of(raw)
    writer = csv.DictWriter(out, COLUMNS, restval="", lineterminator="\n")
    writer.writeheader()
    writer.writerow({"row": "title", "value": _guarded(draft.title)})
    for name, value in draft.figures.items():
        writer.writerow({"row": "figure", "id": name, "value": _guarded(value)})
    for name, value in draft.power:
        writer.writerow({"row": "power", "id": _guarded(name), "value": _guarded(value)})
    for pin in draft.pins:
        writer.writerow({"row": "pin", **{cell: _guarded(text) for cell, text in pin.items()}})
    return out.getvalue()


def _guarded(text: str) -> str:
    return f"'{text}" if text[:1] in ("=", "+", "-", "@") else text


def read_board(text: str) -> BoardDraft:
    """
    Read a board file, JSON or table, into a draft; nothing is judged but its form.

    Raises
    ------
    BoardFileError
        Where it is no board file: too large, too deep, an unknown column or row

    Examples
    --------
    >>> read_board("row,id,value\\ntitle,,3.3 V stick\\nfigure,logic,3.3 V").figures
    {'logic': '3.3 V'}
    """
    if len(text.encode(errors="replace")) > MOST_BYTES:
        raise BoardFileError(f"The file is larger than {MOST_BYTES // 1000} kB.")
    if "\0" in text:
        raise BoardFileError("The file holds a null character; expected plain text.")
    text = text.lstrip("\ufeff").strip()
    return _from_json(text) if text.startswith("{") else _from_table(text)


def _from_json(text: str) -> BoardDraft:
    try:
        raw = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise BoardFileError(f"This is no JSON that can be read: {error}.") from error
    strange = [
        k
        for k in raw
        if k not in (*FIGURES, "title", "source", "power_pins", "pins", "id", "family")
    ]
    if strange:
        raise BoardFileError(
            f"“{strange[0][:40]}” is nothing a board has; expected title, power_pins, pins and"
            f" {', '.join(FIGURES)}."
        )
    power, pins = raw.get("power_pins", {}), raw.get("pins", [])
    fits = (
        isinstance(power, dict)
        and isinstance(pins, list)
        and all(isinstance(p, dict) for p in pins)
    )
    texts = [
        raw.get("title", ""),
        *(raw.get(n, "") for n in FIGURES),
        *(power.values() if isinstance(power, dict) else []),
    ]
    if not fits or not all(isinstance(t, str) for t in texts):
        raise BoardFileError(
            "A board file holds text figures, “power_pins” by name, and “pins” as a list of lines."
        )
    for row, pin in enumerate(pins):
        for cell, value in pin.items():
            plain_list = isinstance(value, list) and all(isinstance(v, str) for v in value)
            if cell not in PIN_CELLS or not (
                isinstance(value, str) or value is None or (cell == "can" and plain_list)
            ):
                raise BoardFileError(
                    f"Line {row + 1} of the board: “{str(cell)[:40]}” is not understood; expected"
                    f" {', '.join(PIN_CELLS)} as text.",
                    f"pin:{row}:id",
                )
    return draft_of(raw)


def _from_table(text: str) -> BoardDraft:
    first = text.split("\n", 1)[0]
    reader = csv.reader(
        io.StringIO(text), delimiter=";" if first.count(";") > first.count(",") else ","
    )
    try:
        lines = [(reader.line_num, cells) for cells in reader if any(c.strip() for c in cells)]
    except csv.Error as error:
        raise BoardFileError(
            f"The table cannot be read: {error}, line {reader.line_num}."
        ) from error
    header = [c.strip().lower() for c in lines[0][1]] if lines else []
    strange = [c for c in header if c not in COLUMNS]
    if "row" not in header or strange or len(header) != len(set(header)):
        what = (
            f"the column “{strange[0][:40]}” is not known"
            if strange
            else "a column stands twice"
            if "row" in header
            else "there is no column “row”"
        )
        raise BoardFileError(f"Line 1: {what}; expected columns among {', '.join(COLUMNS)}.")
    draft = BoardDraft()
    for line, raw in lines[1:]:
        if len(raw) > len(header):
            raise BoardFileError(f"Line {line}: more cells than the header has columns.")
        cells = {
            name: c[1:] if (c := cell.strip())[:1] == "'" else c
            for name, cell in zip(header, raw, strict=False)
        }
        kind, name, value = cells.get("row", ""), cells.get("id", ""), cells.get("value", "")
        if kind == "title":
            draft.title = value
        elif kind == "power":
            draft.power.append((name, value))
        elif kind == "pin":
            draft.pins.append({cell: cells.get(cell, "") for cell in PIN_CELLS})
        elif kind == "figure" and name in FIGURES:
            draft.figures[name] = value
        else:
            where = (
                f"“{name[:40]}” is no figure of a board; expected one of {', '.join(FIGURES)}"
                if kind == "figure"
                else f"“{kind[:40]}” is no kind of row; expected title, figure, power or pin"
            )
            raise BoardFileError(f"Line {line}: {where}.")
    return draft
