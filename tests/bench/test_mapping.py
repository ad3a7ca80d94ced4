"""Mapping a keypad: what X4 asks first, the pattern behind the hits, the pair that tells most."""

from __future__ import annotations

import random
from itertools import combinations

import pytest

from latchcore.document.models import Build
from latchcore.edits import EditError, apply
from latchcore.procedure.mapping import (
    MappingError,
    halves,
    may_be_mapped,
    pair_of,
    pattern_of,
    propose,
)


@pytest.mark.parametrize(
    ("supply", "stores", "volts", "way"),
    [
        ("isolated_low", "no", {1: 0.0, 2: 29.99}, "live"),
        ("isolated_low", "no", {1: 0.0, 2: -29.99}, "live"),
        ("isolated_low", "no", {1: 0.0, 2: 30.0}, "dead"),
        ("isolated_low", "no", {1: 0.0, 2: -30.0}, "dead"),
        ("isolated_low", "no", {1: 0.0}, "dead"),
        ("mains", "no", {1: 0.0, 2: 0.0}, "dead"),
        ("unknown", "no", {1: 0.0, 2: 0.0}, "dead"),
        ("isolated_low", "unknown", {1: 0.0, 2: 0.0}, "never"),
        ("isolated_low", "yes", {1: 0.0, 2: 0.0}, "never"),
    ],
)
def test_pairs_are_tried_only_where_that_is_known_to_be_harmless(supply, stores, volts, way):
    found = may_be_mapped(supply, stores, volts, 2)
    assert found.way == way and found.why


def test_a_grid_is_seen_whichever_corner_comes_first():
    rows, columns = (2, 5, 7), (1, 3, 8)
    hits = [(min(r, c), max(r, c)) for r in rows for c in columns]
    random.Random(2).shuffle(hits)
    found = pattern_of(hits)
    assert found.kind == "matrix"
    assert {found.rows, found.columns} == {rows, columns}


def test_one_conductor_in_common_and_pairs_of_their_own():
    assert pattern_of([(1, 4), (2, 4), (4, 9)]).rows == (4,)
    assert pattern_of([(1, 4), (2, 5)]).kind == "pairs"
    assert pattern_of([]).kind == "none"
    assert pattern_of([(1, 2), (2, 3), (1, 3)]).kind == "odd"


def tries_for(buttons: set, order=None) -> int:
    tried: dict[tuple[int, int], bool] = {}
    for pair in order or ():
        tried[pair] = pair in buttons
        if buttons <= {p for p, did in tried.items() if did}:
            return len(tried)
    while not buttons <= {p for p, did in tried.items() if did}:
        pair, worth = propose(range(1, 9), tried)
        assert pair not in tried and worth > 0
        tried[pair] = pair in buttons
    return len(tried)


def test_what_is_proposed_finds_grids_in_fewer_tries_than_going_through_all():
    chance, proposed, in_order = random.Random(3), 0, 0
    for _ in range(20):
        mixed = chance.sample(range(1, 9), 7)
        buttons = {(min(r, c), max(r, c)) for r in mixed[:3] for c in mixed[3:]}
        proposed += tries_for(buttons)
        in_order += tries_for(buttons, combinations(range(1, 9), 2))
    assert proposed < 0.9 * in_order


def test_along_one_side_of_a_grid_nothing_is_expected():
    tried = {(1, 4): True, (1, 5): True, (2, 4): True}
    pair, _ = propose([1, 2, 4, 5], tried)
    assert pair == (2, 5)
    tried[2, 5] = True
    pair, worth = propose([1, 2, 4, 5], tried)
    assert pair in ((1, 2), (4, 5)) and worth < 0.2
    assert propose([1, 2], {(1, 2): False}) is None


def test_halves_and_pairs_have_their_limits():
    assert halves([4]) == ((4,), ())
    assert pair_of(5, 2, 8) == (2, 5)
    for one, other in ((0, 1), (1, 9), (3, 3)):
        with pytest.raises(MappingError):
            pair_of(one, other, 8)


def test_mapped_buttons_become_channels_and_a_row_of_presses():
    build, said = apply(
        Build(name="Kiosk"), "add_buttons",
        {"voltage": "5 V", "figure": "1 mA", "names": "Start (1-4)\nStop (2-4)",
         "holds": "150 ms\n", "gaps": "\n400 ms"},
    )  # fmt: skip
    assert "2 mapped buttons" in said
    assert [c.load.kind for c in build.channels] == ["button_pair"] * 2
    presses = build.behaviour.macros[0].presses
    assert [(p.channel, p.hold, p.gap) for p in presses] == [
        (build.channels[0].id, "150 ms", "200 ms"), (build.channels[1].id, "100 ms", "400 ms"),
    ]  # fmt: skip


@pytest.mark.parametrize("names", ["", "\n \n", "\n".join(f"b{n}" for n in range(33))])
def test_no_buttons_or_too_many_are_refused(names):
    with pytest.raises(EditError, match="expected 1 to 32"):
        apply(Build(name="Kiosk"), "add_buttons",
              {"voltage": "5 V", "figure": "1 mA", "names": names})  # fmt: skip


def test_a_press_that_is_no_time_changes_nothing():
    with pytest.raises(EditError):
        given = {"voltage": "5 V", "figure": "1 mA", "names": "Start", "holds": "a while"}
        apply(Build(name="Kiosk"), "add_buttons", given)
