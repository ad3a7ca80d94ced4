"""The hardware end of a pulse, and full volts before the pulses that hold."""

import json
from pathlib import Path

import pytest

from latchcore.advice.mending import advised
from latchcore.sums.one_shot import charge_time, one_shot_resistor
from tests.core.benches import bench, edited, findings, result

REFERENCE = Path(__file__).parents[1] / "data" / "motion.json"
CASES = [c for c in json.loads(REFERENCE.read_text(encoding="utf-8")) if c["topic"] == "one_shot"]


@pytest.mark.parametrize("case", CASES, ids=lambda c: c["id"])
def test_the_resistor_outlasts_the_pulse_and_ends_before_the_coil_burns(case):
    g, e = case["given"], case["expect"]
    found = one_shot_resistor(
        capacitance=g["capacitance_f"],
        capacitor_tolerance=g["capacitance_tol_ratio"],
        tolerance=g["resistance_tol_ratio"],
        share_min=g["threshold_min_ratio"],
        share_max=g["threshold_max_ratio"],
        pulse=g["pulse_program_s"],
        most=g["coil_most_on_s"],
    )
    assert found.nominal_min == pytest.approx(e["window_nominal_min_ohm"], rel=1e-4)
    assert found.admissible == e["admissible_ohm"]
    if e["chosen_ohm"] is None:
        assert found.empty
        return
    assert found.nominal_max == pytest.approx(e["window_nominal_max_ohm"], rel=1e-4)
    assert found.chosen == e["chosen_ohm"]
    for sign, share, key in (
        (-1, "threshold_min_ratio", "one_shot_least_s"),
        (1, "threshold_max_ratio", "one_shot_most_s"),
    ):
        ohms = found.chosen * (1 + sign * g["resistance_tol_ratio"])
        farads = g["capacitance_f"] * (1 + sign * g["capacitance_tol_ratio"])
        assert charge_time(ohms, farads, g[share]) == pytest.approx(e[key], rel=1e-4)


def pulse(bears="300 ms", asked="30 ms", **settings):
    return bench(
        "solenoid",
        "12 V",
        "2 A",
        stage="nmos_low_side",
        load={"longest_rated": bears, "hazards": "pulse coil", "inductance": "5 mH"},
        switching={"longest_on": asked},
        settings={"one_shot": "fitted"} | settings,
    )


def test_it_is_offered_where_only_the_program_ends_a_pulse_and_ends_the_finding():
    bare = edited(pulse(), ("set_setting", {"channel": "ch2", "one_shot": "none"}))
    assert findings(bare) == {"C8": "fix"}
    first = next(f for f in advised(bare).all_findings if f.check == "C8").remedies[0]
    assert first.label == "Put a one-shot before the gate"
    assert findings(edited(bare, *first.edits)) == {}


@pytest.mark.parametrize(("bears", "verdict"), [("167 ms", None), ("166 ms", "fix")])
def test_its_longest_comes_before_the_coil_burns(bears, verdict):
    assert findings(pulse(bears, one_shot_resistor="120k")).get("C8") == verdict


@pytest.mark.parametrize(("asked", "verdict"), [("49 ms", None), ("50 ms", "fix")])
def test_its_shortest_outlasts_the_programs_pulse(asked, verdict):
    assert findings(pulse(asked=asked, one_shot_resistor="120k")).get("C8") == verdict


@pytest.mark.parametrize(("rest", "verdict"), [("700 ms", None), ("690 ms", "fix")])
def test_it_must_be_empty_before_the_next_pulse(rest, verdict):
    build = pulse(one_shot_resistor="120k")
    build = edited(build, ("set_switching", {"channel": "ch2", "shortest_off": rest}))
    assert findings(build).get("C8") == verdict


def test_another_capacitor_moves_its_resistor_and_not_its_time():
    small, usual = (result(pulse(one_shot_capacitor=c)) for c in ("100 nF", "1 µF"))
    assert small.value("one_shot_resistor").value > 8 * usual.value("one_shot_resistor").value
    assert small.coil.one_shot.most == pytest.approx(usual.coil.one_shot.most, rel=0.2)


def test_it_stands_between_pin_and_gate_and_its_input_is_held():
    net = result(pulse(pull_side="gate")).netlist
    assert net.part("ch2.U3").terminals["A"] == "ch2.PIN"
    assert net.part("ch2.R1").terminals["1"] == "ch2.SHOT"
    # What floats in reset is the logic before the gate, wherever a pull was wanted.
    assert net.part("ch2.R2").terminals["1"] == "ch2.PIN"


def test_a_hung_program_no_longer_keeps_it_on():
    watchless = edited(pulse(), ("set_watchdog", {"watchdog": "no"}))
    bare = edited(watchless, ("set_setting", {"channel": "ch2", "one_shot": "none"}))
    assert findings(bare)["P14"] == "stop" and "P14" not in findings(watchless)


def held(**switching):
    pulses = {"pwm": "20 kHz", "duty": "70 %"} | switching
    return bench("relay_coil", "12 V", "400 Ω", stage="nmos_low_side", switching=pulses)


@pytest.mark.parametrize(("first", "verdict"), [("", "fix"), ("49 ms", "fix"), ("51 ms", None)])
def test_pulses_hold_a_coil_that_full_volts_have_pulled_in(first, verdict):
    assert findings(held(full_first=first)).get("C1") == verdict


def test_pulses_wide_enough_pull_it_in_by_themselves():
    assert "C1" not in findings(held(duty="96 %"))
    label = next(f for f in advised(held()).all_findings if f.check == "C1").remedies[0].label
    assert label == "Full on for 100 ms first"


@pytest.mark.parametrize(("volts", "verdict"), [("4.8 V", None), ("4.7 V", "stop")])
def test_a_zener_at_the_gate_leaves_the_volts_its_resistance_is_specified_at(volts, verdict):
    build = bench(
        "led_strip",
        "12 V",
        "2 A",
        stage="nmos_low_side",
        board="board-8bit-5v-20",
        settings={"transistor": "nmos-60v-30a-4v5", "gate_zener": volts},
    )
    assert findings(build).get("D4") == verdict


@pytest.mark.parametrize(("zener", "verdict"), [("", "stop"), ("12 V", None)])
def test_a_zener_from_gate_to_rail_bounds_what_a_high_rail_would_do(zener, verdict):
    build = bench(
        "led_strip",
        "24 V",
        "500 mA",
        rail="24 V",
        stage="pmos_high_side",
        settings={"series_resistor": "1k", "gate_zener": zener},
    )
    assert findings(build).get("D5") == verdict
