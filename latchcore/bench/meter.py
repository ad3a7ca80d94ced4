"""The meter that is meant where nobody says which."""

from __future__ import annotations

from latchcore.catalogue import load_catalogue
from latchcore.catalogue.meter_record import ALTERNATING, OL, HandMeter

__all__ = ["ALTERNATING", "OL", "HandMeter", "usual_meter"]
USUAL = "meter-2000"


def usual_meter() -> HandMeter:
    """
    A usual hand meter, as it stands in the catalogue.

    Examples
    --------
    >>> usual_meter().title
    'usual hand meter, 2000 counts'
    """
    return load_catalogue().parts[USUAL]
