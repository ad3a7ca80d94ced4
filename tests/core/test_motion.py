"""Chains, pulse coils, servos, steppers, strips, mixing: held against independent sums."""

import pytest

from latchcore.sums.mixing import mix, rail_rise
from latchcore.sums.motion.chain import Clock
from latchcore.sums.pixels import strip
from latchcore.sums.pulse_coils import driver_heat, panel_refresh, pulse_bulk, pulse_window
from latchcore.sums.servos import pulse_of, servo_supply
from latchcore.sums.steppers import chopper, stepping
from tests.core.reference_motion import chain_of, of


def cases(topic):
    return pytest.mark.parametrize("case", of(topic), ids=lambda c: c["id"])


def near(value):
    return pytest.approx(value, rel=1e-4)


def _wrong(found) -> dict:
    return {
        "contents": found.contents,
        "wrongly_on": list(found.on),
        "wrongly_at_rest": list(found.at_rest),
        "forbidden": list(found.forbidden),
    }


@cases("chain")
def test_a_chain_holds_what_was_sent_and_says_what_a_wrong_edge_makes_of_it(case):
    g, e = case["given"], case["expect"]
    chain, patterns = chain_of(g), g["patterns"]
    assert [list(x) for x in chain.outside] == e["outside_the_chain"]
    assert {str(k): v for k, v in chain.twice.items()} == e["index_claimed_twice"]
    if e["t9"]:
        assert chain.outside or chain.twice
        return
    before, wanted, part = patterns[g["before"]], patterns[g["load"]], Clock(**g["part_clock"])
    places = {m.name: [chain.place(i) for i in m.indices] for m in chain.members}
    assert places == e["position_of"] and chain.bits(wanted) == e["bits_sent"]
    assert chain.contents(before) == e["contents_before"]
    for mode, want in e["by_program_mode"].items():
        became = chain.may_become(before, wanted, Clock(*mode.split("_")), part)
        assert sorted(map(str, map(_wrong, became))) == sorted(map(str, want))
    slips = [
        {"before": old, "wanted": new, "slip": way} | _wrong(wrong)
        for old, new, way, wrong in chain.slips(patterns)
    ]
    assert sorted(map(str, slips)) == sorted(map(str, e["slips"]))
    program = Clock(**g["program_clock"])
    armed = g["forbidden_armed"]
    assert chain.verdict(patterns, program, part, g["modes_confirmed"], armed) == e["m7"]
    assert chain.update(g["clock_hz"], g["latch_s"]) == near(e["update_s"])


@cases("pulse_window")
def test_a_pulse_moves_the_armature_at_every_corner_and_the_wire_survives_it(case):
    g, e = case["given"], case["expect"]
    found = pulse_window(
        supply_min=g["supply_min_v"],
        supply_max=g["supply_max_v"],
        drop_min=g["stage_drop_min_v"],
        drop_max=g["stage_drop_max_v"],
        resistance=g["resistance_20_ohm"],
        resistance_tolerance=g["resistance_tol_ratio"],
        inductance=g["inductance_h"],
        inductance_tolerance=g["inductance_tol_ratio"],
        cold=g["coil_cold_degc"],
        hot=g["coil_hot_degc"],
        operate=g["operate_current_a"],
        armature=g["armature_s"],
        mass=g["wire_mass_kg"],
        rise=g["rise_allowed_k"],
    )
    pulse = g["program_pulse_s"]
    assert found.least == (None if e["least_on_s"] is None else near(e["least_on_s"]))
    assert found.most == near(e["most_on_s"])
    assert found.power * pulse == near(e["energy_most_j"])
    assert found.rise_per_second == near(e["rise_if_stuck_k_per_s"])
    assert found.verdict(pulse) == e["c8"]


@cases("pulse_bulk")
def test_a_capacitor_gives_the_pulses_and_fills_again_or_does_not(case):
    g, e = case["given"], case["expect"]
    found = pulse_bulk(
        supply=g["supply_min_v"],
        charge=g["charge_max_ohm"],
        capacitance=g["capacitance_nominal_f"] * (1 - g["capacitance_tol_ratio"]),
        coil=g["coil_min_ohm"],
        drop=g["stage_drop_min_v"],
        on_time=g["on_s"],
        period=g["period_s"],
    )
    assert found.first_end == near(e["first_pulse_end_v"])
    assert found.steady_start == near(e["steady_start_v"])
    assert found.steady_end == near(e["steady_end_v"]) and found.sag == near(e["sag_v"])
    assert found.peak == near(e["peak_current_from_capacitor_a"])
    assert found.source == near(e["source_current_most_a"])
    assert (found.steady_end >= g["needed_v"]) == e["enough"]


