"""The patterns a behaviour begins from: what each must do, and what it must never do."""

from __future__ import annotations

from typing import Any

from latchcore.behaviour.compiling import compiled
from latchcore.behaviour.exploring import Question, explore
from latchcore.behaviour.rehearsal import Runner
from latchcore.behaviour.script import read_script
from latchcore.document.models import Build
from latchcore.edits import apply
from tests.behaviour.worklight import a_build


def begun(pattern: str, channel: str = "ch2", **given: str) -> Build:
    build, _ = apply(a_build({}), "begin_pattern", {"channel": channel, "pattern": pattern} | given)
    return build


def told(build: Build, script: str, seconds: float, start: dict[str, Any] | None = None):
    """Every change of every channel: (t, name, level, reason)."""
    runner = Runner(compiled(build), start or {})
    run = runner.run(read_script(build, script.replace(";", "\n")), seconds)
    names = [part.name for part in runner.program.channels]
    return [(round(w.step * run.step, 3), names[w.channel], w.level, w.reason) for w in run.changes]


def on_at(changes, name: str, t: float) -> bool:
    levels = [level for when, n, level, _ in changes if n == name and when <= t]
    return bool(levels and levels[-1])


def test_follow_and_last_goes_on_at_once_and_off_three_seconds_after():
    build = begun("follow_and_last", looks_at="input:in4")
    changes = told(build, "1 North on;2 North off", 8)
    # 20 ms of debounce either way.
    assert changes == [(1.02, "Lamp", 100, "while"), (5.02, "Lamp", 0, "ended")]


def test_follow_and_last_stays_off_after_a_power_cut_until_asked_anew():
    build = begun("follow_and_last", looks_at="input:in4")
    changes = told(build, "1 North on;2 power off;3 power on;6 North off;12 North on", 14)
    assert not on_at(changes, "Lamp", 11.9) and on_at(changes, "Lamp", 12.1)


def test_follow_and_last_with_a_stuck_switch_stays_on_and_that_is_found():
    build = begun("follow_and_last", looks_at="input:in4")
    changes = told(build, "1 stuck North on;2 North off", 600)
    assert on_at(changes, "Lamp", 600)
    (answer,) = explore(build, [Question("for_ever", ("ch2",))]).answers
    assert answer.verdict == "found"


def test_open_a_while_opens_only_where_permission_stands_and_for_its_full_time():
    build = begun("open_a_while", press="in4", also="input:in5")
    assert told(build, "1 North on;1.5 North off", 9) == []
    changes = told(build, "1 South on;2 North on;2.5 South off", 9)
    assert changes == [(2.02, "Lamp", 100, "pulse"), (7.02, "Lamp", 0, "ended")]


def test_open_a_while_is_over_with_a_power_cut_and_not_resumed():
    build = begun("open_a_while", press="in4", also="input:in5")
    changes = told(build, "1 South on;2 North on;3 power off;3.5 power on", 12)
    assert changes[-1] == (3.0, "Lamp", 0, "power")


def test_while_both_hold_one_alone_never_does():
    build = begun("while_both", looks_at="input:in4", also="over:in6")
    start = {"in6": 10.0}
    assert told(build, "1 North on;3 North off;4 Damp 80", 6, start) == []
    changes = told(build, "1 North on;2 Damp 80;3 Damp none", 6, start)
    # A sensor without a reading is no reason to be on.
    assert [(t, level) for t, _, level, _ in changes] == [(2.0, 100), (3.0, 0)]


def test_a_sensor_that_is_gone_for_longer_than_its_own_time_alarms_and_a_blink_does_not():
    build = begun("while_both", looks_at="input:in4", also="over:in6")
    build, _ = apply(build, "set_input", {"what": "in6", "gone_after": "500 ms"})
    runner = Runner(compiled(build), {"in6": 10.0})
    script = "1 Damp none\n1.49 Damp 10\n3 Damp none\n9 Damp 10"
    run = runner.run(read_script(build, script), 12)
    assert [(a.step, a.alarm, a.of) for a in run.alarms] == [(350, "no_reading", "in6")]


def test_two_levels_with_a_rest_never_starts_again_before_its_rest_is_over():
    build = begun("two_levels", channel="ch3", level="in6")
    changes = told(build, "0 Damp 20;200 Damp 60;201 Damp 20", 700)
    # The rest counts from power-up, and from every off.
    assert [(t, level) for t, _, level, _ in changes] == [(180.0, 100), (200.0, 0), (380.0, 100)]


def test_two_levels_rests_after_a_power_cut_too():
    build = begun("two_levels", channel="ch3", level="in6")
    changes = told(build, "0 Damp 20;300 power off;301 power on", 700)
    assert (481.0, "Fan", 100, "while") in changes and not on_at(changes, "Fan", 480.9)


def test_a_pulse_waits_for_its_end_and_gives_up_in_time():
    build = begun("pulse_until_end", press="in4", end="in5")
    changes = told(build, "1 North on;4 South on", 60)
    assert [(t, level) for t, _, level, _ in changes] == [(1.02, 100), (4.02, 0)]
    stuck = told(build, "1 North on", 60)
    assert [(t, level) for t, _, level, _ in stuck] == [(1.02, 100), (31.02, 0)]


def test_off_when_idle_unless_used():
    build = begun("idle_off", press="in4", idle="rest:in5")
    changes = told(build, "1 North on;1.1 North off;300 South on;400 South off", 1200)
    assert changes[0][:3] == (1.02, "Lamp", 100)
    assert changes[1] == (1000.02, "Lamp", 0, "idle_off")


def test_ask_now_do_later_takes_three_and_no_fourth():
    build = begun("later", press="in4")
    presses = ";".join(f"{n} North on;{n}.5 North off" for n in (1, 4, 7, 9))
    runner = Runner(compiled(build), {})
    run = runner.run(read_script(build, presses.replace(";", "\n")), 40)
    assert [w.step for w in run.changes if w.level] == [1102, 1402, 1702]
    assert [(a.alarm, a.step) for a in run.alarms] == [("queue_full", 902)]


def test_contacts_move_only_while_their_source_is_off():
    build = begun("source_off_first", press="in4", source="ch3")
    changes = told(build, "1 North on;5 North off;7 North on;7.05 North off;9 power off", 12)
    for t, name, _, reason in changes:
        if name == "Lamp" and reason != "power":
            assert not on_at(changes, "Fan", t), "the contacts moved under load"
    waited = [t for t, name, level, _ in changes if name == "Fan" and level]
    # The contacts settle for 100 ms before the source comes on.
    assert waited[0] == 1.13


def test_phases_upon_a_request_run_once_and_a_power_cut_ends_them():
    build = begun("phases", press="in4")
    changes = told(build, "1 North on;1.5 North off", 20)
    assert [(t, level) for t, _, level, _ in changes] == [
        (1.02, 100),
        (6.02, 0),
        (8.02, 100),
        (13.02, 0),
    ]
    cut = told(build, "1 North on;1.5 North off;3 power off;3.2 power on", 20)
    assert [(t, level) for t, _, level, _ in cut] == [(1.02, 100), (3.0, 0)]


def test_presses_in_a_row_have_their_hold_and_their_gap():
    changes = told(begun("presses", press="in4"), "1 North on;1.1 North off", 4)
    assert [(t, level) for t, _, level, _ in changes] == [
        (1.02, 100),
        (1.12, 0),
        (1.42, 100),
        (1.52, 0),
    ]
