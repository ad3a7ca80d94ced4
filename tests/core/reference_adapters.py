"""
One small adapter a topic: from the names of the reference cases to the core's functions and back.
"""

from __future__ import annotations

from latchcore.figures import preferred
from latchcore.sums import (
    arrays,
    bipolar,
    coils,
    couplers,
    gates,
    heat,
    leds,
    mosfet,
    pulls,
    strings,
    supplies,
)
from tests.core import reference_contacts, reference_mains, reference_supplies
from tests.core.reference_windows import window_answer


def verdict(value, stop, fix):
    return "stop" if value > stop else "fix" if value > fix else "sound"


def base_resistor(**g):
    current = g["surge_current_a"]
    if g["load_resistance_min_ohm"]:
        current = max(current, g["supply_max_v"] / g["load_resistance_min_ohm"])
    found = bipolar.base_resistor(
        school=g["school"],
        collector_current=current,
        forced_gain=g["forced_gain_ratio"],
        gain_min=g["gain_min_ratio"],
        overdrive=g["overdrive_ratio"],
        gain_limit=g["forced_gain_limit_ratio"],
        vbe_min=g["vbe_min_v"],
        vbe_max=g["vbe_sat_max_v"],
        base_emitter_min=g["base_emitter_resistance_min_ohm"],
        voh_noload_min=g["voh_noload_min_v"],
        voh_rated_min=g["voh_rated_min_v"],
        rated_current=g["pin_rated_current_a"],
        voh_max=g["voh_max_v"],
        pin_current=g["pin_recommended_current_a"],
        series=g["series"],
        tolerance=g["tolerance_ratio"],
    )
    chosen, tol = found.window.chosen, g["tolerance_ratio"]
    least = most = None
    if chosen:
        droop = bipolar.pin_droop(
            g["voh_noload_min_v"], g["voh_rated_min_v"], g["pin_rated_current_a"]
        )
        base_emitter = g["base_emitter_resistance_min_ohm"] or float("inf")
        least = bipolar.base_current(
            g["voh_noload_min_v"], droop, chosen * (1 + tol), g["vbe_sat_max_v"], base_emitter
        )
        most = (g["voh_max_v"] - g["vbe_min_v"]) / (chosen * (1 - tol))
    return window_answer(found.window) | {
        "collector_current_max_a": current,
        "school_used": found.school,
        "base_current_needed_a": found.base_current_needed,
        "base_current_least_a": least,
        "pin_current_most_a": most,
    }


def junction_temperature(**g):
    duty = mosfet.effective_duty(g["duty_ratio"], g["on_time_s"], g["continuous_over_s"])
    power = heat.saturated_loss(
        g["vce_sat_max_v"], g["collector_current_a"], g["vbe_sat_max_v"], g["base_current_a"], duty
    )
    junction = heat.junction(power, g["theta_ja_k_per_w"], g["ambient_max_degc"])
    limit = g["junction_max_degc"]
    return {
        "power_w": power,
        "junction_degc": junction,
        "within_limit": junction <= limit,
        "within_margin": junction <= limit - g["margin_k"],
    }


def switch_ratings(**g):
    if g["clamp"] == "zener_across_switch":
        clamped = g["zener_max_v"]
    else:
        clamped = g["supply_max_v"] + g["diode_drop_max_v"] + (g["zener_max_v"] or 0.0)
    rating = g["blocking_rating_v"]
    voltage = (
        "stop"
        if rating < clamped
        else "fix"
        if rating < g["blocking_factor_ratio"] * clamped
        else "sound"
    )
    limit = g["current_rating_a"]
    return {
        "clamped_voltage_max_v": clamped,
        "voltage_verdict": voltage,
        "current_verdict": verdict(
            g["collector_current_max_a"], limit, g["current_share_ratio"] * limit
        ),
    }


def resistor_watts(**g):
    volts = g["high_side_max_v"] - g["low_side_min_v"]
    power = heat.resistor_power(volts, g["resistance_ohm"], g["tolerance_ratio"])
    over = volts > g["working_voltage_v"]
    return {
        "power_most_w": power,
        "load_ratio": power / g["rating_w"],
        "power_verdict": verdict(power, g["rating_w"], g["power_share_ratio"] * g["rating_w"]),
        "voltage_most_v": volts,
        "over_voltage": over,
        "voltage_verdict": "stop" if over else "sound",
    }


