"""Lines for the further roles of a stage: a bridge wants one for each direction."""

from __future__ import annotations

from latchcore.catalogue import in_use
from latchcore.design.context import BuildContext
from latchcore.design.kinds import STAGES, roles_of, wants_of
from latchcore.document.models import Build, Channel
from latchcore.edits.registry import own
from latchcore.findings.pins import usable
from latchcore.whole.pinning import by_timer


def free_pins(
    build: Build, pwm: bool = False, wants: frozenset[str] = frozenset({"out"})
) -> list[str]:
    """
    Lines nobody uses that can do what is wanted: those of the board before those of a chain, those
    that stay quiet in reset first.
    """
    around = BuildContext(build, in_use())
    if around.board is None:
        return []
    taken = {p for c in build.channels for p in c.pins}
    taken |= {p for i in build.inputs for p in (i.pin, i.pin_two)}
    taken |= {p for chain in build.chains for p in chain.lines.values()}
    free = [
        p
        for p in around.deck.pins
        if p.id not in taken and usable(p, wants) and (not pwm or "pwm" in p.can)
    ]
    rank = {"floating": 0, "driven_low": 0, "pull_down": 1, "pull_up": 2}
    return [
        p.id
        for p in sorted(
            free,
            key=lambda p: (
                around.of_line(p.id) is not None,
                p.owner is not None,
                rank.get(p.reset, 3),
                p.start is not None,
            ),
        )
    ]


def pulses(channel: Channel) -> bool:
    """Whether a channel's own line must pulse: as stated, or by its load or its stage."""
    wave = in_use().loads[channel.load.kind].wave
    return bool(channel.pwm) or bool(wave) or by_timer(channel)


def quiet_pin(build: Build, channel: Channel) -> str | None:
    """A free pin for a channel: one that pulses where it must, while there is one."""
    wants = wants_of(BuildContext(build, in_use()).channel(channel))
    free = (free_pins(build, True, wants) if pulses(channel) else []) or free_pins(
        build, False, wants
    )
    return free[0] if free else None


def fill_lines(build: Build, channel: Channel) -> None:
    """
    Give each further role of a channel's stage a free quiet pin, keep those that stand, and let go
    of lines whose role is gone. Without a board, or where lines run out, a role stays without.
    """
    if not channel.lines and not hasattr(STAGES[channel.stage.kind], "roles"):
        return
    around = BuildContext(build, in_use())
    roles = roles_of(around.channel(channel))[1:]
    held = own(build, channel)
    if roles:
        # A stage of several lines has them alone.
        held.moves_with = None
    held.lines = {role: line for role, line in channel.lines.items() if role in roles}
    absent = [role for role in roles if role not in held.lines]
    if not absent:
        return
    if len(roles) >= MANY and _on_one_chain(around, held, roles):
        return
    wants = wants_of(around.channel(channel))
    free = free_pins(build, bool(channel.pwm), wants) or free_pins(build, False, wants)
    held.lines = held.lines | dict(zip(absent, free, strict=False))


#: A stage of so many further lines is put on one chain where one has room for all of them.
MANY = 8


def _on_one_chain(around: BuildContext, channel: Channel, roles: tuple[str, ...]) -> bool:
    """Put every line of a channel on free outputs of one chain, one after the other."""
    taken = {p for c in around.build.channels if c.id != channel.id for p in c.pins}
    for chain in around.chains.values():
        free = [f"{chain.id}.{n}" for n in chain.numbers if f"{chain.id}.{n}" not in taken]
        if chain.part.drives == "both" and len(free) > len(roles) and not channel.pin_locked:
            channel.pin, *rest = free[: len(roles) + 1]
            channel.lines = dict(zip(roles, rest, strict=True))
            return True
    return False
