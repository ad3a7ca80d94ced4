"""How a resistor window answers a reference case."""

from __future__ import annotations


def window_answer(window):
    def finite(value):
        return None if value is None or value == float("inf") else value

    return {
        "window_real_min_ohm": window.real_min,
        "window_real_max_ohm": finite(window.real_max),
        "window_nominal_min_ohm": window.nominal_min,
        "window_nominal_max_ohm": finite(window.nominal_max),
        "window_empty": window.empty,
        "empty_reason": window.empty_reason,
        "limits_that_would_cure": window.cures,
        "admissible_ohm": window.admissible,
        "chosen_ohm": window.chosen,
    }
