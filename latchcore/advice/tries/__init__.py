"""
Ways out that may be tried for a finding, by the name its record gives them; nothing here knows
which finding wants it.
"""

from __future__ import annotations

from latchcore.advice.tries import (
    alternating,
    clamps,
    coils,
    contacts,
    lines,
    motion,
    resistors,
    stages,
    strips,
    use,
)
from latchcore.advice.tries.table import TRIES

__all__ = [
    "TRIES",
    "alternating",
    "clamps",
    "coils",
    "contacts",
    "lines",
    "motion",
    "resistors",
    "stages",
    "strips",
    "use",
]
