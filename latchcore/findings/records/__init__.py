"""
Every kind of finding, by id.

Examples
--------
>>> RECORDS["D9"].station, RECORDS["D9"].short
('sizes', 'PWM')
"""

from __future__ import annotations

from latchcore.findings.records import (
    alternating,
    barriers,
    coils,
    contacts,
    discipline,
    drive,
    guards,
    motion,
    pins,
    supplies,
    unworked,
)
from latchcore.findings.records.record import Record

__all__ = ["RECORDS", "Record", "record_of"]
FAMILIES = (
    pins,
    drive,
    coils,
    contacts,
    alternating,
    barriers,
    supplies,
    motion,
    guards,
    discipline,
    unworked,
)
RECORDS: dict[str, Record] = {record.id: record for family in FAMILIES for record in family.RECORDS}


def record_of(check: str) -> Record:
    """
    The record of a finding.

    Raises
    ------
    KeyError
        For an id that has none: a finding without a record is a fault of the program
    """
    return RECORDS[check]
