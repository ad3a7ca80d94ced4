"""
What several channels do together: one line fed by one source at a time, neighbours on one module, a
switch in series.
"""

from __future__ import annotations

from collections import defaultdict

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, Remedy, StageResult
from latchcore.document.models import Route
from latchcore.figures.quantity import parse, rounded, show
from latchcore.figures.slack import falls_short

#: What a member's contact or switch takes to be surely open where its record names no time [s].
SURELY_OPEN = 0.02


def opens_within(result: StageResult) -> float:
    """
    Time from the command to a line that is surely open [s].

    A contact: its coil's release behind the clamp or the relay's own drop-out, whichever is longer,
    and its bounce.
    """
    relay = result.contact.relay
    if relay is None:
        return SURELY_OPEN if result.pulses.limit is None else 1e-3
    return max(result.coil.release_time or 0.0, relay.drop_out) + relay.bounce


def sequence(contact: StageResult, series: StageResult | None) -> list[tuple[str, float]]:
    """
    The steps from one source to the next, each with the wait after it [s].

    With a switch in series: it off, wait, move, wait for the bounce, it on. Without: open, wait,
    close.
    """
    relay = contact.contact.relay
    operate = (relay.operate + relay.bounce) if relay else 1e-3
    if series is None:
        return [
            ("let the contact that is closed go", opens_within(contact)),
            ("close the next one", operate),
        ]
    return [
        ("switch the series switch off", opens_within(series)),
        ("let the contact that is closed go", opens_within(contact)),
        ("close the next one, and let it stop bouncing", operate),
        ("switch the series switch on", 0.0),
    ]


def build(around: BuildContext, uses: list[tuple[ChannelContext, StageResult]]) -> list[Finding]:
    """S9 of shared lines, D2 of a switch in series, K10 and P11 of channels on one module."""
    known = {context.channel.id: (context, result) for context, result in uses}
    found = [f for route in around.build.routes for f in _route(route, known)]
    for context, result in uses:
        found += _series(context, result, known)
    return found + _modules(uses)


def _route(route: Route, known) -> list[Finding]:
    members = [known[m] for m in route.members if m in known]
    if len(members) < 2:
        return []
    where, names = f"line {route.name}", ", ".join(c.channel.name for c, _ in members)
    need = max(opens_within(r) for _, r in members)
    if route.interlock == "none":
        return [
            Finding(
                "S9",
                "stop",
                where,
                f"Nothing keeps the sources of {route.name} apart",
                f"{names} can be on together.",
                "Two sources on one line feed each other, or short.",
                "two commanded on",
            )
        ]
    gap = parse(route.gap, "s") if route.gap else 0.0
    if route.interlock == "program" and falls_short(gap, need):
        return [
            Finding(
                "S9",
                "stop",
                where,
                f"{route.name}: the next source closes before the last one is open",
                f"The pause is {show(gap, 's') if gap else 'not given'}; the slowest is surely open"
                f" after {show(need, 's')}.",
                "Break before make: until the first has let go and stopped bouncing, both are on"
                " the line.",
                "slowest release",
                remedies=(_pause(route, need),),
            )
        ]
    inverted = [c.channel.name for c, r in members if r.contact.inverts]
    if len(inverted) > 1:
        return [
            Finding(
                "S9",
                "stop",
                where,
                f"{route.name}: dead, several sources are on it",
                f"{', '.join(inverted)} hang on NC contacts.",
                "With everything dead each of them is closed.",
                "everything dead",
            )
        ]
    return []


def _pause(route: Route, need: float) -> Remedy:
    """A pause as long as the slowest release, rounded up to two digits."""
    pause = rounded(need, "s", up=True)
    return Remedy(
        f"A pause of {pause} between one and the next",
        (("set_route", {"route": route.id, "gap": pause}),),
    )


def _series(context: ChannelContext, result: StageResult, known) -> list[Finding]:
    named = context.channel.series_switch
    if named is None or named not in known:
        return []
    other, passes = known[named]
    if falls_short(passes.running, result.running):
        return [
            Finding(
                "D2",
                "fix",
                named,
                "Sized for less than it passes",
                f"{context.channel.name} draws {show(result.running, 'A')} through it; it is"
                f" reckoned for {show(passes.running, 'A')}.",
                "A switch in series carries what the contact behind it carries: enter the larger"
                " load.",
                "highest supply",
            )
        ]
    return []


def _modules(uses) -> list[Finding]:
    groups: dict[tuple[str, str], list] = defaultdict(list)
    for context, result in uses:
        module = result.module.part
        if module is not None:
            groups[module.id, context.setting("board_no") or "1"].append((context, result))
    found = []
    for (_, number), members in groups.items():
        module, where = members[0][1].module.part, f"module {number}"
        if len(members) > module.channels:
            found.append(
                Finding(
                    "P11",
                    "stop",
                    where,
                    "More channels than the module has",
                    f"{len(members)} channels on module {number}; {module.title} has"
                    f" {module.channels}.",
                    "Give the rest a module of their own: a number of its own at the stage.",
                )
            )
        wanted = members[0][0].around.creepage
        danger = [c.channel.name for c, _ in members if c.dangerous]
        low = [c.channel.name for c, _ in members if not c.dangerous]
        if danger and low:
            says = f"{', '.join(danger)} beside {', '.join(low)}"
            if module.neighbour is None:
                found.append(
                    Finding(
                        "K10",
                        "check",
                        where,
                        "How far apart are the contacts?",
                        f"{says}; the distance from one contact to the next is not known.",
                        f"{wanted:g} mm along the surface are wanted; better a module of its own"
                        " for each.",
                        lasting=True,
                    )
                )
            elif module.neighbour < wanted:
                found.append(
                    Finding(
                        "K10",
                        "stop",
                        where,
                        "Hazardous beside low voltage on one module",
                        f"{says}: {module.neighbour:g} mm apart, {wanted:g} mm are wanted.",
                        "A loose strand or a speck of moisture joins the line with the low side.",
                        lasting=True,
                    )
                )
    return found