@cases("driver_heat")
def test_one_package_pulses_its_switches_in_turn(case):
    g, e = case["given"], case["expect"]
    found = driver_heat(
        current=g["current_max_a"],
        on_time=g["on_s"],
        repetition=g["repetition_hz"],
        count=g["shares_count"],
        theta=g["theta_k_per_w"],
        ambient=g["ambient_degc"],
        on_voltage=g["on_voltage_max_v"],
        on_resistance=g["on_25_max_ohm"],
        rise=g["on_per_k_ratio"] or 0.0,
    )
    assert (found.duty, found.power) == (near(e["duty_ratio"]), near(e["heat_w"]))
    assert found.junction == near(e["junction_degc"])


@cases("panel_refresh")
@pytest.mark.parametrize("which", ["all", "changed"])
def test_a_panel_is_written_whole_or_only_where_it_changes(case, which):
    g, e = case["given"], case["expect"]
    found = panel_refresh(
        g["before"],
        g["after"],
        on_time=g["on_s"],
        gap=g["gap_s"],
        at_once=g["columns_at_once"],
        bits=g["chain_bits"],
        clock=g["clock_hz"],
        latch=g["latch_s"],
        current=g["coil_current_max_a"],
        period=g["refresh_period_s"],
        changed_only=which == "changed",
    )
    assert (found.shots, found.lasts) == (e[f"shots_{which}_count"], near(e[f"{which}_s"]))
    assert found.peak == near(e[f"peak_current_{which}_a"])
    share = e["energised_share_all_ratio" if which == "all" else "chance_reset_in_pulse_ratio"]
    assert found.energised == near(share)
    assert (found.load, found.pulse) == (near(e["load_s"]), near(e["pulse_real_s"]))


@cases("mix")
def test_speed_and_turn_are_mixed_and_scaled_never_clipped(case):
    g, e = case["given"], case["expect"]
    for stick, left, right in zip(
        g["sticks_ratio"], e["left_ratio"], e["right_ratio"], strict=True
    ):
        got = mix(*stick, g["stick_dead_band_ratio"], g["motor_dead_band_ratio"])
        assert got == (pytest.approx(left, abs=1e-9), pytest.approx(right, abs=1e-9))
        assert (got[0] == 0.0) == (left == 0.0) and (got[1] == 0.0) == (right == 0.0)


@cases("servo_supply")
def test_all_servos_stall_together(case):
    g, e = case["given"], case["expect"]
    pin = g["feed"] == "pin"
    found = servo_supply(
        [s["stall_a"] for s in g["servos"]],
        [s["moving_a"] for s in g["servos"]],
        pin=pin,
        limit=g["pin_limit_a"] if pin else g["rail_rating_a"],
        others=g["others_on_rail_a"],
    )
    assert (found.stalled, found.limit) == (near(e["all_stalled_a"]), near(e["limit_a"]))
    assert (found.verdict, found.fits) == (e["m5"], e["fit_stalled_count"])
    assert found.moving == near(e["all_moving_a"])


@cases("servo_units")
def test_a_pulse_in_the_wrong_unit_is_named_where_only_one_fits(case):
    g, e = case["given"], case["expect"]
    for told, want in zip(g["commands"], e["told"], strict=True):
        found = pulse_of(told["number"], told["unit"], g["pulse_min_s"], g["pulse_max_s"])
        assert found.seconds == near(want["pulse_s"])
        assert (None if found.fits else "stop") == want["m4"] and found.meant == want["meant_unit"]


