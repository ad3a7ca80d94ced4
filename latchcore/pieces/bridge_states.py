"""Every state of a motor bridge: its lines, its program, its board, handed to the state tables."""

from __future__ import annotations

from itertools import product

from latchcore.catalogue.boards import Pin
from latchcore.catalogue.switch_records import BridgeChip
from latchcore.design.context import ChannelContext
from latchcore.design.kinds import pins_of
from latchcore.design.memory import Memory
from latchcore.design.report import StageResult
from latchcore.design.states import Control, Decided
from latchcore.figures.quantity import show
from latchcore.sums.motion.judge import ACTING, Motion, judge
from latchcore.sums.motion.power import Chip, Line, Power, Program, Pull, Start, Winding

#: Letters of a line by what its pin does before the program runs.
BOOT = {
    "floating": "z",
    "pull_up": "u",
    "pull_down": "d",
    "driven_high": "1",
    "driven_low": "0",
}
#: The strongest pull inside a common controller [Ω].
STRONGEST = 20e3
#: What flows is shown at the highest supply; its wires and source are taken as stiff [Ω].
STIFF = 1e-3
#: What a result is in words, where the load acts and where it does not.
SAYS = {
    "forward": "it turns forward",
    "reverse": "it turns in reverse",
    "on": "it is set",
    "off": "it is reset",
    "brake": "both ends joined",
    "coast": "both ends let go",
    "hold": "no coil pulls",
    "forbidden": "what must never be together is",
}


def boots(pins: list[Pin | None]) -> tuple[str, ...]:
    """
    What the lines do before the program runs: those that pulse, each way together with every other.
    """
    kinds = [pin.reset if pin is not None else "floating" for pin in pins]
    stages = ["".join(ways) for ways in product(*(BOOT.get(kind, "10") for kind in kinds))]
    # Every line floats in the moment before the board pulls or drives it.
    return tuple(dict.fromkeys(("z" * len(pins), *stages)))


def start_of(context: ChannelContext, each: int = 0) -> Start:
    """
    How the lines of a channel stand before its program runs, and which supply lives without the
    other; pulls inside the board that nobody stated are taken as strong as any. Where every
    ``each`` lines are one of many alike, whatever any of them does.
    """
    pins = pins_of(context)
    weak = [pin.pull.min for pin in pins if pin is not None and pin.pull is not None]
    groups = [pins[n : n + each] for n in range(0, len(pins), each)] if each else [pins]
    stages = tuple(dict.fromkeys(stage for group in groups for stage in boots(group)))
    return Start(stages, not context.rail_dies_with_board, weak=min(weak, default=STRONGEST))


def chip_rows(part: BridgeChip, enabled: bool) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """The printed rows of a bridge chip; its enable, where it is a line, stands first."""
    low, off = ("low", "low"), ("off", "off")
    both = {"brake": ("high", "high"), "coast": off}.get(part.at_both)
    rows = [
        ("10", ("high", "low")),
        ("01", ("low", "high")),
        ("00", low if part.at_none == "brake" else off),
    ]
    if both is not None:
        rows.append(("11", both))
    if not enabled:
        return tuple(rows)
    return (("0xx", off), *((f"1{when}", outputs) for when, outputs in rows))


def patterns(part: BridgeChip, enabled: bool, coil: bool = False) -> dict[str, str]:
    """What a program writes, by name; it stands first. A coil is pulsed, never braked."""
    on = "1" if enabled else ""
    if coil:
        return {"rest": "000" if enabled else "00", "set": f"{on}10", "reset": f"{on}01"}
    found = {"stand": "000" if enabled else "00", "forward": f"{on}10", "reverse": f"{on}01"}
    if part.at_none == "brake" and enabled:
        found["brake"] = "100"
    elif part.at_both == "brake":
        found["brake"] = f"{on}11"
    return found


def power_of(
    context: ChannelContext,
    part: BridgeChip,
    roles: tuple[str, ...],
    pull: float | None,
    holds: bool,
    stops_first: bool,
    winding: float,
) -> Power:
    """
    A bridge chip with its lines, pulls and program, for the state tables. Behind a pull that does
    not hold its input nothing is sure, unless the input reads low by itself.
    """
    board, enabled = context.board, "enable" in roles
    held = Pull("low", pull) if pull and holds else None
    weak_one = pull is not None and not holds and part.open_reads != "low"
    reads = "unknown" if weak_one else part.open_reads
    lines = tuple(Line(r, part.reads_low, part.reads_high, held, reads) for r in roles)
    coil = context.load.kind.model == "two_way_coil"
    written = patterns(part, enabled, coil)
    rests: tuple[str, ...] = tuple(n for n in ("rest", "stand", "brake") if n in written)
    ways = ("set", "reset") if coil else ("forward", "reverse")
    after = dict.fromkeys(ways, rests) if stops_first or coil else {}
    return Power(
        "latching_coil" if coil else "motor",
        context.volts.max,
        STIFF,
        board.logic.max,
        board.logic.max,
        lines,
        Program(written, next(iter(written)), after=after),
        start_of(context),
        chips=(
            Chip(
                "U1",
                roles,
                ("OUT1", "OUT2"),
                chip_rows(part, enabled),
                part.drop_max[-1] / part.drop_at[-1] / 2,
            ),
        ),
        windings=(Winding("M", "coil" if coil else "motor", ("OUT1", "OUT2"), winding),),
    )


#: Bridges that were worked out: many of a build are alike, and a remedy tries one again.
_KNOWN = Memory(512)


def worked(power: Power) -> Motion:
    """Everything that is known of a bridge, worked out once."""
    key = repr(power)
    found = _KNOWN.get(key)
    if found is None:
        found = _KNOWN[key] = judge(power)
    return found


def _does(motion: Motion, lines: str) -> tuple[str, str]:
    """What the load does with some lines, and in words what the bridge makes of them."""
    row, acts = motion.table.row(lines), ACTING[motion.power.kind]
    can = set(row.can_be)
    says = SAYS
    if motion.power.kind == "stepper":
        says = SAYS | {"hold": "it holds a place", "off": "no winding pulls"}
    if can <= acts:
        return "on", " or ".join(says[c] for c in row.can_be)
    if can & acts:
        return "undecided", f"nothing decides: {', '.join(row.can_be)}"
    return "off", says.get(row.result, "not named in its print")


def states(context: ChannelContext, result: StageResult, motion: Motion) -> None:
    """The states of the board, from the state table."""
    board, power = context.board, motion.power
    width, boot = len(power.lines), power.start.boot

    def decided(lines: str, words: str) -> Decided:
        load, says = _does(motion, lines)
        return Decided(f"{words}; {says}", load=load)

    booted = max((decided(b, "as the board starts") for b in boot[1:] or boot), key=_graver)
    dead = (
        Decided("rail dead as well", load="off")
        if context.rail_dies_with_board
        else decided("p" * width, "dead pins hold its inputs low")
    )
    control = Control(
        f"{context.channel.id}.PIN",
        "high",
        None,
        off=decided(power.program.patterns[power.program.first], "every line low"),
        floating=decided("z" * width, "its inputs as their pulls hold them"),
        boot=booted,
        dead=dead,
        on_text="one of its patterns",
        upload=f"reset and upload, up to {show(board.upload_time, 's')}",
        start=f"boot, about {show(board.boot_time, 's')}",
        in_volts=False,
    )
    result.states += control.states()


def _graver(found: Decided) -> int:
    return ["off", "undecided", "on"].index(found.load or "off")
