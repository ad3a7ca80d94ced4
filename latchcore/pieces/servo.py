"""What holds of every servo: how it is pulsed, and the ends of its way."""

from __future__ import annotations

from latchcore.design.context import ChannelContext

#: What a servo takes until its ends were looked for [s], and its travel between them [°].
NARROW, WIDE, TRAVEL = 1e-3, 2e-3, 90.0
#: Pulses of a servo come so often [Hz].
OFTEN = 50.0


def ends(context: ChannelContext) -> tuple[float, float]:
    """Narrowest and widest pulse a servo takes [s], as found or as usual."""
    return context.given("narrow", "s") or NARROW, context.given("wide", "s") or WIDE
