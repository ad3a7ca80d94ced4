"""Servos: their pulses and ends, their signal, all of them stalled on one supply."""

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.evaluate import evaluate
from latchcore.whole.pinning import demands
from tests.core.benches import RADIO, bench, edited, findings, result, with_part


def servo(rating="5 A", **settings):
    return bench(
        "servo",
        "5 V",
        "200 mA",
        rail="5 V",
        rating=rating,
        stage="servo_pulse",
        settings=settings,
        load={"surge": "0.8 A"},
    )


def finding(build, check):
    return next(f for f in advised(build).all_findings if f.check == check)


@pytest.mark.parametrize(
    ("pulse", "meant"),
    [
        ("1 ms", None),
        ("2 ms", None),
        ("0.99 ms", ""),
        ("2.01 ms", ""),
        ("1500 ms", "1500 µs"),
        ("1.5 s", "1.5 ms"),
        ("1.5 µs", "1.5 ms"),
        ("200 ms", ""),
        ("0.0025", ""),
        ("0.0015", None),
        ("2.5 m", ""),
    ],
)
def test_a_pulse_lies_between_both_ends_and_a_slipped_unit_is_named(pulse, meant):
    build = servo(work_pulse=pulse)
    assert findings(build).get("M4") == (None if meant is None else "stop")
    if meant is None:
        return
    said = finding(build, "M4")
    assert pulse in said.sentence and ("Meant is perhaps" in said.sentence) == bool(meant)
    assert meant in said.remedies[0].label
    assert "M4" not in findings(edited(build, *said.remedies[0].edits))


def test_ends_that_were_found_take_the_place_of_the_usual_ones():
    assert "M4" not in findings(servo(work_pulse="2.3 ms", wide="2.4 ms"))
    assert findings(servo(rest_pulse="1.1 ms", narrow="1.2 ms"))["M4"] == "stop"


@pytest.mark.parametrize(("wide", "verdict"), [("1.01 ms", None), ("1 ms", "stop")])
def test_the_wide_end_is_wider_than_the_narrow_one(wide, verdict):
    assert findings(servo(wide=wide)).get("M4") == verdict


def test_an_angle_stands_between_both_ends_of_its_travel():
    found = result(servo(rest_pulse="1.25 ms", work_pulse="2 ms", travel="180"))
    details = [found.the_value(k).detail for k in ("rest_pulse", "work_pulse")]
    assert details == ["at 45°", "at 180°"]


@pytest.mark.parametrize(("rating", "verdict"), [("1.61 A", None), ("1.59 A", "fix")])
def test_all_stalled_together_against_their_rail(rating, verdict):
    build = edited(servo(rating), ("copy_channel", {"channel": "ch2"}))
    assert findings(build).get("M5") == verdict
    if verdict:
        said = finding(build, "M5")
        assert said.title.startswith("2 servos stalled") and "1.6 A" in said.sentence
        assert not {"M5", "S1"} & set(findings(edited(build, *said.remedies[0].edits)))


def test_what_else_is_on_counts_beside_the_stalled_ones_and_is_told_once():
    build = edited(
        servo("1.2 A"),
        ("add_channel", {"kind": "heater", "voltage": "5 V", "figure": "0.5 A"}),
    )
    assert findings(build)["M5"] == "fix" and "S1" not in findings(build)


def test_on_a_pin_of_the_board_it_is_a_stop_with_its_sum_and_an_adapter_by_one_press():
    build = edited(
        servo(), ("set_rail", {"rail": "rail1", "source": "board_pin", "board_pin": "5V"})
    )
    said = finding(build, "M5")
    assert said.severity == "stop" and "0.8 A" in said.sentence.replace("800 mA", "0.8 A")
    assert "S3" not in findings(build)
    after = edited(build, *said.remedies[0].edits)
    assert "M5" not in findings(after) and after.rails[0].source == "adapter"


def test_another_load_that_asks_too_much_of_the_pin_alone_is_still_told():
    # 0.8 A stalled are within four fifths of 1.1 A; a lamp of 0.1 A starts with ten times that.
    board = with_part(servo(), RADIO, power_pins={"5V": "1.3 A"})
    build = edited(
        board,
        ("set_board", {"board": "own"}),
        ("set_rail", {"rail": "rail1", "source": "board_pin", "board_pin": "5V"}),
        ("add_channel", {"kind": "filament_lamp", "voltage": "5 V", "figure": "0.1 A"}),
        ("assign_pins", {}),
    )
    found = findings(build)
    assert "M5" not in found and found["S3"] == "stop"


def test_its_line_wants_a_timer_behind_it():
    build = servo()
    (wanted,) = demands(build, BuildContext(build, load_catalogue()))
    assert "pwm" in wanted.wants
    plain = next(
        p.id
        for p in load_catalogue().parts["board-8bit-5v-20"].pins
        if "pwm" not in p.can and "out" in p.can and not p.owner
    )
    moved = edited(
        build,
        ("set_board", {"board": "board-8bit-5v-20"}),
        ("set_pin", {"channel": "ch2", "pin": plain}),
    )
    assert findings(moved)["P10"] == "stop"


