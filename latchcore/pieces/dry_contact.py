"""A contact across somebody else's pair or line, which brings its own volts: no rail, no fuse."""

from __future__ import annotations

from latchcore.catalogue.records import Reed, Relay
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


def pair_measures(
    context: ChannelContext,
    result: StageResult,
    part: Relay | Reed,
    share: float,
    why_volts: str,
    why_current: str,
) -> tuple[float, float]:
    """
    K1 and K3: the pair's own volts and current against a share of what is printed on the contact;
    returns both [V, A].
    """
    w, pair = result.working, context.load
    current, volts = pair.current.max, pair.rated * ABOVE
    w.note("I_line", "current of the bridged pair", "A", current, {}, {}, "highest")
    w.note("V_line", "open voltage of the pair and a tenth", "V", volts, {}, {}, "highest")
    result.measures += [
        Measure(
            "contact_volts",
            "K3",
            "Voltage across the contact",
            "V",
            volts,
            "max",
            "highest",
            "V_line",
            why_volts,
            stop=part.contact_volts,
            stop_name="contact rating",
        ),
        Measure(
            "contact_current",
            "K1",
            "Current through the contact",
            "A",
            current,
            "max",
            "highest",
            "I_line",
            why_current,
            stop=share * part.contact_amperes,
            stop_name="contact rating",
        ),
    ]
    return volts, current


def measures(context: ChannelContext, result: StageResult, relay: Relay, closed: bool) -> None:
    """K1, K3 and K4: what is printed on the contact against the pair's own volts and current."""
    pair = context.load
    result.typical, result.running = float(pair.current.typ), 0.0
    pair_measures(
        context,
        result,
        relay,
        NC_SHARE if closed else 1.0,
        "Over its print the arc stays.",
        "Over its print the contact gets hot.",
    )
    contact = result.contact
    contact.dry = True
    contact.under_wetting = (
        pair.rated < relay.wetting_volts or pair.current.typ < relay.wetting_amperes
    )
    contact.wetting = f"{show(relay.wetting_volts, 'V')} and {show(relay.wetting_amperes, 'A')}"
    contact.carries = f"{show(pair.current.typ, 'A')} at {show(pair.rated, 'V')}"
