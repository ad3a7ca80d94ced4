"""Coils: whether they pull in, hold, let go, and what catches them."""

from __future__ import annotations

from latchcore.findings.records.record import Record

RECORDS = (
    Record(
        "C1",
        catches="coil below pull-in at hot, low supply",
        one_cause=(("coil_pull_in", "coil_pull_in_cold"), ("main_coil", "main_coil_typ")),
        done_by=("module",),
        severity="stop at typical, fix at corner",
        why="A coil that does not pull in hums, heats and switches nothing.",
        short="pull-in",
        station="sizes",
        title="The coil may not pull in",
        advice="Raise the supply, or use a coil for a lower voltage.",
        yields_to=("D12",),
        tries=(
            "full_first",
            "part",
            "coil_rails",
            "rails",
            "let_be_sized",
            "stages",
            "wire",
            "own_supply",
            "higher_supply",
        ),
    ),
    Record(
        "C2",
        catches="coil above its maximum",
        done_by=("module",),
        severity="stop",
        why="A coil over its volts burns.",
        short="over-volts",
        station="sizes",
        title="The coil gets too many volts",
        advice="Lower the supply, or use a coil for this voltage.",
        titles={"winding_current": "A winding carries too much"},
        tries=(
            "less_current",
            "coil_rails",
            "rails",
            "let_be_sized",
            "coil_regulator",
            "own_supply",
        ),
    ),
    Record(
        "C3",
        catches="hold level under the hold limit",
        severity="stop",
        why="Held with too little it lets go at the first shake.",
        short="not held",
        station="sizes",
        title="The coil is not held",
        tries=(
            "hold_duty",
            "no_pulses",
            "let_be_sized",
        ),
    ),
    Record(
        "C4",
        catches="no clamp on a DC coil or motor",
        severity="stop",
        why="An opened coil drives its switch to hundreds of volts.",
        short="no clamp",
        station="sizes",
        tries=(
            "add_clamp",
            "load_clamp",
        ),
    ),
    Record(
        "C5",
        catches="clamp reversed; plain diode on AC; single diode on a reversing motor",
        severity="stop",
        why="Turned round, or of the wrong kind, a clamp is a short or no clamp.",
        short="clamp",
        station="sizes",
        tries=(
            "turn_clamp",
            "load_clamp",
        ),
    ),
    Record(
        "C6",
        catches="clamp rating short",
        severity="fix",
        why="The clamp takes the coil's whole current at the moment of opening.",
        short="clamp",
        station="sizes",
        title="The clamp is rated short",
        tries=(
            "clamp_part",
            "let_be_sized",
        ),
    ),
    Record(
        "C7",
        catches="release time over what the job allows",
        severity="fix, with the zener that mends it",
        why="The slower a coil dies, the longer its contact or plunger lingers.",
        short="release",
        station="sizes",
        title="The coil lets go too late",
        advice=(
            "Nothing in the drawer lets it go that soon below what the switch blocks: a switch for"
            " more volts, then a higher zener."
        ),
        tries=(
            "higher_zener",
            "let_be_sized",
        ),
    ),
    Record(
        "C8",
        catches=(
            "on-time or duty over the coil's rating by program; no hardware limit on a pulse coil"
        ),
        severity="stop / fix",
        why="Coils for short pulses burn when they stay on.",
        short="on-time",
        station="sizes",
        title="The one-shot does not fit this pulse",
        advice=(
            "Let the program end it within what it bears, and end it in hardware besides: a timer,"
            " a thermal cut-out or a capacitor that empties; then enter after how long."
        ),
        tries=(
            "program_ends",
            "longer_pulse",
            "ends_in_hardware",
        ),
    ),
)
