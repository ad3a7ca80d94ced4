"""Edits of how a build is wired."""

from __future__ import annotations

from latchcore.document.edits.registry import edit, reread, the_channel
from latchcore.document.models import Build, Channel


@edit
def set_wire(build: Build, channel: str, **fields: str) -> str:
    """Say how long the wire to a load is, and how thick; empty text means that it is not known."""
    found = the_channel(build, channel)
    given = {k: fields.pop(k).strip() for k in ("wire_length", "wire_area") if k in fields}
    reread(found, Channel, **given, **fields)
    return f"{found.name}: wire {found.wire_length or 'of unknown length'}, {found.wire_area or 'cross-section not stated'}"
