"""
Edges: every finding that rests on a measure stands a hair beyond its limit and not a hair before,
through the document.
"""

from __future__ import annotations

import json

import pytest

from tests.accounts import kept
from tests.edges import EDGES, HAIR, ground, knobs, measures, tripped, turned
from tests.grounds import said

FOUND = json.loads(EDGES.read_text(encoding="utf-8"))


@pytest.mark.parametrize(
    "name, stage, load, board, which, sound, over",
    FOUND,
    ids=[f"{row[0]} of {row[1]}" for row in FOUND],
)
def test_a_hair_decides(name, stage, load, board, which, sound, over):
    knob = knobs(stage, load)[which]
    build = ground(stage, load, board)
    before, beyond = turned(build, knob, sound), turned(build, knob, over)
    assert name not in tripped(before)
    assert name in tripped(beyond)
    kept(f"{name} of {stage} before", said(before))
    kept(f"{name} of {stage} beyond", said(beyond))
    assert measures(before)[name].verdict == "sound" and measures(beyond)[name].verdict != "sound"


def test_the_two_sides_of_an_edge_are_a_hair_apart():
    for *_, sound, over in FOUND:
        one, other = (float(text.split()[0]) for text in (sound, over))
        assert abs(one / other - 1) < 1.1 * HAIR
