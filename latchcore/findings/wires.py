"""The wire from a stage to its load: what it may carry, and what stays in it."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import digits, show
from latchcore.figures.slack import exceeds
from latchcore.findings.rails import DROP_FIX, DROP_NOTE
from latchcore.sums import ampacity


def drop_of(context: ChannelContext, result: StageResult) -> float | None:
    """
    Volts that stay in the load's wire, out and back, at its running current; ``None`` while length
    or cross-section is not known [V].
    """
    wire = context.around.wire(context.channel)
    if wire.area is None or wire.length is None or context.rail is None:
        return None
    return ampacity.wire_drop(wire.length, wire.area, result.running, context.volts.typ)


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """S6 of the load's own wire."""
    item, wire = context.channel, context.around.wire(context.channel)
    if wire.area is None or result.running <= 0 or context.rail is None:
        return []
    carries = context.around.carries(wire, context.rail)
    lies = f", laid {wire.laid}," if wire.laid != "free" else ""
    lasting = context.dangerous
    if exceeds(result.running, carries):
        return [
            Finding(
                "S6",
                "stop",
                item.id,
                "The load's wire carries more than it may",
                f"{show(result.running, 'A')} through {wire.words}{lies or ','} which carries"
                f" {show(carries, 'A') if carries else 'nothing that is listed'}.",
                "It warms until its insulation gives.",
                "highest current",
                lasting=lasting,
            )
        ]
    drop = drop_of(context, result)
    share = 0.0 if drop is None else drop / context.volts.typ
    if not exceeds(share, DROP_NOTE):
        return []
    return [
        Finding(
            "S6",
            "fix" if share > DROP_FIX else "note",
            item.id,
            f"{digits(share * 100)} % of the volts stay in the load's wire",
            f"{show(drop, 'V')} of {show(context.volts.typ, 'V')} over"
            f" {show(wire.length, 'm')} of {wire.words}, out and back.",
            "What the wire keeps, the load goes without.",
            "highest current",
            lasting=lasting,
        )
    ]
