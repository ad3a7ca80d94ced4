"""The rehearsal, the MicroPython module and the C++ program give the same, step by step."""

from __future__ import annotations

import json
import random
import sys
from pathlib import Path

import pytest

from latchcore.behaviour.happenings import Happening
from tests.behaviour.neutral import Neutral
from tests.behaviour.random_ones import CHANNELS, STEP, a_behaviour, inputs
from tests.program.feeds import Feed, fed
from tests.program.runs import MICROPYTHON, in_cplusplus, in_python

CASES = json.loads((Path(__file__).parents[1] / "data" / "behaviour.json").read_text())["cases"]
SEEDS, STEPS = range(48), 120
pytestmark = pytest.mark.slow


def by_hand(seed: int) -> list[Happening]:
    """Words over the line now and then: levels, off, everything off."""
    chance, found = random.Random(seed * 31 + 7), []
    for n in range(STEPS):
        key = f"ch{chance.randint(1, len(CHANNELS))}"
        if chance.random() < 0.05:
            found.append(Happening(n * STEP, "line", key, chance.choice([0, 100, 100])))
        if chance.random() < 0.01:
            found.append(Happening(n * STEP, "all_off"))
    return found


@pytest.fixture(scope="module")
def feeds() -> list[Feed]:
    patch, found = pytest.MonkeyPatch(), []
    for case in CASES:
        given = Neutral(case["behaviour"])
        happenings = given.happenings(case["trace"], case.get("clock"))
        name = "reference_" + case["id"].replace("-", "_")
        found.append(fed(name, given.build, given.start, happenings, case["until_s"], patch))
    for seed in SEEDS:
        given = Neutral(a_behaviour(seed))
        happenings = given.happenings(inputs(seed, STEPS), None) + by_hand(seed)
        name = f"random_{seed}"
        found.append(fed(name, given.build, given.start, happenings, STEPS * STEP, patch))
    return found


def differences(feeds: list[Feed], ran: dict[str, list]) -> list[str]:
    """Where a program said something else first, of each that did."""
    found = []
    for feed in feeds:
        got = ran[feed.name]
        for n, (want, said) in enumerate(zip(feed.expected, got, strict=False)):
            if want != said:
                found.append(f"{feed.name}, {feed.given[n]}: wanted {want}, got {said}")
                break
        else:
            if len(got) != len(feed.expected):
                found.append(f"{feed.name}: {len(got)} steps of {len(feed.expected)}")
    return found


def test_the_module_agrees_under_cpython(feeds, tmp_path):
    assert not differences(feeds, in_python(sys.executable, feeds, tmp_path))


def test_the_module_agrees_under_micropython(feeds, tmp_path):
    assert not differences(feeds, in_python(MICROPYTHON, feeds, tmp_path))


def test_the_header_agrees_in_cplusplus(feeds, tmp_path):
    assert not differences(feeds, in_cplusplus(feeds, tmp_path))
