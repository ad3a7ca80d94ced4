"""What could not be worked out."""

from __future__ import annotations

from latchcore.findings.records.record import Record

RECORDS = (
    Record(
        "E1",
        catches="a piece of the build that could not be worked out, though it was accepted",
        severity="check",
        why="Nothing is said for what is not worked out; the rest of the build is.",
        short="not worked out",
        station="sizes",
        must_be_answered=True,
    ),
)
