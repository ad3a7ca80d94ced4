"""Edits of how a build is wired."""

from __future__ import annotations

from latchcore.document.models import Build, Channel
from latchcore.edits.laying import the_cable
from latchcore.edits.registry import EditError, edit, reread, the_channel

#: What may be said of the wire to a load and of the fuse in it.
WIRE_FIELDS = (
    "wire_length",
    "wire_area",
    "block",
    "cable",
    "through",
    "fuse",
    "fuse_volts",
    "fuse_for",
    "fuse_breaking",
    "fuse_poles",
)


def _on_its_rail(build: Build, channel: Channel, block: str) -> None:
    point = build.block(block)
    if point is None:
        raise EditError("That distribution point is no longer in the build.", "block")
    if point.rail != channel.rail:
        raise EditError(
            f"{point.name} is not on the rail of {channel.name}; expected a point of the same one.",
            "block",
        )


@edit
def set_wire(build: Build, channel: str, **fields: str) -> str:
    """
    Say how long the wire to a load is, how thick, and what fuse it has of its own; empty text means
    none, or not known.
    """
    found = the_channel(build, channel)
    if unknown := set(fields) - set(WIRE_FIELDS):
        raise EditError(
            f"A wire has no “{', '.join(sorted(unknown))}”; expected any of"
            f" {', '.join(WIRE_FIELDS)}."
        )
    if fields.get("block"):
        _on_its_rail(build, found, fields["block"])
    if fields.get("cable"):
        the_cable(build, fields["cable"])
    if "through" in fields:
        found.through = fields.pop("through").strip()[:60]
    reread(found, Channel, **{key: value.strip() for key, value in fields.items()})
    return (
        f"{found.name}: wire {found.wire_length or 'of unknown length'},"
        f" {found.wire_area or 'cross-section not stated'}"
        + (f", fuse {found.fuse}" if found.fuse else "")
    )