@pytest.mark.parametrize(("pwm", "verdict"), [("50 Hz", None), ("51 Hz", "fix")])
def test_it_is_pulsed_fifty_times_a_second(pwm, verdict):
    build = edited(servo(), ("set_switching", {"channel": "ch2", "pwm": pwm, "duty": "7 %"}))
    assert findings(build).get("D9") == verdict


def test_what_a_dead_servo_takes_from_the_pin_is_held_by_the_resistor_in_its_signal():
    found = result(servo())
    assert found.pin_current == pytest.approx((3.465 - 0.6) / (330 * 0.95))
    # With nothing between only the fall of the pin's own level limits it.
    bare = servo(series_resistor="none")
    board = load_catalogue().parts[RADIO]
    assert result(bare).pin_current == pytest.approx(board.logic.max / board.droop)
    assert findings(bare)["P1"] == "stop"
    low = edited(servo(), ("set_setting", {"channel": "ch2", "series_resistor": "220"}))
    assert findings(low)["P1"] == "fix"
    back = finding(low, "P1").remedies[0]
    assert "P1" not in findings(edited(low, *back.edits))


@pytest.mark.parametrize(("reads", "verdict"), [("3.08 V", None), ("3.09 V", "stop")])
def test_a_printed_level_of_its_signal_is_held_against_the_pin(reads, verdict):
    assert findings(servo(reads_high=reads)).get("P7") == verdict


def test_its_three_wires_are_joined_and_it_does_nothing_without_pulses():
    found = result(servo())
    load = found.netlist.part("ch2.LOAD").terminals
    assert load == {"+": "rail1", "-": "0V", "SIG": "ch2.SIGNAL"}
    assert {s.key: s.load for s in found.states}["floating"] == "off"
    bare = result(servo(series_resistor="none")).netlist
    assert bare.part("ch2.LOAD").terminals["SIG"] == "ch2.PIN" and bare.part("ch2.R1") is None


def test_volts_it_is_not_made_for_are_refused():
    build = bench("servo", "5 V", "200 mA", rail="12 V", stage="servo_pulse", board=RADIO)
    assert findings(build)["S8"] == "stop"
    motor = bench("motor_both", "12 V", "0.4 A", rail="24 V", stage="bridge_chip", board=RADIO)
    assert findings(motor)["S8"] == "stop"
    assert evaluate(build).channels[0].result is not None


@pytest.mark.parametrize(("arm", "trips"), [("40 mm", False), ("40.1 mm", True)])
def test_an_arm_it_cannot_hold_stalls_it_and_a_shorter_one_mends_it(arm, trips):
    build = servo(torque="120 mN·m", force="3 N", arm=arm)
    assert ("M5" in findings(build)) == trips
    if trips:
        (remedy,) = finding(build, "M5").remedies
        assert "40 mm" in remedy.label and "M5" not in findings(edited(build, *remedy.edits))


@pytest.mark.parametrize(
    ("pulses", "pause", "trips"),
    [
        # All of 90° at 120 ms for 60°: 180 ms; half of it: 90 ms.
        ({}, "180 ms", False),
        ({}, "179 ms", True),
        ({"rest_pulse": "1.5 ms", "work_pulse": "1 ms"}, "90 ms", False),
        ({"rest_pulse": "1.5 ms", "work_pulse": "1 ms"}, "89 ms", True),
    ],
)
def test_the_program_waits_until_it_has_got_there(pulses, pause, trips):
    build = servo(sixty="120 ms", pause=pause, **pulses)
    assert ("D9" in findings(build)) == trips
    if trips:
        (remedy,) = finding(build, "D9").remedies
        assert "D9" not in findings(edited(build, *remedy.edits))


def test_pulses_of_a_loop_want_no_timer_and_are_asked_how_far_they_are_off():
    build = servo(made="loop", work_pulse="1.5 ms")
    (wanted,) = demands(build, BuildContext(build, load_catalogue()))
    assert "pwm" not in wanted.wants
    said = finding(build, "M4")
    assert said.severity == "check"
    (press,) = said.remedies
    timed = edited(build, *press.edits)
    assert "M4" not in findings(timed)
    assert "pwm" in demands(timed, BuildContext(timed, load_catalogue()))[0].wants


@pytest.mark.parametrize(("pulse", "trips"), [("1.95 ms", False), ("1.951 ms", True)])
def test_what_trembles_keeps_away_from_its_ends(pulse, trips):
    build = servo(made="loop", jitter="50 µs", work_pulse=pulse)
    assert (findings(build).get("M4") == "stop") == trips
    # 50 µs of 1 ms between both ends, of 90°.
    assert "± 4.5°" in result(build).value("work_pulse").detail
    if trips:
        assert "M4" not in findings(edited(build, *finding(build, "M4").remedies[0].edits))
