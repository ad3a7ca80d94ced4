"""Figures of a record: text with units in, SI floats and spreads inside."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from latchcore.quantity import QuantityError, parse
from latchcore.spread import Spread, parse_spread


def _quantity(unit: str, **how):
    def read(value):
        if isinstance(value, str):
            try:
                return parse(value, unit, **how)
            except QuantityError as error:
                raise ValueError(str(error)) from error
        raise ValueError(f"expected text with a unit such as “3 {unit}”")

    return Annotated[float, BeforeValidator(read)]


def _spread(unit: str, minus: float = 0.0, plus: float = 0.0):
    def read(value):
        if isinstance(value, str):
            try:
                return parse_spread(value, (unit,), minus, plus)[0]
            except QuantityError as error:
                raise ValueError(str(error)) from error
        raise ValueError(f"expected text with a unit such as “3 {unit}”")

    return Annotated[Spread, BeforeValidator(read)]


Volts, Amperes, Ohms, Watts = _quantity("V"), _quantity("A"), _quantity("Ω"), _quantity("W")
ZeroVolts = _quantity("V", allow_zero=True)
Seconds, Kelvins_per_watt, Celsius = _quantity("s"), _quantity("K/W"), _quantity("°C")
Coulombs, Farads = _quantity("C"), _quantity("F")
VoltSpread, OhmSpread = _spread("V"), _spread("Ω")
Key = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9_.-]{0,63}$")]
Words = Annotated[str, Field(max_length=200)]


class Record(BaseModel):
    """A frozen catalogue record; an unknown field is an error, so a misspelt figure cannot pass unread."""

    model_config = ConfigDict(frozen=True, extra="forbid", arbitrary_types_allowed=True)
    id: Key
    title: Words
    source: Words = "generic class limit"
