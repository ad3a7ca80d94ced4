"""Edits of how a build is wired."""

from __future__ import annotations

from latchcore.document.models import Build, Channel
from latchcore.edits.registry import EditError, edit, reread, the_channel

#: What may be said of the wire to a load and of the fuse in it.
WIRE_FIELDS = (
    "wire_length",
    "wire_area",
    "through",
    "fuse",
    "fuse_volts",
    "fuse_for",
    "fuse_breaking",
    "fuse_poles",
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
    if "through" in fields:
        found.through = fields.pop("through").strip()[:60]
    reread(found, Channel, **{key: value.strip() for key, value in fields.items()})
    return (
        f"{found.name}: wire {found.wire_length or 'of unknown length'},"
        f" {found.wire_area or 'cross-section not stated'}"
        + (f", fuse {found.fuse}" if found.fuse else "")
    )
