"""The simulated controller: the build's own program on a board, in lines, with a fault or none."""

from __future__ import annotations

import json
import os
import pty
import select
import subprocess
import sys
import time
from dataclasses import asdict

import pytest

from console.main import main
from latchcore.bench.controller import Controller, Kept
from latchcore.bench.rig import Rig
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.edits import apply
from latchcore.evaluate import evaluate
from tests.bench.test_rig import DEMO, rig_of
from tests.core.benches import bench


def spoken(name: str, fault: str = ""):
    """A controller without a clock, and what says a line to it."""
    controller = Controller(rig_of(name, fault))
    return controller, controller.does


def words_of(lines: list[str]) -> list[str]:
    """Lines without their times."""
    return [line.split(maxsplit=1)[1] for line in lines]


# By hand.


def test_lines_command_read_and_refuse():
    now = [0.0]
    rig = rig_of("potting-bench-valve")
    say = Controller(rig, lambda: now[0]).does
    assert say("mist relay on") == ["0.010 ch2 on line"] and say("A on") == []
    assert float(say("volts A2")[0].split()[0]) < 0.5
    assert "Mist relay: works" in say("look")
    assert say("ohms A1") == ["Ohms only on a dead circuit: supply off first."]
    assert words_of(say("supply off")) == ["ch2 off power", "supply off"]
    assert say("volts A2") == ["0.0000 V"] and "Mist relay: dead" in say("look")
    assert say("A on") == ["The board is without power; supply on first."]
    assert "ch2 off (A Mist relay)" in say("?")
    assert say("ohms 12 V adapter, 0 V") == ["OL Ω"]
    say("supply on")
    assert words_of(say("A toggle")) == ["ch2 on line"]
    assert words_of(say("A toggle")) == ["ch2 off line"]
    assert "“z9” is no point" in say("volts Z9")[0]
    assert "knows off, on" in say("mist relay sideways")[0]
    assert "is not understood" in say("pump on")[0]
    assert "no rail" in say("limit nothing 1 A")[0] and "“lots”" in say("limit rail1 lots")[0]
    assert say("limit rail1 20 mA") == ["12 V adapter: limited to 20 mA"]
    assert say("supply maybe") == ["The supply is turned on or off; “maybe” was said."]
    say("A on")
    assert words_of(say("all off")) == ["ch2 off line"]


def test_what_is_asked_by_hand_ends_where_the_line_falls_silent():
    now = [0.0]
    say = Controller(rig_of("potting-bench-valve"), lambda: now[0]).does
    say("A on")
    now[0] = 9.9
    assert say("?")[0] == "ch2 on (A Mist relay)"
    now[0] = 19.8
    assert say("?")[0] == "ch2 on (A Mist relay)"
    assert say.__self__.kept.words == []
    now[0] = 31.0
    assert words_of(say("?")[:2]) == ["ch2 off ended", "alarm line_silent line"]


def test_the_walk_waits_for_its_word_and_ends_with_everything_off():
    now = [0.0]
    rig = rig_of("potting-bench-valve")
    say = Controller(rig, lambda: now[0]).does
    assert say("walk") == ["walk: next ch2 (Mist relay); go within 10 s"]
    said = say("go")
    assert "Mist relay: works" in said and said[-1].startswith("walk: next ch3")
    assert set(rig.states.values()) == {"off"}
    now[0] = 10.1
    assert say("go")[-1] == "walk: let go, all off"
    say("walk")
    assert say("stop")[-1] == "walk: stopped, all off"
    say("walk"), say("go")
    assert say("go")[-1] == "walk: through"


def test_a_walk_says_what_a_rest_held_back():
    _, say = spoken("seedling-bench")
    say("walk")
    assert "walk: ch5 did not go on; a rest, a block or an interlock holds it" in say("go")


