"""Edits of several channels at once: as many as are wanted of one, one change for those ticked."""

from __future__ import annotations

from latchcore.document.models import Build
from latchcore.edits.channels import set_channel_rail, set_switching
from latchcore.edits.leads import set_wire
from latchcore.edits.registry import EditError, edit, own, the_channel
from latchcore.edits.staging import set_stage

#: What may be changed of several at once, and by which edit.
CHANGES = {
    "rail": set_channel_rail,
    "stage": set_stage,
    "pwm": set_switching,
    "duty": set_switching,
    "wire_length": set_wire,
    "wire_area": set_wire,
    "fuse": set_wire,
}


@edit
def change_several(build: Build, channels: str = "", **fields: str) -> str:
    """
    The same change for every channel that is ticked; what is left empty stays as it is.

    ``channels`` are ids with commas between; ``fields`` any of :data:`CHANGES`.
    """
    ids = [c for c in channels.split(",") if c]
    if not ids:
        raise EditError("No channel is ticked; tick those the change is for.", "channels")
    if unknown := set(fields) - set(CHANGES):
        raise EditError(
            f"Several channels have no “{', '.join(sorted(unknown))}” to change; expected any of"
            f" {', '.join(CHANGES)}."
        )
    wanted = {key: value for key, value in fields.items() if value.strip()}
    if not wanted:
        raise EditError("Nothing to change was chosen; choose a rail, a stage or a figure.", "rail")
    for channel in dict.fromkeys(ids):
        found = own(build, the_channel(build, channel))
        for key, value in wanted.items():
            CHANGES[key](build, channel=found.id, **{key: value})
    return f"changed {len(set(ids))} channels"