def mosfet_self_heating(**g):
    found = mosfet.self_heating(
        current=sum(g["load_currents_a"]),
        on_resistance_25=g["r_on_25_max_ohm"],
        rise=mosfet.rise_of(g["voltage_class_v"]),
        switching_loss=g["switching_loss_w"],
        theta=g["theta_ja_k_per_w"],
        ambient=g["ambient_max_degc"],
        duty=mosfet.effective_duty(g["duty_ratio"], g["on_time_s"], g["continuous_over_s"]),
    )
    hot, limit = found.junction, g["junction_max_degc"]
    return {
        "runaway": found.runaway,
        "junction_degc": hot,
        "r_on_hot_ohm": found.on_resistance,
        "power_w": found.power,
        "within_limit": hot is not None and hot <= limit,
        "within_margin": hot is not None and hot <= limit - g["margin_k"],
    }


def gate_resistor(**g):
    charge = g["gate_drain_charge_c"] + (g["gate_source_second_charge_c"] or 0.0)
    window = mosfet.gate_resistor(
        voh_min=g["voh_min_v"],
        voh_max=g["voh_max_v"],
        vol_max=g["vol_max_v"],
        plateau_min=g["plateau_min_v"],
        plateau_max=g["plateau_max_v"],
        charge=charge,
        pin_absolute=g["pin_absolute_current_a"],
        least_value=g["least_value_ohm"],
        time_limit=g["switch_time_limit_s"],
        series=g["series"],
        tolerance=g["tolerance_ratio"],
        pin_resistance_max=g["pin_resistance_max_ohm"],
    )
    answer = window_answer(window) | dict.fromkeys(
        ("peak_current_most_a", "turn_on_longest_s", "turn_off_longest_s")
    )
    if window.chosen:
        high = window.chosen * (1 + g["tolerance_ratio"])
        answer["peak_current_most_a"] = g["voh_max_v"] / (
            window.chosen * (1 - g["tolerance_ratio"])
        )
        for name, left in (
            ("turn_on_longest_s", g["voh_min_v"] - g["plateau_max_v"]),
            ("turn_off_longest_s", g["plateau_min_v"] - g["vol_max_v"]),
        ):
            answer[name] = mosfet.plateau_time(charge, high, g["pin_resistance_max_ohm"], left)
    return answer


def gate_divider(**g):
    droop = bipolar.pin_droop(g["voh_noload_min_v"], g["voh_rated_min_v"], g["pin_rated_current_a"])
    tol = g["tolerance_ratio"]
    least = min(
        mosfet.gate_voltage(
            g["pull_down_side"],
            g["voh_noload_min_v"],
            droop,
            g["gate_resistance_ohm"] * a,
            g["pull_down_ohm"] * b,
        )
        for a in (1 - tol, 1 + tol)
        for b in (1 - tol, 1 + tol)
    )
    return {"vgs_min_v": least, "on_resistance_specified": least >= g["vgs_specified_v"]}


def switching_loss(**g):
    volts = g["supply_max_v"] + g["clamp_voltage_v"]
    loss = mosfet.switching_loss(
        volts, g["current_a"], g["turn_on_s"], g["turn_off_s"], g["frequency_hz"]
    )
    return {"switched_voltage_v": volts, "switching_loss_w": loss}


def led_resistor(**g):
    window = leds.led_resistor(
        level_min=g["voh_min_v"],
        level_max=g["voh_max_v"],
        droop=0.0,
        vf_min=g["led_vf_min_v"],
        vf_max=g["led_vf_max_v"],
        least_current=g["led_least_current_a"],
        pin_current=g["pin_recommended_current_a"],
        led_current=g["led_maximum_current_a"],
        series=g["series"],
        tolerance=g["tolerance_ratio"],
    )
    answer = window_answer(window) | {"led_current_least_a": None, "led_current_most_a": None}
    if window.chosen:
        tol = g["tolerance_ratio"]
        answer["led_current_least_a"] = (g["voh_min_v"] - g["led_vf_max_v"]) / (
            window.chosen * (1 + tol)
        )
        answer["led_current_most_a"] = (g["voh_max_v"] - g["led_vf_min_v"]) / (
            window.chosen * (1 - tol)
        )
    return answer


def coil_turn_on(**g):
    time = coils.operate_time(
        g["supply_v"], g["resistance_ohm"], g["inductance_h"], g["operate_current_a"]
    )
    return {
        "final_current_a": g["supply_v"] / g["resistance_ohm"],
        "operates": time is not None,
        "operate_time_s": time,
    }