def test_both_ways_of_a_motor_and_a_pattern_no_rule_asks_for():
    controller, say = spoken("hollyhock-marionettes")
    curtain = next(o for o in controller.board.names.outputs if o == "ch10")
    assert words_of(say("ch10 forward")) == [] and say("ch10 off") == []
    # Nor does it go on before the gap is over that runs from power-up.
    say("wait 1 s")
    assert words_of(say("ch10 forward")) == ["ch10 on line"]
    assert controller.rig.states[curtain] == "forward"
    assert words_of(say("ch10 reverse")) == ["ch10 off line"]
    # The gap between the ways is the build's own.
    assert words_of(say("wait 1 s")) == ["ch10.2 on line"]
    assert controller.rig.states[curtain] == "reverse"
    # And back again, which has to let go of the other way first.
    assert words_of(say("ch10 forward")) == ["ch10.2 off line"]
    assert words_of(say("wait 1 s")) == ["ch10 on line"]
    assert controller.rig.states[curtain] == "forward"
    assert words_of(say("ch10 off")) == ["ch10 off line"]
    assert words_of(say("ch10 brake")) == ["ch10 brake by hand"]
    assert controller.rig.states[curtain] == "brake"
    assert words_of(say("ch10 off")) == ["ch10 off by hand"]
    assert controller.rig.states[curtain] == "off"


def test_a_latching_load_is_pulsed_and_only_by_its_name_held():
    controller, say = spoken("boat-shed-tides")
    assert words_of(say("ch6 on")) == ["ch6 on line"] and controller.rig.states["ch6"] == "off"
    say("all off")
    say("ch6 set")
    assert controller.rig.states["ch6"] == "set"
    say("all off")
    assert controller.rig.states["ch6"] == "off"


# By its rules.


def test_a_rule_a_rest_and_a_limit_act_as_in_the_rehearsal():
    _, say = spoken("seedling-bench")
    say("input Soil thermostat on")
    # Off for 45 s after power came; then at rest for 20 s asks for it, and 30 s are the most.
    assert say("wait 50 s") == [] and say("input in3 off") == []
    came = say("wait 60 s")
    assert words_of(came) == ["ch5 on while", "ch5 off longest_on"]
    on, off = (float(line.split()[0]) for line in came)
    assert off - on == pytest.approx(30.0) and 70 <= on < 70.2


@pytest.mark.parametrize(
    ("fault", "says"),
    [
        ("", ["ch5 on while"]),
        ("ch5.R1:open-or-not-joined", ["ch5 on while", "alarm overdue ch5", "ch5 off overdue"]),
    ],
)
def test_what_really_flows_is_confirmed_and_a_fault_is_overdue(fault, says):
    _, say = spoken("seedling-bench", fault)
    say("input in3 on"), say("wait 50 s"), say("input in3 off")
    assert words_of(say("wait 25 s")) == says


def test_a_load_that_is_on_when_told_off_contradicts():
    _, say = spoken("seedling-bench", "ch5.Q1:shorted")
    assert words_of(say("?")[:1]) == ["alarm contradicting ch5"]


def test_a_sensor_that_sticks_says_nothing_new():
    _, say = spoken("seedling-bench")
    assert say("stuck Mat draws current") == []
    say("input in3 on"), say("wait 50 s"), say("input in3 off")
    assert "alarm overdue ch5" in words_of(say("wait 25 s"))


def test_two_that_may_not_meet_never_do():
    _, say = spoken("hollyhock-marionettes")
    say("wait 15 s"), say("ch18 on")
    assert words_of(say("ch19 on")) == [] and "ch18 on" in " ".join(say("?"))
    say("ch18 off")
    # The gap of the interlock, then the one that waited.
    assert words_of(say("wait 2 s")) == ["ch19 on line"]


def test_a_level_moves_a_rule_and_no_reading_ends_it():
    _, say = spoken("hollyhock-marionettes")
    say("wait 5 s")
    assert words_of(say("input House dimmer 40")) == ["ch18 on while"]
    assert "in15 40.0 (House dimmer)" in say("?")
    assert "is no level" in say("input House dimmer much")[0]
    assert "is no state" in say("input Prompt button 7")[0]
    assert "names no input" in say("input Door on")[0]
    assert words_of(say("input House dimmer none"))[-1] == "ch18 off ended"


