"""Lines of the board: what they give, what they do before the program runs."""

from __future__ import annotations

from latchcore.findings.records.record import Record

RECORDS = (
    Record(
        "P1",
        catches="pin current over absolute / over recommended",
        severity="stop / fix",
        why="A pin overloaded drops its level first and fails later.",
        short="pin current",
        station="pins",
        title="The pin gives more current than it should",
        yields_to=("D12",),
        tries=(
            "resistors",
            "pull",
            "module_ways",
            "let_be_sized",
            "stages",
        ),
    ),
    Record(
        "P2",
        catches="group or board total over limit / over recommended",
        severity="stop / fix",
        why="The chip shares its supply leads; together its pins may give less than each alone.",
        short="board total",
        station="pins",
        advice=(
            "Give the loads with the most pin current a MOSFET, or use a board that may give more."
        ),
    ),
    Record(
        "P3",
        catches="pin that cannot output, or is owned by flash, upload, USB or a bus in use",
        severity="stop",
        why=(
            "A line that cannot drive, or serves the board itself, stops either the load or the"
            " board."
        ),
        short="pin",
        station="pins",
        advice="Use another pin, or a board with more outputs.",
        tries=("pins",),
    ),
    Record(
        "P4",
        catches="start-up pin pulled against its required level",
        severity="stop",
        why="Held at the wrong level the board starts something other than its program.",
        short="start-up",
        station="pins",
        tries=(
            "pull",
            "pins",
        ),
    ),
    Record(
        "P5",
        catches="pin driven, weakly pulled or twitching at boot so that the load acts",
        severity="stop for the hazard list; else fix",
        why="Before the program runs nobody holds the pin: what it does then, the load does.",
        short="at boot",
        station="pins",
        tries=("pins",),
    ),
    Record(
        "P6",
        catches=(
            "nothing, or too weak a pull, decides the stage's state while the pin floats or is"
            " weakly pulled"
        ),
        severity="stop for the hazard list; else fix",
        why="Between power-on and the first line of the program only a resistor decides.",
        short="floats",
        station="pins",
        yields_to=("P8",),
        tries=(
            "pull",
            "quiet_pin",
            "module_ways",
            "stages",
        ),
    ),
    Record(
        "P7",
        catches="logic level or current too low to turn the stage on",
        done_by=("module",),
        severity="stop",
        why=(
            "The level or current the input is made for is not reached, so nothing turns on for"
            " certain."
        ),
        short="level",
        station="pins",
        title="The logic level cannot turn this on",
        advice=(
            "Put a level shifter or an optocoupler between pin and stage, or use a board with a"
            " higher logic level."
        ),
        yields_to=("D12",),
        tries=(
            "strip_data",
            "part",
            "module_ways",
            "let_be_sized",
            "stages",
        ),
    ),
    Record(
        "P8",
        catches="logic level cannot turn the stage off",
        done_by=("module",),
        severity="stop",
        why="At the level that should mean off it still draws enough to stay on.",
        short="level",
        station="pins",
        title="The logic level cannot turn this off",
        tries=(
            "module_ways",
            "let_be_sized",
        ),
    ),
    Record(
        "P9",
        catches="pin sees more than it tolerates",
        done_by=("module",),
        severity="stop",
        why="Above its supply a pin conducts into the board and breaks.",
        short="pin volts",
        station="pins",
        title="The pin sees more than it tolerates",
        titles={"tolerance": "The pin sees more than it bears"},
        yields_to=(
            "D8",
            "P8",
        ),
        tries=(
            "led_to_ground",
            "shifter",
            "module_ways",
            "rails",
            "let_be_sized",
            "stages",
            "any_fitting_stage",
        ),
    ),
    Record(
        "P10",
        catches=(
            "pin used twice; PWM, interrupt or analogue wanted where there is none; timer shared"
            " with incompatible use"
        ),
        severity="stop",
        why="Two masters on one line, or a line that cannot do what is asked of it.",
        short="pin",
        station="pins",
        tries=("pins",),
    ),
    Record(
        "P11",
        catches="more lines wanted than the board has",
        severity="stop, with the ways out",
        why="Something has to change: another board, an expander, lines shared on purpose.",
        short="lines",
        station="pins",
        advice=(
            "Give the rest another module number at the stage, or choose a module with more"
            " channels."
        ),
    ),
    Record(
        "P12",
        catches="active level unknown or contradicting between channel and module",
        done_by=("module",),
        severity="check / stop",
        why="Everything works the wrong way round: off is on, and on is off.",
        short="level",
        station="pins",
        tries=("level",),
    ),
    Record(
        "P13",
        catches=(
            "stage turns on, or back-feeds the board, when the board is unpowered and the load"
            " supply live"
        ),
        done_by=("module",),
        severity="stop for the hazard list; else fix",
        why="A dead board lets current into its supply through the pin, and the load may stand on.",
        short="back-feed",
        station="pins",
        advice="Feed the load from a rail that dies with the board, or put a transistor between.",
        yields_to=(
            "D8",
            "P8",
        ),
        tries=(
            "led_to_ground",
            "shifter",
            "module_ways",
            "rails",
        ),
    ),
    Record(
        "P14",
        catches="program hung with output on has no watchdog or hardware limit",
        severity="stop for the hazard list; else note",
        why="A program that hangs leaves its outputs as they are.",
        short="hung",
        station="pins",
        tries=("watchdog",),
    ),
)
