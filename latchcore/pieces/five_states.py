"""The five states of a stage whose control node hangs on a pin, active high or low."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.states import OTHER, Control, Decided, at_boot, quiet
from latchcore.figures.quantity import show
from latchcore.sums import pulls

#: What the pin gives away from the off level when it is commanded off, for each level that is on.
LEFT = {
    "high": (
        "V_OL",
        "low level of the pin, hardly loaded",
        "Low level at the stage",
        "highest low level",
    ),
    "low": (
        "V_OH_drop",
        "high level of the pin below its supply",
        "Left under the supply",
        "lowest high level",
    ),
}


def five_states(
    context: ChannelContext,
    result: StageResult,
    node: str,
    limit: float,
    pull: Sized | None,
    on_text: str,
    active: str = "high",
) -> None:
    """
    What the stage does while commanded, floating, weakly pulled, unpowered and hung.

    Parameters
    ----------
    limit : float
        How far from its off level the node may be driven with the stage still off [V]
    pull : Sized, optional
        The resistor that holds the node at its off level
    active : str
        The level of the pin that is on
    """
    board, pin, w, tol = context.board, context.pin, result.working, context.tolerance
    symbol, meaning, label, corner = LEFT[active]
    left = board.vol_noload if active == "high" else board.voh_drop_noload
    w.note(symbol, meaning, "V", left, {}, {}, corner)
    result.drive.active = active
    result.measures.append(
        Measure(
            "off_level",
            "P8",
            label,
            "V",
            left,
            "max",
            corner,
            symbol,
            "Commanded off, the pin itself must hold the stage off.",
            stop=limit,
            stop_name="off limit",
        )
    )
    off, own = OTHER[active], {"high": "pull-down", "low": "pull-up"}[active]
    right = {"high": "pull_down", "low": "pull_up"}[active]
    held = pull.value if pull else None
    if held is None and pin and pin.reset == right and pin.pull:
        held = pin.pull.max
    share = pull.tolerance if pull else tol
    floating = pulls.node_against_leakage(board.leakage, held, share, w) if held else None
    by = "held by the pull resistor" if pull else f"held by the board's own {own}"
    against = None
    if pull and pin and pin.pull and pin.reset not in (right, "floating", "pulses"):
        volts = pulls.node_against_pull_up(board.logic.max, pin.pull.min, pull.size, share, w)
        wrong = {"high": "pull-up", "low": "pull-down"}[active]
        against = quiet(
            volts, limit, f"held by the pull resistor against the board's {wrong}", "V_weak"
        )
    dead = "nothing feeds the input; no path back into the board"
    result.states += Control(
        node,
        active,
        limit,
        off=Decided(f"the pin drives its {off} level", left, symbol=symbol),
        floating=quiet(floating, limit, by, "V_float"),
        boot=at_boot(pin, board, active, pull is not None, against),
        dead=Decided("rail dead as well" if context.rail_dies_with_board else dead, 0.0),
        on_text=on_text,
        upload=f"reset and upload, up to {show(board.upload_time, 's')}",
        start=f"boot, about {show(board.boot_time, 's')}",
    ).states()
