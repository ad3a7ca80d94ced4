"""How a contact and its load are joined, and what lies across the load."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.kinds import STAGES
from latchcore.design.report import Sized, StageResult
from latchcore.pieces import clamps, low_side, quench
from latchcore.pieces.contacts import series_switch
from latchcore.pieces.frame import add_part, load_domain, return_node
from latchcore.sums import suppression

#: Continuous ratings varistors are sold in [V rms].
VARISTORS = (130, 150, 175, 230, 250, 275, 300, 320, 385, 420)


def join(context: ChannelContext, result: StageResult, closed: bool) -> dict[str, str]:
    """
    The load behind the contact, on the side it breaks, with what stands across it; returns the
    contact's terminals.

    Common takes the feed. Where it breaks both sides the second pole stands in the return.
    """
    net, prefix, ground, domain = (
        result.netlist,
        context.channel.id,
        return_node(context),
        load_domain(context),
    )
    relieved, breaks = series_switch(context), context.setting("breaks") or "live"
    rail = context.feed.id
    feed = f"{relieved.id}.SW" if relieved is not None and not _pulls_down(relieved) else rail
    fed, back = f"{prefix}.FED", f"{prefix}.BACK"
    net.domains |= {rail: domain, feed: domain, fed: domain}
    net.domains.setdefault(ground, domain)
    far = "NC" if closed else "NO"
    plus, minus, terminals = fed, ground, {"COM": feed, far: fed}
    if breaks == "neutral":
        plus, minus, terminals = rail, fed, {"COM": ground, far: fed}
    elif breaks == "earth":
        # The load stays on the line; what opens is the one conductor that never may.
        plus, terminals = rail, {"COM": f"{prefix}.PE", far: f"{prefix}.PE2"}
        net.domains |= {f"{prefix}.PE": domain, f"{prefix}.PE2": domain}
        net.domains.pop(fed, None)
    elif breaks == "both":
        net.domains[back] = domain
        minus, terminals = back, {"COM": feed, far: fed, "COM2": ground, f"{far}2": back}
    across_load(context, result, plus, minus)
    return terminals


def _pulls_down(channel) -> bool:
    return STAGES[channel.stage.kind].traits.side == "low"


def across_load(context: ChannelContext, result: StageResult, plus: str, minus: str) -> None:
    """
    The load with the diode an inductive one wants across it on DC, a snubber on AC: the coil's own
    does nothing for it.
    """
    domain, chosen = load_domain(context), context.setting("load_clamp") or "fitting"
    add_part(
        context,
        result,
        "LOAD",
        "load",
        context.channel.load.shown,
        domain=domain,
        **{"+": plus, "-": minus},
    )
    inductive = context.load.kind.inductive
    if chosen == "fitting":
        chosen = ("snubber" if context.alternating else "diode") if inductive else "none"
    result.across.load_clamp = chosen
    if chosen == "diode" and (inductive or context.setting("load_clamp")):
        diode = (
            clamps.choose_clamp(context, low_side.rough_current(context)).diode
            or context.around.family("diode")[1]
        )
        result.parts["load_diode"] = diode
        result.values.append(
            Sized(
                "load_diode",
                "Diode at the load",
                "D3",
                "",
                None,
                diode.title,
                False,
                detail="band to plus",
            )
        )
        add_part(
            context,
            result,
            "D3",
            "diode",
            diode.title,
            "at the load, band to plus",
            domain=domain,
            A=minus,
            K=plus,
        )
    elif chosen == "snubber":
        quench.snubber(
            context, result, "Snubber at the load", "across the load, not across the contact"
        )
        add_part(
            context,
            result,
            "Z1",
            "snubber",
            result.the_value("snubber").text,
            "across the load",
            domain=domain,
            **{"1": plus, "2": minus},
        )
    elif chosen == "varistor":
        rating = suppression.varistor(context.volts.max, VARISTORS, working=result.working)
        result.across.varistor = rating
        text = (
            f"varistor {rating:g} V continuous, with thermal protection"
            if rating
            else "no class of varistor fits"
        )
        result.values.append(
            Sized(
                "varistor",
                "Varistor at the load",
                "Z2",
                "",
                None,
                text,
                False,
                detail="it wears and fails short: behind a fuse",
            )
        )
        add_part(
            context,
            result,
            "Z2",
            "varistor",
            text,
            "across the load",
            domain=domain,
            **{"1": plus, "2": minus},
        )
