"""
What every low-side switch shares: load and rail figures, blocking voltage, the five states, the
joined netlist.
"""

from __future__ import annotations

from typing import Any

from latchcore.catalogue.records import Pin
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.figures.quantity import digits, show
from latchcore.figures.resistance import resistor_words
from latchcore.sums import coils, heat, pulls

PULLED = {"pull_up", "pull_down"}


def rough_current(context: ChannelContext) -> float:
    """Running current with no drop at all [A], to pass over parts that are far too small."""
    load, volts = context.load, context.volts
    return load.current_at(volts.min if load.kind.model == "constant_power" else volts.max, "max")


def rough_blocking(context: ChannelContext) -> float:
    """
    Blocking voltage a part wants at least [V], to pass over those that would fall short behind a
    plain diode.
    """
    clamp = 1.2 if context.load.kind.inductive else 0.0
    return context.limits["blocking_factor"] * (context.volts.max + clamp)


def running_current(context: ChannelContext, result: StageResult, drop_max: float = 0.0) -> float:
    """
    Highest running current of the load [A], the stage taken as no drop at all; a converter's at its
    lowest volts.

    Also fills in the typical current, the surge and the pin-independent live values.
    """
    load, volts, w = context.load, context.volts, result.working
    w.note("V_supply_max", "highest rail voltage", "V", volts.max, {}, {}, "highest supply")
    if load.kind.model == "constant_power":
        at = max(volts.min - drop_max, 0.1 * volts.min)
        result.running = load.current_at(at, "max", w, "I_load_max")
    else:
        result.running = load.current_at(volts.max, "max", w, "I_load_max")
    result.typical = float(load.current_at(volts.typ, "typ"))
    usual = load.kind.surge * result.running if not load.surge_measured else load.surge
    result.surge = max(usual or 0.0, result.running)
    result.surge_time = load.surge_time
    return result.running


def weak_pull(pin: Pin | None, active: str = "high") -> float | None:
    """Least resistance of the board's own pull towards the level that is on [Ω], or ``None``."""
    towards = {"high": "pull_up", "low": "pull_down"}[active]
    return pin.pull.min if pin is not None and pin.reset == towards and pin.pull else None


def pull_down(
    context: ChannelContext,
    result: StageResult,
    key: str,
    label: str,
    symbol: str,
    limit: float,
    active: str = "high",
) -> Sized | None:
    """
    The pull resistor that decides the stage's state while nobody drives the pin; ``None`` where
    left out. It leads to ground, or to the supply for a stage that is on with the pin low.
    """
    board, pull_up = context.board, weak_pull(context.pin, active)
    if context.left_out(key):
        return None
    yours = context.ohms(key)
    value = yours or pulls.choose_pull(
        board.logic.max, pull_up, board.leakage, limit, context.tolerance
    )
    off = yours.tolerance if yours else context.tolerance
    most = pulls.largest_real_pull(board.logic.max, pull_up, board.leakage, limit) / (1 + off)
    if value is None:
        return None
    detail = (
        f"up to {show(most, 'Ω')} holds it off; this pin"
        f" {'is weakly pulled up' if pull_up else 'floats'} in reset"
    )
    sized = Sized(
        key,
        label,
        symbol,
        "Ω",
        context.resistor(value),
        resistor_words(value, context.tolerance),
        yours is not None,
        corner="weakest moment",
        detail=detail,
    )
    result.values.append(sized)
    return sized


