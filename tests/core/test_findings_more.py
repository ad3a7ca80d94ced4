"""Findings of switches, clamps and pins, the second part."""

import pytest

from latchcore.catalogue import load_catalogue
from latchcore.edits import EditError
from latchcore.evaluate import evaluate
from tests.core.benches import EIGHT_BIT, RADIO, bench, edited, findings
from tests.core.test_findings import SOUND, STRIP


@pytest.mark.parametrize("name", SOUND)
def test_no_finding_fires_on_a_sound_design(name):
    assert findings(SOUND[name]()) == {}


def test_a_bare_pin_is_one_mistake_and_one_finding():
    assert list(findings(bench(stage="direct_pin"))) == ["D12"]


def test_a_wrong_rail_is_not_reported_again_as_a_drop():
    assert list(findings(bench(**STRIP | {"voltage": "24 V"}))) == ["S8"]


def test_a_channel_without_a_line_says_so_and_nothing_else_breaks():
    build = bench(pin="L4", board=EIGHT_BIT)
    build = edited(build, ("set_pin", {"channel": "ch2", "pin": ""}))
    report = evaluate(build).channels[0]
    assert report.missing == ["pin"] and report.verdict == "open"
    assert not [f for f in report.findings if f.check in ("P3", "E1")]


def test_a_pull_down_at_a_line_that_must_be_high_to_start_is_held_against_the_weakest_pull_up():
    """Beside the limit: the weakest pull-up of the line against the resistor that is typed."""
    pin = next(p for p in load_catalogue().parts[RADIO].pins if p.start == "high" and p.pull)
    limits = load_catalogue().limits["start_level"]
    # V·R/(R + pull) is just the share that is wanted where R = pull·share/(1 − share).
    just = pin.pull.max * limits / (1 - limits)

    def at(ohms: float) -> bool:
        build = bench(
            "filament_lamp",
            figure="2 W",
            stage="nmos_low_side",
            pin=pin.id,
            settings={"pull_resistor": f"{ohms:.6g} Ω 0.01 %"},
        )
        return "P4" in findings(build)

    assert at(just * 0.995) and not at(just * 1.005)


def test_a_rail_that_is_none_is_refused_where_a_stage_asks_for_one():
    with pytest.raises(EditError, match="five volts"):
        bench("heater", stage="relay_contact", settings={"coil_rail": "five volts"})


@pytest.mark.parametrize("typed, means", [("yes", True), ("no", False)])
def test_stock_is_preferred_by_word(typed, means):
    build = edited(bench(), ("set_conditions", {"prefer_stock": typed}))
    assert build.prefer_stock is means
