"""
What of a channel the behaviour says better than anybody's declaration: its longest time on, its
rests, how it comes back.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from latchcore.document.behaviour import Behaviour, Manner, Pulse
from latchcore.document.models import Build, Channel
from latchcore.document.texts import seconds

RETURNS = {"anew": "stays_off", "standing": "as_before", "as_was": "as_before"}


@dataclass(frozen=True, slots=True)
class Contradiction:
    """
    A fact that was declared of a channel and that its rules do not keep: the ``field``, what was
    ``declared``, what is ``ruled`` (empty where the rules set no such limit).
    """

    channel: str
    name: str
    field: str
    declared: str
    ruled: str


def asked_for(behaviour: Behaviour) -> set[str]:
    """Channels that anything of a behaviour asks for."""
    found = {request.channel for request in behaviour.requests}
    found |= {c for plan in behaviour.sequences for phase in plan.phases for c in phase.states}
    return found | {press.channel for macro in behaviour.macros for press in macro.presses}


def longest_on(behaviour: Behaviour, channel: str) -> str | None:
    """
    The longest a behaviour has a channel on: its limit, else the length of its only pulse; ``None``
    where nothing ends it.
    """
    manner = behaviour.manner(channel)
    if manner.longest_on is not None:
        return manner.longest_on
    asking = [r for r in behaviour.requests if r.channel == channel]
    elsewhere = any(channel in p.states for s in behaviour.sequences for p in s.phases)
    elsewhere |= any(p.channel == channel for m in behaviour.macros for p in m.presses)
    if len(asking) == 1 and not elsewhere:
        only = asking[0]
        if isinstance(only, Pulse) and only.again == "ignore":
            return only.length
    return None


def informed(build: Build) -> Build:
    """
    A build whose channels are stated as its behaviour has them; itself where it has none.

    Examples
    --------
    >>> build = Build(name="Bench")
    >>> informed(build) is build
    True
    """
    if build.behaviour is None or build.behaviour.empty:
        return build
    asked = asked_for(build.behaviour)
    channels = [_stated(c, build.behaviour) if c.id in asked else c for c in build.channels]
    update: dict[str, object] = {"channels": channels}
    if build.behaviour.watchdog is not None and build.watchdog is None:
        update["watchdog"] = "yes"
    return build.model_copy(update=update)


def _stated(channel: Channel, behaviour: Behaviour) -> Channel:
    manner = behaviour.manner(channel.id)
    update: dict[str, object] = {"on_return": RETURNS[manner.returns]}
    longest = longest_on(behaviour, channel.id)
    if longest is not None:
        update["longest_on"] = longest
    lengths = _pulses(behaviour, channel.id)
    shortest = min(lengths, key=seconds) if lengths else manner.least_on
    if shortest is not None and manner.least_on is not None:
        shortest = max(shortest, manner.least_on, key=seconds)
    if shortest is not None:
        update["shortest_on"] = shortest
    if manner.least_off is not None:
        update["shortest_off"] = manner.least_off
    if manner.share is not None:
        update["on_share"] = manner.share
    most = most_cycles(manner)
    if channel.cycles_per_day and most is not None and most < channel.cycles_per_day:
        update["cycles_per_day"] = most
    if manner.sense is not None and channel.confirmed_by is None:
        update["confirmed_by"] = manner.sense.split(".")[0]
    return channel.model_copy(update=update)


def most_cycles(manner: Manner) -> int | None:
    """
    How often a day a channel may start at the most by its own limit; ``None`` without one.

    Examples
    --------
    >>> most_cycles(Manner(channel="ch1", starts=4, starts_in="2 h"))
    48
    """
    if manner.starts is None:
        return None
    window = seconds(manner.starts_in) if manner.starts_in else 3600.0
    return max(math.ceil(manner.starts * 86400 / window - 1e-9), 1)


def _pulses(behaviour: Behaviour, channel: str) -> list[str]:
    found = [r.length for r in behaviour.requests if isinstance(r, Pulse) and r.channel == channel]
    return found + [
        p.hold for macro in behaviour.macros for p in macro.presses if p.channel == channel
    ]


def contradictions(build: Build) -> Iterator[Contradiction]:
    """Declared facts the rules do not keep."""
    behaviour = build.does
    asked = asked_for(behaviour)
    for channel in build.channels:
        if channel.id in asked:
            yield from _of(channel, behaviour, behaviour.manner(channel.id))


def _of(channel: Channel, behaviour: Behaviour, manner: Manner) -> Iterator[Contradiction]:
    ruled = longest_on(behaviour, channel.id)
    if channel.longest_on and (ruled is None or seconds(ruled) > seconds(channel.longest_on)):
        yield _found(channel, "longest_on", channel.longest_on, ruled)
    least = manner.least_off
    if channel.shortest_off and (least is None or seconds(least) < seconds(channel.shortest_off)):
        yield _found(channel, "shortest_off", channel.shortest_off, least)
    most = most_cycles(manner)
    if channel.cycles_per_day and most is not None and most < channel.cycles_per_day:
        yield _found(channel, "cycles_per_day", f"{channel.cycles_per_day} a day", f"{most} a day")
    if channel.on_return == "stays_off" and manner.returns != "anew":
        yield _found(channel, "on_return", "stays off", "comes back")


def _found(channel: Channel, field: str, declared: str, ruled: str | None) -> Contradiction:
    return Contradiction(channel.id, channel.name, field, declared, ruled or "")
