"""
What has to be stated where somebody can be hurt, and that nothing outstanding is ever called done.
"""

from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.edits import EditError, apply
from latchcore.formats.buildfile import read_build
from tests.core.benches import bench, edited, findings

SEEDLINGS = read_build(
    (Path(__file__).parent.parent.parent / "demo" / "seedling-bench.json").read_bytes()
)
MAT = SEEDLINGS.channels[0].id
FACTS = list(load_catalogue().discipline)


def checks(build):
    return {f.check: f for f in advised(build).all_findings}


def test_the_seedling_bench_is_guarded_and_leaves_nothing_open():
    report = advised(SEEDLINGS)
    assert report.all_findings == [] and report.sound


@pytest.mark.parametrize("fact", FACTS)
def test_each_fact_of_the_discipline_is_a_check_while_unstated_and_a_stop_while_it_is_not_so(fact):
    unstated, denied = (
        edited(SEEDLINGS, ("state_discipline", {fact: answer})) for answer in ("", "no")
    )
    assert {f.severity for f in advised(unstated).all_findings} == {"check"} and not advised(
        unstated
    ).sound
    stop = advised(denied).all_findings[0]
    assert (
        stop.severity == "stop"
        and stop.check == load_catalogue().discipline[fact]["check"]
        and not stop.acceptable
    )


@pytest.mark.parametrize(
    ("fact", "value", "lacks"),
    [
        ("limit", "none", "outside the program"),
        ("limit", "control_relay", "through the control relay"),
        ("second_contactor", "no", "second contactor"),
    ],
)
def test_unattended_heat_on_mains_wants_every_guard(fact, value, lacks):
    said = checks(edited(SEEDLINGS, ("set_guards", {"channel": MAT, fact: value})))["T3"]
    assert said.severity == "stop" and lacks in said.sentence and not said.acceptable


def test_feedback_and_time_out_are_guards_too():
    alone = edited(SEEDLINGS, ("set_confirmation", {"channel": MAT}))
    assert "on when told off" in checks(alone)["T3"].sentence
    for_ever = edited(SEEDLINGS, ("set_switching", {"channel": MAT, "longest_on": ""}))
    assert "longest on-time" in checks(for_ever)["T3"].sentence
    watched = edited(for_ever, ("set_guards", {"channel": MAT, "unattended": "no"}))
    assert "T3" not in checks(watched)


def test_low_voltage_heat_wants_its_limit_but_no_second_contactor():
    build = edited(
        bench("heater", "12 V", "2 A", stage="nmos_low_side"),
        ("set_guards", {"channel": "ch2", "unattended": "yes", "limit": "independent"}),
        ("set_switching", {"channel": "ch2", "longest_on": "60 s"}),
    )
    build = edited(
        build,
        ("add_input", {"kind": "reed"}),
        ("set_confirmation", {"channel": "ch2", "confirmed_by": "in3"}),
    )
    assert "T3" not in findings(build)
    assert (
        findings(edited(build, ("set_guards", {"channel": "ch2", "limit": "none"})))["T3"] == "stop"
    )


def test_what_heats_or_moves_does_not_start_by_itself_when_power_returns():
    again = edited(SEEDLINGS, ("set_guards", {"channel": MAT, "on_return": "as_before"}))
    said = checks(again)["T6"]
    assert said.severity == "stop"
    assert "T6" not in checks(edited(again, *said.remedies[0].edits))
    unruled = SEEDLINGS.model_copy(update={"behaviour": None})
    unsaid = edited(unruled, ("set_guards", {"channel": MAT, "on_return": ""}))
    assert checks(unsaid)["T6"].severity == "check"


def test_a_compressor_wants_minutes_of_rest():
    build = edited(
        bench("compressor", "230 V", "100 W", rail="230 V", source="mains", stage="relay_contact"),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
    )
    assert findings(build)["T2"] == "fix"
    remedy = checks(build)["T2"].remedies[0]
    assert "T2" not in findings(edited(build, *remedy.edits))
    assert (
        findings(edited(build, ("set_switching", {"channel": "ch2", "shortest_off": "20 s"})))["T2"]
        == "fix"
    )
    # Its own data sheet wins over what is usual for the kind.
    build = edited(build, ("set_load", {"channel": "ch2", "least_off": "300 s"}))
    assert (
        findings(edited(build, ("set_switching", {"channel": "ch2", "shortest_off": "200 s"})))[
            "T2"
        ]
        == "fix"
    )


def test_what_wants_to_run_for_a_while_is_not_stopped_sooner():
    build = edited(
        bench("heater", "230 V", "100 W", rail="230 V", source="mains", stage="relay_contact"),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
    )
    assert "T2" not in findings(build)
    build = edited(build, ("set_load", {"channel": "ch2", "least_on": "90 s", "least_off": "30 s"}))
    said = checks(build)["T2"]
    assert "run for 90 s" in said.sentence and "it wants 30 s" in said.sentence
    assert "T2" not in findings(edited(build, *said.remedies[0].edits))


def test_a_contact_that_is_to_last_sets_the_shortest_cycle():
    build = edited(
        bench("heater", "230 V", "1500 W", rail="230 V", source="mains", stage="relay_contact"),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
    )
    contact = advised(build).channels[0].result.contact
    assert contact.least_cycle == pytest.approx(5 * 365 * 86400 / contact.life)
    # As often as that it lasts just the years that are wanted.
    days = edited(
        build,
        (
            "set_use",
            {
                "channel": "ch2",
                "when_dead": "off",
                "cycles_per_day": str(round(86400 / contact.least_cycle)),
            },
        ),
    )
    assert advised(days).channels[0].result.contact.life_days / 365 == pytest.approx(5, rel=0.01)


