"""A packaged switching unit with an approval of its own, used at its terminals."""

from __future__ import annotations

from latchcore.catalogue.mains_records import Packaged
from latchcore.design.context import ChannelContext
from latchcore.design.report import Sized, StageResult
from latchcore.design.stage import Setting, best_of
from latchcore.figures.quantity import show
from latchcore.pieces import ac_switch, contacts, low_side, solid_input
from latchcore.pieces.frame import Traits, add_part, load_domain, power_load, return_node

kind = "packaged_unit"
title = "Packaged switching unit"
summary = (
    "Bought closed and approved, with its own inlet and outlet: nothing of the line is wired by"
    " hand. Used within its print, at its terminals."
)
settings = (
    Setting("unit", "Unit", "part", family="packaged"),
    Setting(
        "network",
        "Over the network",
        "choice",
        choices=(
            ("unknown", "not said"),
            ("own", "a password of its own, no port opened, it tells its real state"),
            ("default", "as it came, or reachable from outside"),
        ),
    ),
    *solid_input.SETTINGS,
)
traits = Traits(
    isolates=True,
    silent=False,
    side="high",
    cost=12,
    fails="welds on, or does not close",
    note="closed: the line is inside it",
)


def suits(context: ChannelContext) -> str | None:
    """Only what runs on the line can be plugged into it."""
    return power_load(context) or (
        None if context.alternating else "its outlets carry the line; this load runs on another"
    )


def size(context: ChannelContext) -> StageResult:
    """Hold the unit's print against the load, and its input against the board."""
    fixed = context.around.part(context.setting("unit"))
    if isinstance(fixed, Packaged):
        return _with(context, fixed, False)
    asked = bool(contacts.beginning(context))
    family = sorted(
        context.around.family("packaged"), key=lambda p: ((p.poles > 1) != asked, p.network)
    )
    return best_of(family, lambda part: _with(context, part, True))


def _with(context: ChannelContext, part: Packaged, auto: bool) -> StageResult:
    result = StageResult(kind, title, {"packaged": part}, auto_part=auto)
    result.values.append(Sized("unit", "Unit", "K1", "", None, part.title, not auto))
    result.barrier = part.isolation
    low_side.running_current(context, result)
    result.contact.which = "NO"
    contacts.contact_measures(context, result, part, False)
    result.contact.under_wetting = False
    contacts.no_pulses(context, result)
    result.load_volts = (context.volts.min, context.volts.max)
    plus, minus = solid_input.drive(context, result, part)
    line, switched = ac_switch.join_switch(context, result)
    # Neutral goes in and comes out of it as well: the load is plugged into its outlet.
    second = {"N": return_node(context)}
    if part.poles > 1:
        back = f"{context.channel.id}.BACK"
        result.netlist.domains[back] = load_domain(context)
        result.netlist.the(f"{context.channel.id}.LOAD").terminals["-"] = back
        second = {"3": return_node(context), "4": back}
        result.contact.breaks = "both"
    add_part(
        context,
        result,
        "K1",
        "packaged",
        part.title,
        f"{part.isolation} barrier, closed",
        barrier=part.isolation,
        domain=load_domain(context),
        **{"+": plus, "-": minus, "1": line, "2": switched},
        **second,
    )
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "coil": show(part.input_current, "A"),
        "load": show(result.running, "A"),
        "switch": "",
        "volts": result.shown_volts,
    }
    return result
