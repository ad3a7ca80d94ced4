"""A resistor as it is fitted: printed value, how far it may be off, what it may turn into heat."""

from __future__ import annotations

import re

from latchcore.figures.quantity import QuantityError, parse, resistor_code, show, tidy

#: What a resistor may be off by; past that it says nothing.
MOST_TOLERANCE = 0.3
#: Before each thing a resistor says of itself beside its value.
_BESIDE = re.compile(r"[\s,]*(?:±|\+/-)\s*|[\s,]+(?=[\d.,]+\s*(?:%|m?W\b))")


class Resistor(float):
    """
    A printed value [Ω] that knows its own ends.

    Parameters
    ----------
    value : float
        As printed [Ω]
    tolerance : float
        Share of it that it may be off, both ways
    watts : float, optional
        What it bears [W], where it is stated

    Examples
    --------
    >>> r = Resistor(1000, 0.05)
    >>> r.low, r.high, r + 1
    (950.0, 1050.0, 1001.0)
    """

    tolerance: float
    watts: float | None

    def __new__(cls, value: float, tolerance: float, watts: float | None = None) -> Resistor:
        made = super().__new__(cls, value)
        made.tolerance, made.watts = tolerance, watts
        return made

    def __getnewargs__(self) -> tuple:
        return float(self), self.tolerance, self.watts

    @property
    def low(self) -> float:
        """The least it may be [Ω]."""
        return float(self) * (1 - self.tolerance)

    @property
    def high(self) -> float:
        """The most it may be [Ω]."""
        return float(self) * (1 + self.tolerance)


def read_resistor(text: str, tolerance: float) -> Resistor:
    """
    A resistor as typed: its value, and where it is other than the series its tolerance and watts.

    Parameters
    ----------
    text : str
        ``4k7``, ``4.7 kΩ 1 %``, ``220 Ω ±2 % 0.5 W``
    tolerance : float
        What applies where the text states none

    Raises
    ------
    QuantityError
        With what was typed and what was expected

    Examples
    --------
    >>> r = read_resistor("4k7 ±1 % 0.5 W", 0.05)
    >>> float(r), r.tolerance, r.watts
    (4700.0, 0.01, 0.5)
    >>> read_resistor("4k7", 0.05).tolerance
    0.05
    """
    clean = tidy(text)
    value, *beside = _BESIDE.split(clean)
    off = [part for part in beside if part.rstrip().endswith("%")]
    bears = [part for part in beside if not part.rstrip().endswith("%")]
    if len(off) > 1 or len(bears) > 1:
        raise QuantityError(
            f"“{clean}” says one thing twice; expected a value, a tolerance and watts, such as"
            " “4k7 1 % 0.5 W”."
        )
    tolerance = parse(off[0], "%") / 100 if off else tolerance
    watts = parse(bears[0], "W") if bears else None
    if not 0 < tolerance <= MOST_TOLERANCE:
        raise QuantityError(
            f"“{clean}” may be off by {tolerance * 100:g} %; expected a tolerance of more than"
            f" nothing and up to {MOST_TOLERANCE * 100:g} %."
        )
    return Resistor(parse(value, "Ω"), tolerance, watts)


def resistor_words(value: float, usual: float) -> str:
    """
    What is printed on it, its tolerance and watts beside where they are its own.

    >>> resistor_words(Resistor(4700, 0.01), 0.05), resistor_words(Resistor(4700, 0.05), 0.05)
    ('4k7 1 %', '4k7')
    """
    said = resistor_code(value)
    if isinstance(value, Resistor) and value.tolerance != usual:
        said += f" {value.tolerance * 100:g} %"
    if isinstance(value, Resistor) and value.watts:
        said += f" {show(value.watts, 'W')}"
    return said