def test_a_lock_that_can_hold_people_in_wants_a_way_out():
    build = bench("solenoid", "12 V", "30 Ω", stage="nmos_low_side", load={"hazards": "lock"})
    assert findings(build)["X5"] == "check"
    assert (
        findings(edited(build, ("set_guards", {"channel": "ch2", "way_out": "no"})))["X5"] == "stop"
    )
    assert "X5" not in findings(edited(build, ("set_guards", {"channel": "ch2", "way_out": "yes"})))


def test_a_machines_button_is_bridged_only_with_proof_of_its_supply():
    build = bench("button_pair", "5 V", "1 mA", stage="bridge_reed", settings=None)
    build = edited(build, ("add_machine", {"name": "Coffee press"}))
    machine = build.machines[0].id
    unknown = edited(
        build,
        ("set_machine", {"machine": machine, "button.exists": "yes", "button.supply": "unknown"}),
    )
    assert findings(unknown)["X4"] == "stop"
    proven = edited(unknown, ("set_machine", {"machine": machine, "button.supply": "isolated_low"}))
    assert "X4" not in findings(proven)


@pytest.mark.parametrize("facts", [{"limit": "hope"}, {"luck": "yes"}, {"on_return": "maybe"}])
def test_nonsense_about_guards_is_refused(facts):
    with pytest.raises(EditError):
        apply(SEEDLINGS, "set_guards", {"channel": MAT, **facts})


ANSWERS = st.sampled_from(["yes", "no", ""])
MUTATIONS = st.one_of(
    st.tuples(
        st.just("state_discipline"),
        st.dictionaries(st.sampled_from(FACTS), ANSWERS, min_size=1, max_size=4),
    ),
    st.tuples(
        st.just("set_guards"),
        st.fixed_dictionaries(
            {"channel": st.just(MAT)},
            optional={
                "unattended": ANSWERS,
                "limit": st.sampled_from(["independent", "control_relay", "none", ""]),
                "second_contactor": ANSWERS,
                "on_return": st.sampled_from(["stays_off", "as_before", ""]),
            },
        ),
    ),
    st.tuples(
        st.just("set_setting"),
        st.fixed_dictionaries(
            {"channel": st.just(MAT)},
            optional={
                "breaks": st.sampled_from(["live", "neutral", "both"]),
                "relay": st.sampled_from(["relay-5v-10a", "auto"]),
                "contact": st.sampled_from(["NO", "NC"]),
            },
        ),
    ),
    st.tuples(
        st.just("set_rail"),
        st.fixed_dictionaries(
            {"rail": st.sampled_from(["rail1", "rail2"])},
            optional={
                "plug": st.sampled_from(["polarised", "reversible", "unknown"]),
                "fuse": st.sampled_from(["0.8 A", "", "10 A"]),
                "ground": st.sampled_from(["shared", "own"]),
                "touchable": st.sampled_from(["yes", "no"]),
                "earthed": st.sampled_from(["yes", "no"]),
            },
        ),
    ),
    st.tuples(
        st.just("set_input"),
        st.fixed_dictionaries(
            {"what": st.just(SEEDLINGS.inputs[1].id)},
            optional={
                "kind": st.sampled_from(["divider", "opto", "sensor"]),
                "rail": st.sampled_from(["rail1", "rail2", ""]),
            },
        ),
    ),
    st.tuples(
        st.just("set_channel_rail"),
        st.fixed_dictionaries(
            {"channel": st.just(MAT), "rail": st.sampled_from(["rail1", "rail2"])}
        ),
    ),
    st.tuples(
        st.just("accept_finding"),
        st.fixed_dictionaries(
            {
                "channel": st.just(MAT),
                "check": st.sampled_from(["X1", "I1", "I2", "T3", "K8", "I4"]),
                "reason": st.just("it will be fine"),
            }
        ),
    ),
)


@settings(max_examples=250, deadline=None)
@given(st.lists(MUTATIONS, min_size=1, max_size=6))
def test_nothing_outstanding_is_never_said_while_a_stop_on_mains_or_isolation_is_open(mutations):
    build = SEEDLINGS
    for name, args in mutations:
        try:
            build, _ = apply(build, name, args)
        except EditError:
            continue
    report = advised(build)
    grave = [f for f in report.all_findings if f.check[0] in "XI" and f.severity == "stop"]
    assert not (report.sound and grave)
    assert not any(f.acceptable for f in grave if f.check != "I2" and f.check != "I3")
    # What was denied of the discipline, or left open, is among the findings whatever else was done
    # or accepted.
    hazardous = any(load_catalogue().sources[r.source].hazardous for r in build.rails)
    for key in FACTS:
        answer = build.discipline.get(key)
        if hazardous and answer == "no":
            assert any(
                f.severity == "stop" and f.check == load_catalogue().discipline[key]["check"]
                for f in report.all_findings
            )
        if hazardous and answer is None:
            assert (
                any(
                    f.check == "X1" and f.severity in ("check", "stop") for f in report.all_findings
                )
                and not report.sound
            )
