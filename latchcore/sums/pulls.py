"""Which pull resistor holds a stage off while nobody drives the pin."""

from __future__ import annotations

from latchcore.figures import preferred
from latchcore.figures.working import Working

#: The stage is off while its input stays under these (chapter on pins, levels and the five states).
GATE_SHARE, BASE_LIMIT = 0.5, 0.35


def node_against_pull_up(
    supply_max, pull_up_min, pull_down, tolerance, working: Working | None = None
):
    """
    Highest voltage a weak pull-up leaves at a pulled-down node [V]; 0 without a pull-up.

    Notes
    -----
    V_DD,max·R_pd/(R_pd + R_pu,min) with R_pd at the top of its tolerance.

    Examples
    --------
    >>> round(node_against_pull_up(3.465, 45e3, 10e3, 0.05), 3)
    0.656
    """
    w = working or Working()
    if pull_up_min is None:
        return 0.0
    return w.calc(
        "V_weak",
        "V_DD_max*R_pd*(1 + tol)/(R_pd*(1 + tol) + R_pu_min)",
        "V",
        "high supply, strongest pull-up",
        V_DD_max=(supply_max, "V"),
        R_pd=(pull_down, "Ω"),
        tol=(tolerance, ""),
        R_pu_min=(pull_up_min, "Ω"),
    )


def node_against_leakage(leakage, pull_down, tolerance, working: Working | None = None):
    """
    Highest voltage leakage leaves at a pulled-down node [V].

    Examples
    --------
    >>> round(node_against_leakage(1e-6, 100e3, 0.05), 3)
    0.105
    """
    w = working or Working()
    return w.calc(
        "V_float",
        "I_leak*R_pd*(1 + tol)",
        "V",
        "highest leakage",
        I_leak=(leakage, "A"),
        R_pd=(pull_down, "Ω"),
        tol=(tolerance, ""),
    )


def off_limit(follows: str, threshold_min: float | None) -> float:
    """
    Voltage under which the input is off: a share of the least threshold at a gate, a fixed figure
    at a base.
    """
    return BASE_LIMIT if follows != "gate" or threshold_min is None else GATE_SHARE * threshold_min


def largest_real_pull(supply_max, pull_up_min, leakage, limit):
    """
    Largest real resistance that keeps the node at or under the limit [Ω].

    Weak pull and leakage are looked at one by one: a pin that leaks has no pull-up and the reverse.

    Examples
    --------
    >>> round(largest_real_pull(3.465, 45e3, 1e-7, 0.75))
    12431
    """
    tops = [limit / leakage if leakage else float("inf")]
    if pull_up_min is not None and supply_max > limit:
        tops.append(limit * pull_up_min / (supply_max - limit))
    return min(tops)


def choose_pull(
    supply_max, pull_up_min, leakage, limit, tolerance, floats=10e3, pulled=4.7e3, series="E12"
):
    """
    The pull resistor to fit: the customary value, or the largest preferred one that still holds the
    stage off.

    Examples
    --------
    >>> choose_pull(3.465, None, 1e-6, 0.35, 0.05), choose_pull(3.465, 45e3, 1e-6, 0.35, 0.05)
    (10000.0, 4700.0)
    >>> choose_pull(3.465, 20e3, 1e-5, 0.35, 0.05)
    1800.0
    """
    customary = pulled if pull_up_min is not None else floats
    largest = preferred.largest_below(
        series, largest_real_pull(supply_max, pull_up_min, leakage, limit) / (1 + tolerance)
    )
    return min(customary, largest) if largest else None
