"""The named edits of a build."""

from latchcore.edits import (
    behaviour,
    building,
    chains,
    channels,
    inputs,
    laying,
    leads,
    machines,
    many,
    mapped,
    pins,
    rails,
    routing,
    staging,
    using,
    vehicles,
)
from latchcore.edits.registry import EDITS, EditError, apply

__all__ = [
    "EDITS",
    "EditError",
    "apply",
    "behaviour",
    "building",
    "chains",
    "channels",
    "inputs",
    "machines",
    "many",
    "mapped",
    "pins",
    "rails",
    "routing",
    "staging",
    "using",
    "vehicles",
    "laying",
    "leads",
]
