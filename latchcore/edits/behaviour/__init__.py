"""Edits of what the loads do."""

from latchcore.edits.behaviour import (
    conditions,
    events,
    interlocks,
    macros,
    manners,
    patterns,
    rules,
    sequences,
    whole,
)

__all__ = [
    "conditions",
    "events",
    "interlocks",
    "macros",
    "manners",
    "patterns",
    "rules",
    "sequences",
    "whole",
]
