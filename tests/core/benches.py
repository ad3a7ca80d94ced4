"""Small benches the tests build on: one board, the usual rails, one channel."""

from __future__ import annotations

from latchcore.catalogue import load_catalogue
from latchcore.document.models import Build
from latchcore.edits import apply
from latchcore.evaluate import evaluate

EIGHT_BIT, RADIO, COMPUTER = "board-8bit-5v-20", "board-radio-3v3", "board-sbc-3v3-40"
QUIET_PIN = {EIGHT_BIT: "L4", RADIO: "P25", COMPUTER: "N22"}


def edited(build: Build, *edits: tuple[str, dict]) -> Build:
    """A build after some edits."""
    for name, args in edits:
        build, _ = apply(build, name, args)
    return build


def bench(
    kind="relay_coil",
    voltage="12 V",
    figure="400 Ω",
    *,
    board=RADIO,
    pin=None,
    rail="12 V",
    rating="20 A",
    stage="npn_low_side",
    source="adapter",
    settings=None,
    load=None,
    conditions=None,
    switching=None,
) -> Build:
    """One channel on one rail; the channel is ch2, the rail rail1."""
    build = edited(
        Build(name="bench"),
        ("set_board", {"board": board}),
        ("set_watchdog", {"watchdog": "yes"}),
        ("add_rail", {"voltage": rail, "rating": rating, "source": source}),
        (
            "add_channel",
            {
                "kind": kind,
                "voltage": voltage,
                "figure": figure,
                "stage": stage,
                "rail": "rail1",
                "pin": pin or QUIET_PIN.get(board, ""),
            },
        ),
    )
    if stage == "register_output":
        build = edited(
            build,
            ("add_chain", {"part": "chain-register-8-power"}),
            ("set_stage", {"channel": "ch2", "stage": stage}),
        )
    if conditions:
        build = edited(build, ("set_conditions", conditions))
    if switching:
        build = edited(build, ("set_switching", {"channel": "ch2", **switching}))
    if load:
        build = edited(build, ("set_load", {"channel": "ch2", **load}))
    if settings:
        build = edited(build, ("set_setting", {"channel": "ch2", **settings}))
    return build


def with_part(build: Build, base: str, **figures: str) -> Build:
    """The build with a part of its own, a variant of a generic one, called "own"."""
    raw = dict(load_catalogue().raw[base]) | {"id": "own", "title": "own part"} | figures
    return build.model_copy(update={"parts": {**build.parts, "own": raw}})


def result(build: Build):
    """The stage result of the one channel."""
    return evaluate(build).channels[0].result


def findings(build: Build) -> dict[str, str]:
    """Severity by check, the worst where a check stands at several places."""
    found: dict[str, str] = {}
    for finding in evaluate(build).all_findings:
        found.setdefault(finding.check, finding.severity)
    return found
