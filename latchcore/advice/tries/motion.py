"""Motors both ways."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried
from latchcore.pieces.bridge_currents import RUN_DOWN, free_rest


@tried
def rest_first(case: Case) -> Iterator[Candidate]:
    """The program waits until the motor stands before it turns it the other way."""
    if case.result.motion is not None and case.knows >= {"rest"}:
        rest = free_rest(case.context)
        words = "" if case.fixed.get("run_down") else f", {RUN_DOWN:g} s where nobody measured"
        yield (
            f"Let the program rest {rest} before it turns the other way{words}",
            case.setting(rest=rest),
        )


@tried
def bridge(case: Case) -> Iterator[Candidate]:
    """The smallest bridge that holds, else each other one with its enable on a line or tied."""
    if "bridge" not in case.knows:
        return
    if "bridge" in case.fixed:
        yield "Use the smallest bridge that holds", case.setting(bridge="auto")
    for part in case.context.around.family("bridge_chip"):
        yield f"Use the {part.title}", case.setting(bridge=part.id)


@tried
def bridge_logic(case: Case) -> Iterator[Candidate]:
    """Another rail for the logic supply of a bridge."""
    if "logic_rail" not in case.knows:
        return
    for rail in case.context.around.build.rails:
        yield f"Feed its logic from {rail.name}", case.setting(logic_rail=rail.id)
    yield "Feed its logic from the board", case.setting(logic_rail="auto")
