"""Whether what holds for a channel can be held."""

from __future__ import annotations

from latchcore.behaviour.layout import steps_of, steps_within
from latchcore.behaviour.looked_at import LookedAt
from latchcore.behaviour.times import percent
from latchcore.document.behaviour import Manner
from latchcore.document.texts import seconds


def manner_faults(look: LookedAt, manner: Manner, step: float) -> None:
    """Add the faults of one channel's limits, confirmation and loss to those gathered."""
    if not look.channel(manner.channel, manner.channel):
        return
    _times(look, manner, step)
    _share(look, manner, step)
    _idle(look, manner)
    _confirm(look, manner)
    _loss(look, manner)


def _times(look: LookedAt, manner: Manner, step: float) -> None:
    of, longest, least = manner.channel, manner.longest_on, manner.least_on
    if longest and least and steps_of(seconds(least), step) > steps_of(seconds(longest), step):
        look.add(
            of,
            "least_on",
            f"Least on {least} is over longest on {longest}; expected {longest} at the most.",
        )
    hardware = manner.hardware_limit
    if hardware and longest and seconds(hardware) <= seconds(longest):
        look.add(
            of,
            "hardware_limit",
            f"The hardware ends it after {hardware}, before the program's own {longest}; expected"
            " more than that.",
        )


def _share(look: LookedAt, manner: Manner, step: float) -> None:
    of = manner.channel
    if manner.starts_in is not None and manner.starts is None:
        look.add(of, "starts", f"How many starts in {manner.starts_in} is missing.")
    if manner.share is None and manner.share_of is None:
        return
    if manner.share is None or manner.share_of is None:
        look.add(
            of,
            "share" if manner.share is None else "share_of",
            "A share wants both: how much, and of how long.",
        )
        return
    most = steps_within(percent(manner.share) / 100 * seconds(manner.share_of), step)
    if most < 1:
        look.add(
            of,
            "share",
            f"{manner.share} of {manner.share_of} is less than one step; expected more of either.",
        )
    elif manner.least_on and most < steps_of(seconds(manner.least_on), step):
        look.add(
            of,
            "share",
            f"{manner.share} of {manner.share_of} is less than least on {manner.least_on}; it could"
            " never go on.",
        )


def _idle(look: LookedAt, manner: Manner) -> None:
    of = manner.channel
    if (manner.idle is None) != (manner.idle_for is None):
        look.add(
            of,
            "idle_for" if manner.idle_for is None else "idle",
            "Off when idle wants both: what idle is, and for how long.",
        )
    if manner.idle is not None:
        look.condition(of, manner.idle, "idle")
    if manner.idle_while is not None:
        if manner.idle is None:
            look.add(of, "idle_while", "Nothing says what idle is.")
        look.condition(of, manner.idle_while, "idle_while")


def _confirm(look: LookedAt, manner: Manner) -> None:
    of = manner.channel
    if manner.confirm is None:
        for where in ("sense", "other", "within"):
            if getattr(manner, where) is not None:
                look.add(of, where, "How it confirms is not stated.")
        return
    if manner.sense is None:
        look.add(of, "sense", "The input that says what happened is missing.")
    else:
        look.sense(of, manner.sense, False, "sense")
    if manner.within is None:
        look.add(of, "within", "How long it may take is missing.")
    if manner.other is not None:
        if manner.confirm == "same":
            look.add(of, "other", "One input says both; expected nothing here.")
        elif manner.other == manner.sense:
            look.add(of, "other", "Both ends are one input; expected two.")
        else:
            look.sense(of, manner.other, False, "other")
    elif manner.confirm == "toggle_load":
        look.add(of, "other", "It is known only with a switch at each end; the other is missing.")


def _loss(look: LookedAt, manner: Manner) -> None:
    of = manner.channel
    if manner.link == "state" and manner.link_level is None:
        look.add(of, "link_level", "The state it takes without link is missing.")
    if manner.link != "state" and manner.link_level is not None:
        look.add(of, "link_level", "A state is taken only where that is what it does without link.")
    if manner.link != "hold" and look.build.does.link_time_out is None:
        look.add(
            of,
            "link",
            "After how long without a command the link counts as lost is not stated; it would"
            " never be.",
        )
