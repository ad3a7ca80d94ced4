"""Packaged switching units: their approval, their poles, and what a network can reach."""

from __future__ import annotations

from latchcore.catalogue.mains_records import Packaged
from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.findings.contacts import single_pole


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """K8, T4 and X1 of one channel on a packaged unit."""
    unit = result.parts.get("packaged")
    if not isinstance(unit, Packaged):
        return []
    found = [] if unit.poles > 1 else single_pole(context)
    if not unit.approval.strip():
        found.append(
            Finding(
                "X1",
                "check",
                context.channel.id,
                "Which approval does it carry?",
                f"None is stated of {unit.title}.",
                "Closed and approved it may be used at its terminals; without, it is a bare module"
                " in a box nobody tested. Read the mark, and state it at the part.",
                lasting=True,
                cause="approval",
            )
        )
    if unit.network:
        found += _network(context, unit)
    return found


def _network(context: ChannelContext, unit: Packaged) -> list[Finding]:
    """T4: what a network can reach needs its own password, and tells its real state."""
    said = context.setting("network") or "unknown"
    if said == "own":
        return []
    known = said == "default"
    return [
        Finding(
            "T4",
            "fix" if known else "check",
            context.channel.id,
            "Others can switch it over the network" if known else "Who can reach it?",
            f"{unit.title} listens to a network"
            + (", as it came or reachable from outside." if known else "; how is not said."),
            "A password of its own, no port opened to the internet, and it tells the state the"
            " load is really in.",
        )
    ]
