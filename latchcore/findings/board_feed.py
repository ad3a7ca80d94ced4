"""What feeds the board, and what it must not switch off."""

from __future__ import annotations

from latchcore.design.context import BuildContext
from latchcore.design.report import Finding, Remedy
from latchcore.document.models import Rail
from latchcore.figures.quantity import show
from latchcore.figures.slack import exceeds, falls_short
from latchcore.whole.rails import parent_of


def _where(rail: Rail) -> str:
    return f"rail:{rail.id}"


def _board_feed(around: BuildContext) -> list[Finding]:
    """S8: what feeds the board must be direct current within what the board takes."""
    rail, board = around.build.rail(around.build.board_feed), around.board
    if rail is None or board is None:
        return []
    volts, lasting = around.rail_volts(rail), around.hazardous(rail)
    own = Remedy(
        "Feed the board from another rail", (("set_board_feed", {"rail": ""}),), "then say which"
    )
    if around.alternating(rail):
        return [
            Finding(
                "S8",
                "stop",
                _where(rail),
                "The board is fed with alternating current",
                f"{rail.name} carries alternating current.",
                "A board wants direct current.",
                "any",
                remedies=(own,),
                lasting=lasting,
            )
        ]
    if exceeds(volts.max, board.feed.max):
        return [
            Finding(
                "S8",
                "stop",
                _where(rail),
                "The board is fed with too many volts",
                f"{rail.name} reaches {show(volts.max, 'V')}; the board takes up to"
                f" {show(board.feed.max, 'V')}.",
                "Its regulator dies, and takes the board along.",
                "highest supply",
                remedies=(own,),
                lasting=lasting,
            )
        ]
    if falls_short(volts.min, board.brown_out):
        return [
            Finding(
                "S8",
                "stop",
                _where(rail),
                "The board is fed with too few volts",
                f"{rail.name} falls to {show(volts.min, 'V')}; the board resets below"
                f" {show(board.brown_out, 'V')}.",
                "It starts, works for a while, and resets when something is switched on.",
                "lowest supply",
                remedies=(own,),
                lasting=lasting,
            )
        ]
    return []


def _controller(around: BuildContext) -> list[Finding]:
    """S11: the board must not hang on a rail that one of its own channels turns off."""
    build = around.build
    now = build.rail(build.board_feed) if build.board_feed else None
    seen: set[str] = set()
    while now is not None and now.id not in seen:
        seen.add(now.id)
        if now.switched_by and build.channel(now.switched_by):
            return [
                Finding(
                    "S11",
                    "stop",
                    _where(now),
                    "The board switches its own supply off",
                    f"{build.channel(now.switched_by).name} turns {now.name} off, and the board"
                    " hangs on it.",
                    "It starts, switches, dies, and starts again.",
                    "switched off",
                    remedies=(
                        Remedy(
                            "Feed the board from another rail", (("set_board_feed", {"rail": ""}),)
                        ),
                    ),
                )
            ]
        above = parent_of(build, now)
        now = build.rail(above) if above else None
    return []
