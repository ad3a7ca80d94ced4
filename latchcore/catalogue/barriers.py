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
    What a barrier is credited as by its test voltage [V] and its way along the surface [m]: both
    must hold and the lower rung rules. Where one is not known, nor is the barrier more than basic;
    a word lowers and never raises.

    Examples
    --------
    >>> credited("reinforced", 5000.0, 8e-3), credited("basic", 5000.0, 8e-3)
    ('reinforced', 'reinforced')
    >>> credited("reinforced"), credited("reinforced", 5000.0), credited("reinforced", 5000.0, 5e-3)
    ('basic', 'basic', 'basic')
    >>> credited("reinforced", 1000.0), credited("functional", 5000.0, 8e-3)
    ('functional', 'functional')
    """
    rungs = ["functional" if stated == "functional" else "reinforced"]
    for figure, (basic, reinforced) in (
        (test_voltage, (BASIC[0], REINFORCED[0])),
        (creepage, (BASIC[1], REINFORCED[1])),
    ):
        if figure is None:
            rungs.append("basic")
        else:
            rungs.append(
                "functional"
                if falls_short(figure, basic)
                else "basic"
                if falls_short(figure, reinforced)
                else "reinforced"
            )
    return min(rungs, key=CLASSES.index)


class Tested:
    """A record that states a class, the volts its barrier was tested with, and its distance."""

    if TYPE_CHECKING:
        barrier: str
        test_voltage: float | None
        creepage: float | None

    @property
    def isolation(self) -> str:
        """The class its figures bear out."""
        way = None if self.creepage is None else self.creepage / 1e3
        return credited(self.barrier, self.test_voltage, way)

    @property
    def unproven(self) -> bool:
        """Whether a word promises more than the figures that are known bear out."""
        return CLASSES.index(self.barrier) > CLASSES.index(self.isolation) and (
            self.test_voltage is None or self.creepage is None
        )
