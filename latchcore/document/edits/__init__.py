"""The named edits of a build."""

from latchcore.document.edits import building, channels, inputs, machines, pins, rails, routing, staging, wiring
from latchcore.document.edits.registry import EDITS, EditError, apply

__all__ = ["EDITS", "EditError", "apply", "building", "channels", "inputs", "machines", "pins", "rails", "routing", "staging", "wiring"]
