"""A contact across somebody else's pair or line, which brings its own volts: no rail, no fuse."""

from __future__ import annotations

from latchcore.catalogue.records import Relay
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.document.models import Rail
from latchcore.figures.quantity import show
from latchcore.pieces import lines
from latchcore.pieces.frame import power_load
from latchcore.sums.contacts import NC_SHARE

#: Loads that are somebody else's and bring their own volts.
FOREIGN = ("pair", "logic")
#: An open line stands so much above what was measured on it.
ABOVE = 1.1


def across_a_pair(context: ChannelContext) -> bool:
    """Whether the contact lies across a pair or holds a line, in place of feeding a load."""
    return context.load.kind.model in FOREIGN


def suits(context: ChannelContext) -> str | None:
    """The reason a load is neither a power load nor a pair, or ``None``."""
    return None if across_a_pair(context) else power_load(context)


def missing(context: ChannelContext) -> list[str]:
    """What must be said first: of a pair no rail of its own, but one for the coil."""
    if not across_a_pair(context):
        return context.missing
    absent = [name for name in context.missing if name != "rail"]
    return absent if coil_rails(context) else [*absent, "rail"]


def coil_rails(context: ChannelContext) -> list[Rail]:
    """Rails a coil may hang on: direct current, no line."""
    around = context.around
    return [r for r in around.build.rails if not around.alternating(r) and not around.hazardous(r)]


def join(context: ChannelContext, result: StageResult, closed: bool) -> dict[str, str]:
    """The pair behind the contact in the netlist; returns the contact's terminals."""
    plus, minus = f"{context.channel.id}.LINE+", f"{context.channel.id}.LINE-"
    lines.join_line(context, result, plus, minus)
    return {"COM": minus, "NC" if closed else "NO": plus}


def measures(context: ChannelContext, result: StageResult, relay: Relay, closed: bool) -> None:
    """K1, K3 and K4: what is printed on the contact against the pair's own volts and current."""
    w, pair, add = result.working, context.load, result.measures.append
    current, volts = pair.current.max, pair.rated * ABOVE
    result.typical, result.running = float(pair.current.typ), 0.0
    w.note("I_line", "current of the bridged pair", "A", current, {}, {}, "highest")
    w.note("V_line", "open voltage of the pair and a tenth", "V", volts, {}, {}, "highest")
    add(
        Measure(
            "contact_volts",
            "K3",
            "Voltage across the contact",
            "V",
            volts,
            "max",
            "highest",
            "V_line",
            "Over its print the arc stays.",
            stop=relay.contact_volts,
            stop_name="contact rating",
        )
    )
    share = NC_SHARE if closed else 1.0
    add(
        Measure(
            "contact_current",
            "K1",
            "Current through the contact",
            "A",
            current,
            "max",
            "highest",
            "I_line",
            "Over its print the contact gets hot.",
            stop=share * relay.contact_amperes,
            stop_name="contact rating",
        )
    )
    contact = result.contact
    contact.dry = True
    contact.under_wetting = (
        pair.rated < relay.wetting_volts or pair.current.typ < relay.wetting_amperes
    )
    contact.wetting = f"{show(relay.wetting_volts, 'V')} and {show(relay.wetting_amperes, 'A')}"
    contact.carries = f"{show(pair.current.typ, 'A')} at {show(pair.rated, 'V')}"
