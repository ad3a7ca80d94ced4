"""Isolation proved on graphs, and read off the netlists of whole builds."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue, read_part
from latchcore.design.context import BuildContext
from latchcore.evaluate import evaluate
from latchcore.metal.islands import STRENGTH, islands
from latchcore.metal.netlist import Netlist
from latchcore.whole.barriers import barrier_map, bypasses
from tests.core.benches import EIGHT_BIT, bench, edited, findings, with_part
from tests.core.test_contact_use import on_mains
from tests.core.test_relays import contact, on_module

NODES = "abcdefg"
node = st.sampled_from(NODES)
graphs = st.tuples(
    st.lists(st.tuples(node, node), max_size=4),
    st.lists(st.tuples(node, node, st.sampled_from(sorted(STRENGTH))), max_size=9),
    st.sets(node, max_size=3),
)


def separation(links, barriers, touchable=()):
    found = islands(
        NODES, links, [(a, b, kind, f"{a}{b}") for a, b, kind in barriers], touchable=touchable
    )
    worth = {}
    for a in NODES:
        for b in NODES:
            strength = found.strength(found.of(a), found.of(b))[0]
            worth[a, b] = 99 if strength is None else strength
    return worth


@settings(max_examples=120, deadline=None)
@given(graphs, node, node)
def test_a_link_more_never_separates_better(graph, a, b):
    links, barriers, _ = graph
    before, after = separation(links, barriers), separation([*links, (a, b)], barriers)
    assert all(after[pair] <= before[pair] for pair in before)


@settings(max_examples=60, deadline=None)
@given(graphs, node, node)
def test_taking_the_link_away_again_restores_it(graph, a, b):
    links, barriers, touchable = graph
    before = separation(links, barriers, touchable)
    assert (
        separation([*links, (a, b)][:-1], barriers, touchable) == before
        and separation(links, barriers, touchable)[a, a] == 0
    )


@settings(max_examples=60, deadline=None)
@given(graphs)
def test_separation_is_the_same_both_ways(graph):
    links, barriers, touchable = graph
    worth = separation(links, barriers, touchable)
    assert all(worth[a, b] == worth[b, a] for a, b in worth)


@settings(max_examples=60, deadline=None)
@given(graphs)
def test_the_walk_for_large_maps_never_says_stronger_than_listing_every_way(graph):
    from unittest.mock import patch

    links, barriers, touchable = graph
    listed = separation(links, barriers, touchable)
    with patch("latchcore.metal.islands.MOST_LISTED", 0):
        walked = separation(links, barriers, touchable)
    assert all(walked[pair] <= listed[pair] for pair in listed) and all(
        (walked[p] == 99) == (listed[p] == 99) for p in listed
    )


@given(st.sampled_from(["coupler", "relay", "reed", "pv_coupler"]), st.booleans())
def test_a_barrier_with_a_wire_beside_it_is_reported_with_the_way_round(kind, wired):
    sides = {
        "coupler": ("A", "K", "C", "E"),
        "relay": ("1", "2", "COM", "NO"),
        "reed": ("1", "2", "3", "4"),
        "pv_coupler": ("A", "K", "+", "-"),
    }[kind]
    n = Netlist()
    n.add("X1", kind, "part", "ch1", barrier="basic", **dict(zip(sides, "abcd", strict=True)))
    n.add("R1", "resistor", "1k", "ch1", **{"1": "b", "2": "m"})
    if wired:
        n.add("W1", "wire", "shield", None, **{"1": "m", "2": "c"})
    found = bypasses(n)
    assert bool(found) == wired
    if wired:
        assert found[0].ref == "X1" and set(found[0].way) == {"R1", "W1"}


def test_a_barrier_both_of_whose_sides_share_a_node_is_bypassed_at_that_node():
    n = Netlist()
    n.add(
        "K1",
        "relay",
        "relay",
        "ch1",
        barrier="basic",
        **{"1": "rail1", "2": "sw", "COM": "rail1", "NO": "out"},
    )
    assert bypasses(n)[0].way == ("rail1",)


def the_map(build):
    return barrier_map(BuildContext(build, load_catalogue()), evaluate(build).netlist)


def test_a_mains_relay_with_its_distance_is_an_island_behind_a_reinforced_gate():
    found = the_map(on_mains())
    board = next(i for i in found.islands if "board" in i.titles)
    mains = next(i for i in found.islands if i.kind == "hazardous")
    assert found.gates[0].kind == "reinforced" and {found.gates[0].one, found.gates[0].other} == {
        board.index,
        mains.index,
    }
    assert (
        mains.volts == pytest.approx(253)
        and mains.loads
        and not mains.touchable
        and all(p.sufficient for p in found.pairs)
    )


def hazard(build):
    return {(f.check, f.severity) for f in evaluate(build).findings if f.check[0] == "I"}


#: Test voltage and way along the surface of a class, each just over what it takes.
BORNE = {"reinforced": ("4 kV", 6.0), "basic": ("1.5 kV", 3.0), "functional": ("1.4 kV", 8.0)}


@pytest.mark.parametrize(
    "barrier, earthed, fits",
    [
        ("reinforced", "no", True),
        ("basic", "no", False),
        ("basic", "yes", True),
        ("functional", "no", False),
        ("functional", "yes", False),
    ],
)
def test_what_stands_between_the_line_and_a_hand(barrier, earthed, fits):
    volts, way = BORNE[barrier]
    part = {"barrier": "reinforced", "test_voltage": volts, "creepage": way}
    build = edited(
        with_part(on_mains(), "relay-12v-2pole-8a", **part),
        ("set_setting", {"channel": "ch2", "relay": "own"}),
        ("set_rail", {"rail": "rail3", "earthed": earthed}),
    )
    assert hazard(build) == (set() if fits else {("I2", "stop")})


@pytest.mark.parametrize(
    ("volts", "way", "asked"), [("5 kV", 8.0, False), (None, 8.0, True), ("5 kV", None, True)]
)
def test_a_word_is_no_barrier_and_asks_for_the_figure_it_lacks(volts, way, asked):
    part = {"barrier": "reinforced", "test_voltage": volts, "creepage": way}
    build = edited(
        with_part(on_mains(), "relay-12v-2pole-8a", **part),
        ("set_setting", {"channel": "ch2", "relay": "own"}),
    )
    said = [f for f in evaluate(build).channels[0].findings if f.check == "I2"]
    assert [f.severity for f in said] == (["check"] if asked else [])
    if asked:
        assert ("test voltage" if volts is None else "along its surface") in said[0].sentence
    assert hazard(build) == ({("I2", "stop")} if asked else set())


@pytest.mark.parametrize(("volts", "taken"), [("20 kV", True), ("20.1 kV", False)])
def test_test_voltages_up_to_twenty_kilovolts_are_taken(volts, taken):
    raw = dict(load_catalogue().raw["relay-12v-2pole-8a"]) | {"id": "own", "test_voltage": volts}
    if taken:
        assert read_part(raw).test_voltage == 20e3
    else:
        with pytest.raises(ValueError, match="20 kV"):
            read_part(raw)


def test_two_basic_barriers_with_an_untouchable_middle_will_do_and_with_a_touchable_one_not():
    n = Netlist()
    n.add("SUPPLY.rail1", "source", "230 V", None, **{"+": "rail1", "-": "rail1.N"})
    n.add("SUPPLY.rail2", "source", "12 V", None, **{"+": "rail2", "-": "rail2.0V"})
    n.add("BOARD.0V", "board", "board", None, gnd="0V")
    n.add(
        "ch1.K1",
        "relay",
        "relay",
        "ch1",
        barrier="basic",
        **{"1": "rail2", "2": "rail2.0V", "COM": "rail1", "NO": "out"},
    )
    n.add(
        "ch1.OK1",
        "coupler",
        "coupler",
        "ch1",
        barrier="basic",
        A="0V",
        K="0V",
        C="rail2",
        E="rail2.0V",
    )
    build = edited(
        bench(rail="230 V"),
        ("set_rail", {"rail": "rail1", "source": "mains"}),
        ("add_rail", {"voltage": "12 V"}),
    )
    build.rails[1].id, build.rails[1].ground = "rail2", "own"
    for touchable, fits in ((False, True), (True, False)):
        build.rails[1].touchable = touchable
        found = barrier_map(BuildContext(build, load_catalogue()), n)
        assert all(p.sufficient for p in found.pairs) == fits


def test_a_line_joined_with_the_board_by_a_stage_without_a_barrier_is_metal_to_a_hand():
    build = edited(
        bench("heater", "72 V", "10 W", rail="72 V", source="bench", stage="nmos_low_side")
    )
    assert ("I1", "stop") in hazard(build)


def test_low_voltage_alone_is_asked_nothing_of_strength():
    assert not hazard(contact()) and not hazard(on_module(board=EIGHT_BIT))


def test_isolation_that_is_wanted_and_bypassed_is_noted_with_the_way():
    build = edited(
        bench(stage="coupler_nmos"), ("set_needs", {"channel": "ch2", "needs": "isolated"})
    )
    assert findings(build).get("I2") == "note"
    apart = edited(build, ("set_rail", {"rail": "rail1", "ground": "own"}))
    assert "I2" not in findings(apart)
    assert "I2" not in findings(bench(stage="coupler_nmos"))


def test_a_transistor_input_wants_the_boards_ground_and_a_coupler_input_does_not():
    high = edited(
        on_module("module-5v-high", board=EIGHT_BIT),
        ("set_rail", {"rail": "rail3", "ground": "own"}),
    )
    assert findings(high)["I3"] == "stop"
    low = edited(
        on_module("module-5v-low-plain", board=EIGHT_BIT, settings={"feed": "logic"}),
        ("set_rail", {"rail": "rail3", "ground": "own"}),
    )
    assert "I3" not in findings(low)


def test_a_modules_jumper_decides_whether_its_coupler_parts_anything():
    on = edited(
        on_module(board=EIGHT_BIT),
        ("set_rail", {"rail": "rail3", "ground": "own"}),
        ("set_rail", {"rail": "rail1", "ground": "own"}),
    )
    off = edited(on, ("set_setting", {"channel": "ch2", "feed": "logic"}))
    assert "ch2.K1" in {b.ref for b in the_map(on).bypasses}
    coils = next(i for i in the_map(off).islands if "rail3" in i.nodes)
    assert "board" not in coils.titles and "ch2.K1" not in {b.ref for b in the_map(off).bypasses}


@pytest.mark.parametrize("tested, fits", [("3.99 kV", False), ("4 kV", True)])
def test_a_coupler_that_calls_itself_reinforced_is_what_its_test_volts_bear_out(tested, fits):
    raw = load_catalogue().raw
    own = next(r for r in raw.values() if r.get("family") == "coupler") | {
        "id": "own",
        "barrier": "reinforced",
        "test_voltage": tested,
        "creepage": 6.0,
        "v_ceo": "300 V",
    }
    build = bench("heater", "100 V", "1 A", rail="100 V", stage="coupler_nmos")
    build = edited(
        build.model_copy(update={"parts": {"own": own}}),
        ("set_rail", {"rail": "rail1", "ground": "own"}),
        ("set_setting", {"channel": "ch2", "coupler": "own"}),
    )
    found = evaluate(build).findings
    assert all(f.check != "I2" for f in found) == fits


@pytest.mark.parametrize("apart, fits", [(5.9, False), (6.0, True)])
def test_a_relay_that_calls_itself_reinforced_is_what_its_distance_bears_out(apart, fits):
    base = evaluate(on_mains()).channels[0].result.parts["relay"].id
    build = with_part(on_mains(), base, barrier="reinforced", creepage=apart)
    build = edited(build, ("set_setting", {"channel": "ch2", "relay": "own"}))
    assert all(f.check != "I2" for f in evaluate(build).findings) == fits


def test_each_of_two_weak_barriers_is_offered_a_relay_in_its_turn():
    build = edited(
        bench(
            "filament_lamp", "230 V", "60 W", rail="230 V", source="mains", stage="triac_coupler"
        ),
        ("add_rail", {"voltage": "5 V", "rating": "2 A"}),
    )
    base = evaluate(build).channels[0].result.parts["driver"].id
    build = edited(
        with_part(build, base, test_voltage="2.5 kV"),
        ("set_setting", {"channel": "ch2", "driver": "own"}),
        ("copy_channel", {"channel": "ch2"}),
    )
    for _ in range(2):
        weak = next(f for f in advised(build).findings if f.check == "I2")
        press = next(r for r in weak.remedies if r.edits)
        build = edited(
            build,
            press.edits[0],
            ("set_setting", {"channel": press.edit_args["channel"], "coil_rail": "rail3"}),
        )
        assert weak.concerns == (press.edit_args["channel"],)
    assert all(f.check != "I2" for f in evaluate(build).findings)
