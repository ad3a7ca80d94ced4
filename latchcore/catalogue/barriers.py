"""Classes of barriers by their figures: test voltage and way along the surface."""

from __future__ import annotations

from typing import TYPE_CHECKING

from latchcore.figures.slack import falls_short

CLASSES = ("functional", "basic", "reinforced")
#: Figures a class of barrier takes, both of them: test voltage [V] and creepage [m].
REINFORCED, BASIC = (4000.0, 6e-3), (1500.0, 3e-3)


def barrier_class(
    test_voltage: float | None, creepage: float | None, bare_board: bool = False
) -> tuple[str, bool]:
    """
    Class of a barrier of which only figures are known, and whether that still wants a check.

    Examples
    --------
    >>> barrier_class(4300, 0.0042), barrier_class(None, None), barrier_class(None, None, True)
    (('basic', False), ('basic', True), ('functional', False))
    """
    if bare_board and test_voltage is None and creepage is None:
        return "functional", False
    if test_voltage is None and creepage is None:
        return "basic", True
    volts, way = test_voltage or 0.0, creepage or 0.0
    for name, (least_volts, least_way) in (("reinforced", REINFORCED), ("basic", BASIC)):
        if volts >= least_volts and way >= least_way:
            return name, False
    return "functional", False


def credited(stated: str, test_voltage: float | None = None, creepage: float | None = None) -> str:
    """
    What a stated class is credited as by the figures that are known, volts and metres: figures
    count, words do not, and the lower one rules.

    Examples
    --------
    >>> credited("reinforced", 1500.0), credited("reinforced", 4000.0), credited("basic", 5000.0)
    ('basic', 'reinforced', 'basic')
    >>> credited("reinforced", creepage=0.0059), credited("reinforced")
    ('basic', 'reinforced')
    """
    borne = "functional"
    for name, (least_volts, least_way) in (("basic", BASIC), ("reinforced", REINFORCED)):
        tested = test_voltage is None or test_voltage >= least_volts
        if tested and (creepage is None or not falls_short(creepage, least_way)):
            borne = name
    return min(stated, borne, key=CLASSES.index)


class Tested:
    """A record that states a class and the volts its barrier was tested with."""

    if TYPE_CHECKING:
        barrier: str
        test_voltage: float

    @property
    def isolation(self) -> str:
        """The class its figures bear out."""
        return credited(self.barrier, self.test_voltage)
