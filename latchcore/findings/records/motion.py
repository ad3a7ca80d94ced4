"""Motors both ways: bridges and their states."""

from __future__ import annotations

from latchcore.findings.records.record import Record

RECORDS = (
    Record(
        "M1",
        catches=(
            "a state that shorts the supply comes about, by both switches of a side or by the arc"
            " of a contact; a state its print does not name"
        ),
        severity="stop; check",
        why="What happens between two writes, at boot and in reset happens on the bridge too.",
        short="bridge state",
        station="sizes",
        advice="Let the program let go of both lines before it sets the other.",
        tries=("kept_apart", "cut_first", "rest_first", "bridge"),
    ),
    Record(
        "M2",
        catches="dead time between both switches of a side shorter than they take to let go",
        severity="stop",
        why="One conducts still while the other does already: each change is a short.",
        short="dead time",
        station="sizes",
        title="The dead time is too short",
        tries=("longer_dead_time",),
    ),
    Record(
        "M3",
        catches=(
            "stall, or supply and motor together where it may be turned round at speed, over the"
            " peak rating; running current over the continuous one"
        ),
        severity="stop; running over its share fix",
        why="A motor that is held, starts or is turned round takes many times what it runs on.",
        short="stall",
        station="sizes",
        title="The motor is too much for the bridge",
        titles={"driver_current": "The driver is set higher than it bears"},
        advice=(
            "A bridge with a higher peak rating, its figures entered with the build; or a current"
            " limit of its own in front."
        ),
        tries=("rest_first", "less_current", "bridge", "let_be_sized"),
    ),
    Record(
        "M4",
        catches="a servo's pulse outside its range; a unit slip; ends the wrong way round",
        severity="stop",
        why="A servo goes where its pulse says, also where its arm cannot.",
        short="pulse",
        station="sizes",
        advice="Look for both ends in steps of 10 µs without strain, and enter them.",
    ),
    Record(
        "M6",
        catches="a register, expander or pulse driver keeps its outputs through reset",
        severity="stop for the hazard list; else fix",
        why="The board lets go in a reset; what it told a register stays told.",
        short="kept",
        station="pins",
        advice="A part with a line that releases its outputs, pulled to where it does.",
    ),
    Record(
        "M7",
        catches=(
            "one clock edge lost or gained puts every command one place off: what then acts, and"
            " whether a forbidden code is reached"
        ),
        severity="fix; stop where a forbidden code is armed",
        why="Program and part must read at the same edge; nobody sees it until something moves.",
        short="bit slip",
        station="pins",
    ),
    Record(
        "T9",
        catches="two entries claim one output of a chain; a number its chain does not have",
        severity="stop",
        why="What is sent one place off works, on the wrong load.",
        short="index",
        station="pins",
        advice="Put one of them on a free output.",
        tries=("pins",),
    ),
    Record(
        "M5",
        catches="servos stalled together over what their rail gives",
        severity="fix; on the board's pin stop",
        why="They start and stall together, and the board is on the same supply.",
        short="stalled",
        station="rails",
        titles={"servo_torque": "It is too weak for its arm, and stalls"},
        tries=("shorter_arm",),
    ),
)
