"""
The reference cases of supplies, wires, fuses, suppression and isolation in the terms of the core.
"""

from __future__ import annotations

from latchcore.catalogue.barriers import barrier_class as class_of
from latchcore.metal.islands import islands
from latchcore.sums import ampacity, instants, suppression


def sag(**g):
    before, during = instants.sag(
        g["source_v"], g["source_resistance_ohm"], g["steady_current_a"], g["surge_extra_current_a"]
    )
    return {
        "voltage_before_v": before,
        "voltage_during_v": during,
        "resets": during < g["brownout_v"],
    }


def bulk_capacitor(**g):
    least, chosen, left = instants.bulk_capacitor(
        g["voltage_before_v"],
        g["voltage_floor_v"],
        g["pulse_current_a"],
        g["pulse_time_s"],
        stock=g["stock_capacitance_f"],
    )
    return {"capacitance_min_f": least, "chosen_capacitance_f": chosen, "voltage_left_v": left}


def bulk_with_source(**g):
    return {
        "voltage_end_v": instants.bulk_with_source(
            g["source_v"],
            g["source_resistance_ohm"],
            g["capacitance_f"],
            g["pulse_current_a"],
            g["pulse_time_s"],
        )
    }


def stagger(**g):
    peak, together = instants.stagger(
        g["load_count"],
        g["running_current_a"],
        g["surge_current_a"],
        g["surge_time_s"],
        g["spacing_s"],
    )
    return {"peak_current_a": peak, "all_at_once_a": together}


def regulator(**g):
    if g["kind"] == "switching":
        taken = instants.switching_input(
            g["vin_min_v"], g["vout_v"], g["current_a"], g["efficiency_ratio"]
        )
        return dict.fromkeys(
            ("power_w", "junction_degc", "within_limit", "within_margin", "in_dropout")
        ) | {"input_current_max_a": taken}
    power, junction, drops = instants.linear_regulator(
        g["vin_max_v"],
        g["vin_min_v"],
        g["vout_v"],
        g["current_a"],
        g["dropout_v"],
        g["theta_ja_k_per_w"],
        g["ambient_max_degc"],
    )
    return {
        "power_w": power,
        "junction_degc": junction,
        "within_limit": junction <= g["junction_max_degc"],
        "within_margin": junction <= g["junction_max_degc"] - g["margin_k"],
        "in_dropout": drops,
        "input_current_max_a": None,
    }


def battery(**g):
    average = g["idle_current_a"] + g["load_current_a"] * g["load_duty_ratio"]
    _, stalled = instants.sag(g["empty_v"], g["internal_resistance_ohm"], 0.0, g["stall_current_a"])
    return {
        "running_time_s": instants.running_time(g["capacity_c"], average),
        "terminal_voltage_stall_v": stalled,
    }


def wire_awg(**g):
    area = ampacity.gauge_area(g["gauge_count"])
    return {"area_m2": area, "diameter_m": (4 * area / 3.141592653589793) ** 0.5}


def wire_drop(**g):
    drop = ampacity.wire_drop(g["length_one_way_m"], g["area_m2"], g["current_a"], g["supply_v"])
    share = drop / g["supply_v"]
    return {
        "resistance_ohm": drop / g["current_a"],
        "drop_v": drop,
        "drop_ratio": share,
        "drop_verdict": (
            "fix"
            if share > g["fix_over_ratio"]
            else "note"
            if share > g["note_over_ratio"]
            else "sound"
        ),
    }


def wire_ampacity(**g):
    if g["table_area_m2"] is None:
        # A table of gauge numbers: thicker is the smaller number.
        table = {
            1 / n: i for n, i in zip(g["table_gauge_count"], g["table_current_a"], strict=True)
        }
        size = 1 / g["gauge_count"]
    else:
        table = dict(zip(g["table_area_m2"], g["table_current_a"], strict=True))
        size = g["area_m2"] if g["area_m2"] is not None else ampacity.gauge_area(g["gauge_count"])
    used = ampacity.ampacity(size, table)
    return {
        "refused": used is None,
        "table_current_used_a": used,
        "ampacity_a": ampacity.ampacity(size, table, g["laying_ratio"], g["plug_rating_a"]),
    }


def fuse(**g):
    found = ampacity.choose_fuse(
        running=g["running_current_a"],
        surge=g["surge_current_a"],
        surge_time=g["surge_time_s"],
        wire=g["wire_ampacity_a"],
        plug=g["plug_rating_a"],
        contact=g["contact_rating_a"],
        low=g["window_low_ratio"],
        high=g["window_high_ratio"],
        stock=g["stock_fuse_a"],
        multiples=g["melting_multiple_ratio"],
        times=g["melting_time_s"],
        above=g["melting_above_exponent"],
    )
    return {
        "admissible_a": list(found.admissible),
        "melting_times_s": list(found.melting),
        "limits_that_would_cure": list(found.cures),
    }


def snubber_leakage(**g):
    return {
        "leakage_current_a": suppression.leakage(
            g["line_v"], g["frequency_hz"], g["capacitance_f"], g["resistance_ohm"]
        )
    }


def snubber_discharge(**g):
    needed, most, largest = suppression.discharge(
        g["capacitance_f"],
        g["start_v"],
        g["target_v"],
        g["time_limit_s"],
        g["needed_above_f"],
        g["tolerance_ratio"],
        g["series"],
    )
    return {
        "discharge_needed": needed,
        "window_real_max_ohm": most,
        "window_nominal_max_ohm": most and most / (1 + g["tolerance_ratio"]),
        "largest_ohm": largest,
    }


def varistor(**g):
    highest = g["line_nominal_v"] * (1 + g["line_tolerance_ratio"])
    return {
        "line_max_v": highest,
        "rating_least_v": g["margin_ratio"] * highest,
        "class_v": suppression.varistor(highest, g["classes_v"], g["poor_mains"]),
    }


def barrier_class(**g):
    found = [
        class_of(*row)
        for row in zip(g["test_voltage_v"], g["creepage_m"], g["bare_board"], strict=True)
    ]
    return {"barrier_class": [kind for kind, _ in found], "check": [check for _, check in found]}


def isolation(**g):
    marked = {
        what: [n for n, yes in zip(g["node_names"], g[f"node_{what}"], strict=True) if yes]
        for what in ("hazardous", "touchable", "earthed")
    }
    found = islands(
        g["node_names"],
        g["links"],
        [(a, b, kind, f"{a}-{b}") for a, b, kind in g["barriers"]],
        **marked,
    )
    pairs = [(found.of(a), found.of(b)) for a, b in g["pairs"]]
    return {
        "groups": found.groups,
        "strength_present_count": [found.strength(*p)[0] for p in pairs],
        "strength_needed_count": [found.needed(*p) for p in pairs],
        "sufficient": [found.sufficient(*p) for p in pairs],
    }


COMPUTE = {
    name: function
    for name, function in list(globals().items())
    if callable(function) and getattr(function, "__module__", "") == __name__
}
