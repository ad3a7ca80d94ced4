"""What is refused before a behaviour is run, and what the message says."""

from __future__ import annotations

import pytest

from latchcore.behaviour.checking import faults_of
from latchcore.behaviour.compiling import compiled
from latchcore.behaviour.faults import BehaviourError
from latchcore.edits import EditError, apply
from latchcore.formats.buildfile import read_build, write_build
from tests.behaviour.worklight import a_build, work_light

NORTH = {"kind": "input", "of": "in4"}
RULE = {"id": "ru10", "kind": "while", "channel": "ch2", "condition": NORTH}
PHASE = {"name": "One", "lasts": "1 s"}
START = {"kind": "press", "of": "in4"}


def rule(**more):
    return {"requests": [RULE | more]}


FAULTY = {
    "removed channel": (rule(channel="ch9"), "no longer in the build"),
    "removed input": (rule(condition={"kind": "input", "of": "in9"}), "no longer in the build"),
    "a level as a contact": (rule(condition={"kind": "input", "of": "in6"}), "a contact"),
    "a condition that names itself": (
        {
            "conditions": [
                {"id": "co1", "name": "dark", "condition": {"kind": "named", "of": "co1"}}
            ]
        },
        "names itself",
    ),
    "a later condition": (
        {
            "conditions": [
                {"id": "co1", "name": "a", "condition": {"kind": "named", "of": "co2"}},
                {"id": "co2", "name": "b", "condition": NORTH},
            ]
        },
        "further down",
    ),
    "hysteresis over the scale": (
        rule(condition={"kind": "over", "of": "in6", "at": "50", "hysteresis": "101"}),
        "does not fit the scale",
    ),
    "a way back nobody reads": (
        rule(condition={"kind": "over", "of": "in6", "at": "50", "hysteresis": "50.1"}),
        "never reads",
    ),
    "least on over longest on": (
        rule() | {"manners": [{"channel": "ch2", "least_on": "3.01 s", "longest_on": "3 s"}]},
        "over longest on",
    ),
    "a sequence without an end": (
        {"sequences": [{"id": "sq1", "name": "s", "start": START, "repeat": 0, "phases": [PHASE]}]},
        "never end",
    ),
    "a phase without an end": (
        {"sequences": [{"id": "sq1", "name": "s", "start": START, "phases": [{"name": "One"}]}]},
        "has no end",
    ),
    "an event that may never come": (
        {
            "sequences": [
                {
                    "id": "sq1",
                    "name": "s",
                    "start": START,
                    "phases": [{"name": "One", "until": START}],
                }
            ]
        },
        "may never come",
    ),
    "contrary interlocks": (
        {
            "interlocks": [
                {"id": "il1", "name": "this", "channels": ["ch2", "ch3"]},
                {"id": "il2", "name": "that", "channels": ["ch3", "ch2"]},
            ]
        },
        "contrary order",
    ),
    "a share under one step": (
        rule() | {"manners": [{"channel": "ch2", "share": "1 %", "share_of": "900 ms"}]},
        "less than one step",
    ),
    "confirmed without a sense": (
        rule(condition={"kind": "channel", "of": "ch3", "state": "confirmed"}),
        "Nothing confirms",
    ),
    "a dead band over half its range": (
        {
            "requests": [
                {
                    "id": "ru1",
                    "kind": "follow",
                    "channel": "ch2",
                    "of": "in6",
                    "low": "0",
                    "high": "100",
                    "dead_band": "50.1",
                }
            ]
        },
        "over half",
    ),
    "hardware before the program": (
        rule() | {"manners": [{"channel": "ch2", "longest_on": "2 s", "hardware_limit": "2 s"}]},
        "before the program",
    ),
}
#: The same just beside each limit.
RUNS = {
    "hysteresis as wide as there is room": rule(
        condition={"kind": "over", "of": "in6", "at": "50", "hysteresis": "50"}
    ),
    "least on as long as longest on": rule()
    | {"manners": [{"channel": "ch2", "least_on": "3 s", "longest_on": "3 s"}]},
    "a share of one step": rule()
    | {"manners": [{"channel": "ch2", "share": "1 %", "share_of": "1 s"}]},
    "hardware a hair after the program": rule()
    | {"manners": [{"channel": "ch2", "longest_on": "2 s", "hardware_limit": "2.01 s"}]},
    "repeated until aborted": {
        "sequences": [
            {
                "id": "sq1",
                "name": "s",
                "start": START,
                "abort": {"kind": "press", "of": "in5"},
                "repeat": 0,
                "phases": [PHASE],
            }
        ]
    },
}


@pytest.mark.parametrize("name", FAULTY)
def test_what_cannot_be_done_is_said_and_not_run(name):
    behaviour, words = FAULTY[name]
    build = a_build(behaviour)
    assert any(words in fault.message for fault in faults_of(build))
    with pytest.raises(BehaviourError, match=words):
        compiled(build)


@pytest.mark.parametrize("name", RUNS)
def test_just_beside_the_limit_it_runs(name):
    assert not faults_of(a_build(RUNS[name]))
    compiled(a_build(RUNS[name]))


def test_a_behaviour_goes_through_the_file_to_the_byte():
    text = write_build(work_light())
    assert write_build(read_build(text)) == text


@pytest.mark.parametrize("time", ["0 s", "1 year", "9000 h", "-3 s", "soon"])
def test_a_time_of_nothing_or_of_a_year_is_refused_at_its_field(time):
    args = {"piece": "ru10", "path": "condition", "lasts": time}
    with pytest.raises(EditError) as refused:
        apply(work_light(), "set_condition_figures", args)
    assert refused.value.field == "lasts" and time.split()[0] in str(refused.value)


def test_an_edit_that_would_stop_it_from_running_is_refused_and_one_beside_is_not():
    build = work_light()
    args = {"channel": "ch2", "longest_on": "3 s"}
    build, _ = apply(build, "set_manner", args)
    with pytest.raises(EditError, match="over longest on"):
        apply(build, "set_manner", {"channel": "ch2", "least_on": "3.01 s"})
    apply(build, "set_manner", {"channel": "ch2", "least_on": "3 s"})


def test_a_rule_about_a_removed_channel_is_kept_and_said():
    build, _ = apply(work_light(), "remove_channel", {"channel": "ch2"})
    assert build.does.requests and "no longer in the build" in faults_of(build)[0].message
    build, _ = apply(build, "remove_rule", {"rule": "ru10"})
    assert not faults_of(build)


def joined(build, how):
    args = {"piece": "ru10", "path": "condition", "how": how, "looks_at": "input:in5"}
    return apply(build, "join_condition", args)[0]


def test_a_condition_nests_three_deep_and_no_deeper():
    build = joined(joined(work_light(), "all"), "any")
    with pytest.raises(EditError, match="3 at most"):
        joined(build, "all")
