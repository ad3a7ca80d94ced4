"""Every state of a stage with a switch for each coil or half-winding."""

from __future__ import annotations

from latchcore.catalogue.switch_records import Mosfet
from latchcore.design.context import ChannelContext
from latchcore.design.report import Sized, StageResult
from latchcore.pieces.bridge_states import STIFF, start_of, states, worked
from latchcore.pieces.frame import add_part
from latchcore.pieces.sensing import VDD
from latchcore.sums.motion.judge import Motion
from latchcore.sums.motion.power import Gate, Line, Power, Program, Pull, Switch, Winding

__all__ = ["join_lock", "locking", "states", "worked_windings"]

#: Logic that keeps two lines apart, as it is bought.
LOCK = "logic: each line only without the other"
#: Shares of its supply its inputs read as low and as high.
READS_LOW, READS_HIGH = 0.3, 0.7
#: Half-windings of a unipolar motor in the order of a turn: two phases on, or one.
STEPS = {
    "2": {"step 1": "1100", "step 2": "0110", "step 3": "0011", "step 4": "1001"},
    "1": {"step 1": "1000", "step 2": "0100", "step 3": "0010", "step 4": "0001"},
}


def join_lock(context: ChannelContext, result: StageResult, own: tuple[str, ...]) -> None:
    """Logic between pins and gates: the part, and what hung on the pins hangs behind it."""
    channel, net = context.channel, result.netlist
    ends = {"VCC": VDD, "GND": "0V"}
    for n, role in enumerate(own):
        pin = f"{channel.id}.PIN" if n == 0 else f"{channel.id}.PIN.{role}"
        behind = f"{channel.id}.LOCK.{role}"
        net.domains |= {behind: "logic", VDD: "logic"}
        for part in net.parts:
            series = part.ref.rpartition(".")[2][:2] in ("R1", "W1")
            if series and part.terminals.get("1") == pin:
                part.terminals["1"] = behind
        ends |= {f"IN{n + 1}": pin, f"OUT{n + 1}": behind}
    add_part(context, result, "U2", "lock", LOCK, **ends)
    result.values.append(Sized("apart", "Logic before the gates", "U2", "", None, LOCK, True))


def locking(own: tuple[str, ...]) -> tuple[Gate, ...]:
    """Logic by which each of two lines counts only without the other."""
    one, other = own
    return (
        Gate("no_lock_1", "not", (one,), "board", "low"),
        Gate("no_lock_2", "not", (other,), "board", "low"),
        Gate("lock_1", "and", (one, "no_lock_2"), "board", "low"),
        Gate("lock_2", "and", (other, "no_lock_1"), "board", "low"),
    )


def turning(context: ChannelContext) -> Program:
    """Half-windings A1, B1, A2, B2 in the order of a turn, either way, and let go."""
    patterns = {"off": "0000"} | STEPS[context.setting("phases") or "2"]
    turn = [name for name in patterns if name != "off"]
    after: dict[str, tuple[str, ...]] = {"off": tuple(turn)}
    for n, name in enumerate(turn):
        after[name] = (turn[n - 1], turn[(n + 1) % 4], "off")
    return Program(patterns, "off", "off_first", after)


def worked_windings(
    context: ChannelContext,
    result: StageResult,
    own: tuple[str, ...],
    pull: Sized | None,
    locked: bool,
) -> Motion:
    """The state table of coils with a switch each, and what comes about."""
    board, part = context.board, result.parts["transistor"]
    assert isinstance(part, Mosfet)
    held = Pull("low", pull.size) if pull is not None else None
    low, high = 0.5 * part.v_gs_th.min, part.on_voltage
    if locked:
        low, high = READS_LOW * board.logic.min, READS_HIGH * board.logic.max
    lines = tuple(Line(role, low, high, held) for role in own)
    gates = locking(own) if locked else ()
    signals = ("lock_1", "lock_2") if locked else own
    switches = tuple(
        Switch(f"{role} switch", (f"{role}-", "minus"), STIFF, signal)
        for role, signal in zip(own, signals, strict=True)
    )
    ohms = context.load.resistance.min
    if len(own) == 2:
        after: dict[str, tuple[str, ...]] = {"set": ("rest",), "reset": ("rest",)}
        patterns = {"rest": "00", "set": "10", "reset": "01"}
        program = Program(patterns, "rest", "off_first", after)
        kind = "two_coils"
    else:
        program = turning(context)
        kind = "stepper"
    windings = tuple(
        Winding(role, role.upper() if kind == "stepper" else role, ("plus", f"{role}-"), ohms)
        for role in own
    )
    return worked(
        Power(
            kind,
            context.volts.max,
            STIFF,
            board.logic.max,
            board.logic.max,
            lines,
            program,
            start_of(context),
            gates=gates,
            switches=switches,
            windings=windings,
        )
    )
