"""What keeps the line apart from what is touched."""

from __future__ import annotations

from latchcore.findings.records.record import Record

RECORDS = (
    Record(
        "I1",
        catches="metal path between mains and anything touchable",
        severity="stop",
        why="Somebody will touch it.",
        short="joined",
        station="barriers",
        advice=(
            "Find the wire that joins them and take it away; a stage with a reinforced barrier"
            " stands between."
        ),
    ),
    Record(
        "I2",
        catches="barrier claimed and bypassed; rating or distance under need",
        severity="stop for mains; note for low voltage",
        why="A barrier is as good as the wire that goes round it.",
        short="barrier",
        station="barriers",
        advice=(
            "Use a relay, coupler or module with a reinforced barrier, or bond the low side to"
            " protective earth and say so at its rail."
        ),
    ),
    Record(
        "I3",
        catches="common reference needed and missing (joining offered between low groups only)",
        done_by=("rail", "module"),
        severity="stop",
        why="A level means nothing without the common line it is measured against.",
        short="reference",
        station="barriers",
        tries=("join_grounds",),
    ),
    Record(
        "I4",
        catches="mains sensed without a barrier",
        severity="stop",
        why="Whoever touches the board touches the line.",
        short="no barrier",
        station="barriers",
    ),
)
