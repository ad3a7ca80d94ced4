"""Quantities of a document: the text that was typed, held to what can be read."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import TYPE_CHECKING, Annotated, Any

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from latchcore.figures.quantity import QuantityError, hold_to_range, parse, parse_any, plain_number
from latchcore.figures.spread import parse_spread

#: The longest time of a behaviour [s].
LONGEST = 31 * 86400.0
NOTHING = re.compile(r"0+(\.0*)?\s*(s|ms|min|h|%)?", re.ASCII)
CLOCK = re.compile(r"([01]?\d|2[0-3]):[0-5]\d(:[0-5]\d)?", re.ASCII)


@lru_cache(maxsize=4096)
def seconds(text: str) -> float:
    """
    A time that may be nothing.

    Examples
    --------
    >>> seconds("0 s"), seconds("20 min"), seconds("7 ms")
    (0.0, 1200.0, 0.007)
    """
    return 0.0 if NOTHING.fullmatch(text.strip()) else parse(text, "s")


def _text(check) -> Any:
    def read(value: str) -> str:
        try:
            check(value)
        except QuantityError as error:
            raise ValueError(str(error)) from error
        return value

    return Annotated[str, Field(max_length=80), AfterValidator(read)]


def _quantity(unit: str) -> Any:
    return _text(lambda value: parse(value, unit))


def _figure(value: str) -> None:
    spread, unit, _ = parse_spread(value, ("A", "W", "Ω"))
    hold_to_range(spread.typ, unit, value)


def _share_or_volts(value: str) -> None:
    number, unit = parse_any(value, ("V", "%"))
    hold_to_range(number, unit, value)


def _duty(value: str) -> None:
    if not 0 < parse(value, "%") <= 100:
        raise QuantityError(f"“{value}” is no duty; expected above 0 % and up to 100 %.")


def _lasting(value: str) -> None:
    seconds = parse(value, "s")
    if seconds > LONGEST:
        raise QuantityError(f"“{value}” is too long; expected a time up to 31 days (744 h).")


def _pause(value: str) -> None:
    # “0 s” is a time here, and no other quantity may be nothing.
    if not NOTHING.fullmatch(value.strip()):
        _lasting(value)


def _percent(value: str) -> None:
    if NOTHING.fullmatch(value.strip()):
        return
    if not 0 < parse(value, "%") <= 100:
        raise QuantityError(f"“{value}” is no level; expected 0 % to 100 %.")


def _state(value: str) -> None:
    if value not in ("on", "off"):
        _percent(value)


def _figure_of_a_scale(value: str) -> None:
    number = plain_number(value)
    if number is None or abs(number) > 1e9:
        raise QuantityError(
            f"“{value}” is no plain number; expected one in the input's own scale, such as “60”."
        )


def _clock(value: str) -> None:
    if not CLOCK.fullmatch(value):
        raise QuantityError(f"“{value}” is no time of day; expected one such as “22:00”.")


def _ambient(value: str) -> None:
    if not -40 <= parse(value, "°C", signed=True) <= 100:
        raise QuantityError(f"“{value}” is no ambient for a bench; expected -40 °C to 100 °C.")


if TYPE_CHECKING:
    # To a checker a quantity is the text it was typed as.
    VoltsText = str
    PlainVoltsText = str
    AmperesText = str
    OhmsText = str
    HenriesText = str
    SecondsText = str
    HertzText = str
    FigureText = str
    LevelText = str
    DutyText = str
    AmbientText = str
    FaradsText = str
    AmpereHoursText = str
    HoursText = str
    MetresText = str
    AreaText = str
    ThermalText = str
    JoulesText = str
    GramsText = str
    KelvinText = str
    LastingText = str
    PauseText = str
    PercentText = str
    StepText = str
    NumberText = str
    ClockText = str
else:
    VoltsText = _text(lambda v: parse_spread(v, ("V",)))
    PlainVoltsText = _quantity("V")
    AmperesText = _quantity("A")
    OhmsText = _quantity("Ω")
    HenriesText = _quantity("H")
    SecondsText = _quantity("s")
    HertzText = _quantity("Hz")
    FigureText = _text(_figure)
    LevelText = _text(_share_or_volts)
    DutyText = _text(_duty)
    AmbientText = _text(_ambient)
    FaradsText = _quantity("F")
    AmpereHoursText = _quantity("Ah")
    HoursText = _quantity("h")
    MetresText = _quantity("m")
    AreaText = _quantity("mm²")
    ThermalText = _quantity("K/W")
    JoulesText = _quantity("J")
    GramsText = _quantity("g")
    KelvinText = _quantity("K")
    LastingText = _text(_lasting)
    PauseText = _text(_pause)
    PercentText = _text(_percent)
    StepText = _text(_state)
    NumberText = _text(_figure_of_a_scale)
    ClockText = _text(_clock)

Id = Annotated[str, Field(pattern=r"^[a-z]{1,8}[0-9]{1,6}$")]
Key = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9_.-]{0,63}$")]
Name = Annotated[str, Field(min_length=1, max_length=60)]
Note = Annotated[str, Field(max_length=2000)]


class Model(BaseModel):
    """Base: unknown fields are refused, so that a misspelt one is not silently lost."""

    model_config = ConfigDict(extra="forbid", validate_assignment=False, defer_build=True)
