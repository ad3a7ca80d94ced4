"""What a hand meter shows of a voltage: the range that holds it, its share and its counts."""

from __future__ import annotations

from dataclasses import dataclass

#: Ranges of a usual hand meter of 2000 counts on direct volts [V].
RANGES = (0.2, 2.0, 20.0, 200.0, 1000.0)


@dataclass(frozen=True, slots=True)
class Meter:
    """
    A meter on direct volts: off by so much of its reading and so many counts of the range; its own
    resistance beside what is probed [Ω].
    """

    share: float = 0.005
    counts: int = 2
    of: int = 2000
    ohms: float = 10e6

    def off(self, volts: float) -> float:
        """
        How far a reading may be off [V].

        Examples
        --------
        >>> round(Meter().off(12.0), 4), round(Meter().off(0.1), 6)
        (0.08, 0.0007)
        """
        span = next((r for r in RANGES if abs(volts) < r), RANGES[-1])
        return self.share * abs(volts) + self.counts * span / self.of

    def widened(self, least: float, most: float) -> tuple[float, float]:
        """A window by what it may be off at either end."""
        return least - self.off(least), most + self.off(most)
