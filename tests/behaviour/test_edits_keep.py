"""An edit of one thing keeps what stands beside it; what it replaces it replaces whole."""

from __future__ import annotations

import pytest

from latchcore.edits import EditError, apply
from tests.behaviour.worklight import a_build


def edited(build, *steps):
    for name, args in steps:
        build, _ = apply(build, name, args)
    return build


@pytest.fixture
def scene():
    """One phase that waits until the damp is over 30, and one that waits for two presses."""
    build = edited(a_build({}), ("add_sequence", {"name": "S", "happens": "press:in4"}))
    plan = build.does.sequences[0].id
    first, second = ({"sequence": plan, "phase": n} for n in "01")
    return edited(
        build,
        ("set_phase", first | {"until_true": "over:in6", "longest": "20 s", "then": "next"}),
        (
            "set_condition_figures",
            {"piece": plan, "path": "phases.0.until_true", "at": "30", "hysteresis": "2"},
        ),
        ("add_phase", {"sequence": plan}),
        ("set_phase", second | {"until": "double:in5", "longest": "9 s"}),
        ("set_event_time", {"piece": plan, "path": "phases.1.until", "within": "800 ms"}),
    )


def phase(build, n):
    return build.does.sequences[0].phases[n]


def test_a_phase_sent_again_as_it_stands_keeps_the_figures_of_what_ends_it(scene):
    plan = scene.does.sequences[0].id
    again = {"name": "One", "lasts": "", "until": "", "until_true": "over:in6", "longest": "25 s"}
    build = edited(scene, ("set_phase", {"sequence": plan, "phase": "0", "then": "next"} | again))
    assert (phase(build, 0).until_true.at, phase(build, 0).longest) == ("30", "25 s")
    again = {"until": "double:in5", "until_true": "", "lasts": "", "longest": "9 s"}
    build = edited(scene, ("set_phase", {"sequence": plan, "phase": "1"} | again))
    assert phase(build, 1).until.within == "800 ms"


def test_what_ends_a_phase_is_put_anew_only_where_something_else_is_chosen(scene):
    plan = scene.does.sequences[0].id
    other = {"sequence": plan, "phase": "0", "until_true": "under:in6"}
    assert phase(edited(scene, ("set_phase", other)), 0).until_true.at == "50"
    joined = {"piece": plan, "path": "phases.0.until_true", "how": "any", "looks_at": "input:in4"}
    build = edited(scene, ("join_condition", joined))
    kept = {"sequence": plan, "phase": "0", "until_true": "kept", "longest": "30 s"}
    build = edited(build, ("set_phase", kept))
    assert [p.kind for p in phase(build, 0).until_true.parts] == ["over", "input"]


def test_a_time_takes_the_place_of_what_ended_a_phase_with_its_longest(scene):
    plan = scene.does.sequences[0].id
    timed = {"lasts": "4 s", "until": "", "until_true": "", "longest": "20 s"}
    found = phase(edited(scene, ("set_phase", {"sequence": plan, "phase": "0"} | timed)), 0)
    assert (found.lasts, found.until_true, found.longest) == ("4 s", None, None)


def test_a_longest_time_taken_away_is_refused_and_not_filled_in(scene):
    plan = scene.does.sequences[0].id
    taken = {"sequence": plan, "phase": "0", "until_true": "over:in6", "longest": ""}
    with pytest.raises(EditError, match="may never come"):
        apply(scene, "set_phase", taken)


def test_limits_sent_again_keep_what_idle_is():
    idle = {"channel": "ch2", "idle": "under:in6", "idle_for": "10 min"}
    figures = {"piece": "ch2", "path": "idle", "at": "12", "for_at_least": "5 s"}
    build = edited(a_build({}), ("set_manner", idle), ("set_condition_figures", figures))
    build = edited(build, ("set_manner", idle | {"longest_on": "1 h"}))
    manner = build.does.manner("ch2")
    assert (manner.idle.at, manner.idle.for_at_least, manner.longest_on) == ("12", "5 s", "1 h")
    build = edited(build, ("set_manner", {"channel": "ch2", "idle": "", "idle_for": ""}))
    assert build.does.manner("ch2").idle is None


def test_a_tachometer_has_a_scale_of_its_own():
    build = edited(
        a_build({}),
        ("add_input", {"kind": "tachometer", "name": "Wheel"}),
        ("set_input", {"what": "in41", "highest": "3000"}),
        ("add_rule", {"channel": "ch2", "kind": "while", "looks_at": "over:in41"}),
    )
    assert build.does.requests[0].condition.at == "1500"
    args = {"piece": build.does.requests[0].id, "path": "condition"}
    edited(build, ("set_condition_figures", args | {"at": "3000"}))
    with pytest.raises(EditError, match="0 to 3000"):
        apply(build, "set_condition_figures", args | {"at": "3001"})


def test_commands_and_conditions_are_renamed_and_rules_are_not():
    build = edited(a_build({}), ("add_command", {"name": "light"}))
    build = edited(build, ("rename_piece", {"rule": build.does.commands[0].id, "name": "lamp"}))
    assert build.does.commands[0].name == "lamp"
    build = edited(build, ("add_rule", {"channel": "ch2", "kind": "while", "looks_at": "between"}))
    with pytest.raises(EditError, match="no name"):
        apply(build, "rename_piece", {"rule": build.does.requests[0].id, "name": "x"})
