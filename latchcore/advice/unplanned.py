"""What cannot be planned here: named where one would look for it, with what there is instead."""

from __future__ import annotations

import re
from dataclasses import dataclass


@dataclass(frozen=True)
class Unplanned:
    """
    Something that is switched otherwise than by one stage per line: its name, the words of a wish
    that mean it (a pattern of small letters), and why, with what can be planned of it.
    """

    title: str
    words: str
    why: str


UNPLANNED: tuple[Unplanned, ...] = (
    Unplanned(
        "Three phases",
        r"(?:three|3)[- ]?phases?",
        "sums and cautions here are for one phase; three are licensed work.",
    ),
    Unplanned(
        "Supply rectified from the line without isolation",
        r"rectified (?:mains|line)|mains rectif\w+",
        "every node stays live, and charged after it is unplugged.",
    ),
)


def unplanned_in(plain: str) -> tuple[str, Unplanned] | None:
    """
    The first words in a line of small letters that cannot be planned, with what is said of them.

    Examples
    --------
    >>> words, found = unplanned_in("400 v three-phase motor 2 a")
    >>> words, found.title
    ('three-phase', 'Three phases')
    >>> unplanned_in("12 v motor 1 a") is None
    True
    """
    hits = [
        (found.start(), found[0], each)
        for each in UNPLANNED
        if (found := re.search(rf"\b(?:{each.words})\b", plain))
    ]
    return min(hits, key=lambda hit: hit[0])[1:] if hits else None
