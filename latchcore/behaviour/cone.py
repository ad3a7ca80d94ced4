"""The part of a behaviour that has a bearing on some of it: a walk need not walk the rest."""

from __future__ import annotations

from dataclasses import dataclass, field

from latchcore.behaviour.choices import every_condition
from latchcore.behaviour.named import channel_of, outputs_of
from latchcore.document import behaviour as said
from latchcore.document import conditions as looked
from latchcore.document.models import Build


@dataclass
class _Bearing:
    """What was found to have a bearing: channels, and named conditions."""

    build: Build
    channels: set[str] = field(default_factory=set)
    names: set[str] = field(default_factory=set)

    def grow(self) -> bool:
        """Add what bears on what is there; whether anything was added."""
        before = len(self.channels) + len(self.names)
        part = self.part()
        for condition in every_condition(part):
            if isinstance(condition, looked.ChannelIs):
                self.channels.add(condition.of)
            elif isinstance(condition, looked.Named):
                self.names.add(condition.of)
        for lock in part.interlocks:
            self.channels |= set(lock.channels)
        for plan in part.sequences:
            self.channels |= _named_in(plan)
        for macro in part.macros:
            self.channels |= {press.channel for press in macro.presses}
        rails = {turn.rail for turn in part.staggers}
        asked = {r.channel for r in self.build.does.requests}
        asked |= {c for plan in self.build.does.sequences for c in _named_in(plan)}
        for output in outputs_of(self.build):
            turn = output.channel.rail in rails and output.id in asked
            if turn or output.channel.id in map(channel_of, self.channels):
                self.channels.add(output.id)
        return len(self.channels) + len(self.names) > before

    def part(self) -> said.Behaviour:
        """The pieces of the behaviour that are of these channels."""
        does, channels = self.build.does, self.channels
        rails = {o.channel.rail for o in outputs_of(self.build) if o.id in channels}
        return does.model_copy(
            update={
                "conditions": [c for c in does.conditions if c.id in self.names],
                "requests": [r for r in does.requests if r.channel in channels],
                "bars": [b for b in does.bars if b.channel in channels],
                "manners": [m for m in does.manners if m.channel in channels],
                "interlocks": [i for i in does.interlocks if channels & set(i.channels)],
                "staggers": [s for s in does.staggers if s.rail in rails],
                "sequences": [s for s in does.sequences if channels & _named_in(s)],
                "macros": [m for m in does.macros if channels & {p.channel for p in m.presses}],
            }
        )


def _named_in(plan: said.Sequence) -> set[str]:
    return {c for phase in plan.phases for c in phase.states} | set(plan.after_abort)


def cone(build: Build, channels: tuple[str, ...], sequence: str = "") -> Build:
    """
    A build with only what has a bearing on some channels, or on a sequence.

    Examples
    --------
    >>> from latchcore.document.behaviour import Behaviour
    >>> cone(Build(name="Bench", behaviour=Behaviour()), ("ch1",)).channels
    []
    """
    bearing = _Bearing(build, set(channels))
    for plan in build.does.sequences:
        if plan.id == sequence:
            bearing.channels |= _named_in(plan)
    while bearing.grow():
        pass
    there = set(map(channel_of, bearing.channels))
    kept = [c for c in build.channels if c.id in there]
    return build.model_copy(update={"behaviour": bearing.part(), "channels": kept})