def test_power_that_comes_back_starts_the_program_anew():
    controller, say = spoken("hollyhock-marionettes")
    say("wait 5 s"), say("input House dimmer 40")
    assert "ch18 off power" in words_of(say("supply off"))
    assert set(controller.rig.states.values()) == {"off"}
    # Standing rules count at once, behind the gap that runs from power-up too.
    say("supply on")
    assert words_of(say("wait 3 s")) == ["ch18 on while"]


@pytest.mark.parametrize("typed", ["", "long", "0 s", "-1 s", "2 d", "90000 s"])
def test_a_wait_has_bounds(typed):
    controller, say = spoken("potting-bench-valve")
    before = controller.kept.time
    assert len(say(f"wait {typed}")) == 1 and controller.kept.time == before


def test_rules_that_cannot_be_done_are_said_and_left_out():
    build, _ = apply(bench(), "add_input", {"name": "Door", "kind": "button"})
    key = build.inputs[0].id
    rule = {"channel": "ch2", "kind": "while", "condition": {"kind": "over", "of": key, "at": "3"}}
    document = build.model_dump(mode="json", exclude_none=True)
    document["behaviour"] = {"requests": [{"id": "ru9", **rule}]}
    broken = type(build).model_validate(document)
    around = BuildContext(broken, load_catalogue())
    controller = Controller(Rig(around, evaluate(broken)))
    assert any(line.startswith("without its rules: ") for line in controller.hello())
    assert words_of(controller.does("ch2 on")) == ["ch2 on line"]


LINES = ["A on", "input in3 on", "wait 50 s", "volts A1", "input in3 off", "wait 25 s", "?",
         "supply off", "supply on", "walk", "go", "stop", "wait 1 h", "?", "look"]  # fmt: skip


@pytest.mark.parametrize("fault", ["", "ch5.Q1:shorted"])
def test_what_is_kept_from_line_to_line_goes_on_as_if_it_had_never_stopped(fault):
    controller, say = spoken("seedling-bench", fault)
    kept, states = Kept(), {}
    for line in LINES:
        other = rig_of("seedling-bench", fault)
        other.states |= states
        other.powered = controller.rig.powered
        again = Controller(other, kept=Kept(**json.loads(json.dumps(asdict(kept)))))
        assert again.does(line) == say(line), line
        kept, states = again.kept, dict(other.states)
        assert other.states == controller.rig.states and other.powered == controller.rig.powered


def test_words_of_a_design_that_moved_on_are_forgotten():
    controller, say = spoken("seedling-bench")
    say("input in3 on"), say("A on")
    after = Controller(rig_of("potting-bench-valve"), kept=controller.kept)
    assert after.does("?")[0] == "ch2 off (A Mist relay)"


# From a terminal.


def test_the_command_lists_hides_and_refuses(capsys):
    file = str(DEMO / "potting-bench-valve.json")
    assert main(["bench", file, "--faults"]) == 0
    names = [line.split("\t")[0] for line in capsys.readouterr().out.splitlines()]
    assert "ch2.Q1:shorted" in names and "rail1:too-low" in names
    assert main(["bench", file, "--fault", "ch9.R9:open"]) == 2
    assert "no fault called" in capsys.readouterr().err


def test_it_answers_over_a_pseudo_terminal_and_says_what_happens_unasked():
    side, other = pty.openpty()
    call = [sys.executable, "-m", "console.main", "bench", str(DEMO / "seedling-bench.json"),
            "--fault", "ch5.Q1:shorted"]  # fmt: skip
    process = subprocess.Popen(call, stdin=other, stdout=other, cwd=DEMO.parent)
    os.close(other)
    try:
        text, until = "", time.monotonic() + 60
        os.write(side, b"look\nvolts A2\n")
        # The alarm comes of its own, before or after what was asked.
        while not ("alarm contradicting" in text and " V\r" in text):
            assert time.monotonic() < until, text
            if select.select([side], [], [], 0.2)[0]:
                text += os.read(side, 4096).decode()
        os.write(side, b"quit\n")
        assert "simulated bench" in text and "Heat mat: works" in text
        assert process.wait(30) == 0
    finally:
        process.kill()
        os.close(side)
