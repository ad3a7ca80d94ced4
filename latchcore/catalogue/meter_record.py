"""Record of a hand meter: how far off it may be, how it loads what it reads, what it shows."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from latchcore.catalogue.fields import Ohms, Record

Percent = Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)]
Counts = Annotated[int, Field(ge=0, le=1000)]
#: What stands on the display over range.
OL = "OL"
#: What its display counts to at most in each range, as multiples of ten: on direct volts [V], on
#: ohms [Ω], on milliamperes [A], on alternating volts [V~].
ALTERNATING = "V~"
DECADES = {
    "V": (-1, 0, 1, 2, 3),
    ALTERNATING: (-1, 0, 1, 2, 3),
    "Ω": (2, 3, 4, 5, 6, 7),
    "A": (-3, -2, -1, 1),
}
#: The last range of volts ends where its inputs do [V].
MOST_VOLTS = 1000.0
#: Letters of a display.
LETTERS = ((1e6, "M"), (1e3, "k"), (1.0, ""), (1e-3, "m"))
#: Ranges of amperes up to this one are read through the burden; above it a meter has a shunt of its
#: own that keeps next to nothing [A].
BURDENED = 0.3


class HandMeter(Record):
    """
    A hand meter: each range is off by so many percent of the reading and so many counts.

    ``counts`` is what its display goes up to; ``input_ohms`` stand across what it reads volts of;
    ``burden`` is what it keeps for itself in milliamperes [V/A].
    """

    family: Literal["meter"]
    counts: Annotated[int, Field(ge=200, le=1_000_000)] = 2000
    volts_percent: Percent = 0.5
    volts_counts: Counts = 2
    ohms_percent: Percent = 1.0
    ohms_counts: Counts = 2
    amperes_percent: Percent = 1.0
    amperes_counts: Counts = 2
    alternating_percent: Percent = 1.0
    alternating_counts: Counts = 5
    input_ohms: Ohms
    burden: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] = 2.0

    def span(self, value: float, unit: str = "V") -> float | None:
        """
        The end of the range that holds a value; ``None`` over all of them.

        Examples
        --------
        >>> from latchcore.bench.meter import usual_meter
        >>> usual = usual_meter()
        >>> usual.span(12.0), usual.span(0.1), usual.span(470.0, "Ω"), usual.span(5e8, "Ω")
        (20.0, 0.2, 2000.0, None)
        """
        ends = self._ends(unit)
        if unit in ("V", ALTERNATING) and abs(value) >= MOST_VOLTS:
            return None
        return next((end for end in ends if abs(value) < end), None)

    def _ends(self, unit: str) -> list[float]:
        """Where its ranges end, by what its display counts to."""
        leading = self.counts / 10 ** (len(str(self.counts)) - 1)
        return [leading * 10.0**decade for decade in DECADES[unit]]

    def off(self, value: float, unit: str = "V") -> float:
        """
        How far a reading may be off.

        Examples
        --------
        >>> from latchcore.bench.meter import usual_meter
        >>> usual = usual_meter()
        >>> round(usual.off(12.0), 4), round(usual.off(0.1), 6)
        (0.08, 0.0007)
        >>> round(usual.off(470.0, "Ω"), 4)
        6.7
        """
        percent, counts = {
            "V": (self.volts_percent, self.volts_counts),
            "Ω": (self.ohms_percent, self.ohms_counts),
            "A": (self.amperes_percent, self.amperes_counts),
            ALTERNATING: (self.alternating_percent, self.alternating_counts),
        }[unit]
        return percent / 100 * abs(value) + counts * self.count(value, unit)

    def count(self, value: float, unit: str = "V") -> float:
        """What one count is in the range that holds a value."""
        return (self.span(value, unit) or self._ends(unit)[-1]) / self.counts

    def widened(self, least: float, most: float, unit: str = "V") -> tuple[float, float]:
        """A window by what it may be off at either end."""
        return least - self.off(least, unit), most + self.off(most, unit)

    def shown(self, value: float | None, unit: str = "V") -> str:
        """
        What stands on the display, to the last count of its range; ``OL`` over range, and on ohms
        where nothing joins both points.

        Examples
        --------
        >>> from latchcore.bench.meter import usual_meter
        >>> usual = usual_meter()
        >>> usual.shown(11.984), usual.shown(-0.0731), usual.shown(4712.0, "Ω")
        ('11.98', '-0.0731', '4.71k')
        >>> usual.shown(None, "Ω"), usual.shown(2e9, "Ω"), usual.shown(0.0153, "A")
        ('OL', 'OL', '15.30m')
        >>> usual.shown(0.2, "Ω")
        '0.2'
        """
        if value is None or self.span(value, unit) is None:
            return OL
        count = self.count(value, unit)
        stands = round(value / count) * count
        if unit in ("V", ALTERNATING):
            return f"{stands:.{places(count)}f}"
        # Ohms under one stand as they are; amperes under one are what this range is for.
        letters = LETTERS[:-1] if unit == "Ω" else LETTERS
        size, letter = next(((s, w) for s, w in letters if abs(stands) >= s), letters[-1])
        return f"{stands / size:.{places(count / size)}f}{letter}"

    def said(self, value: float | None, unit: str) -> str:
        """
        A display with its unit, the letter before that.

        Examples
        --------
        >>> from latchcore.bench.meter import usual_meter
        >>> usual = usual_meter()
        >>> usual.said(0.0293, "A"), usual.said(4712.0, "Ω"), usual.said(None, "Ω")
        ('29.3 mA', '4.71 kΩ', 'OL Ω')
        >>> usual.said(0.0, "A"), usual.said(0.00042, "A")
        ('0.000 mA', '0.420 mA')
        """
        shown = self.shown(value, unit)
        letter = shown[-1] if shown[-1] in "kMm" else ""
        return f"{shown.removesuffix(letter) if letter else shown} {letter}{unit}"

    def keeps(self, amps: float) -> float:
        """
        What it has in the lead whose current it reads [Ω].

        Examples
        --------
        >>> from latchcore.bench.meter import usual_meter
        >>> usual_meter().keeps(0.05), usual_meter().keeps(0.5)
        (2.0, 0.0)
        """
        return self.burden if abs(amps) < BURDENED else 0.0


def places(count: float) -> int:
    """
    Places behind the point that one count needs.

    Examples
    --------
    >>> places(0.01), places(1.0), places(10.0)
    (2, 0, 0)
    """
    found = 0
    while found < 9 and count * 10**found < 0.999:
        found += 1
    return found
