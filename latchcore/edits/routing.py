"""
Edits of what goes together: several sources to one line, a solid-state switch in series with a
contact.
"""

from __future__ import annotations

from latchcore.document.models import Build, Route
from latchcore.edits.registry import EditError, edit, next_id, own, reread, the_channel, validated
from latchcore.figures.quantity import parse
from latchcore.stages import STAGES


def _the_route(build: Build, route: str) -> Route:
    found = next((r for r in build.routes if r.id == route), None)
    if found is None:
        raise EditError(
            "That line is no longer in the build; it was removed, perhaps in another tab."
        )
    return own(build, found)


def _members(build: Build, members: str, route: str = "") -> list[str]:
    chosen = list(dict.fromkeys(m for m in members.split(",") if m))
    for member in chosen:
        channel = the_channel(build, member)
        taken = next((r for r in build.routes if r.id != route and member in r.members), None)
        if taken:
            raise EditError(
                f"{channel.name} feeds {taken.name} already; a contact leads to one line.",
                "members",
            )
    if len(chosen) < 2:
        raise EditError(
            f"{'Nothing was' if not chosen else 'One source was'} chosen; expected at least two"
            " sources that share the line.",
            "members",
        )
    return chosen


@edit
def add_route(
    build: Build, name: str, members: str = "", interlock: str = "program", gap: str = ""
) -> str:
    """Several sources that are switched to one line, one at a time."""
    if len(build.routes) >= 16:
        raise EditError("A build holds up to 16 shared lines.")
    chosen = _members(build, members)
    if gap.strip():
        parse(gap, "s")
    route = validated(
        Route,
        {
            "id": next_id(build, "rt"),
            "name": name.strip(),
            "members": chosen,
            "interlock": interlock,
            "gap": gap.strip() or None,
        },
    )
    build.routes.append(route)
    return f"{route.name}: {len(chosen)} sources"


@edit
def set_route(build: Build, route: str, members: str | None = None, **fields: str) -> str:
    """Change name, members, interlock or gap of a shared line."""
    found = _the_route(build, route)
    unknown = set(fields) - {"name", "interlock", "gap"}
    if unknown:
        raise EditError(
            f"A shared line has no “{', '.join(sorted(unknown))}”; expected name, members,"
            " interlock, gap."
        )
    if members is not None:
        found.members = _members(build, members, route)
    reread(found, Route, **fields)
    return (
        f"{found.name}:"
        f" {', '.join(f'{k} {v}' for k, v in fields.items()) or f'{len(found.members)} sources'}"
    )


@edit
def remove_route(build: Build, route: str) -> str:
    """Forget a shared line; its channels stay."""
    found = _the_route(build, route)
    build.routes.remove(found)
    return f"{found.name} is no shared line any more"


@edit
def set_series_switch(build: Build, channel: str, series_switch: str = "") -> str:
    """
    Put a solid-state channel in series with a contact: it breaks before the contact moves and makes
    after it.
    """
    found = the_channel(build, channel)
    if not series_switch:
        found.series_switch = None
        return f"{found.name}: no switch in series"
    other = the_channel(build, series_switch)
    traits = STAGES[other.stage.kind].traits
    if other.id == found.id:
        raise EditError(
            "A contact is not in series with itself; expected another channel.", "series_switch"
        )
    if traits.air_gap or not traits.silent:
        raise EditError(
            f"{other.name} is a contact too ({STAGES[other.stage.kind].title.lower()}); expected a"
            " solid-state stage.",
            "series_switch",
        )
    if other.rail != found.rail:
        raise EditError(
            f"{other.name} hangs on another rail; a switch in series is fed by the same one.",
            "series_switch",
        )
    found.series_switch = other.id
    return f"{found.name}: {other.name} in series"
