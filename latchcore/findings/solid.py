"""
Solid-state outputs: made for one kind of current, leaking when off, at the zero or at any moment.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import parse, show
from latchcore.figures.slack import exceeds
from latchcore.findings.contacts import across, single_pole


def _part(result: StageResult):
    return result.parts.get("module") or result.parts["switch"]


def _dims(context: ChannelContext, result: StageResult) -> list[Finding]:
    """
    A2 of phase control on what must not be dimmed, or by a driver that waits for the zero; A7 of
    the fuse.
    """
    where, hazard, found, load = context.channel.id, context.hazardous, [], context.load.kind
    if result.output.control == "phase":
        if result.output.kind == "ac_zero":
            found.append(
                Finding(
                    "A2",
                    "stop",
                    where,
                    "A driver that waits for the zero cannot dim",
                    f"{result.parts['driver'].title}, asked for phase control.",
                    "It fires at the next zero whatever the delay: on or off, nothing between.",
                    lasting=hazard,
                    cause="driver",
                )
            )
        elif (why := undimmable(context)) is not None:
            found.append(
                Finding(
                    "A2",
                    "stop",
                    where,
                    "This load must not be dimmed",
                    f"{load.title}: {why}.",
                    "Cut half-waves heat what is not made for them, and what is in it fails.",
                    lasting=hazard,
                )
            )
    if context.setting("protection") == "semiconductor" and result.output.i2t is not None:
        given, own = context.setting("fuse_i2t"), result.output.i2t
        if given is None or parse(given, "") >= own:
            said = (
                f"its let-through of {given} A²s is not under"
                if given
                else "its let-through is not stated, and has to be under"
            )
            found.append(
                Finding(
                    "A7",
                    "check",
                    where,
                    "Does the fuse save the device?",
                    f"A semiconductor fuse is meant to; {said} the device's {own:g} A²s.",
                    "A slow fuse never does: then the device is sacrificial, and something else"
                    " makes its short harmless.",
                )
            )
    return found


def undimmable(context: ChannelContext) -> str | None:
    """Why a load must not be phase-controlled, or ``None``."""
    dims, said = context.load.kind.dims, context.channel.load.dimmable
    if dims == "no":
        return "of a kind that is never dimmed by its half-waves"
    if said == "no" or (dims == "marked" and said != "yes"):
        return (
            "stated as not dimmable"
            if said == "no"
            else "only where it is marked as dimmable, and that is not stated"
        )
    return None


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """A1, A2, A9, K8, P12 and D13 (undecided) of one channel on a solid-state output."""
    output, where, hazard = result.output.kind, context.channel.id, context.hazardous
    if output is None:
        return []
    if (output == "dc") == context.alternating:
        made, runs = ("direct", "alternating") if output == "dc" else ("alternating", "direct")
        why = (
            "It conducts every other half-cycle whatever is commanded."
            if output == "dc"
            else "Without a zero its output never turns off again."
        )
        return [
            Finding(
                "A1",
                "stop",
                where,
                f"An output for {made} current on {runs} current",
                f"{_part(result).title}; {context.rail.name} carries {runs} current.",
                why,
                lasting=True,
            )
        ]
    found = across(context, result) + single_pole(context, solid=True)
    found += _dims(context, result)
    if output == "ac_zero" and context.load.kind.id == "transformer":
        found.append(
            Finding(
                "A2",
                "fix",
                where,
                "The zero is a transformer's worst instant",
                f"{_part(result).title} turns {context.channel.name} on at the zero.",
                "Its core begins where it ended: it saturates, and for a half-cycle the winding's"
                " copper is all there is. Near the peak, or with a limiter, nothing is felt.",
                "turned on",
                cause="zero",
            )
        )
    if context.frequency and output == "ac_zero":
        found.append(
            Finding(
                "A2",
                "stop",
                where,
                "An output that turns on at the zero cannot dim",
                f"Asked for {context.channel.pwm}; it waits for the zero and passes whole"
                " half-cycles.",
                "Dimming wants an output that turns on at any moment, and a load that may be"
                " dimmed.",
                lasting=hazard,
            )
        )
    if "air_gap" in context.channel.needs:
        found.append(
            Finding(
                "A9",
                "stop",
                where,
                "A solid-state output is no means of isolation",
                "An air gap is wanted when off; this output leaks, and fails shorted.",
                "Before anybody touches the load a contact or a plug opens it.",
                lasting=hazard,
            )
        )
    if result.drive.active == "unknown":
        found.append(
            Finding(
                "P12",
                "check",
                where,
                "Which level switches this module on?",
                "Its trigger level is not known; every state below is a guess until it is.",
                "Touch its input to 0 V with a wire, the board away: if its indicator lights it is"
                " active low.",
            )
        )
    if "module" in result.parts and exceeds(result.surge, result.parts["module"].contact_amperes):
        found.append(
            Finding(
                "D13",
                "check",
                where,
                "Can the output make this surge?",
                f"It closes onto up to {show(result.surge, 'A')}; nothing states what it can make.",
                "A semiconductor that closes onto more than its pulse rating fails shorted: ask for"
                " the printed figure.",
            )
        )
    return found
