"""Findings of rules as they stand, each tripped and not tripped."""

from __future__ import annotations

import pytest

from latchcore.advice.mending import advised
from latchcore.behaviour.declared import informed
from latchcore.edits import apply
from latchcore.evaluate import evaluate
from tests.behaviour.worklight import a_build

HEATER = {"kind": "heater", "voltage": "12 V", "figure": "1 A"}


def checks(build):
    return [(f.check, f.severity) for f in evaluate(build).all_findings]


def told(build, words):
    return [f for f in evaluate(build).all_findings if words in f.title]


def heated(kind: str, hysteresis: str = "5", moved: str = "up", much: str | None = None, **more):
    """A heater that moves what its own rule looks at."""
    condition = {"kind": kind, "of": "in6", "at": "50", "hysteresis": hysteresis}
    behaviour = {
        "requests": [{"id": "ru10", "kind": "while", "channel": "ch2", "condition": condition}]
    } | more
    build = a_build(behaviour)
    channel = build.channels[0].model_copy(
        update={"load": build.channels[0].load.model_validate(HEATER)}
    )
    sense = build.inputs[2].model_copy(
        update={"kind": "analogue", "moved_by": "ch2", "moved": moved, "moved_by_much": much}
    )
    return build.model_copy(
        update={
            "channels": [channel, build.channels[1]],
            "inputs": [*build.inputs[:2], sense],
        }
    )


@pytest.mark.parametrize(
    ("kind", "moved", "wrong"),
    [
        ("over", "up", True),
        ("under", "up", False),
        ("over", "down", False),
        ("under", "down", True),
    ],
)
def test_a_heater_asked_for_by_what_it_moves_further_away_points_the_wrong_way(kind, moved, wrong):
    found = told(heated(kind, moved=moved), "points the wrong way")
    assert bool(found) == wrong
    if wrong:
        assert found[0].check == "T8" and found[0].severity == "stop"


def test_one_press_turns_the_rule_round_and_nothing_as_bad_comes_of_it():
    build = heated("over")
    (found,) = told(build, "points the wrong way")
    for name, args in found.remedies[0].edits:
        build, _ = apply(build, name, args)
    assert not told(build, "points the wrong way")
    assert build.does.requests[0].condition.at == "50"


def test_what_moves_its_sensor_by_more_than_the_hysteresis_flutters():
    assert told(heated("under", hysteresis="5", much="5.1"), "drives its own sensor")
    assert not told(heated("under", hysteresis="5", much="5"), "drives its own sensor")
    build = heated("under", hysteresis="5", much="5.1")
    (found,) = told(build, "drives its own sensor")
    build, _ = apply(build, *found.remedies[0].edits[0])
    assert not told(build, "drives its own sensor")


def commanded(**manner):
    condition = {"kind": "command", "of": "cm1"}
    build = heated("under")
    behaviour = build.does.model_validate(
        {
            "commands": [{"id": "cm1", "name": "warm"}],
            "link_time_out": "5 s" if manner.get("link") else None,
            "requests": [{"id": "ru10", "kind": "while", "channel": "ch2", "condition": condition}],
            "manners": [{"channel": "ch2"} | manner],
        }
    )
    return build.model_copy(update={"behaviour": behaviour})


def test_a_heater_that_goes_on_without_link_is_a_stop_and_one_that_goes_off_is_none():
    (found,) = told(commanded(), "when the link is lost")
    assert (found.check, found.severity) == ("T6", "stop")
    assert not told(commanded(link="off"), "when the link is lost")
    build = commanded()
    for name, args in found.remedies[0].edits:
        build, _ = apply(build, name, args)
    assert not told(build, "when the link is lost")


def test_what_was_declared_and_the_rules_do_not_keep_is_said_with_the_press_that_keeps_it():
    build, _ = apply(heated("under"), "set_switching", {"channel": "ch3", "longest_on": "10 s"})
    rules = build.does.model_copy(update={"requests": [build.does.requests[0].model_copy(
        update={"channel": "ch3"})]})  # fmt: skip
    build = build.model_copy(update={"behaviour": rules})
    (found,) = told(build, "do differ") or told(build, "differ")
    assert "10 s" in found.sentence
    build, _ = apply(build, *found.remedies[0].edits[0])
    assert not told(build, "differ") and build.does.manner("ch3").longest_on == "10 s"


