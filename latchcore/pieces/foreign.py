"""What every pin shares that leads straight into somebody else's input."""

from __future__ import annotations

from latchcore.catalogue.boards import Board
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.resistance import Resistor
from latchcore.pieces.frame import UNPOWERED_PIN

GROUND = Setting(
    "line_ground",
    "The line's ground",
    "choice",
    choices=(("apart", "kept apart, or not known"), ("joined", "joined with the board's")),
)
#: What an input nobody has a sheet of bears through its protection for good, and at the most [A].
BEARS, BEARS_MOST = 1e-3, 10e-3


def minus(context: ChannelContext) -> str:
    """The node of the other device's ground."""
    return "0V" if context.setting("line_ground") == "joined" else f"{context.channel.id}.LINE-"


def least_resistor(board: Board) -> float:
    """Least resistance that keeps a dead device's input within what it bears [Ω]."""
    return (board.logic.max - UNPOWERED_PIN) / BEARS


def dead_device(context: ChannelContext, result: StageResult, resistor: Resistor | None) -> None:
    """S11: what a high pin pushes into the other device while that is dead."""
    board, w = context.board, result.working
    if context.rail is not None and context.rail_dies_with_board:
        # One source feeds both: they die together.
        return
    if resistor is None:
        current = w.calc(
            "I_into",
            "(V_OH_max - V_dead)/r_pin",
            "A",
            "the other device unpowered",
            V_OH_max=(board.logic.max, "V"),
            V_dead=(UNPOWERED_PIN, "V"),
            r_pin=(max(board.droop, 1.0), "Ω"),
        )
    else:
        current = w.calc(
            "I_into",
            "(V_OH_max - V_dead)/(R*(1 - tol))",
            "A",
            "the other device unpowered",
            "its input's protection holds it at a diode's voltage",
            V_OH_max=(board.logic.max, "V"),
            V_dead=(UNPOWERED_PIN, "V"),
            R=(resistor, "Ω"),
            tol=(resistor.tolerance, ""),
        )
    result.measures.append(
        Measure(
            "dead_device",
            "S11",
            "Into the other device while it is dead",
            "A",
            current,
            "max",
            "pin high, the other device unpowered",
            "I_into",
            "It half wakes on it, or its input dies of it.",
            stop=BEARS_MOST,
            fix=BEARS * 1.0001,
            stop_name="what an input bears at the most",
            fix_name="what an unknown input bears for good",
        )
    )
