"""Solid-state switches of alternating current."""

from __future__ import annotations

from latchcore.findings.records.record import Record

RECORDS = (
    Record(
        "A1",
        catches="AC output device on DC; DC device on AC",
        severity="stop",
        why=(
            "Triacs and such never turn off on direct current; direct-current switches die on"
            " alternating."
        ),
        short="current kind",
        station="sizes",
        advice="Use a stage made for this kind of current, or a rail of the other kind.",
        tries=(
            "other_output",
            "stages",
            "any_fitting_stage",
        ),
        silences_all_but=("P3", "P5", "P10"),
    ),
    Record(
        "A2",
        catches="zero-cross device asked to dim; dimmer on a load that cannot be dimmed",
        severity="stop; zero-cross device on a transformer fix",
        why=(
            "A device that waits for the zero gives whole half-cycles only, and some loads break"
            " when they are cut."
        ),
        short="dimming",
        station="sizes",
        tries=(
            "any_moment",
            "other_output",
            "stages",
        ),
    ),
    Record(
        "A3",
        catches="heat sink missing or too small",
        one_cause=(("junction", "sink"),),
        severity="stop",
        why="A volt or so times the current has to leave as heat.",
        short="heat",
        station="sizes",
        title="The switch gets too hot for its sink",
        advice=(
            "A sink with a lower figure, moving air, or a part with a lower drop; enter what is"
            " fitted."
        ),
        tries=(
            "let_be_sized",
            "stages",
        ),
    ),
    Record(
        "A4",
        catches="leakage or holding current against a small load",
        severity="fix",
        why="What leaks keeps a small load alight, what it cannot hold drops out.",
        short="leakage",
        station="sizes",
        title="The load is too small for what its output leaks or holds",
        advice=(
            "Use a relay or a contactor, or a part that leaks and holds less; a resistor beside the"
            " load would take up what leaks, but it runs hot on the line."
        ),
        tries=(
            "bypass",
            "other_output",
            "let_be_sized",
            "stages",
        ),
    ),
    Record(
        "A5",
        catches="inductive load, no snubber; wrong capacitor class",
        severity="fix / stop",
        why=(
            "The current of an inductive load is late: the device sees a jump of volts when it"
            " opens."
        ),
        short="snubber",
        station="sizes",
        tries=(
            "snubber",
            "load_clamp",
        ),
    ),
    Record(
        "A6",
        catches="voltage class of device or varistor too low",
        severity="stop",
        why="The line has peaks, and transients on top of them.",
        short="class",
        station="sizes",
        title="The voltage class is too low for this line",
        tries=("let_be_sized",),
    ),
    Record(
        "A7",
        catches="fuse I²t over the device's",
        severity="check",
        why="A semiconductor is gone before an ordinary fuse melts.",
        short="fuse",
        station="sizes",
    ),
    Record(
        "A8",
        catches="driver LED current under trigger; gate resistor out of window",
        one_cause=(("fires", "driver_surge"),),
        severity="stop / fix",
        why="Fired weakly a triac fires late, on one side, or not.",
        short="gate",
        station="sizes",
        title="The triac is not fired as it should be",
        advice=(
            "Use a triac with a lower gate current, or a solid-state device; at low voltage a"
            " contact serves."
        ),
        tries=(
            "longer_gate",
            "let_be_sized",
            "stages",
        ),
    ),
    Record(
        "A9",
        catches="solid-state device relied on for isolation",
        severity="stop",
        why="Off is not isolated: it leaks, and it fails shorted.",
        short="no gap",
        station="sizes",
        tries=(
            "other_output",
            "stages",
        ),
    ),
    Record(
        "A10",
        catches="firing window overruns the half-cycle at a frequency corner",
        severity="fix",
        why="A pulse that runs into the next half-cycle fires at full power.",
        short="delay",
        station="sizes",
        title="A delay of the program runs out of the half-cycle",
        tries=("firing_window", "seems_late", "let_be_sized"),
    ),
)
