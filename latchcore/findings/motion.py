"""Stages of several lines: what their state tables say of combinations that come about."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.findings.dead import KEEPING
from latchcore.sums.motion.judge import Motion, Verdict
from latchcore.sums.motion.told import event


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """
    M1 and M2 of one stage, K7 of what stays as it was; what floats or acts at boot is said of its
    pins.
    """
    found = _kept(context)
    if result.motion is None:
        return found
    verdicts = [v for v in result.motion.verdicts if v.check == "M1"]
    return found + [_shorted(context, result.motion, verdict) for verdict in verdicts]


def _shorted(context: ChannelContext, motion: Motion, verdict: Verdict) -> Finding:
    way = "Reached by: " + ", ".join(event(motion, s) for s in verdict.way) + "."
    if verdict.severity == "check":
        return Finding(
            "M1",
            "check",
            context.channel.id,
            "It comes to a state its print does not name",
            way,
            "A pin is written after the other; between both writes the bridge sees the old of one"
            " and the new of the other.",
            "between two writes",
        )
    if not verdict.way:
        return Finding(
            "M1",
            "stop",
            context.channel.id,
            "The arc of a contact can short the supply",
            f"{verdict.says[0].upper()}{verdict.says[1:]}.",
            "Over 24 V an arc from one contact to the other is not put out, and both poles of the"
            " supply stand at its ends: cut the current first.",
            "contact moved under current",
            lasting=context.hazardous,
            cause="arc",
        )
    return Finding(
        "M1",
        "stop",
        context.channel.id,
        "Both switches of one side can conduct at once",
        way,
        "Together they are a short of the supply, and only they limit what flows.",
        "the shortest way there",
        lasting=context.hazardous,
    )


def _kept(context: ChannelContext) -> list[Finding]:
    """K7: what keeps its state is not off because everything is dead."""
    model = context.load.kind.model
    if model not in KEEPING or context.channel.when_dead == "unknown":
        return []
    return [
        Finding(
            "K7",
            "stop" if context.hazardous else "fix",
            context.channel.id,
            "It stays as it was when everything is dead",
            f"{context.channel.when_dead.capitalize()} without power is asked for; what latches"
            " keeps what its last pulse made.",
            "Only a capacitor that empties into its reset coil, or another relay, takes it back.",
            "power cut with it set",
            lasting=context.hazardous,
        )
    ]
