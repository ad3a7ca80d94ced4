"""
The hardware end of a pulse: a logic gate that lets the pin through until a capacitor has charged,
whatever the program does.
"""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, sized_resistor
from latchcore.figures.quantity import parse, show
from latchcore.pieces.frame import add_part
from latchcore.sums.one_shot import charge_time, one_shot_resistor

SETTINGS = (
    Setting(
        "one_shot",
        "A pulse is ended by",
        "choice",
        choices=(
            ("none", "the program alone"),
            ("fitted", "a one-shot before the gate as well"),
        ),
    ),
    Setting("one_shot_resistor", "Its resistor", "ohms", when=("one_shot", ("fitted",))),
    Setting("one_shot_capacitor", "Its capacitor", "farads", when=("one_shot", ("fitted",))),
)
#: Thresholds of a Schmitt input of the common logic families as shares of its supply; a film
#: capacitor's spread; the capacitor that is tried first [F].
SHARES, FILM, USUAL = (0.38, 0.70), 0.1, 1e-6
#: Time constants after which its capacitor counts as empty again.
EMPTY = 5.0
CHIP = "Schmitt NAND logic, three of its four gates"


@dataclass(frozen=True, slots=True)
class OneShot:
    """How long it lasts at the least and at the most, and how long it wants between pulses [s]."""

    least: float
    most: float
    pause: float


def fitted(context: ChannelContext) -> bool:
    """Whether a one-shot stands before the gate."""
    return context.setting("one_shot") == "fitted"


def fit(context: ChannelContext, result: StageResult, pin: str) -> str:
    """
    Put the one-shot between pin and gate resistor and judge it; returns the node the gate's
    resistor hangs on.
    """
    if not fitted(context):
        return pin
    w, load = result.working, context.channel.load
    farads = context.given("one_shot_capacitor", "F") or USUAL
    pulse = parse(context.channel.longest_on, "s") if context.channel.longest_on else None
    most = parse(load.longest_rated, "s") if load.longest_rated else None
    seat = context.limits["seat_time"]
    window = one_shot_resistor(
        capacitance=farads,
        capacitor_tolerance=FILM,
        tolerance=context.tolerance,
        share_min=SHARES[0],
        share_max=SHARES[1],
        pulse=pulse or seat,
        most=most,
        series=context.series,
    )
    prefer = None if most is not None else next(iter(window.admissible), None)
    resistor = sized_resistor(
        context,
        "one_shot_resistor",
        "Resistor of the one-shot",
        "R_t",
        window,
        "least threshold outlasts the pulse, highest ends before the coil burns",
        prefer=prefer,
    )
    low = charge_time(
        resistor.low, farads * (1 - FILM), SHARES[0], w, "t_shot_min", "least threshold and parts"
    )
    high = charge_time(
        resistor.high, farads * (1 + FILM), SHARES[1], w, "t_shot_max", "highest of all"
    )
    rest = w.calc(
        "t_empty",
        "n*R_t_max*C_max",
        "s",
        "resistor and capacitor at their top",
        "it empties through its own resistor while the pin is low",
        n=(EMPTY, ""),
        R_t_max=(resistor.high, "Ω"),
        C_max=(farads * (1 + FILM), "F"),
    )
    result.coil.one_shot = OneShot(low, high, rest)
    result.values += [
        resistor,
        Sized(
            "one_shot_capacitor",
            "Capacitor of the one-shot",
            "C2",
            "F",
            farads,
            f"{show(farads, 'F')} film",
            context.given("one_shot_capacitor", "F") is not None,
            detail=f"ends a pulse after {show(low, 's')} to {show(high, 's')}",
        ),
        Sized("one_shot_chip", "Gate of the one-shot", "U3", "", None, CHIP, False),
    ]
    _measures(context, result, pulse, most)
    _join(context, result, pin, resistor.text, f"{show(farads, 'F')} film")
    result.pin_current += context.board.logic.max / resistor.low
    return f"{context.channel.id}.SHOT"


def _measures(
    context: ChannelContext, result: StageResult, pulse: float | None, most: float | None
) -> None:
    shot, w, add = result.coil.one_shot, result.working, result.measures.append
    if pulse is not None:
        add(
            Measure(
                "one_shot_least",
                "C8",
                "Shortest the one-shot lets through",
                "s",
                shot.least,
                "min",
                "least threshold, resistor and capacitor at their bottom",
                "t_shot_min",
                "It cuts the program's own pulse short: the coil may not get there.",
                fix=pulse,
                fix_name="the program's pulse",
                setting="one_shot_resistor",
            )
        )
    if most is not None:
        add(
            Measure(
                "one_shot_most",
                "C8",
                "Longest the one-shot lets through",
                "s",
                shot.most,
                "max",
                "highest threshold, resistor and capacitor at their top",
                "t_shot_max",
                "The limit must come before the coil burns.",
                fix=most,
                fix_name="what the coil bears",
                setting="one_shot_resistor",
            )
        )
    if context.channel.shortest_off:
        off = w.note("t_off", "as given", "s", parse(context.channel.shortest_off, "s"), {}, {})
        add(
            Measure(
                "one_shot_pause",
                "C8",
                "Shortest pause before the next pulse",
                "s",
                off,
                "min",
                "resistor and capacitor at their top",
                "t_off",
                "Not yet empty, its capacitor ends the next pulse early.",
                fix=shot.pause,
                fix_name="five times R·C",
            )
        )


def _join(context: ChannelContext, result: StageResult, pin: str, ohms: str, farads: str) -> None:
    prefix = context.channel.id
    node, out = f"{prefix}.TIME", f"{prefix}.SHOT"
    add_part(context, result, "R8", "resistor", ohms, "times the pulse", **{"1": pin, "2": node})
    add_part(context, result, "C2", "capacitor", farads, "times it", **{"1": node, "2": "0V"})
    add_part(
        context,
        result,
        "U3",
        "logic_gate",
        CHIP,
        "pin high and the capacitor not yet: high",
        **{"A": pin, "B": node, "Y": out, "VCC": "board.VDD", "GND": "0V"},
    )
