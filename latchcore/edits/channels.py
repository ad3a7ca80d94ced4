"""Edits of channels and their loads."""

from __future__ import annotations

import re

from latchcore.catalogue import in_use
from latchcore.design.context import BuildContext
from latchcore.document.models import MOST_CHANNELS, Build, Channel, Load
from latchcore.edits.counting import how_many, numbered, whole_number
from latchcore.edits.forgetting import forget
from latchcore.edits.lines import fill_lines, quiet_pin
from latchcore.edits.pins import follow, the_line
from latchcore.edits.registry import (
    EditError,
    edit,
    next_id,
    own,
    reread,
    the_channel,
    the_rail,
    validated,
)
from latchcore.figures.spread import parse_spread
from latchcore.figures.typed import quoted, whole

#: Where a load that is no power load begins; the advisor compares the rest.
USUAL_STAGE = {
    "led": "direct_pin",
    "led_array": "led_strings",
    "logic": "coupler_logic",
    "pair": "bridge_reed",
    "analogue": "analogue_pwm",
    "signal": "wide_input",
    "piezo": "pin_sounder",
    "analogue_in": "pwm_filter",
    "reversing": "bridge_chip",
    "servo": "servo_pulse",
    "two_coils": "coil_switches",
    "four_coils": "coil_switches",
    "two_way_coil": "bridge_chip",
    "panel": "row_column",
    "pixels": "pixel_data",
    "two_windings": "stepper_bridges",
}
LOAD_FIELDS = (
    "kind",
    "voltage",
    "figure",
    "protection",
    "inductance",
    "surge",
    "surge_time",
    "pull_in",
    "maximum",
    "release",
    "longest_rated",
    "duty_rated",
    "cut_off",
    "act_after",
    "armature",
    "copper",
    "may_warm",
    "least_on",
    "least_off",
    "returned",
    "count",
    "rows",
    "columns",
    "dimmable",
    "least_volts",
    "ignores",
)


def _matching_rail(build: Build, volts: float) -> str | None:
    around = BuildContext(build, in_use())
    near = [r for r in build.rails if abs(around.rail_volts(r).typ - volts) <= 0.1 * volts]
    return near[0].id if near else None


@edit
def add_channel(
    build: Build,
    kind: str,
    voltage: str,
    figure: str,
    name: str = "",
    stage: str = "",
    pin: str = "auto",
    rail: str = "auto",
    many: str = "1",
) -> str:
    """
    Add a channel, or several alike; without further word each takes a free quiet pin and the rail
    of its voltage. Several are numbered.
    """
    count = how_many(many, build)
    kinds = in_use().loads
    if kind not in kinds:
        raise EditError(f"“{kind}” is no kind of load; expected one of {', '.join(kinds)}.", "kind")
    load = validated(Load, {"kind": kind, "voltage": voltage, "figure": figure})
    if rail == "auto":
        rail = _matching_rail(build, parse_spread(voltage, ("V",))[0].typ)
    if not stage:
        around = BuildContext(build, in_use())
        # A transistor is never where alternating current begins.
        usual = "relay_contact" if rail and around.alternating(build.rail(rail)) else "npn_low_side"
        stage = USUAL_STAGE.get(kinds[kind].model, usual)
    called = name.strip() or kinds[kind].title
    for n in range(count):
        channel = validated(
            Channel,
            {
                "id": next_id(build, "ch"),
                "name": called if count == 1 else f"{called} {n + 1}",
                "pin": pin if pin not in ("auto", "") and n == 0 else None,
                "rail": rail or None,
                "load": load.model_dump(),
                "stage": {"kind": stage},
            },
        )
        if pin == "auto":
            channel.pin = quiet_pin(build, channel)
        build.channels.append(channel)
        fill_lines(build, channel)
    return f"added {called}" + (f", {count} of them" if count > 1 else "")


@edit
def rename_channel(build: Build, channel: str, name: str) -> str:
    """Give a channel another name."""
    found = the_channel(build, channel)
    before = found.name
    reread(found, Channel, name=name.strip())
    return f"{before} is now {found.name}"


@edit
def copy_channel(build: Build, channel: str, many: str = "1") -> str:
    """Add copies of a channel, numbered, each on the next free quiet pin."""
    # Its field stands in a row of a table; the message stands above.
    found, count = the_channel(build, channel), how_many(many, build, None)
    place, called = build.channels.index(found) + 1, found.name
    for n in range(count):
        twin = found.model_copy(deep=True)
        called = numbered(called, {c.name for c in build.channels})
        twin.id, twin.name, twin.accepted = next_id(build, "ch"), called, {}
        twin.moves_with, twin.pin_locked = None, False
        twin.pin = quiet_pin(build, twin)
        twin.lines = {}
        build.channels.insert(place + n, twin)
        fill_lines(build, twin)
    return f"copied {found.name}" + (f", {count} times" if count > 1 else "")


