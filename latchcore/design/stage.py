"""
What every drive stage offers: settings a user may fix, and one call that sizes, joins and measures
it.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any, Protocol

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.figures.preferred import values
from latchcore.figures.quantity import parse, resistor_code, show
from latchcore.figures.resistance import MOST_TOLERANCE, read_resistor, resistor_words
from latchcore.figures.windows import Window
from latchcore.sums.heat import resistor_power

#: Kinds of settings that are typed as a quantity, with their unit.
TYPED = {
    "watts": "W",
    "volts": "V",
    "thermal": "K/W",
    "seconds": "s",
    "farads": "F",
    "resistance": "Ω",
    "plain": "",
    "hertz": "Hz",
    "percent": "%",
    "amperes": "A",
    "metres": "m",
    "newtons": "N",
    "torque": "N·m",
}


@dataclass(frozen=True, slots=True)
class Setting:
    """
    One thing of a stage the user may fix.

    ``kind`` is ``ohms``, ``watts``, ``volts``, ``thermal``, ``seconds``, ``farads``, ``resistance``
    (of something bought, never sized), ``hertz``, ``percent``, ``amperes``,
    ``metres``, ``newtons``, ``torque``, ``plain``, ``rail``,
    ``part`` (of ``family``) or ``choice`` (one of ``choices``, the first the default); ``may_omit``
    allows "none". ``when`` names (key, values) another setting must have for this one to matter;
    ``usual`` is what stands in, in words, while it is empty.
    """

    key: str
    label: str
    kind: str
    family: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    may_omit: bool = False
    when: tuple[str, tuple[str, ...]] | None = None
    usual: str = ""

    def check(self, value: str) -> None:
        """
        Raise ``QuantityError`` or ``ValueError`` where the text is nothing this setting can be.
        """
        if value in ("", "auto") or (value == "none" and self.may_omit):
            return
        if self.kind == "ohms":
            read_resistor(value, MOST_TOLERANCE)
        elif self.kind == "rail":
            if re.fullmatch(r"rail[0-9]{1,6}", value) is None:
                raise ValueError(f"“{value}” is no rail for {self.label}.")
        elif self.kind in TYPED:
            parse(value, TYPED[self.kind])
        elif self.kind == "choice" and value not in dict(self.choices):
            raise ValueError(
                f"“{value}” is no choice for {self.label}; expected one of"
                f" {', '.join(dict(self.choices))}."
            )


class Stage(Protocol):
    """The interface of a drive stage; one module each."""

    kind: str
    title: str
    summary: str
    settings: tuple[Setting, ...]
    traits: Any

    # A stage may also have ``beginning(context)``: settings it begins with, for what the load
    # declares; ``missing(context)``: facts it cannot do without; ``asks(key, settings, result)``:
    # whether a setting has a bearing. One of several lines has ``roles(context)``, its own pin's
    # first, and ``pulsed(context)``: those of them that are pulsed where the channel is.

    def suits(self, context: ChannelContext) -> str | None:
        """Why the stage cannot serve this load at all, or ``None``."""

    def size(self, context: ChannelContext) -> StageResult:
        """Size, join and measure the stage at its worst corners."""


def likely(parts: list, could_serve: Callable[..., bool]) -> list:
    """
    Parts that could serve by their printed ratings alone, or all of them where none could, so that
    one is shown.
    """
    return [part for part in parts if could_serve(part)] or parts


def best_of(candidates: Iterable, size: Callable[..., StageResult]) -> StageResult:
    """The first candidate part that is sound; where none is, the one that falls short least."""
    best = None
    for part in candidates:
        result = size(part)
        if best is None or result.badness < best.badness:
            best = result
        if best.badness == 0:
            break
    if best is None:
        raise ValueError("no part to choose from")
    return best


def sized_resistor(
    context: ChannelContext,
    key: str,
    label: str,
    symbol: str,
    window: Window,
    corner="",
    prefer: float | None = None,
) -> Sized:
    """
    A resistor from its window, or the one the user has at hand, held against every corner of it.

    Where the window is empty the least value that spares the pin stands in, so that what falls
    short can be shown.
    """
    yours = context.ohms(key)
    if yours is not None:
        failing = tuple(window.failing(yours, yours.tolerance))
        return Sized(
            key,
            label,
            symbol,
            "Ω",
            yours,
            resistor_words(yours, context.tolerance),
            True,
            window,
            failing,
            corner,
        )
    held = context.in_stock(window)
    value = window.chosen if prefer is None else prefer
    if held is not None:
        detail = (
            "from the drawer"
            if held == value
            else (
                f"from the drawer; {resistor_code(value)} would sit better in the window"
                if value
                else "from the drawer"
            )
        )
        return Sized(
            key,
            label,
            symbol,
            "Ω",
            context.resistor(held),
            resistor_code(held),
            False,
            window,
            (),
            corner,
            detail,
        )
    if value is None:
        shelf = values(window.series)
        value = float(next((v for v in shelf if v >= window.nominal_min), shelf[-1]))
    failing = () if window.chosen else tuple(window.failing(value))
    return Sized(
        key,
        label,
        symbol,
        "Ω",
        context.resistor(value),
        resistor_code(value),
        False,
        window,
        failing,
        corner,
    )


#: Wattages resistors are sold in.
STOCK_WATTS = (0.25, 0.5, 1.0, 2.0, 5.0)


def resistor_measures(
    context: ChannelContext, result: StageResult, sized: Sized, volts, symbol: str, any_watts=False
) -> float:
    """
    Watts and working volts of a resistor, added to the measures of a stage; returns the rating [W].

    With ``any_watts`` the next size that keeps cool is taken where the user fixed none.
    """
    limits = context.limits
    stated = sized.fitted.watts or context.given("resistor_watts", "W")
    rating = stated or limits["resistor_watts"]
    power = resistor_power(volts, sized.value, sized.tolerance, result.working, symbol)
    if any_watts and not stated:
        rating = next(
            (size for size in STOCK_WATTS if power <= limits["resistor_power_share"] * size),
            STOCK_WATTS[-1],
        )
    result.measures.append(
        Measure(
            f"{sized.key}_watts",
            "D14",
            f"Heat in {sized.label.lower()}",
            "W",
            power,
            "max",
            "highest voltage, least resistance",
            symbol,
            "Half the printed watts keeps a resistor cool enough to last.",
            stop=rating,
            fix=limits["resistor_power_share"] * rating,
            stop_name="rating",
            fix_name=f"half of its {show(rating, 'W')} rating",
        )
    )
    if volts > 0.5 * limits["resistor_volts"]:
        result.measures.append(
            Measure(
                f"{sized.key}_volts",
                "D14",
                f"Voltage on {sized.label.lower()}",
                "V",
                volts,
                "max",
                "highest voltage",
                symbol,
                "A through-hole quarter-watt resistor has a working voltage too.",
                stop=limits["resistor_volts"],
                stop_name="working voltage",
            )
        )
    return rating