def coil_turn_off(**g):
    found = coils.turn_off(
        g["clamp"],
        g["supply_v"],
        g["resistance_ohm"],
        g["inductance_h"],
        g["initial_current_a"],
        g["release_current_a"],
        g["diode_drop_v"] or 0.0,
        g["zener_v"] or 0.0,
    )
    names = (
        "clamp_voltage_across_coil_v",
        "switch_voltage_v",
        "release_time_s",
        "zero_time_s",
        "clamp_charge_c",
        "clamp_energy_j",
        "supply_energy_j",
        "stored_energy_j",
        "clamp_mean_power_w",
        "clamp_mean_current_a",
    )
    if found is None:
        return dict.fromkeys(names) | {"conducts_always": True}
    rate = g["operations_hz"]
    values = (
        found.clamp_voltage,
        found.switch_voltage,
        found.release_time,
        found.zero_time,
        found.clamp_charge,
        found.clamp_energy,
        found.supply_energy,
        found.stored_energy,
        found.clamp_energy * rate,
        found.clamp_charge * rate,
    )
    return dict(zip(names, values, strict=True)) | {"conducts_always": False}


def coil_voltage_limits(**g):
    hot = coils.hot_pull_in(
        g["must_operate_ratio"] * g["coil_rated_v"], g["ambient_max_degc"], g["coil_self_heating_k"]
    )
    low, high = g["supply_min_v"] - g["stage_drop_max_v"], g["supply_max_v"] - g["stage_drop_min_v"]
    limit = g["max_continuous_ratio"] * g["coil_rated_v"]
    return {
        "coil_voltage_min_v": low,
        "pull_in_hot_v": hot,
        "pulls_in": low >= hot,
        "coil_voltage_max_v": high,
        "coil_voltage_limit_v": limit,
        "over_limit": high > limit,
    }


def coil_unclamped(**g):
    peak = coils.unclamped_peak(
        g["supply_v"], g["inductance_h"], g["stray_capacitance_f"], g["initial_current_a"]
    )
    return {"switch_voltage_peak_v": peak, "exceeds_device_rating": peak > g["device_rating_v"]}


def pull_resistor(**g):
    limit = pulls.off_limit(g["follows"], g["vth_min_v"])
    supply, pull_up, leak, tol = (
        g["logic_supply_max_v"],
        g["weak_pull_up_min_ohm"],
        g["leakage_max_a"],
        g["tolerance_ratio"],
    )
    nodes = [
        max(
            pulls.node_against_pull_up(supply, pull_up, r, tol),
            pulls.node_against_leakage(leak, r, tol),
        )
        for r in g["candidates_ohm"]
    ]
    real = pulls.largest_real_pull(supply, pull_up, leak, limit)
    return {
        "limit_v": limit,
        "candidate_node_most_v": nodes,
        "candidate_ok": [n <= limit for n in nodes],
        "resistance_real_max_ohm": real,
        "largest_ohm": preferred.largest_below("E12", real / (1 + tol)),
    }


def states_low_side(**g):
    limit = pulls.off_limit("gate", g["vth_min_v"])
    floating = pulls.node_against_leakage(
        g["leakage_max_a"], g["pull_down_ohm"], g["tolerance_ratio"]
    )
    weak = pulls.node_against_pull_up(
        g["logic_supply_max_v"], g["weak_pull_up_min_ohm"], g["pull_down_ohm"], g["tolerance_ratio"]
    )
    return {
        "gate_on_least_v": g["voh_min_v"],
        "gate_off_most_v": g["vol_max_v"],
        "gate_floating_most_v": floating,
        "gate_weakly_pulled_most_v": weak,
        "gate_unpowered_v": 0.0,
        "on_when_commanded": g["voh_min_v"] >= g["vgs_specified_v"],
        "off_when_commanded": g["vol_max_v"] <= limit,
        "off_when_floating": floating <= limit,
        "off_when_weakly_pulled": weak <= limit,
        "off_when_unpowered": True,
        "on_when_hung": True,
    }


def rail_sum(**g):
    total, worst = supplies.rail_sum(
        g["load_running_current_a"], g["load_surge_current_a"], g["load_count"]
    )
    rating = g["source_rating_a"]
    return {
        "all_on_a": total,
        "worst_instant_a": worst,
        "all_on_within_rating": total <= rating,
        "headroom_kept": total <= g["headroom_share_ratio"] * rating,
        "worst_within_rating": worst <= rating,
    }


