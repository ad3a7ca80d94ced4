"""Sounders without an oscillator: a wave they want, and a piezo that must be emptied."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.kinds import STAGES
from latchcore.design.report import Finding, Remedy, StageResult

#: A tone most of them are loudest near.
TONE = "2 kHz"


def _slow(result: StageResult) -> str:
    bleed = result.the_value("bleed")
    return f"{bleed.text} across it; {bleed.detail}."


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """S8 of one channel that sounds, or would."""
    load, where, found = context.load.kind, context.channel.id, []
    if STAGES[context.channel.stage.kind].suits(context) is not None:
        return []
    if load.wave and not context.frequency:
        edit = ("set_switching", {"channel": where, "pwm": TONE, "duty": "50 %"})
        found.append(
            Finding(
                "S8",
                "fix",
                where,
                "It only clicks on a steady level",
                f"{load.title}: no tone is stated, it is switched on and off.",
                "Without an oscillator of its own it moves once and stays there; a square wave of"
                " a few kilohertz is the tone.",
                remedies=(Remedy(f"Give it a square wave of {TONE}", (edit,)),),
                cause="wave",
            )
        )
    if result.across.unbled or result.across.slow_bleed:
        yours = {"channel": where, "bleed": "auto"}
        found.append(
            Finding(
                "S8",
                "fix",
                where,
                "Nothing empties the piezo" if result.across.unbled else "It empties too slowly",
                "It stays charged after the first edge, and is silent."
                if result.across.unbled
                else _slow(result),
                "A low-side switch only charges it: a resistor across it takes it back before the"
                " next edge.",
                "fastest tone",
                remedies=(Remedy("Put the bleed that fits across it", (("set_setting", yours),)),),
                cause="bleed",
            )
        )
    return found
