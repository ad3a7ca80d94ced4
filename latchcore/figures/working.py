"""The working behind a number: every step recorded by the very call that computes it."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from latchcore.figures.quantity import show

_ALLOWED = {
    "sqrt": np.sqrt,
    "log": np.log,
    "exp": np.exp,
    "sin": np.sin,
    "arcsin": np.arcsin,
    "larger": np.maximum,
    "smaller": np.minimum,
    "pi": np.pi,
    "abs": np.abs,
}
#: All a formula can see besides what is put into it.
_WORLD = {"__builtins__": {}, **_ALLOWED}
_WORD = re.compile(r"[A-Za-z_θτπαΔΣ][A-Za-z0-9_θτπαΔΣ]*")


@dataclass(frozen=True, slots=True)
class Step:
    """One line of working: what was computed, how, from what, in which corner and why."""

    symbol: str
    formula: str
    values: dict[str, Any]
    units: dict[str, str]
    result: Any
    unit: str
    corner: str
    why: str
    computed: bool = False

    @property
    def formula_shown(self) -> str:
        """The formula in the handwriting of the bench: proper signs in place of program text."""
        text = (
            self.formula.replace("**2", "²")
            .replace("*", "·")
            .replace("log(", "ln(")
            .replace(" - ", " − ")
        )
        return _WORD.sub(lambda found: nice(found[0]), text)

    @property
    def put_in(self) -> str:
        """The values put in, each with its unit."""
        return ", ".join(
            f"{nice(name)} = {show(float(v), self.units.get(name, ''))}"
            for name, v in self.values.items()
        )

    def as_text(self) -> str:
        """One line to copy or print."""
        result = show(float(self.result), self.unit, 4)
        line = f"{nice(self.symbol)} = {self.formula_shown} = {result}"
        return (
            line
            + (f"   [{self.put_in}]" if self.put_in else "")
            + (f"   {self.corner}" if self.corner else "")
        )


def nice(name: str) -> str:
    """
    A program name as a symbol with its subscript.

    Examples
    --------
    >>> nice("V_OH_min"), nice("theta_JA"), nice("R_B")
    ('V_OH,min', 'θ_JA', 'R_B')
    """
    name = {"tau": "τ", "pi": "π", "alpha": "α", "Delta": "Δ"}.get(name, name)
    name = name.replace("theta", "θ")
    head, _, rest = name.partition("_")
    return f"{head}_{rest.replace('_', ',')}" if rest else head


def renamed(name: str, heads: dict[str, str]) -> str:
    """
    A name with its head exchanged, the corner behind it kept.

    Examples
    --------
    >>> renamed("R_load_min", {"R_load": "R_coil"}), renamed("V_BE", {"R_load": "R_coil"})
    ('R_coil_min', 'V_BE')
    """
    return next(
        (
            to + name[len(head) :]
            for head, to in heads.items()
            if name == head or name.startswith(head + "_")
        ),
        name,
    )


def again(step: Step, values: dict[str, Any]) -> Any:
    """
    The formula of a step once more with other values, floats or arrays: the very code that gave its
    result.
    """
    code, _ = _compiled(step.formula)
    return eval(code, _WORLD, values)  # noqa: S307 - formulas are the core's own text


@lru_cache(maxsize=1024)
def _compiled(formula: str):
    code = compile(formula, "<formula>", "eval")
    return code, tuple(name for name in code.co_names if name not in _ALLOWED)


class Working:
    """
    Computes formulas and keeps each as a step, so that text and number cannot drift apart.

    Examples
    --------
    >>> w = Working()
    >>> w.calc("I", "V/R", "A", V=(12.0, "V"), R=(70.0, "Ω"))
    0.17142857142857143
    >>> w.steps[0].as_text()
    'I = V/R = 171.4 mA   [V = 12 V, R = 70 Ω]'
    """

    def __init__(self) -> None:
        self.steps: list[Step] = []
        self._by_symbol: dict[str, Step] = {}

    def calc(
        self, symbol: str, formula: str, unit: str, corner: str = "", why: str = "", **given
    ) -> Any:
        """
        Evaluate a formula of the core's own with the values given, and record it.

        Parameters
        ----------
        symbol : str
            Name of what is computed
        formula : str
            Expression in the given names, with sqrt, log, exp, larger and smaller; never user text
        unit : str
            Unit of the result
        corner, why : str
            Which corner this is, and why the step is taken
        **given : (value, unit) or value
            Floats or arrays in SI units

        Returns
        -------
        float or array
        """
        values, units = {}, {}
        for name, item in given.items():
            values[name], units[name] = item if isinstance(item, tuple) else (item, "")
        code, _ = _compiled(formula)
        result = eval(code, _WORLD, values)  # noqa: S307 - formulas are the core's own text
        if isinstance(result, np.floating):
            result = float(result)
        return self.note(symbol, formula, unit, result, values, units, corner, why, computed=True)

    def note(self, symbol, formula, unit, result, values, units, corner="", why="", computed=False):
        """
        Record a step whose result comes from a search or a choice rather than from one formula.
        """
        step = Step(symbol, formula, values, units, result, unit, corner, why, computed)
        self.steps.append(step)
        self._by_symbol[symbol] = step
        return result

    def step(self, symbol: str) -> Step | None:
        """The latest step that computed a symbol."""
        return self._by_symbol.get(symbol)

    def rename(self, heads: dict[str, str]) -> None:
        """
        Give the quantities of a part of the working names of their own, by the head of the name.

        Examples
        --------
        >>> w = Working()
        >>> _ = w.calc("I_load_max", "V_supply/R_load_min", "A", V_supply=(12.6, "V"),
        ...     R_load_min=(360.0, "Ω"))
        >>> w.rename({"I_load": "I_coil", "R_load": "R_coil", "V_supply": "V_feed"})
        >>> w.step("I_coil_max").formula
        'V_feed/R_coil_min'
        """
        self.steps[:] = [
            replace(
                s,
                symbol=renamed(s.symbol, heads),
                formula=(
                    _WORD.sub(lambda found: renamed(found[0], heads), s.formula)
                    if s.computed
                    else s.formula
                ),
                values={renamed(k, heads): v for k, v in s.values.items()},
                units={renamed(k, heads): v for k, v in s.units.items()},
            )
            for s in self.steps
        ]
        self._by_symbol = {s.symbol: s for s in self.steps}

    def take(self, other: Working) -> None:
        """Take the steps of another working in, after its own."""
        self.steps += other.steps
        self._by_symbol |= other._by_symbol

    def leading_to(self, symbol: str) -> list[Step]:
        """
        The steps a result rests on, in the order they were taken, the result last.

        A name put into a step that an earlier step computed is followed back.
        """
        wanted, found = [symbol], []
        while wanted:
            step = self._by_symbol.get(wanted.pop())
            if step is not None and step not in found:
                found.append(step)
                wanted += [name for name in step.values if name != step.symbol]
        return [step for step in self.steps if any(step is kept for kept in found)]
