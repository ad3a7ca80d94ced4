"""
Adapters of the reference cases on alternating current: triacs, phase control, zero detectors, heat
sinks.
"""

import math

from latchcore.figures.spread import Spread
from latchcore.sums import phase, triac
from tests.core.reference_windows import window_answer


def triac_gate_resistor(**g):
    by = max(g["trigger_by_s"], g["firing_delay_shortest_s"] or 0.0)
    args = (
        g["gate_trigger_current_max_a"],
        g["gate_trigger_voltage_max_v"],
        g["driver_on_voltage_max_v"],
    )
    window = triac.gate_resistor(
        g["line_min_v"],
        g["line_max_v"],
        g["frequency_min_hz"],
        g["driver_surge_limit_a"],
        *args,
        g["series"],
        g["tolerance_ratio"],
        by,
    )
    volts, at = (
        triac.fires_at(
            window.chosen, g["tolerance_ratio"], *args, g["line_min_v"], g["frequency_min_hz"]
        )
        if window.chosen
        else (None, None)
    )
    limit = g["line_min_v"] * math.sqrt(2) * math.sin(2 * math.pi * g["frequency_min_hz"] * by)
    return window_answer(window) | {
        "line_peak_max_v": g["line_max_v"] * math.sqrt(2),
        "trigger_limit_v": limit,
        "trigger_voltage_most_v": volts,
        "trigger_latest_s": at,
    }


def triac_driver_led(**g):
    forward = Spread(
        g["led_vf_min_v"], (g["led_vf_min_v"] + g["led_vf_max_v"]) / 2, g["led_vf_max_v"]
    )
    window = triac.driver_led(
        g["voh_min_v"],
        g["voh_max_v"],
        forward,
        g["trigger_current_max_a"],
        g["pin_recommended_current_a"],
        g["series"],
        g["tolerance_ratio"],
        g["trigger_factor_ratio"],
    )
    r, tol = window.chosen, g["tolerance_ratio"]
    return window_answer(window) | {
        "led_current_wanted_a": g["trigger_factor_ratio"] * g["trigger_current_max_a"],
        "led_current_least_a": r and (g["voh_min_v"] - g["led_vf_max_v"]) / (r * (1 + tol)),
        "led_current_most_a": r and (g["voh_max_v"] - g["led_vf_min_v"]) / (r * (1 - tol)),
    }


def phase_power(**g):
    angle = g["firing_angle_rad"]
    ratio = phase.rms_ratio(angle)
    return {
        "delay_s": phase.delay(angle, g["frequency_hz"]),
        "rms_ratio": ratio,
        "rms_voltage_v": ratio * g["line_v"],
        "power_ratio": phase.left(angle),
        "power_w": phase.left(angle) * g["line_v"] ** 2 / g["load_resistance_ohm"],
        "light_ratio": phase.left(angle, "light", g["light_exponent"]),
    }


def phase_delay(**g):
    angles = [
        phase.angle_for(share, g["quantity"], g["light_exponent"]) for share in g["wanted_ratio"]
    ]
    return {
        "delay_s": [phase.delay(a, g["frequency_hz"]) for a in angles],
        "firing_angle_rad": angles,
    }


def zero_cross(**g):
    found = phase.zero_pulse(g["secondary_rms_v"], g["frequency_hz"], g["threshold_v"])
    return {
        "pulse_present": found is not None,
        "pulse_width_s": found and found[0],
        "correction_s": found and found[1],
    }


def firing_window(**g):
    found = phase.firing_window(
        g["frequency_min_hz"],
        g["frequency_nominal_hz"],
        g["frequency_max_hz"],
        g["gate_pulse_s"],
        g["detector_error_s"],
        g["margin_start_s"],
        g["margin_end_s"],
    )
    return {
        "earliest_delay_s": found.earliest,
        "latest_delay_s": found.latest,
        "power_most_ratio": found.most,
        "power_least_ratio": found.least,
    }


def heat_sink(**g):
    power, possible, sink = triac.heat_sink(
        g["junction_max_degc"],
        g["ambient_max_degc"],
        g["theta_jc_k_per_w"],
        g["theta_cs_k_per_w"],
        g["drop_max_v"],
        g["current_a"],
        g["margin_k"],
    )
    return {
        "power_w": power,
        "possible": possible,
        "heat_sink_needed": power > 0,
        "theta_sa_max_k_per_w": sink,
    }


COMPUTE = {
    name: function
    for name, function in list(globals().items())
    if callable(function) and getattr(function, "__module__", "") == __name__
}
