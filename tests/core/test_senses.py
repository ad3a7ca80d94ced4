"""
Inputs that belong to the job: rest states, pulls by the lead, levels both ways, what a dead board
is fed, mains.
"""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.edits import EditError, apply
from latchcore.pieces.knob_scale import scaled
from latchcore.sums import phase
from tests.core.benches import EIGHT_BIT, RADIO, bench, edited, findings

RADIO_LOGIC = BuildContext(Build(name="levels", board=RADIO), load_catalogue()).board.logic


def sensing(kind: str, board=RADIO, rail: dict | None = None, **fields) -> Build:
    """A build that senses one thing; its input is the last id, a rail, where given, is rail1."""
    build = edited(Build(name="senses"), ("set_board", {"board": board}))
    if rail:
        build = edited(build, ("add_rail", rail))
    return edited(build, ("add_input", {"kind": kind, **fields}))


def report(build: Build):
    return advised(build).inputs[0]


def mended(build: Build, check: str) -> Build:
    finding = next(f for f in advised(build).all_findings if f.check == check)
    return edited(build, *next(r for r in finding.remedies if r.edits).edits)


@pytest.mark.parametrize(
    "kind", ["button", "micro_switch", "reed", "end_pair", "knob", "sensor", "tachometer", "serial"]
)
@pytest.mark.parametrize("board", [EIGHT_BIT, RADIO])
def test_an_input_as_it_is_added_has_a_line_that_can_do_it_and_nothing_to_mend(kind, board):
    build = sensing(kind, board)
    assert not report(build).missing and not findings(build)


def test_a_voltage_to_be_divided_must_be_said():
    assert report(sensing("divider")).missing == ["voltage"]
    assert not findings(
        sensing("divider", voltage="10 to 15 V", rail={"voltage": "12 V", "source": "board_pin"})
    )


def test_an_open_contact_reads_high_and_what_it_says_depends_on_its_rest_state():
    rows = {
        rest: {r[0]: r for r in report(sensing("reed", rest=rest)).rows}
        for rest in ("open", "closed")
    }
    assert rows["open"]["at rest"][2] == "high" and rows["closed"]["at rest"][2] == "low"
    # Only a contact that is closed at rest gives a broken lead away.
    assert (
        "noticed" in rows["closed"]["lead broken"][3]
        and "nothing" in rows["open"]["lead broken"][3]
    )


def test_two_end_switches_have_four_states_and_one_of_them_is_a_fault():
    assert [r[3].split(":")[0] for r in report(sensing("end_pair")).rows] == [
        "at one end",
        "at the other end",
        "between",
        "fault",
    ]
    assert report(sensing("end_pair", rest="closed")).rows[2][2] == "low, low"


def test_no_pull_is_a_fix_and_the_sized_one_mends_it():
    build = sensing("micro_switch", pull="none")
    assert findings(build) == {"T5": "fix"}
    assert not findings(mended(build, "T5"))


def test_the_boards_own_pull_does_for_a_short_lead_and_not_for_a_long_one():
    assert not findings(sensing("reed", pull="internal", lead_length="30 cm", pin="P25"))
    long = sensing("reed", pull="internal", lead_length="12 m", pin="P25")
    lost = next(m for m in report(long).measures if m.key == "open_level")
    hum = 10e-12 * 12 * 2 * math.pi * 60 * 253 * math.sqrt(2)
    assert lost.worst == pytest.approx((hum + 1e-6) * 80e3)
    assert findings(long)["T5"] == "fix" and not findings(mended(long, "T5"))


def test_a_sensor_that_only_pulls_low_is_held_against_hum_on_its_lead_like_a_contact():
    near, far = (
        sensing("sensor", output="open_collector", pull="47 kΩ", lead_length=length)
        for length in ("50 cm", "20 m")
    )
    assert not findings(near) and findings(far) == {"T5": "fix"}
    lost = next(m for m in report(far).measures if m.key == "open_level")
    assert lost.worst == pytest.approx(
        (10e-12 * 20 * 2 * math.pi * 60 * 253 * math.sqrt(2) + 1e-6) * 47e3 * 1.01, rel=0.05
    )
    assert not findings(mended(far, "T5"))


@given(st.floats(0.1, 200.0))
def test_the_longer_the_lead_the_smaller_the_largest_pull(length):
    near, far = (
        report(sensing("button", lead_length=f"{x:.3f} m")).value("pull").window.real_max
        for x in (length, length * 1.5)
    )
    assert far < near


