"""How a quantity is written by a person and read back: text with units in, SI floats inside."""

from __future__ import annotations

import math
import re
from functools import lru_cache

from latchcore.figures.typed import Refusal
from latchcore.figures.units import SPELLINGS, UNITS

PREFIX = {
    "p": 1e-12,
    "n": 1e-9,
    "u": 1e-6,
    "m": 1e-3,
    "": 1.0,
    "k": 1e3,
    "K": 1e3,
    "M": 1e6,
    "G": 1e9,
}
SHOWN_PREFIX = [
    (1e9, "G"),
    (1e6, "M"),
    (1e3, "k"),
    (1.0, ""),
    (1e-3, "m"),
    (1e-6, "µ"),
    (1e-9, "n"),
    (1e-12, "p"),
]

#: Times people say in more than seconds.
LONGER = {"min": 60.0, "minutes": 60.0, "h": 3600.0, "hours": 3600.0}
_LETTER_CODE = re.compile(r"^(\d+)([RpnumkKMG])(\d+)(.*)$", re.ASCII)
_GAUGE = re.compile(r"^(?:AWG\s*(\d{1,2})|(\d{1,2})\s*AWG)$", re.IGNORECASE | re.ASCII)
_PLAIN = re.compile(r"^([+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?)\s*(.*)$", re.ASCII)


class QuantityError(Refusal):
    """What was typed is not the quantity that was asked for; the text says both."""


def gauge_area(number: float) -> float:
    """
    Cross-section of a wire gauge number [m²].

    Examples
    --------
    >>> round(gauge_area(20) * 1e6, 4)
    0.5176
    """
    return 0.012668e-6 * 92 ** ((36 - number) / 19.5)


def tidy(text: str) -> str:
    """Bring typographic variants (long minus, micro sign, decimal comma) to one spelling."""
    text = str(text).strip().replace("−", "-").replace("–", "-").replace("µ", "u").replace("μ", "u")
    text = text.replace("\u2126", "Ω").replace("\u00a0", " ")
    return re.sub(r"(?<=\d),(?=\d)", ".", text)


def split_unit(rest: str, wanted: tuple[str, ...]) -> tuple[float, str] | None:
    """Read the tail of a quantity as prefix and unit; ``None`` when it is neither."""
    rest = rest.strip()
    if rest == "cm":
        # The one length people say with this prefix; no other quantity takes it.
        return 0.01, "m"
    if "s" in wanted and rest in LONGER:
        return LONGER[rest], "s"
    if rest in PREFIX and rest not in SPELLINGS:
        return PREFIX[rest], ""
    if rest in SPELLINGS and (SPELLINGS[rest] in wanted or rest not in PREFIX):
        return 1.0, SPELLINGS[rest]
    if rest in PREFIX:
        return PREFIX[rest], ""
    if rest and rest[0] in PREFIX and rest[1:].strip() in SPELLINGS:
        return PREFIX[rest[0]], SPELLINGS[rest[1:].strip()]
    return None


def _expected(wanted: tuple[str, ...]) -> str:
    examples = {
        "V": "12 V",
        "A": "80 mA",
        "W": "1.2 W",
        "Ω": "4k7",
        "s": "20 ms",
        "Hz": "400 Hz",
        "%": "25 %",
    }
    examples |= {
        "H": "250 mH",
        "F": "100 nF",
        "°C": "30 °C",
        "K/W": "62 K/W",
        "C": "8 nC",
        "J": "2 mJ",
        "Ah": "2.5 Ah",
        "h": "8 h",
        "m": "1.5 m",
        "mm²": "0.5 mm²",
    }
    return " or ".join(
        f"{UNITS[unit][0]} such as “{examples.get(unit, '3 ' + unit).strip()}”" for unit in wanted
    )


def plain_number(text: str) -> float | None:
    """
    A number without a unit, or ``None`` where the text is none.

    Examples
    --------
    >>> plain_number(" 3,5 "), plain_number("nan"), plain_number("٣"), plain_number("1e999")
    (3.5, None, None, None)
    """
    found = _PLAIN.match(tidy(text))
    if found is None or found.group(2):
        return None
    value = float(found.group(1))
    return value if math.isfinite(value) else None


