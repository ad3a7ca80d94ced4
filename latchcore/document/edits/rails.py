"""Edits of rails."""

from __future__ import annotations

from latchcore.catalogue import in_use
from latchcore.document.edits.registry import EditError, edit, next_id, reread, the_rail, validated
from latchcore.document.models import MOST_RAILS, Build, Rail


def _source(source: str) -> str:
    if source not in in_use().sources:
        raise EditError(f"“{source}” is no kind of supply; expected one of {', '.join(in_use().sources)}.", "source")
    return source


@edit
def add_rail(build: Build, voltage: str, name: str = "", source: str = "adapter", rating: str = "") -> str:
    """Add a supply rail."""
    if len(build.rails) >= MOST_RAILS:
        raise EditError(f"A build holds up to {MOST_RAILS} rails.")
    title = in_use().sources[_source(source)].title.lower()
    data = {"id": next_id(build, "rail"), "name": name.strip() or f"{voltage.strip()} {title}"[:60], "source": source,
            "voltage": voltage, "rating": rating or None}  # fmt: skip
    rail = validated(Rail, data)
    build.rails.append(rail)
    return f"rail {rail.name}"


@edit
def set_rail(build: Build, rail: str, **fields: str) -> str:
    """Set any of name, voltage, source, rating and note of a rail."""
    found = the_rail(build, rail)
    unknown = set(fields) - {"name", "voltage", "source", "rating", "ground", "plug", "lives", "touchable", "earthed", "note"}
    if unknown:
        raise EditError(f"A rail has no “{', '.join(sorted(unknown))}”.")
    if "source" in fields:
        _source(fields["source"])
    if "note" in fields:
        found.note = fields.pop("note")[:2000]
    if "voltage" in fields and not fields["voltage"].strip():
        raise EditError("Nothing was typed; expected volts such as “12 V”.", "voltage")
    if "name" in fields and not fields["name"].strip():
        raise EditError("Nothing was typed; expected a name of 1 to 60 characters.", "name")
    for key in ("touchable", "earthed"):
        if key in fields:
            # A ticked box comes with the unticked one's word before it.
            fields[key] = "yes" in fields[key].split(",")
    changed = [f"{key} {value}" for key, value in fields.items() if (getattr(found, key) or "") != value]
    reread(found, Rail, **fields)
    return f"{found.name}: {', '.join(changed) or 'note'}"


@edit
def remove_rail(build: Build, rail: str) -> str:
    """Remove a rail that nothing hangs on."""
    found = the_rail(build, rail)
    users = [c.name for c in build.channels if rail in (c.rail, c.stage.settings.get("coil_rail"))] + (["the board"] if build.board_feed == rail else [])
    if users:
        raise EditError(f"{found.name} still feeds {', '.join(users)}; move them to another rail first.", "rail")
    build.rails.remove(found)
    return f"removed rail {found.name}"
