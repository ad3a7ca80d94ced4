"""What a stage does in the five states of its board."""

from __future__ import annotations

from latchcore.catalogue.records import Pin
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult, State
from latchcore.figures.quantity import show
from latchcore.sums import pulls


def five_states(
    context: ChannelContext,
    result: StageResult,
    node: str,
    limit: float,
    pull: Sized | None,
    on_text: str,
) -> None:
    """What the stage does while commanded, floating, weakly pulled, unpowered and hung."""
    board, pin, w, tol = context.board, context.pin, result.working, context.tolerance
    low = w.note(
        "V_OL",
        "low level of the pin, hardly loaded",
        "V",
        board.vol_noload,
        {},
        {},
        "highest low level",
    )
    add = result.states.append
    result.measures.append(
        Measure(
            "off_level",
            "P8",
            "Low level at the stage",
            "V",
            low,
            "max",
            "highest low level",
            "V_OL",
            "Commanded off, the pin itself must hold the stage off.",
            stop=limit,
            stop_name="off limit",
        )
    )
    add(
        State(
            "commanded_off",
            "Commanded off",
            "program",
            node,
            low,
            limit,
            "off" if low <= limit else "on",
            "the pin drives its low level",
            "V_OL",
        )
    )
    add(State("commanded_on", "Commanded on", "program", node, None, None, "on", on_text))
    held = pull.value if pull else None
    if held is None and pin and pin.reset == "pull_down" and pin.pull:
        held = pin.pull.max
    floating = pulls.node_against_leakage(board.leakage, held, tol, w) if held else None
    when = f"reset and upload, up to {show(board.upload_time, 's')}"
    by = "held by the pull resistor" if pull else "held by the board's own pull-down"
    add(_quiet("floating", "Floating", when, node, floating, limit, "V_float", by))
    add(_weak(context, pin, w, pull, node, limit))
    says = (
        "rail dead as well"
        if context.rail_dies_with_board
        else "nothing feeds the input; no path back into the board"
    )
    add(
        State(
            "unpowered",
            "Board unpowered, load supply live",
            "cable pulled",
            node,
            0.0,
            limit,
            "off",
            says,
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


def _quiet(key, title, when, node, voltage, limit, symbol, by) -> State:
    if voltage is None:
        return State(
            key,
            title,
            when,
            node,
            None,
            limit,
            "undecided",
            "nothing decides: leakage and a hand nearby do",
        )
    if voltage <= limit:
        return State(key, title, when, node, voltage, limit, "off", by, symbol)
    return State(
        key, title, when, node, voltage, limit, "on", "the pull resistor is too weak", symbol
    )


def _weak(
    context: ChannelContext, pin: Pin | None, w, pull: Sized | None, node: str, limit: float
) -> State:
    board, key = context.board, "weakly_pulled"
    title, when = "Weakly pulled or driven at boot", f"boot, about {show(board.boot_time, 's')}"
    if pin is None:
        return State(key, title, when, node, None, limit, "undecided", "no pin chosen yet")
    if pin.reset in ("driven_high", "pulses"):
        says = "the pin is driven high" if pin.reset == "driven_high" else "the pin pulses"
        return State(key, title, when, node, board.voh_noload_min, limit, "on", says)
    if pin.reset in ("pull_down", "driven_low", "floating"):
        says = "this pin only floats" if pin.reset == "floating" else "pulled the right way"
        held = pull is not None or pin.reset != "floating"
        return State(
            key,
            title,
            when,
            node,
            0.0 if held else None,
            limit,
            "off" if held else "undecided",
            says,
        )
    if pull is None:
        return State(
            key,
            title,
            when,
            node,
            board.logic.max,
            limit,
            "on",
            "the board's own pull-up turns it on",
        )
    voltage = pulls.node_against_pull_up(
        board.logic.max,
        pin.pull.min,
        pull.size,
        context.tolerance,
        w,  # type: ignore[union-attr]
    )
    return _quiet(
        key,
        title,
        when,
        node,
        voltage,
        limit,
        "V_weak",
        "held by the pull resistor against the board's pull-up",
    )