def _number_and_unit(clean: str, wanted: tuple[str, ...]) -> tuple[float, str] | None:
    """The value with the unit that was typed, if any; ``None`` where it is no quantity."""
    if code := _LETTER_CODE.match(clean):
        number, letter, digits, rest = code.groups()
        tail = split_unit(rest, wanted)
        if tail is None or tail[0] != 1.0:
            return None
        scale = 1.0 if letter == "R" else PREFIX[letter]
        return float(f"{number}.{digits}") * scale, tail[1] or ("Ω" if letter == "R" else "")
    plain = _PLAIN.match(clean)
    tail = split_unit(plain.group(2), wanted) if plain else None
    return (float(plain.group(1)) * tail[0], tail[1]) if plain and tail else None


@lru_cache(maxsize=8192)
def parse_any(text: str, wanted: tuple[str, ...]) -> tuple[float, str]:
    """
    Read one quantity that may be in any of several units.

    Parameters
    ----------
    text : str
        What was typed: ``4k7``, ``80 mA``, ``0.5W``, ``1,5 k``
    wanted : tuple of str
        Units that are accepted; a bare number is taken in the unit when there is only one

    Returns
    -------
    tuple of (float, str)
        The value in SI units (per cent stays per cent) with its unit

    Raises
    ------
    QuantityError
        With what was typed and what was expected

    Examples
    --------
    >>> parse_any("4k7", ("Ω",))
    (4700.0, 'Ω')
    >>> parse_any("80 mA", ("A", "W", "Ω"))
    (0.08, 'A')
    >>> parse_any("5 min", ("s",))
    (300.0, 's')
    >>> parse_any("AWG 16", ("mm²",))[0]
    1.30872807
    """
    clean = tidy(text)
    if not clean:
        raise QuantityError(f"Nothing was typed; expected {_expected(wanted)}.")
    if len(clean) > 60:
        raise QuantityError(
            f"“{clean[:40]}…” is too long for a quantity; expected {_expected(wanted)}."
        )
    if "mm²" in wanted and (gauge := _GAUGE.match(clean)):
        return float(f"{gauge_area(int(gauge[1] or gauge[2])) * 1e6:.9g}"), "mm²"
    found = _number_and_unit(clean, wanted)
    if found is None:
        raise QuantityError(f"“{text}” is not a quantity; expected {_expected(wanted)}.")
    value, unit = found
    if not unit:
        if len(wanted) > 1:
            raise QuantityError(f"“{text}” has no unit; expected {_expected(wanted)}.")
        unit = wanted[0]
    if unit not in wanted:
        raise QuantityError(f"“{text}” is in {UNITS[unit][0]}; expected {_expected(wanted)}.")
    # A product such as 4.7 * 1e3 must give 4700 exactly, or a preferred value would not be
    # recognised.
    value = float(f"{value:.12g}")
    return value, unit


def parse(
    text: str,
    unit: str,
    *,
    allow_zero: bool = False,
    signed: bool = False,
    most: float | None = None,
) -> float:
    """
    Read one quantity in one unit and hold it to what a field can mean.

    Parameters
    ----------
    text : str
        What was typed
    unit : str
        The unit the field is in, a key of ``UNITS``
    allow_zero, signed : bool
        Whether zero and negative values mean something here
    most : float, optional
        The most this field takes, where it is not what its unit does

    Returns
    -------
    float
        Value in SI units

    Raises
    ------
    QuantityError
        If the text is no quantity, has another unit, or lies outside the field's range

    Examples
    --------
    >>> parse("560", "Ω"), parse("1R5", "Ω"), parse("80m", "A")
    (560.0, 1.5, 0.08)
    >>> parse("-3 Ω", "Ω")
    Traceback (most recent call last):
    ...
    latchcore.figures.quantity.QuantityError: “-3 Ω” is negative; expected ohms such as “4k7”.
    """
    value, _ = parse_any(text, (unit,))
    return hold_to_range(value, unit, text, allow_zero=allow_zero, signed=signed, most=most)


def hold_to_range(
    value: float,
    unit: str,
    text: str,
    *,
    allow_zero: bool = False,
    signed: bool = False,
    most: float | None = None,
) -> float:
    """Refuse what no field of this unit can mean; see :func:`parse`."""
    _, least, usual = UNITS[unit]
    most = usual if most is None else most
    if not math.isfinite(value):
        raise QuantityError(f"“{text}” is not a finite number; expected {_expected((unit,))}.")
    if value < 0 and not signed:
        raise QuantityError(f"“{text}” is negative; expected {_expected((unit,))}.")
    if value == 0 and not (allow_zero or signed or least == 0.0):
        raise QuantityError(f"“{text}” is zero; expected {_expected((unit,))} above zero.")
    if abs(value) > most or (value != 0 and abs(value) < least):
        raise QuantityError(
            f"“{text}” is out of range; this field takes {show(least, unit)} to {show(most, unit)}."
        )
    return value


