"""Addressable strips: their data level, where they are fed, how bright they are let."""

from __future__ import annotations

import math
from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried


@tried
def strip_data(case: Case) -> Iterator[Candidate]:
    """A level shifter, or a first pixel behind a diode."""
    if "level" not in case.knows or case.result.kind != "pixel_data":
        return
    for key, words in (
        ("shifter", "A level shifter on the strip's supply"),
        ("pixel", "A first pixel behind a diode hands its data on"),
    ):
        if case.fixed.get("level") != key:
            yield words, case.setting(level=key)


@tried
def strip_feed(case: Case) -> Iterator[Candidate]:
    """A strip fed at both ends, or less bright by program."""
    if "fed" not in case.knows:
        return
    if case.fixed.get("fed") != "both_ends":
        yield "Feed the strip at both ends", case.setting(fed="both_ends")
    measure = case.finding.measure
    if measure is None or measure.key != "last_pixel":
        return
    low = case.context.volts.min - case.context.wire_drop
    drop, room = low - measure.worst, low - measure.limit
    text = case.fixed.get("limit", "100 %").removesuffix("%").strip()
    share = math.floor(float(text) * room / drop) if drop > 0 and text else 0
    if share >= 5:
        yield f"Let the program keep to {share} % of full white", case.setting(limit=f"{share} %")
