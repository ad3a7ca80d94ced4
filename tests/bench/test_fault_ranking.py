"""How likely each cause is after some readings, and which to take next, worked out elsewhere."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from latchcore.procedure.ranking import OL, Reading, Window, rank

CASES = json.loads((Path(__file__).parents[1] / "data" / "fault_ranking.json").read_text())["cases"]


def window(given) -> Window | None:
    if given is None:
        return None
    if given == OL:
        return Window(over=True)
    if isinstance(given[0], str):
        return Window(words=frozenset(given))
    return Window(given[0], None if given[1] == OL else given[1], given[1] == OL)


def reading(given: dict) -> Reading:
    least, most = given.get("range") or (None, None)
    windows = {cause: window(w) for cause, w in given["windows"].items()}
    return Reading(
        given["id"], given["effort"], given["hazard"], windows, least, most,
        bool(given.get("over")), tuple(given.get("outcomes", ())),
    )  # fmt: skip


def ranked(case: dict):
    weights = {c["id"]: c["weight"] for c in case["causes"]}
    taken = [(t["reading"], t["value"]) for t in case["taken"]]
    return rank(weights, [reading(r) for r in case["readings"]], taken)


@pytest.mark.parametrize("case", CASES, ids=lambda c: c["id"])
def test_causes_are_ranked_and_the_next_reading_proposed(case):
    got, want = ranked(case), case["expect"]
    assert got.posterior == pytest.approx(want["posterior"], abs=2e-6)
    assert got.entropy == pytest.approx(want["entropy_bit"], abs=2e-6)
    assert got.fall == pytest.approx(want["fall_bit"], abs=2e-6)
    assert got.per_effort == pytest.approx(want["per_effort"], abs=2e-6)
    assert got.next == want["next"]


def test_a_cause_more_does_not_change_how_two_compare():
    x = Reading("x", 2, False, {"a": Window(0, 1), "b": Window(2, 4), "c": None}, -20, 20)
    two = rank({"a": 3, "b": 1}, [x], [("x", 0.4)]).posterior
    three = rank({"a": 3, "b": 1, "c": 5}, [x], [("x", 0.4)]).posterior
    assert two["a"] / two["b"] == pytest.approx(three["a"] / three["b"])


def test_what_fits_nothing_raises_none_of_these():
    x = Reading("x", 2, False, {"a": Window(0, 1), "b": Window(2, 4)}, -20, 20)
    assert rank({"a": 1, "b": 1}, [x], [("x", 9.0)]).posterior["none"] > 0.05
    assert rank({"a": 1, "b": 1}, [x], [("x", 0.5)]).posterior["none"] < 0.05