def test_a_debounce_under_the_bounce_counts_one_press_several_times():
    build = sensing("button", debounce="2 ms")
    assert findings(build) == {"T5": "fix"} and not findings(mended(build, "T5"))
    late = report(sensing("button", debounce="20 ms", sampled="10 ms"))
    assert late.latency == pytest.approx(0.04)
    assert report(sensing("button")).latency is None


def test_a_five_volt_sensor_on_a_three_volt_pin_is_over_voltage_once():
    build = sensing("sensor", rail={"voltage": "5 V", "source": "board_pin"}, name="light")
    build = edited(build, ("set_input", {"what": "in2", "rail": "rail1"}))
    assert findings(build) == {"P9": "stop"}
    said = next(f for f in advised(build).all_findings if f.check == "P9")
    assert len(said.remedies) == 3 and "in series" in said.remedies[2].label
    for remedy in said.remedies:
        assert not findings(edited(build, *remedy.edits))
    assert not findings(
        edited(
            sensing("sensor", EIGHT_BIT, rail={"voltage": "5 V", "source": "board_pin"}),
            ("set_input", {"what": "in2", "rail": "rail1"}),
        )
    )


def test_a_three_volt_sensor_is_too_low_for_a_five_volt_board():
    build = sensing("sensor", EIGHT_BIT, voltage="3.3 V")
    assert findings(build) == {"T5": "fix"} and not findings(mended(build, "T5"))


def test_a_powered_sensor_feeds_a_dead_board():
    live = {"voltage": "3.3 V ±2 %", "source": "adapter", "rating": "1 A"}
    build = edited(sensing("sensor", rail=live), ("set_input", {"what": "in2", "rail": "rail1"}))
    assert findings(build)["S11"] == "stop"
    assert "S11" not in findings(mended(build, "S11"))
    # Fed from the board's own pin it dies with the board.
    assert not findings(edited(build, ("set_rail", {"rail": "rail1", "source": "board_pin"})))


def test_serial_levels_are_looked_at_both_ways():
    down = sensing("serial", rail={"voltage": "5 V", "source": "board_pin"})
    down = edited(down, ("set_input", {"what": "in2", "rail": "rail1"}))
    assert findings(down) == {"P9": "stop", "T5": "fix"}
    assert not findings(edited(down, ("set_input", {"what": "in2", "shifter": "yes"})))
    assert {r[3] for r in report(down).rows} == {"crossed"}


def test_a_divider_is_sized_to_stay_under_the_least_logic_supply():
    build = sensing(
        "divider", voltage="10 to 15 V", rail={"voltage": "12 V", "source": "board_pin"}
    )
    node = next(m for m in report(build).measures if m.key == "tolerance")
    assert node.worst <= 3.135 and node.worst > 0.8 * 3.135
    wrong = edited(build, ("set_input", {"what": "in2", "upper": "10 kΩ"}))
    assert findings(wrong)["P9"] == "stop" and "P9" not in findings(mended(wrong, "P9"))


def test_mains_on_a_divider_is_a_stop_that_nobody_may_accept():
    build = sensing("divider", rail={"voltage": "230 V", "source": "mains"})
    build = edited(
        build, ("set_input", {"what": "in2", "rail": "rail1", "upper": "1 MΩ", "lower": "10 kΩ"})
    )
    said = {f.check: f for f in advised(build).all_findings}
    assert said["I4"].severity == "stop" and not said["I4"].acceptable
    assert "I1" in said
    low = edited(build, ("set_rail", {"rail": "rail1", "source": "board_pin", "voltage": "12 V"}))
    assert "I4" not in findings(low)


def test_an_isolated_input_is_no_metal_path_and_its_led_gets_enough():
    build = sensing("opto", rail={"voltage": "24 V", "rating": "1 A"})
    build = edited(
        build,
        ("set_rail", {"rail": "rail1", "ground": "own"}),
        ("set_input", {"what": "in2", "rail": "rail1"}),
    )
    whole = advised(build)
    assert not whole.findings
    groups = whole.netlist.islands()
    assert not any({"rail1", "in2.PIN"} <= g for g in groups)
    least = next(m for m in whole.inputs[0].measures if m.key == "led")
    assert least.worst >= least.fix
    assert (
        findings(edited(build, ("set_input", {"what": "in2", "upper": "100 kΩ"})))["D1"] == "stop"
    )


