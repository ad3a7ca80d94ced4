"""
How long a coil may be on: what its rating bears, what the program asks of it, and what limits it
when the program hangs.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import parse, show
from latchcore.figures.slack import exceeds, falls_short
from latchcore.sums import coils


def slowest_rise(context: ChannelContext) -> float | None:
    """
    Time a coil takes to its operate current at the lowest supply [s]; ``None`` where it never gets
    there, or nothing is known of it.
    """
    load = context.load
    if load.pull_in is None or load.inductance is None or context.alternating:
        return None
    volts = context.volts.min - context.wire_drop
    operate = load.pull_in / load.resistance.typ
    return coils.operate_time(volts, load.resistance.max, load.inductance.max, operate)


def _too_short(context: ChannelContext) -> Finding | None:
    """C8: a pulse that is over before the coil's current has risen to where its armature moves."""
    load, asked = context.load, context.channel.longest_on
    if asked is None or load.pull_in is None or load.inductance is None or context.alternating:
        return None
    pulse, operate = parse(asked, "s"), load.pull_in / load.resistance.typ
    slowest = slowest_rise(context)
    quickest = coils.operate_time(
        context.volts.max, load.resistance.min, load.inductance.min, operate
    )
    if slowest is not None and not falls_short(pulse, slowest):
        return None
    never = quickest is None or falls_short(pulse, quickest)
    known = load.inductance_measured
    takes = "it never gets there" if slowest is None else f"it takes up to {show(slowest, 's')}"
    return Finding(
        "C8",
        ("stop" if never else "fix") if known else "check",
        context.channel.id,
        "The pulse is over before the coil has risen",
        f"{show(pulse, 's')} by program; {takes} to the {show(operate, 'A')} it pulls in with"
        + ("." if known else ", by the usual inductance of its kind: measure it."),
        "The current of a coil rises with L/R; a pulse that ends before moves nothing.",
        "lowest supply, highest resistance and inductance",
    )


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """
    C8 of one channel: on-time and share of time by program, then the limit in hardware that a pulse
    coil wants.
    """
    load, where = context.channel.load, context.channel.id
    if not context.load.kind.inductive:
        return []
    bears = parse(load.longest_rated, "s") if load.longest_rated else None
    cut_off = parse(load.cut_off, "s") if load.cut_off else None
    asked = parse(context.channel.longest_on, "s") if context.channel.longest_on else None
    lasting = context.hazardous
    if bears is not None and (asked is None or asked > bears):
        says = (
            "The program may leave it on"
            f" {'without end' if asked is None else 'for ' + show(asked, 's')}"
        )
        return [
            Finding(
                "C8",
                "stop",
                where,
                "On for longer than this coil bears",
                f"{says}; it bears {show(bears, 's')}.",
                "A coil that is made for a stroke takes many times what it could take for long: it"
                " burns.",
                "longest on by program",
                lasting=lasting,
            )
        ]
    if load.duty_rated and exceeds(context.time_on, share := parse(load.duty_rated, "%") / 100):
        return [
            Finding(
                "C8",
                "stop",
                where,
                "On for more of the time than this coil bears",
                f"On {context.time_on * 100:.3g} % of the time; it bears {share * 100:g} %.",
                "What warms in the on-time must cool in the rest.",
                "share of time on by program",
                lasting=lasting,
            )
        ]
    if short := _too_short(context):
        return [short]
    if "pulse coil" not in context.load.hazards and bears is None:
        return []
    if result.coil.one_shot is not None:
        # Its own measures say whether it fits.
        return []
    if cut_off is None:
        return [
            Finding(
                "C8",
                "fix",
                where,
                "Only the program ends this pulse",
                "Nothing but the program switches it off"
                + (
                    f"; it bears {show(bears, 's')}."
                    if bears
                    else "; how long it bears is not given."
                ),
                "A program that hangs with the output on leaves it on: a timer, a thermal cut-out"
                " or a capacitor that empties ends it without the program.",
                "program hung with the output on",
            )
        ]
    if bears is not None and cut_off > bears:
        return [
            Finding(
                "C8",
                "fix",
                where,
                "The limit in hardware comes too late",
                f"It cuts off after {show(cut_off, 's')}; the coil bears {show(bears, 's')}.",
                "The limit must come before the coil burns.",
                "program hung with the output on",
            )
        ]
    return []
