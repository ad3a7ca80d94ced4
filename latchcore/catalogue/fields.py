"""Figures of a record: text with units in, SI floats and spreads inside."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, ClassVar

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from latchcore.figures.quantity import QuantityError, parse
from latchcore.figures.spread import Spread, parse_spread
from latchcore.figures.typed import can_be_kept


def _quantity(unit: str, **how):
    def read(value):
        if isinstance(value, str):
            try:
                return parse(value, unit, **how)
            except QuantityError as error:
                raise ValueError(str(error)) from error
        raise ValueError(f"expected text with a unit such as “3 {unit}”")

    return Annotated[float, BeforeValidator(read), Field(allow_inf_nan=False)]


def _spread(unit: str, minus: float = 0.0, plus: float = 0.0):
    def read(value):
        if isinstance(value, str):
            try:
                return parse_spread(value, (unit,), minus, plus)[0]
            except QuantityError as error:
                raise ValueError(str(error)) from error
        raise ValueError(f"expected text with a unit such as “3 {unit}”")

    return Annotated[Spread, BeforeValidator(read)]


if TYPE_CHECKING:
    # To a checker a figure is its SI value.
    Volts = float
    Amperes = float
    Ohms = float
    Watts = float
    ZeroVolts = float
    TestVolts = float
    Seconds = float
    Kelvins_per_watt = float
    Celsius = float
    Hertz = float
    Joules = float
    Coulombs = float
    Farads = float
    VoltSpread = Spread
    OhmSpread = Spread
else:
    Volts, Amperes, Ohms, Watts = _quantity("V"), _quantity("A"), _quantity("Ω"), _quantity("W")
    ZeroVolts = _quantity("V", allow_zero=True)
    # What a barrier bears for a minute, not what anything works at.
    TestVolts = _quantity("V", most=20_000.0)
    Seconds, Kelvins_per_watt, Celsius = _quantity("s"), _quantity("K/W"), _quantity("°C")
    Coulombs, Farads = _quantity("C"), _quantity("F")
    Hertz, Joules = _quantity("Hz"), _quantity("J")
    VoltSpread, OhmSpread = _spread("V"), _spread("Ω")
Key = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9_.-]{0,63}$")]
#: A plain figure that is above nothing: a gain, a ratio, a let-through.
Plain = Annotated[float, Field(gt=0, le=1e9, allow_inf_nan=False)]
Gain = Annotated[float, Field(gt=0, lt=1e6, allow_inf_nan=False)]
#: A share of something that can be exceeded but not by much.
Share = Annotated[float, Field(gt=0, le=3, allow_inf_nan=False)]
#: A distance along a board [mm].
Millimetres = Annotated[float, Field(gt=0, le=100, allow_inf_nan=False)]


def _shown(text: str) -> str:
    if not can_be_kept(text):
        raise ValueError("holds a character that cannot be shown; expected plain text in one line.")
    return text


Words = Annotated[str, Field(max_length=200), AfterValidator(_shown)]
#: A curve has no more points than this.
MOST_POINTS = 24


class Incoherent(ValueError):
    """Figures of a record that do not hold together; ``field`` is the one to look at."""

    def __init__(self, message: str, field: str):
        super().__init__(message)
        self.field = field


class Record(BaseModel):
    """
    A frozen catalogue record; an unknown field is an error, so a misspelt figure cannot pass
    unread.

    ``curves`` names lists that belong together, the first of them rising; ``rising`` pairs of
    figures of which the first is
    never above the second.
    """

    # Built when a record of its kind is first read: a command that needs few starts the sooner.
    model_config = ConfigDict(
        frozen=True,
        extra="forbid",
        arbitrary_types_allowed=True,
        allow_inf_nan=False,
        defer_build=True,
    )
    curves: ClassVar[tuple[tuple[str, ...], ...]] = ()
    rising: ClassVar[tuple[tuple[str, str], ...]] = ()
    id: Key
    title: Words
    source: Words = "generic class limit"

    @model_validator(mode="after")
    def _holds_together(self):
        """Curves are even and rise, and no least figure lies above its most."""
        for names in self.curves:
            lists = [getattr(self, name) for name in names]
            words = " and ".join(names)
            if not lists[0] or len({len(points) for points in lists}) > 1:
                raise Incoherent(
                    f"the curve of {words} has lists of {', '.join(str(len(p)) for p in lists)}"
                    " points; expected as many of each, at least one.",
                    names[0],
                )
            if len(lists[0]) > MOST_POINTS:
                raise Incoherent(
                    f"the curve of {words} has {len(lists[0])} points; expected up to"
                    f" {MOST_POINTS}.",
                    names[0],
                )
            if any(b <= a for a, b in zip(lists[0], lists[0][1:], strict=False)):
                raise Incoherent(
                    f"the curve of {words} does not rise; expected {names[0]} from least to most,"
                    " each once.",
                    names[0],
                )
        for low, high in self.rising:
            least, most = getattr(self, low), getattr(self, high)
            if least is not None and most is not None and least > most:
                raise Incoherent(
                    f"{low} of {least:g} lies above {high} of {most:g}; expected it at or under"
                    " that.",
                    low,
                )
        return self
