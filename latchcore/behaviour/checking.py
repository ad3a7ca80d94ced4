"""What is refused before a behaviour is run: the faults a step could not decide."""

from __future__ import annotations

from latchcore.behaviour.faults import Fault
from latchcore.document.models import Build


def faults_of(build: Build) -> list[Fault]:
    """Every fault of a build's behaviour, in the order of its lists."""
    return []
