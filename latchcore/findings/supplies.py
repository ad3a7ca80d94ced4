"""Supplies: does the rail fit the load, and can the source give what hangs on it?"""

from __future__ import annotations

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import show
from latchcore.figures.slack import exceeds, falls_short
from latchcore.pieces.frame import FED, power_load
from latchcore.stages import STAGES
from latchcore.whole.rails import RailReport

#: Sources that drive far more than they are rated for, and are not made larger by buying another.
LINES = ("mains", "mains_derived")


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """S8 of one channel; coils are judged by their own pull-in and maximum instead."""
    load, rail = context.load, context.rail
    reason = STAGES[result.kind].suits(context)
    if (
        context.alternating
        and STAGES[result.kind].suits is not power_load
        and "alternating" in (reason or "")
    ):
        return [
            Finding(
                "A1",
                "stop",
                context.channel.id,
                "A direct-current stage on alternating current",
                f"{result.title}: {reason}.",
                "A transistor conducts one way only and its diode the other: it is never off.",
                lasting=True,
            )
        ]
    wrong = {"dc": "direct", "ac": "alternating"}.get(load.kind.current)
    if context.rail is not None and wrong and (load.kind.current == "ac") != context.alternating:
        other = "alternating" if context.alternating else "direct"
        return [
            Finding(
                "S8",
                "stop",
                context.channel.id,
                "The wrong kind of current for this load",
                f"{load.kind.title} runs on {wrong} current; {context.rail.name} carries {other}"
                " current.",
                "An AC coil on direct current burns; a DC coil on alternating current hums and"
                " burns.",
                lasting=context.hazardous,
            )
        ]
    if reason and result.kind != "direct_pin":
        return [
            Finding(
                "S8",
                "stop",
                context.channel.id,
                "This kind of stage does not fit the load",
                f"{result.title}: {reason}.",
                "The stage feeds, pulls, bridges or senses; the load wants another of these.",
                lasting=False,
            )
        ]
    feed = context.around.build.rail(result.coil.rail)
    if feed is not None and context.around.alternating(feed):
        return [
            Finding(
                "S8",
                "stop",
                context.channel.id,
                "Its own supply is alternating current",
                f"{result.title} is fed from {feed.name}; coils and inputs here run on direct"
                " current.",
                "Give it a direct-current rail of its own voltage.",
                lasting=context.hazardous,
            )
        ]
    if rail is None or load.pull_in is not None or load.kind.model not in FED:
        return []
    if result.kind == "pin_sounder":
        # The pin itself feeds it, whatever rail its channel is on.
        return []
    volts = context.volts
    low, high = context.least_volts, load.maximum
    if exceeds(volts.max, high):
        sentence = (
            f"The rail reaches {show(volts.max, 'V')}; a {show(load.rated, 'V')}"
            f" {load.kind.title.lower()} takes up to {show(high, 'V')}."
        )
        corner = "highest supply"
    elif falls_short(volts.min, low):
        sentence = (
            f"The rail falls to {show(volts.min, 'V')}; a {show(load.rated, 'V')}"
            f" {load.kind.title.lower()} wants at least {show(low, 'V')}."
        )
        corner = "lowest supply"
    else:
        return []
    return [
        Finding(
            "S8",
            "stop",
            context.channel.id,
            "The rail does not fit the load",
            sentence,
            "No stage mends a wrong voltage.",
            corner,
            lasting=context.hazardous,
        )
    ]


def build(around: BuildContext, rails: list[RailReport]) -> list[Finding]:
    """S1 and S2 of every rail whose rating is known."""
    found = []
    share = around.catalogue.limits["supply_share"]
    for rail in rails:
        if rail.rating is None:
            continue
        where = f"rail:{rail.id}"
        if exceeds(rail.all_on, rail.rating):
            found.append(
                Finding(
                    "S1",
                    "stop",
                    where,
                    f"{rail.name} is overloaded",
                    f"Everything on takes {show(rail.all_on, 'A')} of {show(rail.rating, 'A')}.",
                    "The supply folds back or dies, and every load on it with it.",
                    "everything on, highest currents",
                )
            )
        elif exceeds(rail.worst, rail.rating) and around.build.rail(rail.id).source not in LINES:
            # A line stands any start; what must outlast it there is the fuse.
            found.append(
                Finding(
                    "S1",
                    "fix",
                    where,
                    f"{rail.name} is short in the worst instant",
                    f"With everything on and the largest surge starting: {show(rail.worst, 'A')} of"
                    f" {show(rail.rating, 'A')}.",
                    "The rail dips just when the load starts.",
                    "everything on, one load in its surge",
                    cause="instant",
                )
            )
        elif exceeds(rail.all_on, share * rail.rating):
            found.append(
                Finding(
                    "S2",
                    "note",
                    where,
                    f"{rail.name} has little in hand",
                    f"Everything on takes {show(rail.all_on, 'A')}, over {share * 100:g} % of"
                    f" {show(rail.rating, 'A')}.",
                    around.catalogue.limits.reasons["supply_share"],
                    "everything on",
                )
            )
    return found