@edit
def remove_channel(build: Build, channel: str) -> str:
    """Take a channel out of the build."""
    found = the_channel(build, channel)
    build.channels.remove(found)
    build.vehicles = [v for v in build.vehicles if found.id not in (v.left, v.right)]
    for other in list(build.channels):
        if other.series_switch == found.id:
            own(build, other).series_switch = None
        if other.moves_with == found.id:
            own(build, build.channel(other.id)).moves_with = None
    forget(build, found.id)
    for rail in list(build.rails):
        if rail.switched_by == found.id:
            own(build, rail).switched_by = None
    for route in list(build.routes):
        if found.id in route.members:
            own(build, route).members = [m for m in route.members if m != found.id]
    return f"removed {found.name}"


@edit
def move_channel(build: Build, channel: str, places: str) -> str:
    """Move a channel up (negative) or down the line-up."""
    found = the_channel(build, channel)
    sign, digits = (
        (-1, places.strip()[1:])
        if places.strip().startswith(("-", "−"))
        else (1, places.strip().removeprefix("+"))
    )
    step = whole(digits, 0, MOST_CHANNELS)
    if step is None:
        raise EditError(
            f"{quoted(places)} is no number of places; expected for instance “1” or “-1”.", "places"
        )
    step *= sign
    index = build.channels.index(found)
    build.channels.insert(
        max(0, min(len(build.channels) - 1, index + step)), build.channels.pop(index)
    )
    return f"moved {found.name}"


@edit
def set_pin(build: Build, channel: str, pin: str) -> str:
    """Put a channel on another pin."""
    found = the_channel(build, channel)
    if pin:
        the_line(BuildContext(build, in_use()), pin)
    found.pin, found.moves_with = pin or None, None
    follow(build)
    return f"{found.name} on {pin or 'no pin'}"


@edit
def set_channel_rail(build: Build, channel: str, rail: str) -> str:
    """Feed a channel's load from another rail."""
    found = the_channel(build, channel)
    found.rail = the_rail(build, rail).id if rail else None
    point = build.block(found.block)
    if point is not None and point.rail != found.rail:
        found.block = None
    return f"{found.name} fed from {the_rail(build, rail).name if rail else 'no rail'}"


@edit
def set_load(build: Build, channel: str, hazards: str | None = None, **fields: str) -> str:
    """Set any of a load's fields; empty text means that it is not known."""
    found = the_channel(build, channel)
    unknown = set(fields) - set(LOAD_FIELDS)
    if unknown:
        raise EditError(
            f"A load has no “{', '.join(sorted(unknown))}”; expected any of"
            f" {', '.join(LOAD_FIELDS)}."
        )
    if "kind" in fields and fields["kind"] not in in_use().loads:
        raise EditError(f"“{fields['kind']}” is no kind of load.", "kind")
    for key, example in (
        ("voltage", "volts such as “12 V”"),
        ("figure", "amperes, watts or ohms such as “80 mA”"),
    ):
        if key in fields and not fields[key].strip():
            raise EditError(f"Nothing was typed; expected {example}.", key)
    changed = [
        f"{key.replace('_', ' ')} {value or 'not known'}"
        for key, value in fields.items()
        if str(getattr(found.load, key) or "") != value
    ]
    if "count" in fields:
        fields["count"] = whole_number(fields["count"])
    if hazards is not None:
        listed = None if hazards == "usual" else [h for h in hazards.split(",") if h]
        found.load = validated(Load, found.load.model_dump() | {"hazards": listed})
        changed.append(
            "hazards "
            + (", ".join(listed) or "none" if listed is not None else "as usual for the kind")
        )
    for key in ("rows", "columns"):
        if key in fields:
            fields[key] = whole_number(fields[key])
    reread(found.load, Load, **fields)
    if {"rows", "columns", "kind"} & set(fields):
        fill_lines(build, found)
    return f"{found.name}: {', '.join(changed) or 'nothing changed'}"


#: How the id of a finding is written.
FINDING_ID = re.compile(r"[A-Z][0-9]{1,2}")


@edit
def accept_finding(build: Build, channel: str, check: str, reason: str) -> str:
    """
    Accept a finding with a reason; it stays on record and comes back when the reason is withdrawn.
    Where it is one of several channels, their ids have commas between.
    """
    found = [own(build, the_channel(build, c)) for c in channel.split(",")]
    if FINDING_ID.fullmatch(check) is None:
        raise EditError(f"{quoted(check)} is no finding; expected its id, such as “D9”.", "check")
    if not reason.strip():
        raise EditError(
            "Nothing was typed; expected the reason, so that it can be judged later.", "reason"
        )
    for piece in found:
        reread(piece, Channel, accepted=piece.accepted | {check: reason.strip()})
    return f"{', '.join(piece.name for piece in found)}: accepted {check}"


@edit
def withdraw_acceptance(build: Build, channel: str, check: str) -> str:
    """Let an accepted finding stand again."""
    found = the_channel(build, channel)
    found.accepted.pop(check, None)
    return f"{found.name}: {check} stands again"
