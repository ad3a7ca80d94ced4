"""Ways out of what is wrong with a chain, the least change first."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.chains import ChainContext
from latchcore.design.report import Remedy
from latchcore.edits.lines import free_pins

#: So many other lines are tried.
MOST_LINES = 3
#: Edits of one chain.
Said = dict[str, str]


def ways(chain: ChainContext, check: str, cause: str) -> Iterator[Remedy]:
    """What may end a finding of a chain; each is tried on the build before it is offered."""
    table = {
        "P7": _levels,
        "P9": _levels,
        "P11": _lines,
        "S8": _feeds,
        "S11": _feeds,
        "M6": _released,
        "M7": _compared,
    }
    if check in ("P3", "P4", "M6"):
        yield from _other_lines(chain, cause)
    for label, fields in table.get(check, lambda chain: ())(chain):
        edits = (
            (("assign_pins", {"scope": "missing"}),)
            if not fields
            else (("set_chain", {"chain": chain.id} | fields),)
        )
        yield Remedy(label, edits)


def _other_lines(chain: ChainContext, cause: str) -> Iterator[Remedy]:
    """Another line of the board for a role, the one that releases it unless another is meant."""
    role = cause if cause in chain.roles else chain.part.release
    around = chain.around
    if role not in chain.roles:
        return
    free = [p for p in free_pins(around.build) if around.of_line(p) is None]
    for pin in free[:MOST_LINES]:
        what = {"what": f"{chain.id}.{role}", "pin": pin}
        yield Remedy(f"Move its {role} to {pin}", (("place_pin", what),))


def _set(label: str, **fields: str) -> tuple[str, Said]:
    return label, fields


def _lines(chain: ChainContext) -> Iterator[tuple[str, Said]]:
    yield _set("Give every line that is missing a pin")


def _feeds(chain: ChainContext) -> Iterator[tuple[str, Said]]:
    around = chain.around
    if chain.rail is not None:
        yield _set("Feed it from the board's own logic supply", rail="")
    rails = sorted(around.build.rails, key=lambda r: not around.dies_with_board(r))
    for rail in rails:
        if rail.id != chain.chain.rail:
            yield _set(
                f"Feed it from {rail.name}, {around.rail_volts(rail).shown('V')}", rail=rail.id
            )
    for rail in rails:
        yield _set(
            f"Feed it from {rail.name} and put a level shifter between", rail=rail.id, shifter="yes"
        )


def _levels(chain: ChainContext) -> Iterator[tuple[str, Said]]:
    yield _set("Put a level shifter between the board and its inputs", shifter="yes")
    for part in chain.around.family("chain"):
        same = part.bus == chain.part.bus and part.drives == chain.part.drives
        if same and part.id != chain.chain.part and part.outputs == chain.part.outputs:
            yield _set(f"Use the {part.title}", part=part.id)
    yield from _feeds(chain)


def _released(chain: ChainContext) -> Iterator[tuple[str, Said]]:
    release = chain.part.release
    if release != "none":
        yield _set(
            f"Lead its {release} to a line of the board, with 10 kΩ to where it releases",
            enable="line",
            enable_pull="auto",
        )
        yield _set(
            f"Lead its {release} to a line, with 4.7 kΩ to where it releases",
            enable="line",
            enable_pull="4.7 kΩ",
        )
    yield from _feeds(chain)
    if release == "none":
        for part in chain.around.family("chain"):
            if part.release != "none" and part.bus == chain.part.bus:
                yield _set(f"Use the {part.title}", part=part.id, enable="line")


def _compared(chain: ChainContext) -> Iterator[tuple[str, Said]]:
    yield _set(
        "The program's clock rests low and is read on its first edge, as the part's data ask",
        idle="low",
        samples="first",
        compared="yes",
    )
    yield _set(
        "It rests high and is read on its second edge, compared with the part's data",
        idle="high",
        samples="second",
        compared="yes",
    )
