"""The wire to a rail, a load or a distribution point: its own figures, else those of its cable."""

from __future__ import annotations

from typing import NamedTuple

from latchcore.document.laid import Block, Cable
from latchcore.document.models import Build, Channel, Rail
from latchcore.figures.quantity import parse
from latchcore.sums import ampacity


class Wire(NamedTuple):
    """
    As far as it is stated: length one way [m], cross-section [m²], how it lies, what it runs in.
    """

    length: float | None
    area: float | None
    laid: str
    cable: Cable | None
    #: The cross-section as it was typed.
    words: str = ""

    @property
    def ohms(self) -> float:
        """Out and back; nothing while it is not stated [Ω]."""
        if self.length is None or self.area is None:
            return 0.0
        return ampacity.wire_resistance(self.length, self.area)


def wire_of(build: Build, of: Rail | Channel | Block) -> Wire:
    """
    The wire to something.

    >>> lamp = Rail(id="rail1", name="Bench", voltage="12 V", wire_area="0.5 mm²")
    >>> wire_of(Build(name="Bench"), lamp).area
    5e-07
    """
    cable = None if isinstance(of, Rail) else build.cable(of.cable)
    length = of.wire_length or (cable.wire_length if cable else None)
    area = of.wire_area or (cable.wire_area if cable else None)
    laid = of.laid if isinstance(of, Rail) else cable.laid if cable else "free"
    return Wire(
        parse(length, "m") if length else None,
        parse(area, "mm²") * 1e-6 if area else None,
        laid,
        cable,
        area or "",
    )
