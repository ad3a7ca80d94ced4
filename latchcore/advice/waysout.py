"""
Ways out when a board has too few lines, each tried on the build: how many lines it frees and what
it costs.
"""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass, replace

from latchcore.catalogue.boards import Board
from latchcore.design.context import BuildContext
from latchcore.design.report import Remedy
from latchcore.document.models import Build
from latchcore.figures.quantity import show
from latchcore.whole.pinning import Demand, Plan, enough, larger_boards, side_of

#: A latched shift register with enable: outputs, lines it takes (data, clock, latch, enable),
#: current of all its outputs
#: together [A], class limit of the common logic family. An expander on a two-wire bus: lines, lines
#: it takes, current [A].
REGISTER, REGISTER_LINES, REGISTER_CURRENT = 8, 4, 0.07
PARTS = {"shift": "chain-register-8", "expander": "chain-expander-16"}
EXPANDER, EXPANDER_LINES, EXPANDER_CURRENT = 16, 2, 0.1
MOST_CHIPS = 8
GATE = "nmos_low_side"


@dataclass(frozen=True)
class WayOut:
    """
    One way out: what it is, its numbers, whether everything then finds a line, and the edit that
    takes it, if it is one.
    """

    title: str
    says: str
    enough: bool
    remedy: Remedy | None = None


def ways_out(
    build: Build, around: BuildContext, wanted: list[Demand], plan: Plan, currents: dict[str, float]
) -> list[WayOut]:
    """
    Every way out, worked out on the build itself.

    Parameters
    ----------
    build : Build
    around : BuildContext
    wanted : list of Demand
    plan : Plan
        The assignment that falls short
    currents : dict
        Pin current of each channel [A]
    """
    board, deck = around.board, around.deck
    found = [_chips(deck, wanted, currents, "shift"), _chips(deck, wanted, currents, "expander")]
    found += _grouped(build, deck, wanted, currents, plan)
    for larger in larger_boards(around.family("board"), board, wanted)[:2]:
        title = f"Use the {larger.title}"
        edits = (("move_to_board", {"board": larger.id}),)
        found.append(
            WayOut(
                title,
                f"All {len(wanted)} lines find a pin there.",
                True,
                Remedy(title, edits, f"all {len(wanted)} lines placed"),
            )
        )
    return [f for f in found if f is not None]


def _chips(
    board: Board, wanted: list[Demand], currents: dict[str, float], kind: str
) -> WayOut | None:
    """The least number of registers or expanders with which everything finds a line."""
    shift = kind == "shift"
    size, lines, limit = (
        (REGISTER, REGISTER_LINES, REGISTER_CURRENT)
        if shift
        else (EXPANDER, EXPANDER_LINES, EXPANDER_CURRENT)
    )
    fit = ({"out"},) if shift else ({"out"}, {"in"})
    # What is locked stays; the lightest load on a pin goes first, one line before several, and a
    # stage of several lines goes whole.
    stages: dict[str, list[Demand]] = {}
    for d in wanted:
        stages.setdefault(d.key.partition(".")[0], []).append(d)
    movable = sorted(
        (
            lines
            for lines in stages.values()
            if all(_moves(d) and set(d.wants) in fit for d in lines)
        ),
        key=lambda lines: (len(lines), currents.get(lines[0].key, 0.0)),
    )
    extra = [
        Demand(f"{kind}{n}", "chip", frozenset({"out"} if shift else {"in", "out"}), None, False)
        for n in range(lines)
    ]
    name = "latched shift register" if shift else "bus expander"

    def bears(left: list[Demand]) -> bool:
        """Whether the board has lines, and current, for what stays on it."""
        takes = sum(currents.get(d.key, 0.0) for d in left if not side_of(d.pin or ""))
        return enough(board, left + extra) and takes <= board.total_recommended

    def without(count: int) -> list[Demand]:
        going = {d.key for lines in movable[:count] for d in lines}
        return [d for d in wanted if d.key not in going]

    # The more that go, the easier the rest: halving finds the fewest.
    count = bisect_left(range(1, len(movable) + 1), True, key=lambda n: bears(without(n))) + 1
    moved = [d for stage in movable[:count] for d in stage]
    many = -(-len(moved) // size)
    if count > len(movable) or many > MOST_CHIPS:
        return None
    total = sum(currents.get(d.key, 0.0) for d in moved)
    heavy = total > many * limit
    title = f"{many} {name}{'s' * (many != 1)}"
    names = [stage[0].name.partition(", ")[0] for stage in movable[:count]]
    says = (
        f"{len(moved)} lines move to it ({', '.join(names[:4])}{' …' if count > 4 else ''}); it"
        f" takes {lines} of the board's. Its outputs then give {show(total, 'A')} of"
        f" {show(many * limit, 'A')}{': too much, give some a MOSFET.' if heavy else '.'} "
    )
    says += (
        "Its enable line wants a pull-up, so that nothing acts before the program has filled it."
        if shift
        else "Its lines are inputs until the program sets them."
    )
    ids = ",".join(stage[0].key for stage in movable[:count])
    args = {"part": PARTS[kind], "count": str(many), "channels": ids}
    edits: list[tuple[str, dict[str, str]]] = [("add_chain", args)]
    # A transistor's base takes what a register cannot give to eight; a gate does not.
    gates = [d.key for d in moved if heavy and currents.get(d.key, 0.0) > limit / size]
    edits += [("set_stage", {"channel": k, "stage": GATE}) for k in gates]
    tells = f"{len(moved)} lines move to it"
    tells += f", {len(gates)} of them with a MOSFET" if gates else ""
    press = Remedy(f"Hang {len(moved)} lines on {title}", tuple(edits), tells)
    return WayOut(title, says, not heavy, press)


def _moves(demand: Demand) -> bool:
    """Whether a line is free to leave the board."""
    return not (demand.locked or demand.on_board or side_of(demand.pin or ""))


def _grouped(
    build: Build, board: Board, wanted: list[Demand], currents: dict[str, float], plan: Plan
) -> list[WayOut]:
    """
    Channels of equal load, rail and stage, which one line could drive if they may always move
    together.
    """
    groups: dict[tuple, list] = {}
    alone = {d.key for d in wanted if not d.locked}
    for c in build.channels:
        if c.id in alone and not c.pwm:
            groups.setdefault(
                (c.load.kind, c.load.voltage, c.load.figure, c.rail, c.stage.kind, c.when_dead), []
            ).append(c)
    rows = []
    for members in groups.values():
        head, *others = sorted(members, key=lambda c: c.id in plan.refused)
        mates = [c for c in others if c.id in plan.refused][:3]
        total = sum(currents.get(c.id, 0.0) for c in (head, *mates))
        if not mates or head.id in plan.refused or total > board.pin_recommended:
            continue
        rest = [replace(d, pin=None) for d in wanted if d.key not in {c.id for c in mates}]
        title = f"Let {mates[0].name} move with {head.name}"
        edits = (("move_together", {"channel": mates[0].id, "lead": head.id}),)
        says = (
            f"{len(mates) + 1} equal loads on one line draw {show(total, 'A')} from it, of"
            f" {show(board.pin_recommended, 'A')}; they then always act together."
        )
        rows.append(
            WayOut(
                title,
                says,
                enough(board, rest),
                Remedy(title, edits, "one line less, one program less"),
            )
        )
    return rows[:2]
