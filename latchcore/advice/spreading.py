"""
How a figure spreads when every part is drawn from its own spread, by the formulas of the working
itself.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.figures.slack import within
from latchcore.figures.spread import Spread
from latchcore.figures.working import Step, again

DRAWS, BINS = 100_000, 48


@dataclass(frozen=True)
class Spreading:
    """
    Draws of one measured quantity.

    ``drivers`` are (what varies, share of the variation it explains), the strongest first;
    ``outside`` is the share of
    draws beyond the governing limit.
    """

    measure: Measure
    counts: np.ndarray
    edges: np.ndarray
    low: float
    middle: float
    high: float
    outside: float
    drivers: tuple[tuple[str, float], ...]
    draws: int


#: Which figure of a part stands behind a symbol of the formulas, and for which role the part may
#: be.
FIGURES = {
    "V_BE": "v_be",
    "V_EB": "v_be",
    "V_j": ("v_be", "v_f"),
    "V_CE_sat": "v_ce_sat",
    "V_drop": "v_ce_sat",
    "V_F": "v_f",
    "V_th": "v_gs_th",
    "V_plateau": "v_plateau",
    "V_drv": "v_ce_sat",
}
#: Where several parts have such a figure: whose it is.
ROLES = {
    "V_drv": ("coupler", "shifter"),
    "V_BE": ("shifter", "transistor"),
    "V_j": ("shifter", "coupler", "pv", "transistor"),
    "V_F": ("coupler", "pv"),
}
WORDS = {
    "v_be": "base-emitter voltage",
    "v_f": "forward voltage",
    "v_ce_sat": "saturation voltage",
    "v_gs_th": "threshold",
    "v_plateau": "plateau",
}
_CORNER = re.compile(r"(_(min|max|most|least|typ))+$")


def sources(context: ChannelContext, result: StageResult) -> dict[str, tuple[str, Spread]]:
    """
    Everything that varies in a channel, by the symbol it has in the formulas: what it is, and its
    spread.
    """
    board, load = context.board, context.load
    pin = Spread(board.voh_noload_min, board.logic.typ, board.logic.max)
    found = {
        "V_OH": ("high level of the pin", pin),
        "R_load": ("load resistance", load.resistance),
        "P_load": ("load power", load.power),
        "I_rated": ("load current", load.current),
    }
    if load.kind.model in ("led", "led_array"):
        found["V_F"] = ("forward voltage", Spread.of(load.rated, 0.1))
    if context.rail is not None:
        found |= dict.fromkeys(
            ("V_supply", "V_rail", "V_in_supply"), ("rail voltage", context.volts)
        )
    for symbol, names in FIGURES.items():
        for role in ROLES.get(symbol, ("transistor",)):
            part = result.parts.get(role)
            for name in (names,) if isinstance(names, str) else names:
                value = getattr(part, name, None)
                if isinstance(value, Spread) and symbol not in found:
                    found[symbol] = (f"{role.replace('_', ' ')}, {WORDS[name]}", value)
    for value in result.values:
        if value.unit == "Ω" and value.value:
            found[value.symbol] = (value.label.lower(), Spread.of(value.value, value.tolerance))
    return {symbol: pair for symbol, pair in found.items() if pair[1].max > pair[1].min}


class _Draw:
    """
    Evaluates steps of the working with drawn values in place of the corners they were worked out
    at.
    """

    def __init__(self, context: ChannelContext, result: StageResult, draws: int, seed: int):
        self.rng, self.draws, self.result = np.random.default_rng(seed), draws, result
        self.sources = sources(context, result)
        self.samples: dict[str, np.ndarray] = {}
        self.known: dict[int, np.ndarray | float] = {}
        self.place = {id(step): index for index, step in enumerate(result.working.steps)}

    def source(self, name: str, spread: Spread) -> np.ndarray:
        """One sample a source: one net has one value in one draw."""
        if name not in self.samples:
            self.samples[name] = self.rng.triangular(
                spread.min, min(max(spread.typ, spread.min), spread.max), spread.max, self.draws
            )
        return self.samples[name]

    def leaf(self, name: str, value: float, step: Step):
        """
        A value that was put into a step: an earlier result, a corner of something that varies, or a
        constant.
        """
        if name == "tol":
            return self._tolerance(value, step)
        base = _CORNER.sub("", name)
        if name == "V" and (earlier := self._earlier(name, value, step)) is not None:
            return self.step(earlier)
        for symbol in ("V_supply", "V_OH") if base == "V" else (base,):
            varies = self.sources.get(symbol)
            if (
                base == "V"
                and varies is not None
                and value != varies[1].max
                and not (value == varies[1].min and step.symbol.startswith("I_load"))
            ):
                continue  # a plain "V" is the rail or the pin only where it is exactly their corner
            if varies is not None and within(varies[1].min, value, varies[1].max):
                # A nominal value beside its own tolerance varies by that tolerance alone.
                return (
                    value if "tol" in step.values and name.startswith("R") else self.source(*varies)
                )
        earlier = self._earlier(name, value, step)
        return value if earlier is None else self.step(earlier)

    def _tolerance(self, value: float, step: Step):
        name = next((n for n in step.values if n.startswith("R")), step.symbol)
        label = self.sources.get(_CORNER.sub("", name), (f"resistor {name}", None))[0]
        key = f"{label} (tolerance)"
        if key not in self.samples:
            self.samples[key] = self.rng.uniform(-value, value, self.draws)
        return self.samples[key]

    def _earlier(self, name: str, value: float, step: Step) -> Step | None:
        """The step a value came from: by its name, or as the very same number in the same unit."""
        steps = self.result.working.steps[: self.place[id(step)]]
        named = [s for s in steps if s.symbol == name]
        if named:
            return named[-1]
        unit = step.units.get(name, "")
        if not unit or value in (0.0, 1.0) or _CORNER.sub("", name) in self.sources:
            return None
        return next(
            (s for s in reversed(steps) if s.computed and s.unit == unit and s.result == value),
            None,
        )

    def step(self, step: Step):
        """The result of a step for every draw."""
        key = id(step)
        if key not in self.known:
            if step.computed:
                values = {name: self.leaf(name, value, step) for name, value in step.values.items()}
                self.known[key] = again(step, values)
            else:
                varies = self.sources.get(_CORNER.sub("", step.symbol))
                self.known[key] = self.source(*varies) if varies else step.result
        return self.known[key]


def spread_out(
    context: ChannelContext,
    result: StageResult,
    measure: Measure,
    draws: int = DRAWS,
    seed: int = 1,
) -> Spreading | None:
    """
    Draw one measured quantity many times.

    Parameters
    ----------
    context, result : ChannelContext, StageResult
        A channel as it was worked out
    measure : Measure
        Which of its quantities
    draws, seed : int
        How many draws, and where the generator starts, so that a page shows the same picture again

    Returns
    -------
    Spreading or None
        ``None`` where nothing that varies enters the quantity

    Notes
    -----
    Spreads are drawn from triangles between least, typical and most, tolerances evenly between
    their ends; ambient,
    gains and ageing stay at their worst, and the limit stays where the worst corner put it. Drivers
    are squared rank
    correlations, scaled to one.
    """
    step = result.working.step(measure.symbol)
    if step is None:
        return None
    draw = _Draw(context, result, draws, seed)
    values = np.asarray(draw.step(step), dtype=float)
    if (
        values.ndim == 0
        or not np.all(np.isfinite(values))
        or np.ptp(values) <= 1e-9 * np.max(np.abs(values))
    ):
        return None
    limit = measure.limit
    outside = float(np.mean(values > limit if measure.sense == "max" else values < limit))
    counts, edges = np.histogram(values, BINS)
    low, middle, high = np.quantile(values, [0.001, 0.5, 0.999])
    return Spreading(
        measure,
        counts,
        edges,
        float(low),
        float(middle),
        float(high),
        outside,
        _drivers(draw.samples, values),
        draws,
    )


def _drivers(samples: dict[str, np.ndarray], values: np.ndarray) -> tuple[tuple[str, float], ...]:
    few = slice(0, 20_000)
    rank = np.argsort(np.argsort(values[few])).astype(float)
    found = {}
    for name, sample in samples.items():
        own = np.argsort(np.argsort(sample[few])).astype(float)
        found[name] = float(np.corrcoef(own, rank)[0, 1] ** 2)
    total = sum(found.values()) or 1.0
    ordered = sorted(
        ((name, share / total) for name, share in found.items()), key=lambda pair: -pair[1]
    )
    return tuple((name, share) for name, share in ordered if share > 0.005)
