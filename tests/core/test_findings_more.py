"""Findings of switches, clamps and pins, the second part."""

import pytest

from tests.core.benches import bench, findings
from tests.core.test_findings import SOUND, STRIP


@pytest.mark.parametrize("name", SOUND)
def test_no_finding_fires_on_a_sound_design(name):
    assert findings(SOUND[name]()) == {}


def test_a_bare_pin_is_one_mistake_and_one_finding():
    assert list(findings(bench(stage="direct_pin"))) == ["D12"]


def test_a_wrong_rail_is_not_reported_again_as_a_drop():
    assert list(findings(bench(**STRIP | {"voltage": "24 V"}))) == ["S8"]