def headroom(**g):
    per_coil = g["supply_v"] * (1 + g["supply_tolerance_ratio"])
    per_coil /= g["coil_resistance_ohm"] * (1 - g["resistance_tolerance_ratio"])
    total, _ = supplies.rail_sum([per_coil], [per_coil], [g["coil_count"]])
    least, size = supplies.source_size(total, g["headroom_share_ratio"], g["stock_source_a"])
    nominal = g["coil_count"] * g["supply_v"] / g["coil_resistance_ohm"]
    return {
        "nominal_a": nominal,
        "all_on_most_a": total,
        "source_least_a": least,
        "chosen_source_a": size,
    }


def darlington_array(**g):
    power = arrays.package_loss(
        g["channel_currents_a"],
        g["channel_drops_v"],
        g["channel_duties_ratio"],
        g["channel_on_times_s"],
        g["continuous_over_s"],
        g["never_together_index"],
    )
    junction = heat.junction(power, g["theta_ja_k_per_w"], g["ambient_max_degc"])
    return {
        "power_w": power,
        "junction_degc": junction,
        "within_margin": junction <= g["junction_max_degc"] - g["margin_k"],
        "channels_over_limit_count": sum(i > g["channel_limit_a"] for i in g["channel_currents_a"]),
        "ground_current_a": arrays.ground_current(
            g["channel_currents_a"], g["never_together_index"]
        ),
    }


def pchannel_gate(**g):
    window = gates.rail_gate_series(
        rail_min=g["rail_min_v"],
        rail_max=g["rail_max_v"],
        vgs_specified=g["vgs_specified_v"],
        vgs_max=g["vgs_max_v"],
        share=g["vgs_share_ratio"],
        pull_min=g["pull_up_min_ohm"],
        pull_max=g["pull_up_max_ohm"],
        series=g["series"],
        tolerance=g["tolerance_ratio"],
    )
    tol = g["tolerance_ratio"]
    least = most = None
    if window.chosen:
        least = gates.divided_gate(
            g["rail_min_v"], 0.0, g["pull_up_min_ohm"], window.chosen * (1 + tol)
        )
        most = gates.divided_gate(
            g["rail_max_v"], 0.0, g["pull_up_max_ohm"], window.chosen * (1 - tol)
        )
    return window_answer(window) | {"vgs_on_least_v": least, "vgs_on_most_v": most}


def pchannel_direct_drive(**g):
    left = gates.direct_gate_left(
        g["same_net"], g["rail_max_v"], g["logic_supply_min_v"], g["pin_drop_max_v"]
    )
    off = left <= g["threshold_share_ratio"] * g["vth_min_v"]
    tolerates = (
        g["same_net"] or g["rail_max_v"] <= g["logic_supply_min_v"] + g["pin_above_supply_v"]
    )
    return {
        "gate_left_most_v": left,
        "turns_off": off,
        "pin_tolerates": tolerates,
        "direct_pin_drive_allowed": off and tolerates,
    }


def gate_bleed_turn_off(**g):
    return {
        "turn_off_time_s": gates.bleed_turn_off(
            g["gate_on_v"],
            g["gate_plateau_v"],
            g["gate_threshold_v"],
            g["bleed_ohm"],
            g["input_capacitance_f"],
            g["gate_drain_charge_c"],
        )
    }


def coupler_led_resistor(**g):
    found = couplers.coupler_led(
        voh_min=g["voh_min_v"],
        droop=0.0,
        voh_max=g["voh_max_v"],
        vf_min=g["led_vf_min_v"],
        vf_max=g["led_vf_max_v"],
        collector_needed=g["collector_needed_a"],
        ratio_min=g["transfer_min_ratio"],
        derating=g["derating_ratio"],
        factor=g["saturation_factor_ratio"],
        default_current=g["led_default_current_a"],
        pin_current=g["pin_recommended_current_a"],
        series=g["series"],
        tolerance=g["tolerance_ratio"],
    )
    least = most = None
    if found.window.chosen:
        tol = g["tolerance_ratio"]
        least = couplers.led_current(
            g["voh_min_v"], 0.0, g["led_vf_max_v"], found.window.chosen * (1 + tol)
        )
        most = (g["voh_max_v"] - g["led_vf_min_v"]) / (found.window.chosen * (1 - tol))
    return window_answer(found.window) | {
        "led_current_asked_a": found.asked,
        "led_current_wanted_a": found.wanted,
        "raised_to_default": found.raised,
        "led_current_least_a": least,
        "led_current_most_a": most,
    }


