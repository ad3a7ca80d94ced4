"""
How long a coil may be on: what its rating and its copper bear, what the program asks of it, and
what limits it when the program hangs.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, Remedy, StageResult
from latchcore.figures.quantity import parse, show
from latchcore.figures.slack import exceeds, falls_short
from latchcore.pieces.pulse import Pulses, meant, pulses_of


def slowest_rise(context: ChannelContext, result: StageResult) -> float | None:
    """
    Time a coil takes to act at the lowest supply [s]; ``None`` where it never does, or nothing is
    known of it.
    """
    return pulses_of(context, result).least


def _program(context: ChannelContext) -> float | None:
    """The shortest pulse of the program that is stated [s]."""
    channel = context.channel
    stated = [t for t in (channel.shortest_on, channel.longest_on) if t]
    return min((parse(t, "s") for t in stated), default=None)


def _too_short(context: ChannelContext, pulses: Pulses) -> Finding | None:
    """C8: a pulse that is over before the coil's current has risen and its armature has moved."""
    pulse = _program(context)
    if pulse is None or (pulses.least is None and not pulses.never):
        return None
    if pulses.least is not None and not falls_short(pulse, pulses.least):
        return None
    never = pulses.never and pulses.quickest is None
    never |= pulses.quickest is not None and falls_short(pulse, pulses.quickest)
    takes = "it never gets there" if pulses.never else f"it takes up to {show(pulses.least, 's')}"
    usual = "." if pulses.sure else ", by the usual inductance of its kind: measure it."
    severity = ("stop" if never else "fix") if pulses.sure else "check"
    return Finding(
        "C8",
        severity,
        context.channel.id,
        "The pulse is over before the coil has acted",
        f"{show(pulse, 's')} by program; {takes}{usual}",
        "The current of a coil rises with L/R, and its armature takes its time; a pulse that ends"
        " before moves nothing.",
        "lowest supply, highest resistance and inductance",
        remedies=_slipped(context, pulse, pulses) if severity != "check" else (),
        cause="short",
    )


def _slipped(context: ChannelContext, pulse: float, pulses: Pulses) -> tuple[Remedy, ...]:
    """What was meant, where a unit slipped."""
    found = meant(pulse, pulses)
    if found is None:
        return ()
    text = show(found, "s")
    edits = (("set_switching", {"channel": context.channel.id, "longest_on": text}),)
    return (Remedy(f"It was meant as {text}", edits, "a unit slipped by a thousand"),)


def _too_long(context: ChannelContext, pulses: Pulses) -> Finding | None:
    """C8: on by program for longer than the coil bears."""
    asked = parse(context.channel.longest_on, "s") if context.channel.longest_on else None
    bears = pulses.most
    if bears is None or (asked is not None and not exceeds(asked, bears)):
        return None
    says = (
        "The program may leave it on"
        f" {'without end' if asked is None else 'for ' + show(asked, 's')}"
    )
    by = " by the weight of its copper" if pulses.by_copper else ""
    return Finding(
        "C8",
        "stop",
        context.channel.id,
        "On for longer than this coil bears",
        f"{says}; it bears {show(bears, 's')}{by}.",
        "A coil that is made for a stroke takes many times what it could take for long: it burns.",
        "longest on by program",
        lasting=context.hazardous,
        remedies=() if asked is None else _slipped(context, asked, pulses),
        cause="long",
    )


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """
    C8 of one channel: on-time and share of time by program, then the limit in hardware that a pulse
    coil wants.
    """
    load, where = context.channel.load, context.channel.id
    if not context.load.kind.inductive:
        return []
    pulses = pulses_of(context, result, result.working)
    cut_off = parse(load.cut_off, "s") if load.cut_off else None
    if found := _too_long(context, pulses):
        return [found]
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
                lasting=context.hazardous,
            )
        ]
    if short := _too_short(context, pulses):
        return [short]
    return _unlimited(context, result, pulses.most, cut_off)


def _unlimited(
    context: ChannelContext, result: StageResult, bears: float | None, cut_off: float | None
) -> list[Finding]:
    """C8 of a pulse that nothing but the program ends, or hardware too late."""
    if "pulse coil" not in context.load.hazards and bears is None:
        return []
    if result.coil.one_shot is not None:
        # Its own measures say whether it fits.
        return []
    if cut_off is None:
        known = f"; it bears {show(bears, 's')}." if bears else "; how long it bears is not given."
        return [
            Finding(
                "C8",
                "fix",
                context.channel.id,
                "Only the program ends this pulse",
                f"Nothing but the program switches it off{known}",
                "A program that hangs with the output on leaves it on: a timer, a thermal cut-out"
                " or a capacitor that empties ends it without the program.",
                "program hung with the output on",
            )
        ]
    if bears is not None and exceeds(cut_off, bears):
        return [
            Finding(
                "C8",
                "fix",
                context.channel.id,
                "The limit in hardware comes too late",
                f"It cuts off after {show(cut_off, 's')}; the coil bears {show(bears, 's')}.",
                "The limit must come before the coil burns.",
                "program hung with the output on",
            )
        ]
    return []
