"""
Which kinds of stages there are: filled by the floor that holds them, read by what stands below it.
"""

from __future__ import annotations

from latchcore.design.stage import Stage

#: Stage by kind, in the order they are offered.
STAGES: dict[str, Stage] = {}


def roles_of(context) -> tuple[str, ...]:
    """
    What each line of a channel's stage is for, the first its own pin; one without a name for a
    stage that has a single line.
    """
    own = getattr(STAGES[context.channel.stage.kind], "roles", None)
    return own(context) if own else ("",)


def lines_of(context) -> list[tuple[str, str | None]]:
    """Each role of a channel with the name of its line; the first has the channel's own pin."""
    first, *further = roles_of(context)
    own = [(role, context.channel.lines.get(role)) for role in further]
    return [(first, context.channel.pin), *own]


def pins_of(context) -> list:
    """
    The pin of each role, of the board or of a chain; ``None`` where none is chosen or there.
    """
    return [context.around.line(name) for _, name in lines_of(context)]


def wants_of(context) -> frozenset[str]:
    """What each line of a channel's stage must be able to do, pulses apart."""
    stage = STAGES[context.channel.stage.kind]
    own = getattr(stage, "wants", None)
    return own or frozenset({"in" if stage.traits.direction == "in" else "out"})


def pulsed_of(context) -> tuple[str, ...]:
    """Roles whose lines are pulsed where the channel is: its first, unless the stage says more."""
    own = getattr(STAGES[context.channel.stage.kind], "pulsed", None)
    return own(context) if own else roles_of(context)[:1]


def missing_facts(context) -> list[str]:
    """What must be said before the channel's stage can be computed."""
    own = getattr(STAGES[context.channel.stage.kind], "missing", None)
    return own(context) if own else context.missing
