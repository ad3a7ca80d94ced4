"""The reference behaviours, step by step."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from latchcore.behaviour.compiling import compiled
from latchcore.behaviour.rehearsal import Runner
from tests.behaviour.neutral import Neutral

DATA = Path(__file__).parents[1] / "data" / "behaviour.json"
CASES = json.loads(DATA.read_text())["cases"]


@pytest.mark.parametrize("every", [True, False], ids=["every", "skipping"])
@pytest.mark.parametrize("case", CASES, ids=lambda c: c["id"])
def test_a_reference_behaviour_gives_its_trace(case, every):
    given = Neutral(case["behaviour"])
    runner = Runner(compiled(given.build), given.start, every)
    ran = runner.run(given.happenings(case["trace"], case.get("clock")), case["until_s"])
    step, channels = case["behaviour"]["step_s"], list(given.channels)

    def value(written):
        on = channels[written.channel] not in given.levels and written.level > 0
        return 1 if on else written.level

    got = [(w.step, channels[w.channel], value(w), w.reason) for w in ran.changes]
    expect = case["expect"]
    assert got == [
        (round(o["t"] / step), o["channel"], o["value"], o["reason"]) for o in expect["outputs"]
    ]
    assert sorted((a.step, a.alarm, given.names[a.of]) for a in ran.alarms) == sorted(
        (round(a["t"] / step), a["alarm"], a["of"]) for a in expect["alarms"]
    )
    assert sorted((s.step, channels[s.channel], s.state) for s in ran.states) == sorted(
        (round(s["t"] / step), s["channel"], s["state"]) for s in expect.get("states", [])
    )
