"""Coils: how long they are on, what feeds them."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried


@tried
def program_ends(case: Case) -> Iterator[Candidate]:
    """The program ends it within what the coil bears."""
    longest = case.context.channel.load.longest_rated
    if longest:
        yield (
            f"Let the program end it after {longest}",
            case.edit("set_switching", longest_on=longest),
        )


@tried
def no_pulses(case: Case) -> Iterator[Candidate]:
    """On and off, without pulses."""
    yield "Switch it on and off, without pulses", case.edit("set_switching", pwm="")


@tried
def coil_rails(case: Case) -> Iterator[Candidate]:
    """
    Other rails for the coil of a relay in the stage, then an adapter of the coil's own voltage.
    """
    if "coil_rail" not in case.knows:
        return
    around, relay = case.context.around, case.result.parts.get("relay")
    present = case.result.coil.rail if case.result.coil else None
    for rail in around.build.rails:
        if not around.hazardous(rail) and not around.alternating(rail) and rail.id != present:
            yield (
                f"Feed its coil from {rail.name}: the {{relay}}",
                case.setting(coil_rail=rail.id, relay="auto"),
            )
    if relay is not None:
        yield (
            f"Add a {relay.coil:g} V adapter for its coil: the {{relay}}",
            case.edit("feed_coil", voltage=f"{relay.coil:g} V"),
        )
