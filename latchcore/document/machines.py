"""Machines that already exist, and the ways into them."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from latchcore.document.texts import Id, Model, Name, Note


class Way(Model):
    """One way into a machine that already exists: what was found of it."""

    exists: Literal["yes", "no", "unknown"] = "unknown"
    supply: Literal["isolated_low", "mains", "unknown"] = "unknown"
    opens: Literal["yes", "no"] = "no"
    note: Note = ""


class Machine(Model):
    """A machine that already exists, how it behaved untouched, and the four ways into it."""

    id: Id
    name: Name
    untouched: Note = ""
    stores_high_voltage: Literal["yes", "no", "unknown"] = "unknown"
    remote_line: Way = Field(default_factory=Way)
    button: Way = Field(default_factory=Way)
    supply_side: Way = Field(default_factory=Way)
    inside: Way = Field(default_factory=Way)
