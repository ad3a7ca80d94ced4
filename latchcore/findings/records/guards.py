"""Inputs, limits, rests and restarts."""

from __future__ import annotations

from latchcore.findings.records.record import Record

RECORDS = (
    Record(
        "T2",
        catches="minimum on or off time broken; interlock broken",
        severity="fix; stop",
        why="Compressors and such need rest between starts.",
        short="rest",
        station="mains",
        tries=("rests",),
        must_be_answered=True,
    ),
    Record(
        "T7",
        catches="toggle load commanded without known state; travel overdue not noticed",
        severity="fix",
        why="A load on one pulse line goes the way it did not go last.",
        short="which way",
        station="behaviour",
    ),
    Record(
        "T8",
        catches=(
            "rule drives its own sensor; limit points the wrong way; rule can hold a limited load"
            " on for ever"
        ),
        severity="fix; stop for the hazard list",
        why="A rule that feeds what it looks at runs away, or flutters.",
        short="own sensor",
        station="behaviour",
    ),
    Record(
        "T3",
        catches=(
            "unattended heat, water or motion without independent limit, feedback and time-out;"
            " limit that uses the control relay"
        ),
        severity="stop",
        why=(
            "What heats, floods or moves while nobody looks wants a limit the program cannot"
            " override."
        ),
        short="unguarded",
        station="mains",
        advice=(
            "Say how it is at the guards station: a cut-out in series that no program overrides, an"
            " input that confirms it, a longest on-time; or say that somebody watches."
        ),
        must_be_answered=True,
    ),
    Record(
        "T5",
        catches="sense input without pull, debounce or level shift",
        severity="fix; stop where over-voltage",
        why="An input that floats, bounces or meets the wrong level tells stories.",
        short="input",
        station="inputs",
        titles={
            "pull": "Nothing holds the open line",
            "open_level": "The pull is too weak for this lead",
            "debounce": "One press is counted several times",
            "level": "Its high level is too low to be read",
            "toward": "Our high level is too low for it",
            "source": "The source is too weak for an analogue input",
            "low_level": "Closed, it no longer reads low",
            "missed": "A movement can come and go unseen",
            "gap": "A present line reads as flickering",
            "span": "Its ends are too close to tell apart",
            "clips": "The sensor is at its end before the current is",
            "swing": "The running current is lost in noise",
            "peak": "The detector never sees the line high",
        },
        must_be_answered=True,
    ),
    Record(
        "T6",
        catches=(
            "tool, motion or heat restarts by itself when power returns; link lost leaves the last"
            " command"
        ),
        severity="stop",
        why="A tool that starts by itself when the power returns hurts somebody.",
        short="restart",
        station="mains",
        advice="Say at the guards station what it does when power returns.",
        tries=("stay_off",),
        must_be_answered=True,
    ),
)
