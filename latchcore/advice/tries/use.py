"""How a load is used and guarded, its wire and its fuse."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried
from latchcore.figures.quantity import show
from latchcore.findings import guards
from latchcore.findings.fuse_fit import own_fuses
from latchcore.findings.fuse_print import hard, printed
from latchcore.sums import ampacity


@tried
def watchdog(case: Case) -> Iterator[Candidate]:
    """A watchdog that is on."""
    yield "Turn the watchdog on and say so", (("set_watchdog", {"watchdog": "yes"}),)


@tried
def stay_off(case: Case) -> Iterator[Candidate]:
    """Off until somebody asks."""
    yield "Let it stay off until asked", case.edit("set_guards", on_return="stays_off")


@tried
def rests(case: Case) -> Iterator[Candidate]:
    """The least times of the load, kept by the program."""
    wanted = {key: show(least, "s") for key, least in guards.rests(case.context).items() if least}
    words = {"shortest_on": "run at least", "shortest_off": "wait at least"}
    yield (
        "Let the program " + " and ".join(f"{words[key]} {text}" for key, text in wanted.items()),
        case.edit("set_switching", **wanted),
    )


@tried
def wire(case: Case) -> Iterator[Candidate]:
    """A thicker wire, the next that is sold first."""
    table = case.context.around.wires(case.context.dangerous)
    for area in table:
        words = ampacity.area_words(area, table)
        yield f"Wire of {words}", case.edit("set_wire", wire_area=words)


@tried
def own_fuse(case: Case) -> Iterator[Candidate]:
    """A slow fuse that outlasts the start, or none of its own."""
    rail, fields, words = case.context.rail, {}, ""
    if rail is not None and hard(case.context.around, rail):
        fields, words = printed(case.context.around, rail)
    for size in own_fuses(case.context, case.result)[:1]:
        label = f"A slow fuse of {show(size, 'A')}" + (f", {words}" if words else "")
        yield label, case.edit("set_wire", fuse=show(size, "A"), **fields)
    yield "No fuse of its own", case.edit("set_wire", fuse="")
