"""A solid-state device for alternating current, in one block on a heat sink."""

from __future__ import annotations

from latchcore.catalogue.mains_records import SolidRelay
from latchcore.design.context import ChannelContext
from latchcore.design.report import Sized, StageResult
from latchcore.design.stage import Setting, best_of
from latchcore.figures.quantity import show
from latchcore.pieces import ac_switch, solid_input
from latchcore.pieces.frame import Traits, add_part, load_domain, power_load

kind = "solid_relay"
title = "Solid-state device on a heat sink"
summary = (
    "Silent, a barrier inside, for alternating current only; wants a sink above two amperes. Leaks"
    " when off, fails shorted."
)
settings = (
    Setting("device", "Device", "part", family="solid_relay"),
    *solid_input.SETTINGS,
    *ac_switch.SETTINGS,
)
traits = Traits(
    isolates=True,
    silent=True,
    side="high",
    cost=11,
    fails="shorted: the load stays on",
    note="leaks when off: no means of isolation",
)
suits = power_load


def size(context: ChannelContext) -> StageResult:
    """Size the stage with the user's device, or the smallest class that holds."""
    fixed = context.around.part(context.setting("device"))
    if isinstance(fixed, SolidRelay):
        return _with(context, fixed, False)
    family = context.around.family("solid_relay")
    if context.load.kind.id == "transformer":
        # The zero is its worst instant.
        family = sorted(family, key=lambda part: part.output != "ac_random")
    return best_of(family, lambda part: _with(context, part, True))


def _with(context: ChannelContext, part: SolidRelay, auto: bool) -> StageResult:
    result = StageResult(kind, title, {"switch": part}, auto_part=auto)
    result.values.append(Sized("device", "Device", "K1", "", None, part.title, not auto))
    result.output.kind = part.output
    result.output.control = "zero" if part.output == "ac_zero" else "random"
    result.barrier = part.isolation
    ac_switch.switch_measures(context, result, part)
    plus, minus = solid_input.drive(context, result, part)
    line, switched = ac_switch.join_switch(context, result)
    add_part(
        context,
        result,
        "K1",
        "solid_relay",
        part.title,
        f"{part.isolation} barrier",
        barrier=part.isolation,
        domain=load_domain(context),
        **{"+": plus, "-": minus, "1": line, "2": switched},
    )
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "coil": show(part.input_current, "A"),
        "load": show(result.running, "A"),
        "switch": f"on ≤ {show(part.drop, 'V')}",
        "volts": result.shown_volts,
    }
    return result