@cases("stepper")
def test_a_winding_rises_in_time_and_warms_standing_still(case):
    g, e = case["given"], case["expect"]
    found = stepping(
        winding=g["winding_ohm"],
        tolerance=g["winding_tol_ratio"],
        inductance=g["inductance_h"],
        rated=g["rated_current_a"],
        supply_min=g["supply_min_v"],
        supply_max=g["supply_max_v"],
        phases=g["phases_on"],
        step_rate=g["step_rate_hz"],
        rest=g["rest_current_ratio"],
        series=g["series_ohm"],
    )
    assert (found.rise, found.rate) == (near(e["rise_most_s"]), near(e["rate_by_rise_hz"]))
    assert found.at_end == near(e["current_at_end_of_step_least_a"])
    assert found.holding == near(e["holding_current_most_a"])
    assert found.series_heat == near(e["series_heat_each_w"])
    assert found.keeps(g["step_rate_hz"], g["rate_limit_hz"]) == e["rate_ok"]
    if g["series_ohm"] < g["winding_ohm"]:
        assert found.heat == near(e["heat_at_rest_w"])
        assert found.reduced == near(e["heat_reduced_w"])
    else:
        # Behind a resistor larger than itself the winding of the most ohms takes the most heat.
        assert found.heat > e["heat_at_rest_w"]
        high = g["winding_ohm"] * (1 + g["winding_tol_ratio"])
        current = g["supply_max_v"] / (high + g["series_ohm"])
        assert found.heat == near(2 * current**2 * high)


@cases("chopper")
def test_a_chopper_is_set_by_its_reference_and_sense_resistor(case):
    g, e = case["given"], case["expect"]
    found = chopper(
        reference_min=g["reference_min_v"],
        reference_max=g["reference_max_v"],
        sense=g["sense_ohm"],
        sense_tolerance=g["sense_tol_ratio"],
        gain=g["gain_ratio"],
        winding=g["winding_ohm"],
        inductance=g["inductance_h"],
        supply_min=g["supply_min_v"],
        rated=g["motor_rated_a"],
        rest=g["rest_current_ratio"],
    )
    assert (found.least, found.most) == (near(e["current_least_a"]), near(e["current_most_a"]))
    assert (found.rise, found.heat) == (near(e["rise_s"]), near(e["heat_at_rest_most_w"]))


@cases("strip")
def test_a_strip_is_fed_and_told_to_its_last_pixel(case):
    g, e = case["given"], case["expect"]
    found = strip(
        pixels=g["pixels"],
        white=g["pixel_white_a"],
        share=g["colours_limit_ratio"] * g["brightness_ratio"],
        pitch=g["pitch_m"],
        ohms=g["plus_ohm_per_m"] + g["minus_ohm_per_m"],
        supply_min=g["supply_min_v"],
        supply_max=g["supply_max_v"],
        least=g["pixel_least_v"],
        both_ends=g["fed"] == "both_ends",
        data_high=g["data_high_min_v"],
        data_share=g["data_share_ratio"],
        diode_min=g["first_pixel_diode_min_v"],
        diode_max=g["first_pixel_diode_max_v"],
    )
    assert (found.current, found.unlimited) == (
        near(e["current_most_a"]),
        near(e["current_if_program_fails_a"]),
    )
    assert (found.drop, found.last) == (near(e["drop_v"]), near(e["last_pixel_v"]))
    assert (found.serves, found.inject) == (
        e["one_feed_serves_pixels_count"],
        near(e["inject_every_m"]),
    )
    assert (found.data_needed, found.data_reaches) == (near(e["data_needed_v"]), e["data_reaches"])
    assert found.chain_reaches == e["first_pixel_then_gives_enough"]


@cases("rail_rise")
def test_what_is_braked_lifts_the_rail_unless_its_source_takes_it_back(case):
    g, e = case["given"], case["expect"]
    own = g["inductance_h"] * g["current_a"] ** 2 / 2
    energy = own + g["kinetic_j"] * g["returned_share_ratio"]
    assert energy == near(e["returned_j"])
    least = g["capacitance_nominal_f"] * (1 - g["capacitance_tol_ratio"])
    found = rail_rise(g["supply_max_v"], least, energy, g["source_takes_back"])
    assert found == near(e["rail_most_v"])
    assert ("fix" if found > g["part_limit_v"] else None) == e["s12"]


@cases("servo_sag")
def test_stalled_servos_pull_the_board_under_its_brown_out(case):
    g, e = case["given"], case["expect"]
    drawn = sum(g["stalled_a"]) + sum(g["others_a"])
    least = g["source_min_v"] - drawn * sum(g["resistances_ohm"])
    assert least == near(e["board_least_v"])
    assert ("fix" if least < g["brown_out_v"] else None) == e["s5"]
