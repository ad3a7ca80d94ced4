"""
A wish in a line, read: what is to be switched, on which board, by what, and what it does not say.

The grammar is small and its own. The line falls into parts at commas, semicolons, "and" and "plus".
A part may name a load with its figures and how many; a board; a stage; a need. Figures without a
load belong to the load before them. What no rule knows is given back as it was written.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field, replace

from latchcore.advice.unplanned import unplanned_in
from latchcore.advice.wish_words import (
    BOARDS,
    BOTH_WAYS,
    GRID,
    IDLE,
    LOADS,
    NEEDS,
    NUMBERS,
    PANEL,
    STAGES,
    UNITS,
    VEHICLE,
)
from latchcore.figures.typed import Refusal, can_be_kept, quoted

#: So long may a wish be, and so many loads may it hold.
MOST_CHARACTERS, MOST_LOADS = 600, 64
#: From these volts on a supply is taken for the line; what the line has where only "mains" is said.
LINE, MAINS = 100.0, "230 V"
#: What an indicator is taken to have where nothing is said.
USUAL = {"indicator_led": ("2 V", "5 mA")}

_NUMBER = r"\d+(?:\.\d+)?"
_UNIT = "|".join(sorted(map(re.escape, UNITS), key=len, reverse=True))
_QUANTITY = re.compile(rf"(?<![\w.])({_NUMBER})[- ]?({_UNIT})(?![\wΩ])")
_WORDED = re.compile(rf"\b({'|'.join(sorted(NUMBERS, key=len, reverse=True))})[- ](?={_UNIT}\b)")
_COUNT = rf"\b(\d+|{'|'.join(sorted(NUMBERS, key=len, reverse=True))})\s*(?:x|×|times|of)?\s+"


class WishError(Refusal):
    """A wish that is not taken: empty, too long, of too many loads, beyond what is planned here."""


@dataclass(frozen=True)
class Wanted:
    """
    One load of a wish; ``voltage`` and ``figure`` are text with units, ``None`` where they are not
    said, ``stage`` the kind of stage that is asked for by name. ``rows`` and ``columns`` are a
    panel's; with ``moves`` two of them move one vehicle.
    """

    kind: str
    words: str
    voltage: str | None = None
    figure: str | None = None
    count: int = 1
    needs: tuple[str, ...] = ()
    stage: str | None = None
    line: bool = False
    rows: str | None = None
    columns: str | None = None
    moves: bool = False

    @property
    def missing(self) -> tuple[str, ...]:
        """What has to be asked."""
        asks = ("voltage", "figure", *(("rows", "columns") if self.kind == "panel" else ()))
        return tuple(n for n in asks if getattr(self, n) is None)


@dataclass(frozen=True)
class Wish:
    """What was read of a wish: its loads, its board, and the words no rule knows."""

    loads: tuple[Wanted, ...] = ()
    board: str | None = None
    unknown: tuple[str, ...] = ()

    @property
    def complete(self) -> bool:
        """Whether a build can be opened from it."""
        return (
            bool(self.loads)
            and self.board is not None
            and not any(load.missing for load in self.loads)
        )


@dataclass
class _Reading:
    loads: list[Wanted] = field(default_factory=list)
    unknown: list[str] = field(default_factory=list)
    stage: str | None = None
    line: bool = False
    spare: list[str] = field(default_factory=list)


def read_wish(text: str) -> Wish:
    """
    Read a wish.

    Raises
    ------
    WishError
        If nothing is written, or too much, or something that cannot be planned here

    Examples
    --------
    >>> wish = read_wish("twelve-volt solenoid 0,5 A on a 3.3 V radio board")
    >>> wish.board, wish.loads[0].kind, wish.loads[0].voltage, wish.loads[0].figure
    ('board-radio-3v3', 'solenoid', '12 V', '0.5 A')
    >>> read_wish("230 V lamp 60 W, eight-relay module, 5 V board").loads[0].stage
    'relay_module'
    >>> read_wish("a lamp and a flux capacitor").unknown
    ('flux capacitor',)
    """
    if not text.strip():
        raise WishError("Nothing was typed; expected for instance “12 V solenoid 0.5 A”.")
    if len(text) > MOST_CHARACTERS:
        raise WishError(f"That is {len(text)} characters; a wish takes up to {MOST_CHARACTERS}.")
    if not can_be_kept(text, lines=True):
        raise WishError("That holds signs that cannot be written down; expected plain words.")
    plain = _plain(text)
    if found := unplanned_in(plain):
        words, what = found
        raise WishError(f"{quoted(words)} cannot be planned here: {what.why}")
    board, plain = _board(plain)
    found = _Reading()
    for part in re.split(r"[,;\n]|\band\b|\bplus\b|\.(?=\s|$)", plain):
        _part(part, found)
    loads = [_settled(load, found) for load in found.loads]
    if sum(load.count for load in loads) > MOST_LOADS:
        raise WishError(f"That is more than {MOST_LOADS} loads; a wish takes up to as many.")
    return Wish(tuple(loads), board, tuple(dict.fromkeys(found.unknown)))


def _plain(text: str) -> str:
    """The line in small letters, numbers in digits, decimal commas as points, units as they are."""
    plain = " ".join(text.replace("\u2126", "Ω").lower().split())
    # Its "and" would part what belongs together.
    plain = re.sub(r"\bforwards? and (?:back(?:wards?)?|reverse)\b", "both ways", plain)
    plain = re.sub(r"\b(\d+) rows? and (\d+) columns?\b", r"\1 x \2", plain)
    plain = re.sub(rf"(\d),(\d+)(?=\s?-?(?:{_UNIT})\b)", r"\1.\2", plain)
    plain = _WORDED.sub(lambda m: f"{NUMBERS[m[1]]} ", plain)
    return re.sub(r"(?<![\w.])3 ?v\b(?= (?:\w+ )?board)", "3.3 v", plain)


def _board(plain: str) -> tuple[str | None, str]:
    """The board that is named, and the line without it."""
    spaced = _QUANTITY.sub(lambda m: f"{m[1]} {UNITS[m[2]].lower()}", plain)
    for pattern, board in BOARDS:
        asked = (
            rf"(?:\b(?:on|with|from|by|and|to) )?(?:(?<!\d )\b(?:an?|the|my) )?(?:{pattern})s?\b"
        )
        if found := re.search(asked, spaced):
            return board, f"{spaced[: found.start()]}, {spaced[found.end() :]}"
    return None, spaced


def _part(part: str, found: _Reading) -> None:
    """One part of the line: a load, or something said of the load before it."""
    stage, part = _first(STAGES, part)
    needs = []
    for pattern, need in NEEDS:
        part, many = re.subn(rf"\b(?:{pattern})\b", " ", part)
        needs += [need] * bool(many)
    found.line |= bool(re.search(r"\b(?:mains|ac)\b", part))
    amounts = [f"{m[1]} {UNITS[m[2]]}" for m in _QUANTITY.finditer(part)]
    volts = [a for a in amounts if a.endswith("V")]
    figures = [a for a in amounts if not a.endswith("V")]
    rest = _QUANTITY.sub(" ", part)
    after = found.loads[-1].kind == "panel" if found.loads else False
    (rows, columns), rest = _grid(rest, after)
    moves, rest = _first(((rf"\b(?:{VEHICLE})\b", "vehicle"),), rest)
    kind, words, count, rest = _load(rest)
    if moves and kind in (None, "dc_motor"):
        kind, words, count = "motor_both", "motor", 2
    both = re.search(rf"\b(?:{BOTH_WAYS})\b", rest)
    turns = kind or (found.loads[-1].kind if found.loads else None)
    if both and turns in ("dc_motor", "motor_both"):
        rest = f"{rest[: both.start()]} {rest[both.end() :]}"
        if kind is not None:
            kind = "motor_both"
        else:
            found.loads[-1] = replace(found.loads[-1], kind="motor_both")
    if kind is not None:
        found.loads.append(
            Wanted(
                kind,
                words,
                volts[0] if volts else None,
                figures[0] if figures else None,
                count,
                tuple(needs),
                stage,
                bool(re.search(r"\b(?:mains|ac)\b", part)),
                rows,
                columns,
                moves is not None,
            )
        )
        spare = volts[1:] + figures[1:]
    elif found.loads:
        last = found.loads[-1]
        voltage, figure = last.voltage, last.figure
        spare = [*volts, *figures]
        if volts and voltage is None:
            voltage = spare.pop(0)
        if figures and figure is None:
            figure = figures[0]
            spare.remove(figure)
        found.loads[-1] = replace(
            last, rows=rows or last.rows, columns=columns or last.columns,
            voltage=voltage, figure=figure, needs=(*last.needs, *needs),
            line=last.line or bool(re.search(r"\b(?:mains|ac)\b", part)),
        )  # fmt: skip
        # A stage in a part of its own is meant for all that came before.
        if stage:
            found.loads = [replace(x, stage=x.stage or stage) for x in found.loads]
    else:
        found.stage, spare = found.stage or stage, amounts
    left = [w for w in re.findall(r"[^\s]+", rest) if w.strip("-:!?()'\"") not in IDLE]
    said = " ".join(w.strip(":!?()'\"") for w in left if re.search(r"\w", w))
    found.unknown += [s for s in (said, *spare) if s]


def _grid(rest: str, after: bool) -> tuple[tuple[str | None, str | None], str]:
    """
    Rows and columns of a panel, and the part with the panel alone; both have to be said. ``after``
    one that was named they may stand alone.
    """
    sizes = re.search(rf"\b(?:{GRID})\b", rest)
    left = f"{rest[: sizes.start()]} {rest[sizes.end() :]}" if sizes else rest
    if sizes and after:
        return (sizes[1], sizes[2]), left
    if sizes is None or not re.search(rf"\b(?:{PANEL})\b", left):
        return (None, None), rest
    return (sizes[1], sizes[2]), re.sub(rf"\b(?:{PANEL})\b", " ", left) + " panel"


def _first(table, part: str) -> tuple[str | None, str]:
    for pattern, key in table:
        if found := re.search(pattern, part):
            return key, f"{part[: found.start()]} {part[found.end() :]}"
    return None, part


def _load(rest: str) -> tuple[str | None, str, int, str]:
    """The load that is named first, its words, how many, and what is left."""
    best: tuple[int, str, str, re.Match] | None = None
    for words, kind, _ in LOADS:
        found = re.search(rf"\b{words}(?:e?s)?\b", rest)
        if found and (best is None or found.start() < best[0]):
            best = (found.start(), kind, words, found)
    if best is None:
        return None, "", 1, rest
    place, kind, words, found = best
    # How many stands before it, with a word between at most: "two red lamps".
    before, many = rest[:place], 1
    if count := re.search(rf"{_COUNT}((?:\w+ )?)$", before):
        before = f"{before[: count.start()]} {count[2]}"
        many = int(count[1]) if count[1].isdigit() else NUMBERS[count[1]]
    return kind, words, max(many, 1), f"{before} {rest[found.end() :]}"


def _settled(load: Wanted, found: _Reading) -> Wanted:
    """A load with what follows from the rest: whether it hangs on the line, and what is usual."""
    volts = (
        float(load.voltage.split()[0]) * (1e3 if load.voltage.endswith("kV") else 1.0)
        if (load.voltage)
        else None
    )
    line = volts >= LINE if volts is not None else load.line or found.line
    low_ac = load.line and volts is not None and volts < LINE
    kind = load.kind
    if kind == "motor_both" and (line or low_ac):
        raise WishError(
            f"“{load.words}” both ways on alternating current cannot be planned here: it wants two"
            " windings or a drive of its own; a direct-current motor can be planned."
        )
    if line or low_ac:
        kind = next(ac for words, _, ac in LOADS if words == load.words)
    voltage = load.voltage or (MAINS if line and not low_ac else None)
    figure = load.figure
    if kind in USUAL:
        voltage, figure = voltage or USUAL[kind][0], figure or USUAL[kind][1]
    return replace(
        load, kind=kind, voltage=voltage, figure=figure, stage=load.stage or found.stage,
        line=line or low_ac,
    )  # fmt: skip


def name_of(wish: Wish) -> str:
    """
    What a build of it is called, by its loads.

    >>> name_of(read_wish("two 12 V lamps 5 W, a flux capacitor"))
    '2 × 12 V lamp 5 W'
    """
    names = [
        " ".join(
            x for x in (f"{w.count} ×" if w.count > 1 else "", w.voltage, w.words, w.figure) if x
        )
        for w in wish.loads
    ]
    return ", ".join(names)[:60].rstrip(" ,") or "A wish"


def said_unknown(wish: Wish) -> str:
    """What was not understood, in words; empty where all was."""
    if not wish.unknown:
        return ""
    return f"Not understood: {', '.join(quoted(u) for u in wish.unknown)}."
