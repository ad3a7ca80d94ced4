"""The reference cases of contacts, held coils and module inputs in the terms of the core."""

from __future__ import annotations

from latchcore.figures.spread import Spread
from latchcore.sums import contacts, modules, pulsed_hold


def dc_contact(**g):
    curve = contacts.dc_curve(g["voltage_max_v"], g["rated_current_a"], g["rating_good_to_v"])
    return {
        "refused": curve is None,
        "curve_current_max_a": curve,
        "current_max_a": None if curve is None else curve * g["kind_share_ratio"],
    }


def contact_share(**g):
    found = contacts.contact_share(
        rating=g["rated_resistive_current_a"],
        share=g["share_ratio"],
        surge_ratio=g["surge_most_ratio"],
        surge_lasts=g["surge_lasts_s"],
        running=g["running_current_a"],
        making=g["making_capacity_a"],
        closed=g["contact"] == "NC",
        cheap_board=g["board_cap_ratio"] is not None,
    )
    return {
        "contact_rating_a": found.rating,
        "steady_limit_a": found.steady,
        "steady_ok": g["running_current_a"] <= found.steady,
        "surge_most_a": found.surge,
        "making_capacity_used_a": found.making,
        "surge_verdict": found.verdict,
        "allowed_current_a": found.allowed,
    }


def contact_life(**g):
    life = contacts.contact_life(g["current_a"], g["allowed_current_a"], g["life_at_allowed_count"])
    return {
        "load_ratio": g["current_a"] / g["allowed_current_a"],
        "life_count": life,
        "life_days": None if life is None else life / g["cycles_per_day_count"],
    }


def hold_economy(**g):
    found = pulsed_hold.hold_by_pwm(
        rated=g["coil_rated_v"],
        resistance=g["resistance_20_ohm"],
        inductance=g["inductance_h"],
        ambient=g["ambient_max_degc"],
        hold_share=g["hold_ratio"],
        supply_min=g["supply_min_v"],
        switch_drop=g["switch_drop_max_v"],
        diode_drop=g["diode_drop_max_v"],
        period_share=g["period_share_ratio"],
        self_heating=g["coil_self_heating_k"],
    )
    return {
        "resistance_hot_ohm": found.resistance_hot,
        "duty_ratio": found.duty,
        "period_longest_s": found.longest_period,
        "frequency_least_hz": found.least_frequency,
        "hold_power_ratio": found.power_ratio,
    }


def coil_stuck_heating(**g):
    rate, time = pulsed_hold.stuck_heating(
        g["voltage_v"], g["resistance_ohm"], g["copper_mass_kg"], g["start_degc"], g["limit_degc"]
    )
    return {"rise_rate_k_per_s": rate, "time_to_limit_s": time}


def module_input(g):
    def spread(name, unit):
        return Spread(g[f"{name}_min_{unit}"], g[f"{name}_min_{unit}"], g[f"{name}_max_{unit}"])

    return modules.ModuleInput(
        spread("module_supply", "v"),
        spread("resistance", "ohm"),
        spread("coupler_vf", "v"),
        spread("indicator_vf", "v"),
    )


def module_led(**g):
    least, most = modules.on_currents(module_input(g), g["pin_low_min_v"], g["pin_low_max_v"])
    off = modules.off_current(module_input(g), g["logic_supply_min_v"], g["same_net"])
    left = off * g["transfer_max_ratio"]
    return {
        "on_current_least_a": least,
        "on_current_most_a": most,
        "off_current_most_a": off,
        "off_collector_most_a": left,
        "turns_on": least >= g["on_current_needed_a"],
        "turns_off": left <= g["next_stage_off_current_a"],
    }


def module_states(**g):
    module, held = module_input(g), g["logic_supply_min_v"] + g["pin_above_supply_v"]
    injected = modules.held_current(module, held, "I_inj", "floating")
    weak = max(injected, modules.weakly_pulled_current(module, g["weak_pull_down_min_ohm"]))
    dead = modules.held_current(module, g["unpowered_pin_v"], "I_dead", "board unpowered")
    off = [
        current * g["transfer_max_ratio"] <= g["next_stage_off_current_a"]
        for current in (injected, weak, dead)
    ]
    return {
        "injected_most_a": injected,
        "injection_within_limit": injected <= g["injection_limit_a"],
        "led_weakly_pulled_most_a": weak,
        "led_unpowered_most_a": dead,
        "off_when_floating": off[0],
        "off_when_weakly_pulled": off[1],
        "off_when_unpowered": off[2],
    }


def module_parallel(**g):
    found = modules.fed_from_logic(
        g["module_supply_min_v"],
        g["resistance_ohm"],
        g["coupler_vf_max_v"] + g["indicator_vf_max_v"],
        g["pin_low_max_v"],
        g["current_wanted_a"],
        g["headroom_needed_v"],
    )
    return {
        "headroom_v": found.headroom,
        "headroom_enough": found.enough,
        "current_without_a": found.current,
        "resistance_wanted_ohm": found.wanted,
        "parallel_resistance_ohm": found.parallel,
    }


COMPUTE = {
    case.__name__: case
    for case in (
        dc_contact,
        contact_share,
        contact_life,
        hold_economy,
        coil_stuck_heating,
        module_led,
        module_states,
        module_parallel,
    )
}
