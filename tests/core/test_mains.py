"""
Mains discipline: what is not stated stays open, what is not so stops, and only hazardous builds are
asked.
"""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.catalogue import load_catalogue
from latchcore.edits import EditError, apply
from latchcore.evaluate import evaluate
from tests.core.benches import bench, edited, findings
from tests.core.test_contact_use import on_mains

FACTS = load_catalogue().discipline


def asked(build):
    return {(f.check, f.severity) for f in evaluate(build).findings if f.check[0] == "X"}


def test_a_low_voltage_build_is_asked_nothing():
    assert not asked(bench())


@pytest.mark.parametrize(
    "volts, source, hazardous",
    [
        ("48 V", "adapter", False),
        ("72 V", "bench", True),
        ("24 V", "ac_low", False),
        ("48 V", "ac_low", True),
        ("12 V", "mains", True),
    ],
)
def test_what_makes_a_domain_hazardous(volts, source, hazardous):
    build = bench("heater", volts, "20 W", rail=volts, source=source, stage="relay_contact")
    assert bool(asked(build)) == hazardous


def test_unanswered_is_check_unfit_is_stop_and_answered_is_quiet():
    build = on_mains()
    assert asked(build) == {("X1", "check")}
    yes = edited(build, ("state_discipline", dict.fromkeys(FACTS, "yes")))
    assert asked(yes) == {("X1", "check")}
    yes = edited(yes, ("set_load", {"channel": "ch2", "protection": "class_i"}))
    assert not asked(yes)
    for key, fact in FACTS.items():
        assert asked(edited(yes, ("state_discipline", {key: "no"}))) == {(fact["check"], "stop")}


@settings(max_examples=40, deadline=None)
@given(st.dictionaries(st.sampled_from(sorted(FACTS)), st.sampled_from(["yes", "no", ""])))
def test_no_mains_build_is_quiet_unless_every_fact_is_stated_and_holds(answers):
    double = ("set_load", {"channel": "ch2", "protection": "class_ii"})
    found = asked(edited(on_mains(), double, ("state_discipline", answers)))
    whole = len(answers) == len(FACTS) and set(answers.values()) == {"yes"}
    assert whole == (not found)
    assert (("X1", "check") in found) == (sum(v != "" for v in answers.values()) < len(FACTS))


@pytest.mark.parametrize(
    "facts, says", [({"charm": "yes"}, "no fact"), ({"fuse": "perhaps"}, "“perhaps” is no answer")]
)
def test_an_answer_that_is_none_is_refused(facts, says):
    with pytest.raises(EditError, match=says):
        apply(on_mains(), "state_discipline", facts)


def test_a_mains_finding_cannot_be_accepted_away():
    assert all(
        f.lasting and not f.acceptable
        for f in evaluate(on_mains()).findings
        if f.check[0] == "X" and f.severity == "stop"
    )


def test_what_is_made_from_mains_without_isolation_takes_the_rules_of_mains_whatever_its_volts():
    build = edited(
        bench("led_strip", "12 V", "300 mA", stage="nmos_low_side"),
        ("set_rail", {"rail": "rail1", "source": "mains_derived"}),
    )
    said = findings(build)
    assert said["I1"] == "stop" and "X1" in said and said["S7"] == "stop"
    assert "I1" not in findings(bench("led_strip", "12 V", "300 mA", stage="nmos_low_side"))


@pytest.mark.parametrize(
    ("volts", "source", "place", "hazardous"),
    [
        ("24 V", "adapter", "damp", False),
        ("36 V", "adapter", "damp", True),
        ("36 V", "adapter", "dry", False),
        ("12 V", "ac_low", "damp", False),
        ("24 V", "ac_low", "damp", True),
    ],
)
def test_where_it_is_damp_half_the_volts_are_hazardous_and_stop(volts, source, place, hazardous):
    build = edited(
        bench("heater", volts, "20 W", rail=volts, source=source, stage="relay_contact"),
        ("set_conditions", {"place": place}),
        ("state_discipline", dict.fromkeys(FACTS, "yes")),
    )
    assert (("X1", "stop") in asked(build)) == hazardous


def test_distances_are_longer_where_it_is_damp():
    module = dict(load_catalogue().raw["module-5v-low-plain"]) | {
        "id": "own",
        "title": "own module",
        "creepage": 7.0,
        "barrier": "reinforced",
    }
    build = bench(
        "heater",
        "230 V",
        "500 W",
        rail="230 V",
        source="mains",
        stage="relay_module",
        board="board-8bit-5v-20",
    )
    build = edited(
        build.model_copy(update={"parts": {"own": module}}),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
        ("set_setting", {"channel": "ch2", "module": "own"}),
    )
    assert "K10" not in findings(build)
    assert findings(edited(build, ("set_conditions", {"place": "damp"})))["K10"] == "stop"
