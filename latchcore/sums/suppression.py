"""What takes the kick of an inductive load on alternating current: resistor with capacitor, varistor."""

from __future__ import annotations

import math
from dataclasses import dataclass

from latchcore.working import Working

#: Resistor of a snubber and the capacitors it comes with, 10 to 100 nF; more wants a discharge resistor.
SNUBBER_OHMS, SNUBBER_FARADS = 100.0, (10e-9, 22e-9, 47e-9, 100e-9)
#: Capacitance to each ampere: a tenth of a microfarad, the usual beginning.
FARADS_PER_AMPERE = 100e-9


@dataclass(frozen=True, slots=True)
class Snubber:
    """Resistor [Ω] and capacitor [F] across a load, and what they leak at the line's frequency [A]."""

    resistance: float
    capacitance: float
    leakage: float


def snubber(current, line, frequency, working: Working | None = None) -> Snubber:
    """
    Resistor and capacitor across an inductive load.

    Parameters
    ----------
    current : float
        Running current [A]
    line, frequency : float
        Nominal voltage [V rms] and frequency [Hz]; 0 Hz for direct current

    Notes
    -----
    The least capacitor of the range that gives a tenth of a microfarad an ampere, 100 nF at the most: above that a charged
    plug bites. Leakage V·2π·f·C.

    Examples
    --------
    >>> found = snubber(2.0, 230.0, 50.0)
    >>> found.capacitance, round(found.leakage * 1e3, 1)
    (1e-07, 7.2)
    """
    w = working or Working()
    value = next((c for c in SNUBBER_FARADS if c >= FARADS_PER_AMPERE * current), SNUBBER_FARADS[-1])
    w.note("C_snub", "a tenth of a microfarad an ampere, 10 to 100 nF", "F", value, {}, {})
    leakage = w.calc("I_snub", "V_line*2*pi*f*C_snub", "A", "nominal line", V_line=(line, "V"), f=(frequency, "Hz"), C_snub=(value, "F"), pi=(math.pi, ""))
    return Snubber(SNUBBER_OHMS, value, leakage)


def varistor(line_max, classes, working: Working | None = None) -> float | None:
    """
    Continuous rating of the varistor for a line [V rms]; ``None`` above the last class.

    Examples
    --------
    >>> varistor(253.0, (250, 275, 300)), varistor(132.0, (130, 150)), varistor(500.0, (420,))
    (275, 150, None)
    """
    w = working or Working()
    least = w.calc("V_var", "1.05*V_line_max", "V", "highest line", V_line_max=(line_max, "V"))
    return next((v for v in classes if v >= least * (1 - 1e-9)), None)
