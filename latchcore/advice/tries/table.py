"""
The table of ways out: each a generator of labelled edits for a channel, its result and a finding.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.stages import STAGES

Edits = tuple[tuple[str, dict[str, Any]], ...]
Candidate = tuple[str, Edits]


@dataclass(frozen=True)
class Case:
    """A finding of one channel, with all that a way out may look at."""

    context: ChannelContext
    result: StageResult
    finding: Finding

    @property
    def channel(self) -> str:
        """Id of the channel."""
        return self.context.channel.id

    @property
    def fixed(self) -> dict[str, str]:
        """What the user fixed of the stage."""
        return self.context.channel.stage.settings

    @property
    def knows(self) -> set[str]:
        """Settings the stage has."""
        return {setting.key for setting in STAGES[self.result.kind].settings}

    def setting(self, **values: str) -> Edits:
        """The edit that fixes things of the stage."""
        return (("set_setting", {"channel": self.channel, **values}),)

    def stage(self, kind: str, **values: str) -> Edits:
        """The edit that drives the channel by another stage."""
        return (("set_stage", {"channel": self.channel, "stage": kind, **values}),)

    def edit(self, name: str, **values: str) -> Edits:
        """A named edit of the channel."""
        return ((name, {"channel": self.channel, **values}),)


Try = Callable[[Case], Iterator[Candidate]]
TRIES: dict[str, Try] = {}


def tried(function: Try) -> Try:
    """Register a way out under its own name."""
    TRIES[function.__name__] = function
    return function