def test_an_isolated_input_counts_on_its_rail():
    build = edited(
        sensing("opto", rail={"voltage": "24 V", "rating": "1 A"}),
        ("set_input", {"what": "in2", "rail": "rail1"}),
    )
    rail = advised(build).rails[0]
    assert rail.all_on == pytest.approx(
        next(m for m in report(build).measures if m.key == "led_most").worst
    )


@given(st.floats(0, 1), st.floats(0, 1), st.floats(-500, 500), st.floats(-500, 500))
def test_a_knob_moves_one_way_only_and_reaches_both_ends(one, other, low, high):
    a, b = sorted((one, other))
    first, second = scaled(a, low, high, 0.02), scaled(b, low, high, 0.02)
    assert (second - first) * (high - low) >= -1e-6
    assert scaled(0.0, low, high, 0.02) == low and scaled(1.0, low, high, 0.02) == pytest.approx(
        high
    )


def test_a_knob_on_five_volts_is_too_much_for_a_three_volt_pin():
    build = edited(
        sensing("knob", rail={"voltage": "5 V", "source": "board_pin"}),
        ("set_input", {"what": "in2", "rail": "rail1"}),
    )
    assert findings(build) == {"P9": "stop"} and not findings(mended(build, "P9"))
    assert findings(sensing("knob", upper="100 kΩ"))["T5"] == "fix"


def test_a_knob_wants_an_analogue_line_and_says_so_when_it_has_none():
    build = sensing("knob", EIGHT_BIT)
    assert build.inputs[0].pin in {f"L{n}" for n in range(14, 20)}
    wrong = edited(build, ("set_input", {"what": "in1", "pin": "L4"}))
    assert findings(wrong)["P10"] == "stop"
    assert not findings(mended(wrong, "P10"))
    flash = edited(sensing("button"), ("set_input", {"what": "in1", "pin": "P6"}))
    assert findings(flash)["P3"] == "stop"


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"kind": "nose"}, "no kind of input"),
        ({"kind": "button", "pull": "strong"}, "auto, internal, none"),
        ({"kind": "knob", "lowest": "left"}, "no plain number"),
        ({"kind": "button", "debounce": "soon"}, "not a quantity"),
        ({"kind": "button", "rail": "rail9"}, "no longer in the build"),
    ],
)
def test_nonsense_is_refused_with_what_was_expected(fields, says):
    with pytest.raises(EditError, match=says):
        apply(edited(Build(name="x"), ("set_board", {"board": RADIO})), "add_input", fields)


def test_an_input_that_goes_is_no_longer_named_as_confirmation():
    build = edited(
        sensing("reed", rail={"voltage": "12 V"}),
        ("add_channel", {"kind": "solenoid", "voltage": "12 V", "figure": "30 Ω"}),
        ("set_confirmation", {"channel": "ch3", "confirmed_by": "in2"}),
    )
    assert build.channels[0].confirmed_by == "in2"
    assert edited(build, ("remove_input", {"what": "in2"})).channels[0].confirmed_by is None
    with pytest.raises(EditError):
        apply(build, "set_confirmation", {"channel": "ch3", "confirmed_by": "in9"})


def detector(kind: str, board=RADIO, **fields) -> Build:
    build = sensing("button", board, rail={"voltage": "230 V", "source": "mains"})
    return edited(build, ("add_input", {"kind": kind, "rail": "rail1", **fields}))


@pytest.mark.parametrize("kind", ["zero_transformer", "zero_coupler"])
@pytest.mark.parametrize("board", [EIGHT_BIT, RADIO])
def test_a_zero_detector_reports_a_pulse_that_straddles_the_zero_and_keeps_the_line_apart(
    kind, board
):
    whole = advised(detector(kind, board))
    found = whole.inputs[-1]
    width, correction = found.found.pulse
    assert 0.2e-3 < width < 2e-3 and correction == pytest.approx(width / 2)
    assert (
        "interrupt" in load_catalogue().parts[board].pin(detector(kind, board).inputs[-1].pin).can
    )
    assert not any({"rail1", "0V"} <= g for g in whole.netlist.islands())
    assert not {f.check for f in whole.findings} & {"I1", "I2", "I4", "D14", "T5"}


