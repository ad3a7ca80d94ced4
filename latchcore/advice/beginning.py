"""A channel begins on the advisor's first sound stage, not on a transistor nobody chose."""

from __future__ import annotations

from latchcore.advice.advisor import advise
from latchcore.advice.wish_build import first_sound
from latchcore.catalogue import Catalogue
from latchcore.document.models import Build, Channel
from latchcore.edits import apply


def settled(before: Build, after: Build, catalogue: Catalogue) -> Build:
    """
    A build after an edit, its new channels and those that have just got their first rail on the
    first stage that stands without a stop or a fix.

    A stage somebody chose or set is left, and so is one for which nothing better is found.

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> bench = Build(name="Bench")
    >>> for name, args in [("set_board", {"board": "board-radio-3v3"}), ("add_rail",
    ...     {"voltage": "12 V"})]:
    ...     bench, _ = apply(bench, name, args)
    >>> motor = {"kind": "dc_motor", "voltage": "12 V", "figure": "500 mA"}
    >>> added, _ = apply(bench, "add_channel", motor)
    >>> added.channels[0].stage.kind, settled(bench, added, load_catalogue()).channels[0].stage.kind
    ('npn_low_side', 'nmos_low_side')
    """
    alike: dict[str, str] = {}
    for channel in after.channels:
        if not _begins(before.channel(channel.id), channel):
            continue
        key = f"{channel.load.model_dump_json()} {channel.rail} {channel.needs}"
        if key not in alike:
            card = first_sound(advise(after, channel.id, catalogue))
            alike[key] = card.kind if card is not None else channel.stage.kind
        if alike[key] != channel.stage.kind:
            edit = {"channel": channel.id, "stage": alike[key]}
            after, _ = apply(after, "set_stage", edit, catalogue)
    return after


def _begins(was: Channel | None, now: Channel) -> bool:
    """Whether a channel is new, or has its first rail and nothing of its stage was said."""
    if now.stage.settings:
        return False
    return was is None or (was.rail is None and now.rail is not None and was.stage == now.stage)
