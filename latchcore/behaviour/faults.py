"""What of a behaviour cannot be done, and where it stands."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.figures.typed import Refusal


@dataclass(frozen=True, slots=True)
class Fault:
    """
    One thing that cannot be done.

    Attributes
    ----------
    of : str
        Id of the piece it stands in: a request, a sequence, a channel …
    field : str
        Where in it
    message : str
        What is wrong and what was expected
    """

    of: str
    field: str
    message: str


class BehaviourError(Refusal):
    """A behaviour that cannot be run as it stands."""

    def __init__(self, faults: list[Fault]) -> None:
        self.faults = faults
        super().__init__(" ".join(f.message for f in faults))
