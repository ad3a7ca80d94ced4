"""Edits of rails."""

from __future__ import annotations

from latchcore.catalogue import in_use
from latchcore.design.context import BuildContext
from latchcore.document.models import MOST_RAILS, Build, Rail
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
from latchcore.pieces.frame import FED
from latchcore.stages import STAGES

#: Settings of stages that name a rail.
RAIL_SETTINGS = sorted(
    {s.key for kind in STAGES.values() for s in kind.settings if s.kind == "rail"}
)


def _source(source: str) -> str:
    if source not in in_use().sources:
        raise EditError(
            f"“{source}” is no kind of supply; expected one of {', '.join(in_use().sources)}.",
            "source",
        )
    return source


@edit
def add_rail(
    build: Build, voltage: str, name: str = "", source: str = "adapter", rating: str = ""
) -> str:
    """Add a supply rail."""
    if len(build.rails) >= MOST_RAILS:
        raise EditError(f"A build holds up to {MOST_RAILS} rails.")
    data = {
        "id": next_id(build, "rail"),
        "name": name.strip() or _usual_name(voltage, _source(source)),
        "source": source,
        "voltage": voltage,
        "rating": rating or None,
    }
    rail = validated(Rail, data)
    build.rails.append(rail)
    taken = _adopt(build, rail)
    return f"rail {rail.name}" + (f", which feeds {', '.join(taken)}" if taken else "")


def _adopt(build: Build, rail: Rail) -> list[str]:
    """Loads that hang on no rail yet and are made for these volts take it; returns their names."""
    around, taken = BuildContext(build, in_use()), []
    volts, kind = around.rail_volts(rail).typ, "ac" if around.alternating(rail) else "dc"
    for channel in [c for c in build.channels if c.rail is None]:
        load = in_use().loads[channel.load.kind]
        rated = parse_spread(channel.load.voltage, ("V",))[0].typ
        fits = load.model in FED and load.current in (kind, "either")
        if fits and abs(volts - rated) <= NEAR * rated:
            own(build, channel).rail = rail.id
            taken.append(channel.name)
    return taken


#: A load takes a rail that is this near its own volts.
NEAR = 0.1
#: What may be said of a rail.
RAIL_FIELDS = tuple(name for name in Rail.model_fields if name != "id")
_TICKED = ("touchable", "earthed")


def _judge(build: Build, rail: Rail, fields: dict[str, str]) -> None:
    """Refuse what the record alone cannot: kinds, rails and channels that are not there."""
    if "source" in fields:
        _source(fields["source"])
    for key, expected in (
        ("voltage", "volts such as “12 V”"),
        ("name", "a name of 1 to 60 characters"),
    ):
        if key in fields and not fields[key].strip():
            raise EditError(f"Nothing was typed; expected {expected}.", key)
    for key in ("fed_by", "joined_with"):
        if fields.get(key):
            _not_in_a_circle(build, rail, the_rail(build, fields[key]), key)
    if fields.get("switched_by"):
        the_channel(build, fields["switched_by"])


def _usual_name(voltage: str, source: str) -> str:
    """What a rail is called while nobody names it: its volts and its kind."""
    volts, title = voltage.strip(), in_use().sources[source].title.lower()
    if volts.replace(".", "").replace(",", "").isdigit():
        volts += " V"
    return f"{volts} {title}"[:60]


@edit
def set_rail(build: Build, rail: str, **fields: str) -> str:
    """Set any field of a rail; empty text means that it is not known."""
    found = the_rail(build, rail)
    unknown = set(fields) - set(RAIL_FIELDS)
    if unknown:
        raise EditError(
            f"A rail has no “{', '.join(sorted(unknown))}”; expected any of"
            f" {', '.join(RAIL_FIELDS)}."
        )
    if "note" in fields:
        found.note = fields.pop("note")[:2000]
    _judge(build, found, fields)
    changed = [
        f"{key.replace('_', ' ')} {value}"
        for key, value in fields.items()
        if (getattr(found, key) or "") != value
    ]
    for key in _TICKED:
        if key in fields:
            # A ticked box comes with the unticked one's word before it.
            fields[key] = "yes" in fields[key].split(",")
    unnamed = fields.get("name", found.name) == _usual_name(found.voltage, found.source)
    reread(found, Rail, **fields)
    if unnamed:
        # A name nobody gave follows what it names.
        found.name = _usual_name(found.voltage, found.source)
    return f"{found.name}: {', '.join(changed) or 'note'}"


def _not_in_a_circle(build: Build, rail: Rail, above: Rail, key: str) -> None:
    if above.id == rail.id:
        raise EditError(
            f"{rail.name} cannot be {'fed by' if key == 'fed_by' else 'joined with'} itself.", key
        )
    now, seen = above, {above.id}
    while key == "fed_by" and now.fed_by and now.fed_by not in seen:
        if now.fed_by == rail.id:
            raise EditError(
                f"{above.name} is fed by {rail.name} already; expected a rail that stands"
                " above it.",
                key,
            )
        seen.add(now.fed_by)
        now = the_rail(build, now.fed_by)


@edit
def remove_rail(build: Build, rail: str) -> str:
    """Remove a rail that nothing hangs on."""
    found = the_rail(build, rail)
    users = [
        c.name
        for c in build.channels
        if rail in (c.rail, *(c.stage.settings.get(key) for key in RAIL_SETTINGS))
    ] + (["the board"] if build.board_feed == rail else [])
    users += [r.name for r in build.rails if r.fed_by == rail] + [
        i.name for i in build.inputs if rail in (i.rail, i.pulled_to)
    ]
    users += [b.name for b in build.blocks if b.rail == rail] + [
        m.name for m in build.metals if {f"{rail}+", f"{rail}-"} & set(m.ends)
    ]
    if users:
        raise EditError(
            f"{found.name} still feeds {', '.join(users)}; move them to another rail first.", "rail"
        )
    build.rails.remove(found)
    for other in list(build.rails):
        if other.joined_with == rail:
            own(build, other).joined_with = None
    return f"removed rail {found.name}"