def coupler_output(**g):
    led = couplers.led_current(
        g["voh_min_v"], 0.0, g["led_vf_max_v"], g["led_resistance_ohm"] * (1 + g["tolerance_ratio"])
    )
    left = couplers.collector_available(led, g["transfer_min_ratio"], g["derating_ratio"])
    return {
        "led_current_least_a": led,
        "collector_available_a": left,
        "saturated": left >= g["saturation_factor_ratio"] * g["collector_needed_a"],
        "pwm_limit_hz": g["edge_share_ratio"] / (g["turn_on_s"] + g["turn_off_s"]),
    }


def coupler_dark_current(**g):
    limit = (
        g["threshold_share_ratio"] * g["vth_min_v"] if g["follows"] == "gate" else g["base_limit_v"]
    )
    dark = couplers.dark_voltage(g["dark_current_a"], g["bleed_ohm"], g["tolerance_ratio"])
    return {
        "limit_v": limit,
        "dark_most_v": dark,
        "stays_off": dark <= limit,
        "bleed_largest_ohm": couplers.largest_bleed(
            g["dark_current_a"], limit, g["tolerance_ratio"]
        ),
    }


def led_strings(**g):
    found = strings.led_strings(
        supply_min=g["supply_min_v"],
        supply_max=g["supply_max_v"],
        vf_min=g["led_vf_min_v"],
        vf_max=g["led_vf_max_v"],
        headroom_share=g["headroom_ratio"],
        constant_over=g["constant_current_over_ratio"],
        current_max=g["string_current_max_a"],
        count=g["led_count"],
        series=g["series"],
        tolerance=g["tolerance_ratio"],
    )
    return {
        "headroom_v": found.headroom,
        "leds_per_string_count": found.per_string,
        "constant_current_advised": found.constant_current,
        "string_count": found.count,
        "resistance_real_min_ohm": found.real_min,
        "resistance_nominal_min_ohm": found.nominal_min,
        "chosen_ohm": found.resistor,
        "string_current_most_a": found.string_most,
        "total_current_most_a": found.total_most,
    }


def states_high_side(**g):
    tol, limit = g["tolerance_ratio"], pulls.off_limit("gate", g["vth_min_v"])
    pull_low, pull_high = g["pull_up_ohm"] * (1 - tol), g["pull_up_ohm"] * (1 + tol)
    gate_low = gate_high = g["gate_resistance_ohm"]
    on = gates.divided_gate(g["rail_min_v"], g["drive_low_max_v"], pull_low, gate_high)
    floating = pulls.node_against_leakage(g["leakage_max_a"], g["pull_up_ohm"], tol)
    weak = unpowered = back = 0.0
    if g["driver"] == "pin":
        if g["weak_pull_down_min_ohm"]:
            weak = gates.divided_gate(
                g["rail_max_v"], 0.0, pull_high, gate_low + g["weak_pull_down_min_ohm"]
            )
        unpowered = gates.divided_gate(g["rail_max_v"], g["unpowered_pin_v"], pull_high, gate_low)
        back = (g["rail_max_v"] - g["unpowered_pin_v"]) / (pull_low + gate_low)
    return {
        "gate_on_least_v": on,
        "gate_floating_most_v": floating,
        "gate_weakly_pulled_most_v": weak,
        "gate_unpowered_most_v": unpowered,
        "on_when_commanded": on >= g["vgs_specified_v"],
        "off_when_floating": floating <= limit,
        "off_when_weakly_pulled": weak <= limit,
        "off_when_unpowered": unpowered <= limit,
        "back_feed_most_a": back,
        "on_when_hung": True,
    }


def pwm_ripple(**g):
    ripple = coils.pwm_ripple(g["supply_v"], g["duty_ratio"], g["inductance_h"], g["frequency_hz"])
    return {
        "ripple_peak_to_peak_a": ripple,
        "diode_mean_current_a": g["mean_current_a"] * (1 - g["duty_ratio"]),
    }


COMPUTE = (
    {
        name: function
        for name, function in list(globals().items())
        if callable(function)
        and getattr(function, "__module__", "") == __name__
        and name not in ("window_answer", "verdict")
    }
    | reference_contacts.COMPUTE
    | reference_supplies.COMPUTE
    | reference_mains.COMPUTE
)
