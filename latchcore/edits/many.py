"""Edits of several channels at once: as many as are wanted of one, one change for those ticked."""

from __future__ import annotations

import json

from latchcore.document.models import Build
from latchcore.edits.channels import set_channel_rail
from latchcore.edits.leads import set_wire
from latchcore.edits.registry import EditError, carry_out, edit, own, the_channel
from latchcore.edits.staging import set_stage
from latchcore.edits.using import set_switching
from latchcore.figures.typed import quoted

#: How many steps one press may take.
MOST_STEPS = 300
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
def together(build: Build, **steps: str) -> str:
    """
    Several named edits as one: each of ``steps`` a list of its name and its arguments as JSON, in
    the order of their keys.
    """
    if not 0 < len(steps) <= MOST_STEPS:
        raise EditError(f"{len(steps)} steps at once; expected 1 to {MOST_STEPS}.")
    said = [carry_out(build, *_step(key, steps[key])) for key in sorted(steps)]
    return said[0] if len(said) == 1 else f"{said[0]}, and {len(said) - 1} more with it"


def _step(key: str, text: str) -> tuple[str, dict[str, str]]:
    """One step as it is written, refused in one line where it is none."""
    try:
        step = json.loads(text)
        name, args = step
        if not isinstance(name, str) or not all(isinstance(v, str) for v in args.values()):
            raise TypeError
    except (ValueError, TypeError, AttributeError, RecursionError) as error:
        raise EditError(
            f"{quoted(text)} is no step; expected a name and its fields.", key
        ) from error
    if name == together.__name__:
        raise EditError("A step is one edit; steps within steps are not taken.", key)
    return name, args


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
