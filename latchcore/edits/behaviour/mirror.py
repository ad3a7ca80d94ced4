"""What is declared of a channel that has rules is held by them."""

from __future__ import annotations

from latchcore.behaviour.declared import asked_for
from latchcore.document.models import Build, Channel
from latchcore.edits.behaviour.pieces import keep_manner, mine

#: Where a declared fact stands among what holds for a channel.
HELD = {"longest_on": "longest_on", "shortest_off": "least_off", "shortest_on": "least_on"}

RETURNS = {"stays_off": "anew", "as_before": "standing"}


def mirror(build: Build, channel: Channel, given: dict[str, str]) -> None:
    """
    Let the rules of a channel keep what was just declared of it; one without rules has nobody to
    keep it.
    """
    if build.behaviour is None or channel.id not in asked_for(build.behaviour):
        return
    fields: dict[str, str | None] = {
        HELD[key]: value.strip() or None for key, value in given.items() if key in HELD
    }
    if given.get("confirmed_by") == "":
        fields |= dict.fromkeys(("confirm", "sense", "other", "within"))
    elif given.get("confirmed_by") and build.behaviour.manner(channel.id).confirm is not None:
        fields["sense"] = given["confirmed_by"]
    if given.get("on_return") in RETURNS:
        fields["returns"] = RETURNS[given["on_return"]]
    if not fields:
        return
    behaviour = mine(build)
    keep_manner(behaviour, behaviour.manner(channel.id).model_dump() | fields)
