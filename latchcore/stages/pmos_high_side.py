"""
P-channel MOSFET above the load behind a small NPN, or straight on a pin where that can work at all.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.design.stage import Setting
from latchcore.design.states import Control, Decided, at_boot
from latchcore.pieces import high_gate
from latchcore.pieces.drivers import SHIFTER_SETTINGS, Driver, npn_shifter
from latchcore.pieces.frame import UNPOWERED_PIN, Traits, join_pin, power_only
from latchcore.sums import gates, pulls

kind = "pmos_high_side"
title = "P-channel, high side"
summary = (
    "The load stays on ground. A small NPN pulls the gate; a resistor to the rail turns it off."
)
settings = (
    Setting(
        "drive",
        "Gate pulled by",
        "choice",
        choices=(("npn", "a small NPN"), ("pin", "the pin itself")),
    ),
    *SHIFTER_SETTINGS,
    *high_gate.SETTINGS,
)
traits = Traits(side="high", cost=3)
suits = power_only


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.pieces.high_gate`."""
    if context.setting("drive") == "pin":
        return high_gate.size(context, kind, title, pin_driver)
    return high_gate.size(context, kind, title, npn_shifter)


def pin_driver(
    context: ChannelContext, result: StageResult, current: float, collector: str
) -> Driver:
    """The pin as its own driver: it must reach the rail to let go, and low means ON."""
    board, w, part, volts = context.board, result.working, result.parts["transistor"], context.volts
    same = context.rail_is_boards and abs(volts.typ - board.logic.typ) < 0.05 * board.logic.typ
    left = gates.direct_gate_left(same, volts.max, board.logic.min, board.voh_drop_noload, w)
    w.note("V_tolerated", "highest rail", "V", volts.max, {}, {}, "high rail")
    share = context.limits["direct_gate_share"]
    result.measures.append(
        Measure(
            "gate_left",
            "D8",
            "Gate voltage left when the pin is high",
            "V",
            left,
            "max",
            "high rail, low logic supply",
            "V_left",
            "The pin cannot lift the gate to a higher rail: it never turns off, and the rail"
            " reaches into the pin.",
            stop=share * part.v_gs_th.min,  # type: ignore[attr-defined]
            stop_name="half the least threshold",
        )
    )
    if not same:
        result.measures.append(
            Measure(
                "pin_tolerance",
                "P9",
                "Rail at the pin",
                "V",
                volts.max,
                "max",
                "high rail, least logic supply",
                "V_tolerated",
                "Through the resistor to the rail the pin's protection conducts.",
                stop=board.logic.min + board.over_supply,
                stop_name="most the pin tolerates",
            )
        )
    node = join_pin(context, result)
    result.pin_current = current
    result.netlist.add(
        f"{context.channel.id}.W1",
        "wire",
        "drive",
        context.channel.id,
        **{"1": node, "2": collector},
    )
    _states(context, result, left, share * part.v_gs_th.min, node)  # type: ignore[attr-defined]
    low = board.vol_noload + board.sink_droop * current
    return Driver(0.0, low, 0.0, 0.0, 0.0, "pin")


def _states(
    context: ChannelContext, result: StageResult, left: float, limit: float, node: str
) -> None:
    """The pin straight on the gate: the resistor to the rail holds it off, a low turns it on."""
    board, pin, volts = context.board, context.pin, context.volts
    w, pull = result.working, context.resistor(high_gate.CUSTOMARY_PULL)
    held = "held by the resistor to the rail"
    floating = pulls.node_against_leakage(board.leakage, pull, pull.tolerance, w)
    against = None
    if pin is not None and pin.reset == "pull_down" and pin.pull:
        weak = gates.divided_gate(
            volts.max, 0.0, pull.high, pin.pull.min, w, "V_weak", "weak pull-down"
        )
        against = Decided(
            "the board's pull-down against the resistor to the rail", weak, symbol="V_weak"
        )
    boot = Decided(held, load="off") if pin is None else at_boot(pin, board, "low", True, against)
    if boot.load is None and boot.drive == 0.0:
        boot = Decided(held, load="off")
    dead = volts.max - UNPOWERED_PIN
    alive = not context.rail_dies_with_board and dead > limit
    result.drive.active = "low"
    result.drive.back_feed = dead / pull.low if alive else 0.0
    holds = "the dead pin holds the gate near ground" if alive else "rail dead as well"
    result.states += Control(
        node,
        "low",
        limit,
        off=Decided("the pin drives high", left, symbol="V_left"),
        floating=Decided(held, floating, symbol="V_float"),
        boot=boot,
        dead=Decided(holds, dead if alive else 0.0),
        on_text="the pin drives low",
        upload="reset and upload",
        start="boot",
    ).states()
