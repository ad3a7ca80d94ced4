"""A figure with its spread: least, typical and most, from one piece of text."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from latchcore.figures.quantity import QuantityError, hold_to_range, parse_any, span, tidy

_TOLERANCE = re.compile(r"^(?P<value>.*?)\s*(?:±|\+/-|\+-)\s*(?P<span>.+)$")
_LOPSIDED = re.compile(
    r"^(?P<value>.*?)\s+-\s*(?P<down>[0-9]+(?:\.[0-9]+)?)\s*%?\s*/?\s*\+\s*(?P<up>[0-9]+(?:\.[0-9]+)?)\s*%$"
)
_RANGE = re.compile(r"^(?P<low>.+?)\s*(?:\bto\b|\.\.)\s*(?P<high>.+)$")


@dataclass(frozen=True, slots=True)
class Spread:
    """
    Least, typical and most of one figure, in SI units; floats or arrays alike.

    Examples
    --------
    >>> Spread(11.4, 12.0, 12.6).scaled(2)
    Spread(min=22.8, typ=24.0, max=25.2)
    """

    min: float
    typ: float
    max: float

    @classmethod
    def of(cls, value: float, tolerance: float = 0.0) -> Spread:
        """A figure with the same tolerance (a share) both ways."""
        return cls(value * (1 - tolerance), value, value * (1 + tolerance))

    def scaled(self, factor: float) -> Spread:
        """The same spread of a positive multiple."""
        return Spread(self.min * factor, self.typ * factor, self.max * factor)

    def shown(self, unit: str) -> str:
        """Readable form; a spread that is none is one figure."""
        return span(self.min, self.max, unit)


@lru_cache(maxsize=8192)
def parse_spread(
    text: str, units: tuple[str, ...], default_minus: float = 0.0, default_plus: float = 0.0
):
    """
    Read a figure with its spread.

    Parameters
    ----------
    text : str
        ``12 V``, ``12 V ±5 %``, ``12 V ±0.5 V``, ``12 V -10/+40 %``, ``11 to 13 V`` or ``11 / 12 /
        13 V``
    units : tuple of str
        Units that are accepted
    default_minus, default_plus : float
        Shares that apply where the text gives no spread of its own

    Returns
    -------
    tuple of (Spread, str, bool)
        The spread, the unit found, and whether the text itself stated the spread

    Raises
    ------
    QuantityError
        With what was typed and what was expected

    Examples
    --------
    >>> parse_spread("12 V ±5 %", ("V",))[0].shown("V")
    '11.4 to 12.6 V'
    >>> parse_spread("9 V -10/+40 %", ("V",))[0].shown("V")
    '8.1 to 12.6 V'
    >>> parse_spread("9.6 / 11.1 / 12.6 V", ("V",))[0].typ
    11.1
    """
    clean = tidy(text)
    if len(clean) > 80:
        raise QuantityError(f"“{clean[:40]}…” is too long for a figure with its spread.")
    if found := _LOPSIDED.match(clean):
        value, unit = parse_any(found["value"], units)
        low, high = value * (1 - float(found["down"]) / 100), value * (1 + float(found["up"]) / 100)
        return _checked(low, value, high, unit, text), unit, True
    if found := _TOLERANCE.match(clean):
        value, unit = parse_any(found["value"], units)
        span, span_unit = parse_any(found["span"], ("%", unit))
        delta = value * span / 100 if span_unit == "%" else span
        return _checked(value - delta, value, value + delta, unit, text), unit, True
    pieces = [piece.strip() for piece in clean.split(" / ")] if " / " in clean else None
    if pieces is None and (found := _RANGE.match(clean)):
        pieces = [found["low"], found["high"]]
    if pieces and len(pieces) in (2, 3):
        high, unit = parse_any(pieces[-1], units)
        tail = re.sub(r"^[\d.eE+-]+\s*", "", pieces[-1])
        read = []
        for piece in pieces[:-1]:
            # "11 to 13 V": what comes before takes the unit of the last figure.
            bare = re.fullmatch(r"[0-9.]+", piece) is not None
            read.append(parse_any(f"{piece} {tail}" if bare else piece, (unit,))[0])
        low = read[0]
        typical = read[1] if len(read) == 2 else (low + high) / 2
        return _checked(low, typical, high, unit, text), unit, True
    value, unit = parse_any(clean, units)
    # What was typed is held to the field; the usual tolerance of its kind may reach beyond, or a
    # figure at the edge of the
    # field could be typed and never be worked out.
    hold_to_range(value, unit, text)
    low, high = value * (1 - default_minus), value * (1 + default_plus)
    return Spread(float(f"{low:.12g}"), value, float(f"{high:.12g}")), unit, False


def _checked(low: float, typical: float, high: float, unit: str, text: str) -> Spread:
    for value in (low, typical, high):
        hold_to_range(value, unit, text)
    if not low <= typical <= high:
        raise QuantityError(
            f"“{text}” does not run from least to most; expected for instance “11 to 13 {unit}”."
        )
    return Spread(float(f"{low:.12g}"), typical, float(f"{high:.12g}"))
