"""What is tried in place of the present stage, pin or rail, where that does not do."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.edits.channels import free_pins
from latchcore.pieces.frame import POWER
from latchcore.stages import STAGES

Edits = tuple[tuple[str, dict[str, Any]], ...]
Candidate = tuple[str, Edits]
#: Stages for direct current, the plainest first.
DIRECT = (
    ("nmos_low_side", "a MOSFET: {transistor}"), ("npn_low_side", "a bipolar transistor: {transistor}"),
    ("pmos_high_side", "a P-channel above the load: {transistor}"), ("coupler_nmos", "a coupler and a MOSFET: {transistor}"),
    ("solid_module", "a solid-state module: the {module}"), ("pv_igbt", "a photovoltaic coupler and an IGBT: {transistor}"),
)  # fmt: skip
#: Stages for alternating current; a contactor carries what no relay should.
ALTERNATING = (
    ("relay_contact", "a relay: the {relay}"), ("contactor", "a {contactor}"), ("triac_coupler", "a {triac}, fired by a coupler"),
    ("solid_relay", "a {device}"),
)  # fmt: skip
#: Findings that another kind of switch may mend.
SWITCH = ("A1", "A2", "A3", "A4", "A8", "A9", "K1", "K2", "K3", "K6", "K8", "P1", "C1", "P7", "P6", "P9", "S8")
#: A load is not moved to a rail whose volts are further from its own than this share.
NEAR = 0.25


def stages(context: ChannelContext, result: StageResult, check: str) -> Iterator[Candidate]:
    """Other stages for the load; on a hazardous rail only those with a barrier between board and load."""
    if (check[0] != "D" and check not in SWITCH) or (check == "S8" and STAGES[result.kind].suits(context) is None):
        return
    channel = context.channel.id
    if context.load.kind.model not in POWER:
        if check in ("S8", "A1", "D12", "P9"):
            yield from ((f"Use {s.title[0].lower()}{s.title[1:]}", (("set_stage", {"channel": channel, "stage": kind}),)) for kind, s in STAGES.items() if s.suits(context) is None)
        return
    for kind, words in ALTERNATING if context.alternating else (*DIRECT, ALTERNATING[0]):
        if kind == result.kind or (context.dangerous and not STAGES[kind].traits.isolates):
            continue
        # Where one pole would leave a live one on the load, only two will do.
        both = {"breaks": "both"} if check == "K8" and kind in ("relay_contact", "contactor") else {}
        yield f"Use {words}" + (", both sides broken" if both else ""), (("set_stage", {"channel": channel, "stage": kind, **both}),)


def keeps_apart(context: ChannelContext, result: StageResult) -> bool:
    """Whether a stage's barrier is enough between a hazardous rail and what is touched: reinforced, or basic with the low side bonded to earth."""
    barrier = result.facts.get("barrier")
    return barrier == "reinforced" or (barrier == "basic" and any(r.earthed for r in context.around.build.rails if not context.around.hazardous(r)))


def pins(context: ChannelContext, check: str) -> Iterator[Candidate]:
    """Other pins of the board that are free."""
    build = context.around.build
    for pin in free_pins(build, pwm=bool(context.channel.pwm))[:3]:
        header = context.board.pin(pin).header
        yield f"Move to {pin} ({header})", (("set_pin", {"channel": context.channel.id, "pin": pin}),)
        if check == "P6":
            return


def rails(context: ChannelContext) -> Iterator[Candidate]:
    """Other rails about as high as the load is made for; never one that is hazardous where the present one is not."""
    around = context.around
    for rail in around.build.rails:
        far = abs(around.rail_volts(rail).typ - context.load.rated) > NEAR * context.load.rated and context.load.kind.model in POWER
        if rail.id != context.channel.rail and not far and (context.dangerous or not around.hazardous(rail)):
            yield f"Feed it from {rail.name}", (("set_channel_rail", {"channel": context.channel.id, "rail": rail.id}),)


def coil_rails(context: ChannelContext, result: StageResult) -> Iterator[Candidate]:
    """Other rails for the coil of a relay in the stage, then an adapter of the coil's own voltage."""
    if "coil_rail" not in {s.key for s in STAGES[result.kind].settings}:
        return
    channel, around = context.channel.id, context.around
    for rail in around.build.rails:
        if not around.hazardous(rail) and not around.alternating(rail) and rail.id != result.facts.get("coil_rail"):
            yield f"Feed its coil from {rail.name}: the {{relay}}", (("set_setting", {"channel": channel, "coil_rail": rail.id, "relay": "auto"}),)
    relay = result.parts.get("relay")
    if relay is not None:
        yield f"Add a {relay.coil:g} V adapter for its coil: the {{relay}}", (("feed_coil", {"channel": channel, "voltage": f"{relay.coil:g} V"}),)