def digits(value: float, figures: int = 3) -> str:
    """
    Round to significant figures without exponent or trailing noise: 0.0714 -> '0.0714', 12.0 ->
    '12'.
    """
    if value == 0:
        return "0"
    places = figures - 1 - math.floor(math.log10(abs(value)))
    rounded = round(value, places)
    return (
        f"{rounded:.{max(places, 0)}f}".rstrip("0").rstrip(".") if places > 0 else f"{rounded:.0f}"
    )


def rounded(value: float, unit: str, up: bool) -> str:
    """
    Two digits of a value, never less than it where ``up``, else never more: what somebody would
    type.

    Examples
    --------
    >>> rounded(0.1203, "s", up=True), rounded(0.1203, "s", up=False), rounded(0.12, "s", up=True)
    ('130 ms', '120 ms', '120 ms')
    """
    step = 10.0 ** (math.floor(math.log10(value)) - 1)
    # A hair is rounding of the sum, not more.
    whole = math.ceil(value / step - 1e-9) if up else math.floor(value / step + 1e-9)
    return show(whole * step, unit, 2)


@lru_cache(maxsize=16384)
def show(value: float | None, unit: str = "", figures: int = 3) -> str:
    """
    Write a value to the digits that make sense, with an SI prefix where the unit takes one.

    Examples
    --------
    >>> show(4700, "Ω"), show(0.0714285, "A"), show(12.6, "V"), show(61.24, "°C"), show(0.41, "%")
    ('4.7 kΩ', '71.4 mA', '12.6 V', '61.2 °C', '0.41 %')
    >>> show(180, "s"), show(1577, "s"), show(9000, "s"), show(0.75, "mm²")
    ('180 s', '26.3 min', '2.5 h', '0.75 mm²')
    """
    if value is None or not math.isfinite(value):
        return "none"
    if unit == "s" and 1000 <= abs(value) < 7200:
        return f"{digits(value / 60, figures)} min"
    if unit == "s" and abs(value) >= 7200:
        return f"{digits(value / 3600, figures)} h"
    if unit in ("°C", "K/W", "%", "", "K", "1/K", "dB", "mm²", "h"):
        return f"{digits(value, figures)} {unit}".strip()
    magnitude = abs(value)
    # Rounding first keeps 999.96 mA from being written as "1000 mA".
    magnitude = float(f"{magnitude:.{figures}g}")
    for factor, prefix in SHOWN_PREFIX:
        if magnitude >= factor * 0.9999999:
            return f"{digits(value / factor, figures)} {prefix}{unit}"
    return f"0 {unit}" if magnitude == 0 else f"{value / 1e-12:.3g} p{unit}"


def span(low: float, high: float, unit: str) -> str:
    """
    A range with its unit once, where both ends are written with the same prefix.

    Examples
    --------
    >>> span(9.4, 11.9, "V"), span(0.65, 1.0, "V"), span(5.0, 5.0, "V")
    ('9.4 to 11.9 V', '650 mV to 1 V', '5 V')
    """
    first, second = show(low, unit), show(high, unit)
    if first == second:
        return first
    number, _, tail = first.rpartition(" ")
    return (
        f"{number} to {second}"
        if number and second.endswith(f" {tail}")
        else f"{first} to {second}"
    )


def resistor_code(value: float) -> str:
    """
    Write a resistance as it is printed in a drawing, the letter in place of the point.

    Examples
    --------
    >>> resistor_code(330), resistor_code(4700), resistor_code(1.5), resistor_code(1e6)
    ('330', '4k7', '1R5', '1M')
    """
    for factor, letter in ((1e6, "M"), (1e3, "k"), (1.0, "R")):
        if value >= factor * 0.9999999:
            whole, _, part = f"{value / factor:.6g}".partition(".")
            return f"{whole}{letter}{part}" if part or letter != "R" else whole
    return f"R{value:.4g}".replace("R0.", "R")
