"""Rails, sources, wires and fuses."""

from __future__ import annotations

from latchcore.findings.records.record import Record

RECORDS = (
    Record(
        "S1",
        catches="rail overloaded: everything on / worst instant",
        severity="stop / fix",
        why="An overloaded source sags, trips or burns.",
        short="overload",
        station="rails",
    ),
    Record(
        "S2",
        catches="headroom under 20 %",
        severity="note",
        why="Supplies age, loads are added.",
        short="little in hand",
        station="rails",
    ),
    Record(
        "S3",
        catches="coil or motor fed from a board pin beyond its budget",
        severity="stop",
        why="The track and regulator behind a board's pin are made for the board.",
        short="board pin",
        station="rails",
    ),
    Record(
        "S4",
        catches="regulator too hot, or in drop-out",
        severity="stop",
        why="A regulator that is too hot or too low in hand gives what is left, ripple and all.",
        short="regulator",
        station="rails",
    ),
    Record(
        "S5",
        catches="sag below the board's brown-out",
        severity="fix",
        why="Below its brown-out the board resets, and lets everything go at once.",
        short="brown-out",
        station="rails",
    ),
    Record(
        "S6",
        catches="wire over ampacity; drop over 5 % / 3 %",
        severity="stop; fix / note",
        why="A thin wire heats, and what it loses the load lacks.",
        short="wire",
        station="rails",
        advice="Shorten the wire, or feed the load from a rail near it.",
        tries=("wire",),
    ),
    Record(
        "S7",
        catches=(
            "fuse missing, above wire, plug or contact, melting in the surge, wrong voltage or"
            " breaking capacity"
        ),
        severity="stop for mains, batteries and sources able to exceed the wire; else fix",
        why="A fuse protects the wire and what cannot break a short; it must outlast the start.",
        short="fuse",
        station="rails",
        tries=("own_fuse",),
    ),
    Record(
        "S8",
        catches="rail voltage or kind does not fit the load",
        done_by=("rail",),
        severity="stop",
        why="The wrong volts or kind of current: it burns, or does nothing.",
        short="rail",
        station="rails",
        title="The rail is too high for what it feeds",
        advice="Use a supply of the load's own voltage, or a load for this rail.",
        tries=(
            "let_be_sized",
            "rails",
            "fitting_stages",
            "any_fitting_stage",
            "own_supply",
            "coil_rails",
        ),
    ),
    Record(
        "S9",
        catches="outputs paralleled; back-feeding",
        severity="stop",
        why="Two sources on one line drive into each other.",
        short="joined",
        station="rails",
        advice=(
            "Give the line a pause longer than the slowest release, or wire one contact so that it"
            " stops the other; at the loads."
        ),
    ),
    Record(
        "S10",
        catches="battery time under what is wanted; lithium without protection",
        severity="note / stop",
        why="A battery is empty before it is wanted to be, or burns.",
        short="battery",
        station="rails",
    ),
    Record(
        "S11",
        catches=(
            "controller fed from the rail it switches off; unpowered board driven by a powered"
            " part; shared conductor over its limit"
        ),
        severity="stop / stop / stop or fix",
        why="The board dies by its own hand, or is fed where it should be dead.",
        short="feed",
        station="rails",
        titles={
            "dead": "It feeds the board while the board is dead",
            "dead_device": "It feeds the other device while that is dead",
        },
        title="It feeds the other device while that is dead",
    ),
    Record(
        "S12",
        catches="reversal or braking raises the rail over a part's limit",
        severity="fix",
        why="What is braked gives its energy back, and the rail takes it.",
        short="lifted",
        station="rails",
    ),
)