def test_declared_a_hair_longer_than_the_rules_is_no_contradiction():
    build = heated("under", manners=[{"channel": "ch2", "longest_on": "10 s"}])
    for declared, differs in (("10 s", False), ("9.99 s", True), ("10.01 s", False)):
        channel = build.channels[0].model_copy(update={"longest_on": declared})
        tried = build.model_copy(update={"channels": [channel, build.channels[1]]})
        assert bool(told(tried, "differ")) == differs


def test_the_sums_are_done_with_what_the_rules_say():
    pulse = {
        "id": "ru10",
        "kind": "pulse",
        "channel": "ch2",
        "event": {"kind": "press", "of": "in4"},
        "length": "40 ms",
    }
    build = a_build({"requests": [pulse], "watchdog": "2 s"})
    channel = informed(build).channel("ch2")
    assert (channel.longest_on, channel.shortest_on) == ("40 ms", "40 ms")
    assert channel.on_return == "stays_off" and informed(build).watchdog == "yes"
    # A pulse that is lengthened by every further press has no longest time.
    longer = a_build({"requests": [pulse | {"again": "extend"}]})
    assert informed(longer).channel("ch2").longest_on is None


def test_declaring_a_limit_of_a_channel_with_rules_lets_the_rules_keep_it():
    build, _ = apply(heated("under"), "set_switching", {"channel": "ch2", "longest_on": "10 s"})
    assert build.does.manner("ch2").longest_on == "10 s" and not told(build, "differ")


def test_a_secret_that_came_with_it_is_a_fix_only_from_further_away():
    build = commanded(link="off")
    for access, trips in (("local", False), ("further", True)):
        build, _ = apply(build, "set_behaviour", {"access": access})
        assert (("T4", "fix") in checks(build)) == trips
    build, _ = apply(build, "set_behaviour", {"secret_changed": "yes"})
    assert ("T4", "fix") not in checks(build)


def hatch(event, **more):
    confirm = {"confirm": "toggle_load", "sense": "in4", "other": "in5", "within": "4 s"}
    rule = {"id": "ru10", "kind": "pulse", "channel": "ch2", "length": "200 ms", "event": event}
    return a_build(
        {
            "commands": [{"id": "cm1", "name": "move"}],
            "requests": [rule | more],
            "manners": [{"channel": "ch2"} | confirm],
        }
    )


def test_a_hatch_told_from_outside_to_move_is_brought_to_an_end_by_one_press():
    command = {"kind": "becomes", "condition": {"kind": "command", "of": "cm1"}}
    assert not told(hatch(command, bring="open"), "which way")
    assert not told(hatch({"kind": "press", "of": "in4"}), "which way")
    (found,) = told(hatch(command), "which way")
    assert found.check == "T7"
    build, _ = apply(hatch(command), *found.remedies[1].edits[0])
    assert not told(build, "which way") and build.does.requests[0].bring == "closed"


def test_more_switching_than_the_rules_allow_is_no_ground_for_a_worn_contact():
    limited = {"channel": "ch2", "starts": 4, "starts_in": "2 h"}
    for stated, differs in ((48, False), (49, True)):
        build = heated("under", manners=[limited])
        channel = build.channels[0].model_copy(update={"cycles_per_day": stated})
        build = build.model_copy(update={"channels": [channel, build.channels[1]]})
        assert bool(told(build, "differ")) == differs
        assert informed(build).channel("ch2").cycles_per_day == 48


def test_two_builds_that_differ_in_a_rule_alone_are_told_apart_however_often_they_are_asked():
    anew = heated("under")
    standing = heated("under", manners=[{"channel": "ch2", "returns": "standing"}])
    for _ in range(2):
        first, second = (
            [(f.check, f.title) for f in advised(build).all_findings] for build in (anew, standing)
        )
        assert ("T6", "It starts by itself when power returns") in second
        assert ("T6", "It starts by itself when power returns") not in first