def load_measures(
    context: ChannelContext, result: StageResult, drop_min: float, drop_typ: float, drop_max: float
) -> None:
    """Volts left at the load against what it needs and bears."""
    load, volts, w, add = context.load, context.volts, result.working, result.measures.append
    lost = context.wire_drop
    wires: dict[str, Any] = {"V_wire": (lost, "V")} if lost else {}
    low = w.calc(
        "V_load_min",
        "V_supply_min - V_drop_max" + (" - V_wire" if lost else ""),
        "V",
        "low supply, highest drop" + (", everything on" if lost else ""),
        "less what stays in the wires of rail and load" if lost else "",
        V_supply_min=(volts.min, "V"),
        V_drop_max=(drop_max, "V"),
        **wires,
    )
    high = w.calc(
        "V_load_max",
        "V_supply_max - V_drop_min",
        "V",
        "high supply, least drop",
        V_supply_max=(volts.max, "V"),
        V_drop_min=(drop_min, "V"),
    )
    result.load_volts = (low, high)
    if load.pull_in is not None:
        typical = w.calc(
            "V_load_typ",
            "V_supply - V_drop" + (" - V_wire" if lost else ""),
            "V",
            "typical",
            V_supply=(volts.typ, "V"),
            V_drop=(drop_typ, "V"),
            **wires,
        )
        hot = coils.hot_pull_in(load.pull_in, context.around.ambient, working=w)
        add(
            Measure(
                "coil_pull_in",
                "C1",
                "Lowest coil voltage",
                "V",
                low,
                "min",
                "low supply, highest drop, hot coil",
                "V_load_min",
                "A coil that has been on is warm, and warm copper lets less current through.",
                fix=hot,
                fix_name="hot pull-in voltage",
                typical=typical,
            )
        )
        add(
            Measure(
                "coil_pull_in_cold",
                "C1",
                "Coil voltage at typical supply",
                "V",
                typical,
                "min",
                "typical supply, coil at 20 °C",
                "V_load_typ",
                "Below this the armature does not move at all.",
                stop=load.pull_in,
                stop_name="pull-in voltage",
            )
        )
        add(
            Measure(
                "coil_maximum",
                "C2",
                "Highest coil voltage",
                "V",
                high,
                "max",
                "high supply, least drop",
                "V_load_max",
                "Heat in a coil goes with the square of its volts.",
                stop=load.maximum,
                stop_name="maximum continuous voltage",
            )
        )
    elif volts.min >= context.least_volts:
        least = context.least_volts
        if least > 0:
            add(
                Measure(
                    "load_volts",
                    "D11",
                    "Volts left at the load",
                    "V",
                    low,
                    "min",
                    "low supply, highest drop",
                    "V_load_min",
                    "What the switch keeps, the load goes without.",
                    fix=least,
                    fix_name="least the load accepts",
                )
            )


def switch_current_measures(
    context: ChannelContext,
    result: StageResult,
    rating: float,
    pulse: float,
    name: str,
    printed_for: str,
    printed: float | None = None,
) -> None:
    """
    Running current against the rating and its derated share; surge against the pulse rating, which
    is printed for as long as ``printed`` says [s], else as the limit ``printed_for`` has it for its
    kind.
    """
    share = context.limits["current_share"]
    result.measures.append(
        Measure(
            "switch_current",
            "D2",
            f"{name} current",
            "A",
            result.running,
            "max",
            "highest supply, least load resistance",
            "I_load_max",
            context.limits.reasons["current_share"],
            stop=rating,
            fix=share * rating,
            stop_name="rating",
            fix_name=f"{digits(share * 100)} % of its {show(rating, 'A')} rating",
            typical=result.typical,
        )
    )
    if result.surge > result.running:
        result.working.note(
            "I_surge",
            "surge of the load",
            "A",
            result.surge,
            {},
            {},
            "measured or usual for the kind",
        )
        bears, named = surge_bearing(context, result, pulse, rating, printed_for, printed)
        result.measures.append(
            Measure(
                "switch_surge",
                "D13",
                "Surge through the switch",
                "A",
                result.surge,
                "max",
                (
                    "upper end of the usual surge"
                    if not context.load.surge_measured
                    else "as measured"
                ),
                "I_surge",
                "A cold lamp or a charging converter is nearly a short for its first milliseconds.",
                stop=bears,
                stop_name=named,
            )
        )


def surge_bearing(
    context: ChannelContext,
    result: StageResult,
    pulse: float,
    steady: float,
    printed_for: str,
    printed: float | None = None,
) -> tuple[float, str]:
    """
    What a switch bears for as long as the load's surge lasts [A], in words too; a surge of unknown
    length counts as steady. ``printed_for`` is the limit that says how long a pulse its rating
    means.
    """
    limits = context.limits
    lasts, holds = result.surge_time or limits["surge_steady"], printed or limits[printed_for]
    if lasts <= holds:
        return pulse, "pulse rating"
    knots = heat.pulse_knots(
        pulse,
        steady,
        min(holds, limits["surge_steady"] / 2),
        limits["surge_half_cycle"],
        limits["half_cycle"],
        limits["surge_steady"],
    )
    return (
        heat.surge_limit(knots, lasts, result.working),
        f"what it bears for {show(lasts, 's')}",
    )


def blocking_measure(
    context: ChannelContext, result: StageResult, switch_volts: float, rating: float
) -> None:
    """
    Voltage on the opened switch against its blocking rating; left to the missing clamp where there
    is none.
    """
    factor = context.limits["blocking_factor"]
    result.working.note(
        "V_clamped",
        "highest supply with the clamp on top",
        "V",
        switch_volts,
        {},
        {},
        "highest supply, highest clamp voltage",
    )
    result.measures.append(
        Measure(
            "blocking",
            "D3",
            "Voltage on the opened switch",
            "V",
            switch_volts,
            "max",
            "highest supply, highest clamp voltage",
            "V_clamped",
            context.limits.reasons["blocking_factor"],
            stop=rating,
            fix=rating / factor,
            stop_name="blocking rating",
            fix_name=f"blocking rating over {factor:g}",
        )
    )
