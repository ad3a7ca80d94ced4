"""
What takes the kick of an inductive load on alternating current: resistor with capacitor, varistor.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from latchcore.figures.preferred import largest_below
from latchcore.figures.slack import exceeds, falls_short
from latchcore.figures.working import Working

#: Resistor of a snubber and the capacitors it comes with, 10 to 100 nF; more wants a discharge
#: resistor.
SNUBBER_OHMS, SNUBBER_FARADS = 100.0, (10e-9, 22e-9, 47e-9, 100e-9)
#: Resistors that quench: below, the capacitor's own gulp wears the contact; above, the arc stays
#: [Ω].
QUENCHES = (47.0, 120.0)
#: Capacitance to each ampere: a tenth of a microfarad, the usual beginning.
FARADS_PER_AMPERE = 100e-9
#: A varistor is rated so far over the highest line.
VARISTOR_MARGIN = 1.05


@dataclass(frozen=True, slots=True)
class Snubber:
    """
    Resistor [Ω] and capacitor [F] across a load, and what they leak at the line's frequency [A].
    """

    resistance: float
    capacitance: float
    leakage: float


def leakage(line, frequency, capacitance, resistance, working: Working | None = None):
    """
    Current a resistor and a capacitor in series let through [A].

    Examples
    --------
    >>> round(leakage(120.0, 60.0, 1e-7, 68.0) * 1e3, 3)
    4.524
    """
    w = working or Working()
    reach = (
        w.calc(
            "Z_C",
            "1/(2*pi*f*C_snub)",
            "Ω",
            "nominal frequency",
            pi=(math.pi, ""),
            f=(frequency, "Hz"),
            C_snub=(capacitance, "F"),
        )
        if frequency
        else math.inf
    )
    return (
        0.0
        if math.isinf(reach)
        else w.calc(
            "I_snub",
            "V_line/sqrt(R_snub**2 + Z_C**2)",
            "A",
            "nominal line",
            V_line=(line, "V"),
            R_snub=(resistance, "Ω"),
            Z_C=(reach, "Ω"),
        )
    )


def discharge(
    capacitance, start, target=34.0, time=1.0, needed_above=100e-9, tolerance=0.05, series="E12"
) -> tuple[bool, float | None, float | None]:
    """
    Whether a suppression capacitor wants a resistor across it, the most it may be, and the largest
    that is sold [Ω].

    Examples
    --------
    >>> discharge(1.5e-7, 373.35)[2], discharge(1e-7, 373.35)[0]
    (2200000.0, False)
    """
    if not exceeds(capacitance, needed_above):
        return False, None, None
    most = time / (capacitance * math.log(start / target))
    return True, most, largest_below(series, most / (1 + tolerance))


def snubber(
    current,
    line,
    frequency,
    working: Working | None = None,
    resistance: float | None = None,
    capacitance: float | None = None,
) -> Snubber:
    """
    Resistor and capacitor across an inductive load.

    Parameters
    ----------
    current : float
        Running current [A]
    line, frequency : float
        Nominal voltage [V rms] and frequency [Hz]; 0 Hz for direct current
    resistance, capacitance : float, optional
        As they are at hand [Ω], [F]

    Notes
    -----
    The least capacitor of the range that gives a tenth of a microfarad an ampere, 100 nF at the
    most: above that a charged
    plug bites.

    Examples
    --------
    >>> found = snubber(2.0, 230.0, 50.0)
    >>> found.capacitance, round(found.leakage * 1e3, 1)
    (1e-07, 7.2)
    """
    w = working or Working()
    value = capacitance or next(
        (c for c in SNUBBER_FARADS if c >= FARADS_PER_AMPERE * current), SNUBBER_FARADS[-1]
    )
    ohms = resistance or SNUBBER_OHMS
    w.note(
        "C_snub",
        "as stated" if capacitance else "a tenth of a microfarad an ampere, 10 to 100 nF",
        "F",
        value,
        {},
        {},
    )
    return Snubber(ohms, value, leakage(line, frequency, value, ohms, w))


def varistor(line_max, classes, poor=False, working: Working | None = None) -> float | None:
    """
    Continuous rating of the varistor for a line [V rms], the next class up on poor mains; ``None``
    above the last.

    Examples
    --------
    >>> varistor(253.0, (250, 275, 300)), varistor(132.0, (130, 150)), varistor(500.0, (420,))
    (275, 150, None)
    """
    w = working or Working()
    least = w.calc(
        "V_var",
        "k*V_line_max",
        "V",
        "highest line",
        k=(VARISTOR_MARGIN, ""),
        V_line_max=(line_max, "V"),
    )
    fits = [v for v in classes if not falls_short(v, least)]
    return next(iter(fits[1:] if poor else fits), None)
