"""
P-channel MOSFET above the load behind a small NPN, or straight on a pin where that can work at all.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult, State
from latchcore.design.stage import Setting
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
    same = (
        context.rail_dies_with_board and abs(volts.typ - board.logic.typ) < 0.05 * board.logic.typ
    )
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
    return Driver(0.0, board.vol_max, 0.0, 0.0, 0.0, "pin")


def _states(
    context: ChannelContext, result: StageResult, left: float, limit: float, node: str
) -> None:
    board, pin, add, volts = context.board, context.pin, result.states.append, context.volts
    off = "off" if left <= limit else "on"
    add(
        State(
            "commanded_off",
            "Commanded off",
            "program",
            node,
            left,
            limit,
            off,
            "the pin drives high",
            "V_left",
        )
    )
    add(
        State(
            "commanded_on", "Commanded on", "program", node, None, None, "on", "the pin drives low"
        )
    )
    floating = pulls.node_against_leakage(
        board.leakage, high_gate.CUSTOMARY_PULL, context.tolerance, result.working
    )
    add(
        State(
            "floating",
            "Floating",
            "reset and upload",
            node,
            floating,
            limit,
            "off" if floating <= limit else "on",
            "held by the resistor to the rail",
            "V_float",
        )
    )
    acts = pin is not None and pin.reset in ("driven_low", "pulses")
    says = {"driven_low": "the pin is driven low", "pulses": "the pin pulses"}.get(
        pin.reset if pin else "", "held by the resistor to the rail"
    )
    if pin is not None and pin.reset == "pull_down" and pin.pull:
        volts_left = gates.divided_gate(
            volts.max,
            0.0,
            high_gate.CUSTOMARY_PULL * (1 + context.tolerance),
            pin.pull.min,
            result.working,
            "V_weak",
            "weak pull-down",
        )
        add(
            State(
                "weakly_pulled",
                "Weakly pulled at boot",
                "boot",
                node,
                volts_left,
                limit,
                "off" if volts_left <= limit else "on",
                "the board's pull-down against the resistor to the rail",
                "V_weak",
            )
        )
    else:
        add(
            State(
                "weakly_pulled",
                "Weakly pulled or driven at boot",
                "boot",
                node,
                None,
                limit,
                "on" if acts else "off",
                says,
            )
        )
    dead = volts.max - UNPOWERED_PIN
    alive = not context.rail_dies_with_board and dead > limit
    result.drive.back_feed = (
        dead / (high_gate.CUSTOMARY_PULL * (1 - context.tolerance)) if alive else 0.0
    )
    add(
        State(
            "unpowered",
            "Board unpowered, load supply live",
            "cable pulled",
            node,
            dead if alive else 0.0,
            limit,
            "on" if alive else "off",
            "the dead pin holds the gate near ground" if alive else "rail dead as well",
        )
    )
    add(
        State(
            "hung",
            "Program hung with the output on",
            "until somebody notices",
            node,
            None,
            None,
            "on",
            "stays as it was commanded",
        )
    )
