"""What is stated around mains and machines."""

from __future__ import annotations

from latchcore.findings.records.record import Record

RECORDS = (
    Record(
        "X1",
        catches=(
            "no residual-current protection, fuse, enclosure, earth (unless double insulated with"
            " no touchable metal), strain relief; breadboard or jumper on mains; wet place"
        ),
        severity="stop",
        why="These are what stands between a fault and a person.",
        short="discipline",
        station="mains",
        advice=(
            "Make it so, then state it at the guards station; what cannot be made so is no plan to"
            " follow."
        ),
        must_be_answered=True,
    ),
    Record(
        "T4",
        catches="remote control without password or state feedback; default secret",
        severity="fix",
        why="What a network can reach, somebody else can switch.",
        short="network",
        station="sizes",
        advice="Give it a password of its own and open no port, then say so at the stage.",
    ),
    Record(
        "X4",
        catches=(
            "conductors of an appliance bridged or mapped without proof of an isolated low-voltage"
            " supply"
        ),
        severity="stop",
        why="What looks like a button may be on the line.",
        short="unproven",
        station="mains",
        advice=(
            "Make it so, then state it at the guards station; what cannot be made so is no plan to"
            " follow."
        ),
        must_be_answered=True,
    ),
    Record(
        "X5",
        catches="lock or door that can hold people in without a way out when power fails",
        severity="stop",
        why="Somebody must be able to get out.",
        short="way out",
        station="mains",
        advice="Fit a way out by hand, then say so at the guards station.",
        must_be_answered=True,
    ),
)
