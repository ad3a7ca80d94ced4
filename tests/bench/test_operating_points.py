"""Operating points of small circuits, found elsewhere by trying every combination of pieces."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from latchcore.bench.solver import Part, solve

CASES = json.loads((Path(__file__).parents[1] / "data" / "operating_points.json").read_text())
WORDS = ("id", "kind", "at")


def circuit(parts: list[dict]) -> list[Part]:
    return [
        Part(p["id"], p["kind"], p["at"], {k: v for k, v in p.items() if k not in WORDS})
        for p in parts
    ]


def matches(got: float | None, want: float | None, tolerance: float) -> bool:
    if want is None or got is None:
        return got is want
    return abs(got - want) <= (tolerance * abs(want) if want else 1e-7)


@pytest.mark.parametrize("case", CASES["cases"], ids=lambda c: c["id"])
def test_operating_point(case):
    point, want = solve(circuit(case["parts"])), case["expect"]
    assert point.chatters == want.get("chatters", [])
    assert point.undecided == want.get("undecided", [])
    for part, state in want.get("states", {}).items():
        assert point.states[part] == state, part
    for node, against, volts in want.get("volts", []):
        got = point.volts(node, against)
        assert matches(got, volts, case["rel_tol"]), (node, got, volts)
    for terminal, amps in want.get("amps", {}).items():
        got = point.amps_into(terminal)
        assert matches(got, amps, case["rel_tol"]), (terminal, got, amps)