@settings(max_examples=60, deadline=None)
@given(
    st.floats(0.9, 1.1),
    st.floats(0, 1),
    st.floats(0.5 * 0.5, 3.0),
    st.floats(47.0, 53.0),
    st.floats(100e-6, 300e-6),
)
def test_the_zero_seems_never_later_nor_earlier_than_reckoned_between_the_corners_of_a_detector(
    line, fresh, ratio, hertz, follows
):
    found = advised(detector("zero_coupler")).inputs[-1]
    each, many = found.value("upper").value, found.found.many
    # A coupler somewhere between worn and best, resistors and LED somewhere between their ends.
    pull = found.value("pull").value
    current = (RADIO_LOGIC.min + fresh * (RADIO_LOGIC.max - RADIO_LOGIC.min)) / (
        pull * (1.05 - 0.1 * fresh) * ratio
    )
    volts = 1.0 + 0.4 * fresh + current * many * each * (0.95 + 0.1 * fresh)
    half = phase.zero_pulse(230 * line, hertz, volts)[1]
    # Between 100 and 300 µs at 47 kΩ it takes to let go; 200 are reckoned with.
    drags = (follows - 200e-6) * pull / 47e3
    assert (
        -found.found.early * (1 + 1e-9)
        <= found.found.pulse[1] - half + drags
        <= found.found.late * (1 + 1e-9)
    )
    assert 2 * half >= 300e-6 * pull / 47e3


def test_the_middle_between_both_edges_stays_and_a_transformers_own_phase_is_taken_off():
    middle = advised(
        edited(
            detector("zero_transformer"),
            ("set_input", {"what": "in3", "edge": "middle", "shift": "0.4 ms"}),
        )
    ).inputs[-1]
    assert middle.found.late == middle.found.early == 0 and middle.found.adds == pytest.approx(
        -0.4e-3
    )
    rising = advised(
        edited(detector("zero_transformer"), ("set_input", {"what": "in3", "shift": "0.4 ms"}))
    ).inputs[-1]
    assert rising.found.adds == pytest.approx(rising.found.pulse[1] - 0.4e-3)
    assert rising.found.late > 0.2e-3 and rising.found.early > 0.2e-3


def test_resistors_before_a_coupler_on_the_line_share_its_volts_and_its_heat():
    found = advised(detector("zero_coupler")).inputs[-1]
    many = found.found.many
    chain = [p for p in found.netlist.parts if p.kind == "resistor" and "mains class" in p.value]
    assert len(chain) == many >= 2
    assert next(m for m in found.measures if m.key == "volts").worst == pytest.approx(
        253 * 2**0.5 / many
    )
    small = edited(detector("zero_coupler"), ("set_input", {"what": "in3", "upper": "10 kΩ"}))
    assert next(f for f in advised(small).all_findings if f.check == "D14").severity == "stop"


def test_a_detector_on_direct_current_is_refused_and_one_without_a_rail_asks_for_it():
    build = edited(
        detector("zero_coupler"),
        ("add_rail", {"voltage": "12 V"}),
        ("set_input", {"what": "in3", "rail": "rail4"}),
    )
    assert findings(build)["S8"] == "stop"
    assert "rail" in report(sensing("zero_coupler")).missing


def test_a_secondary_that_is_too_low_never_leaves_the_pulse():
    assert findings(detector("zero_transformer", voltage="2 V"))["T5"] == "fix"


def test_a_rail_that_an_input_senses_is_not_removed_under_it():
    build = sensing("opto", rail={"voltage": "24 V", "rating": "1 A"}, name="Pump runs")
    build = edited(build, ("set_input", {"what": "in2", "rail": "rail1"}))
    with pytest.raises(EditError, match="still feeds Pump runs"):
        apply(build, "remove_rail", {"rail": "rail1"})


def test_a_line_without_a_pull_up_inside_does_not_get_one_by_asking():
    build = edited(sensing("reed", pull="internal"), ("set_input", {"what": "in1", "pin": "P34"}))
    assert findings(build)["T5"] == "fix" and not findings(mended(build, "T5"))
    assert not findings(edited(build, ("set_input", {"what": "in1", "pin": "P25"})))


def test_an_input_has_no_field_that_is_not_its_own():
    build = edited(bench(), ("add_input", {"kind": "button"}))
    with pytest.raises(EditError, match="no “colour”"):
        edited(build, ("set_input", {"what": "in3", "colour": "red"}))


@pytest.mark.parametrize("value", ["a\0b", "bell\x07", "\ud800"])
def test_what_cannot_be_written_down_is_refused_whatever_edit_it_comes_with(value):
    with pytest.raises(EditError, match="cannot be written down"):
        edited(bench(), ("rename_channel", {"channel": "ch2", "name": value}))
