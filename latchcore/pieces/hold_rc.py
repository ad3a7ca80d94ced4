"""
A coil held with less: a resistor in series, a capacitor across it that gives full volts for the
first instant.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, resistor_measures
from latchcore.figures.preferred import between
from latchcore.figures.quantity import parse, show
from latchcore.figures.resistance import resistor_words
from latchcore.pieces.frame import add_part
from latchcore.sums.coils import hot_pull_in
from latchcore.sums.holding import (
    CAPACITOR_TOLERANCE,
    SIZES,
    held_volts,
    recovery,
    seat_capacitor,
    seated_volts,
)

SETTINGS = (
    Setting(
        "hold",
        "Once in, held by",
        "choice",
        choices=(
            ("full", "the full volts"),
            ("rc", "a resistor in series with a capacitor across it"),
        ),
    ),
    Setting("hold_resistor", "Holding resistor", "ohms", when=("hold", ("rc",))),
)


def _largest(left: float, hot: float, coil: float, most: float, tol: float, seat: float) -> float:
    """
    The largest resistor that holds the coil and whose capacitor is still one that is sold [Ω].
    """
    fits = between("E12", 1.0, most) if most >= 1.0 else []
    for value in reversed(fits):
        least = seat_capacitor(
            left, held_volts(left, coil, value * (1 + tol)), hot, coil, value * (1 - tol), seat
        )
        if least is not None and least <= SIZES[-1] * (1 - CAPACITOR_TOLERANCE):
            return value
    return fits[0] if fits else 1.0


def fit(context: ChannelContext, result: StageResult, rail: str, drop_max: float) -> str:
    """
    Put resistor and capacitor between rail and coil, measured at their corners; returns the coil's
    plus node.

    Parameters
    ----------
    rail : str
        Node the coil would hang on
    drop_max : float
        Most the switch keeps for itself [V]
    """
    load, w, tol, add = context.load, result.working, context.tolerance, result.measures.append
    if context.setting("hold") != "rc" or not load.kind.inductive or load.pull_in is None:
        return rail
    share = context.limits["hold_share"]
    left = context.volts.min - drop_max
    wanted = share * load.rated
    most = load.resistance.min * (left / wanted - 1) / (1 + tol) if left > wanted else 0.0
    yours = context.ohms("hold_resistor")
    hot, seat = hot_pull_in(load.pull_in, context.around.ambient), context.limits["seat_time"]
    value = yours or context.resistor(_largest(left, hot, load.resistance.min, most, tol, seat))
    resistor = Sized(
        "hold_resistor",
        "Holding resistor",
        "R6",
        "Ω",
        value,
        resistor_words(value, context.tolerance),
        yours is not None,
        corner="low supply, cold coil",
        detail=(
            f"up to {show(most, 'Ω')} still holds it"
            if most >= 1.0
            else "the supply leaves nothing to spare"
        ),
    )
    held = held_volts(left, load.resistance.min, value.high, w)
    add(
        Measure(
            "hold",
            "C3",
            "Coil voltage once it is held",
            "V",
            held,
            "min",
            "low supply, cold coil, resistor at its top",
            "V_hold",
            "Below its hold voltage a coil that is in lets go, or hums.",
            stop=wanted,
            stop_name=f"{share * 100:g} % of its rated volts",
            setting="hold_resistor",
        )
    )
    least = seat_capacitor(left, held, hot, load.resistance.min, value.low, seat, w)
    size = next(
        (c for c in SIZES if least is not None and c * (1 - CAPACITOR_TOLERANCE) >= least),
        SIZES[-1],
    )
    volts = seated_volts(
        left,
        held,
        load.resistance.min,
        value.low,
        size * (1 - CAPACITOR_TOLERANCE),
        seat,
        w,
    )
    add(
        Measure(
            "hold_seat",
            "C1",
            "Coil voltage when it should be seated",
            "V",
            volts,
            "min",
            "low supply, capacitor at its bottom, hot coil",
            "V_seat",
            "The capacitor gives full volts for the first instant only; by then the armature must"
            " have moved.",
            fix=hot,
            fix_name="hot pull-in voltage",
        )
    )
    pause = recovery(value.high, size * (1 + CAPACITOR_TOLERANCE), w)
    shortest = parse(context.channel.shortest_off, "s") if context.channel.shortest_off else None
    if context.frequency:
        shortest = min(shortest or 1e9, (1 - context.duty) / context.frequency)
    if shortest is not None:
        w.note(
            "t_off",
            "as given" if context.channel.shortest_off else "the off-time of a pulse",
            "s",
            shortest,
            {},
            {},
        )
        add(
            Measure(
                "hold_pause",
                "C1",
                "Shortest time off before the next pull-in",
                "s",
                shortest,
                "min",
                "resistor and capacitor at their top",
                "t_off",
                "Until the capacitor has emptied the next pull-in gets the holding volts only.",
                fix=pause,
                fix_name="five times R·C",
            )
        )
    saved = 1 - load.resistance.typ / (load.resistance.typ + value)
    result.coil.hold_rc = {
        "saved": f"{saved * 100:.0f} %",
        "pause": show(pause, "s", 2),
        "volts": show(held, "V"),
        "stated": shortest is not None,
    }
    rating = next((v for v in (10, 16, 25, 35, 50, 63, 100) if v >= 1.2 * context.volts.max), 100)
    text = f"{show(size, 'F')} {rating} V"
    across = held_volts(context.volts.max, value.high, load.resistance.min)
    watts = resistor_measures(context, result, resistor, across, "P_hold", any_watts=True)
    result.values += [
        resistor,
        Sized(
            "hold_capacitor",
            "Holding capacitor",
            "C1",
            "",
            None,
            text,
            False,
            detail="plus to the rail",
        ),
    ]
    node = f"{context.channel.id}.HOLD"
    add_part(
        context,
        result,
        "R6",
        "resistor",
        f"{resistor.text} {show(watts, 'W')}",
        "holds with less",
        domain="low",
        **{"1": rail, "2": node},
    )
    add_part(
        context,
        result,
        "C1",
        "capacitor",
        text,
        "full volts at first",
        domain="low",
        **{"+": rail, "-": node},
    )
    part = result.netlist.the(f"{context.channel.id}.LOAD")
    part.terminals["+"] = node
    return node
