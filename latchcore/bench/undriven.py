"""Lines nobody drives: what stands at a control node while the board is held in reset."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from latchcore.bench.circuit import CORNERS, GROUND, NotModelled, circuit_of
from latchcore.bench.commands import OFF
from latchcore.bench.meter import HandMeter, usual_meter
from latchcore.bench.readings import Expected, settled
from latchcore.bench.solver import Part
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult

#: What a step in reset is about, and the state its reading is called by.
RESET = "reset"
#: The states of a channel in which its line is left alone, or as weakly held as boards do.
ALONE, WEAK = "floating", "weakly_pulled"


def undriven(parts: Iterable[Part], leak: float) -> list[Part]:
    """The same circuit with every pin of the board let go; ``leak`` flows out of each [A]."""
    return [
        replace(p, figures={**p.figures, "mode": "floating", "leak_a": leak})
        if p.kind == "pin" else p
        for p in parts
    ]  # fmt: skip


def in_reset(
    context: ChannelContext, result: StageResult, meter: HandMeter | None = None
) -> Expected | None:
    """
    The control node of a channel whose load stays off in reset: by its pulls against the leakage of
    the board either way, and as weakly held as the board's pin may be. Nothing where the load comes
    on or nobody knows, for a finding says that, nor where leakage alone decides.
    """
    meter, board = meter or usual_meter(), context.around.board
    found = {state.key: (state, load) for state, load in result.loads}
    if board is None or not {ALONE, WEAK} <= set(found):
        return None
    if any(found[key][1] != "off" for key in (ALONE, WEAK)):
        return None
    node, weak = found[ALONE][0].node, found[WEAK][0].voltage
    seen = [] if weak is None else [weak]
    across = Part("meter", "resistor", {"a": node, "b": GROUND}, {"ohm": meter.input_ohms})
    for corner in CORNERS:
        for leak in (-board.leakage, board.leakage):
            parts = undriven(circuit_of(context, result, OFF, corner), leak)
            if not any(node in p.at.values() for p in parts):
                return None
            for circuit in (parts, [*parts, across]):
                try:
                    volts = settled(circuit).volts(node, GROUND)
                except NotModelled:
                    return None
                if volts is None:
                    return None
                seen.append(volts)
    limit = found[ALONE][0].limit
    if result.on_with == "high" and limit is not None and max(seen) > limit:
        # Nothing pulls it: leakage decides, and a reading tells nothing.
        return None
    return Expected(RESET, node, GROUND, meter.widened(min(seen), max(seen)))
