"""
Mains discipline: what the user states of a build with a hazardous voltage; nothing stated is never
taken for yes.
"""

from __future__ import annotations

from latchcore.design.context import BuildContext
from latchcore.design.report import Finding
from latchcore.document.models import Rail

#: Facts that a closed, approved unit answers by itself.
CLOSED = ("enclosure", "strain_relief", "cable", "closed_appliance")


def _all_closed(around: BuildContext, rails: list[Rail]) -> bool:
    """Whether all that hangs on hazardous rails hangs on packaged units."""
    on_them = [c for r in rails for c in around.on_rail(r)]
    return bool(on_them) and all(c.stage.kind == "packaged_unit" for c in on_them)


def build(around: BuildContext) -> list[Finding]:
    """
    X1, X2 and X3 of a build in which a rail is hazardous: a stop for each fact that does not hold,
    a check for the rest.
    """
    rails = [r for r in around.build.rails if around.hazardous(r)]
    if not rails:
        return []
    stated, found, absent = around.build.discipline, [], []
    names, where = ", ".join(r.name for r in rails), f"rail:{rails[0].id}"
    if around.damp:
        limits = around.catalogue.limits
        direct, rms = (
            limits["hazard_damp"] * limits[kind] for kind in ("hazard_direct", "hazard_alternating")
        )
        found.append(
            Finding(
                "X1",
                "stop",
                where,
                "A hazardous voltage in a damp place",
                f"{names}, where it is damp: hazardous is there what reaches over"
                f" {direct:g} V direct or {rms:g} V rms.",
                "Wet skin and wet dust lead: there, low voltage under half the usual limits from a"
                " safety-isolating supply, or somebody licensed.",
                lasting=True,
            )
        )
    closed = _all_closed(around, rails)
    for key, fact in around.catalogue.discipline.items():
        answer = stated.get(key)
        if closed and key in CLOSED and answer is None:
            continue
        if key == "dry" and around.damp:
            continue
        if answer == "no":
            found.append(
                Finding(
                    fact["check"],
                    "stop",
                    where,
                    "Not so: " + fact["words"][0].lower() + fact["words"][1:],
                    f"Stated as not so, for {names}.",
                    fact["why"],
                    lasting=True,
                )
            )
        elif answer is None:
            absent.append(
                key.replace("_", " ").replace("residual current", "residual-current protection")
            )
    unclassed = [
        c.name
        for r in rails
        for c in around.on_rail(r)
        if around.alternating(r) and c.load.protection is None
    ]
    if unclassed:
        absent.append(f"class I or II of {', '.join(unclassed)}")
    if absent:
        many = (
            f"{len(absent)} fact{'s' if len(absent) > 1 else ''} of the mains discipline not stated"
        )
        found.append(
            Finding(
                "X1",
                "check",
                where,
                many,
                "Still open: " + ", ".join(absent) + ".",
                "State them at the guards station; local codes rule, and fixed wiring is for"
                " licensed people.",
                lasting=True,
            )
        )
    return found
