"""Findings of switches, clamps and pins, the second part."""

import pytest

from latchcore.evaluate import evaluate
from tests.core.benches import EIGHT_BIT, bench, edited, findings
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
