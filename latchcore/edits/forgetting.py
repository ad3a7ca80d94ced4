"""What else knew of a channel that was removed."""

from __future__ import annotations

from latchcore.behaviour.named import channel_of
from latchcore.document.models import Build
from latchcore.edits.registry import own


def forget(build: Build, channel: str) -> None:
    """Let inputs and what held for it forget a channel that is gone."""
    _forget_in_inputs(build, channel)
    _forget_manner(build, channel)


def _forget_in_inputs(build: Build, channel: str) -> None:
    """Inputs that watch a channel, or are moved by it, do so no more."""
    for item in list(build.inputs):
        if channel in (item.watches, item.moved_by):
            mine = own(build, item)
            mine.watches = None if mine.watches == channel else mine.watches
            mine.moved_by = None if mine.moved_by == channel else mine.moved_by


def _forget_manner(build: Build, channel: str) -> None:
    """
    What held for a channel goes with it; rules that name it stay, to be given to another or
    removed by whoever wrote them.
    """
    if build.behaviour is not None:
        manners = [m for m in build.behaviour.manners if channel_of(m.channel) != channel]
        build.behaviour = build.behaviour.model_copy(update={"manners": manners})
