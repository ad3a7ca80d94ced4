"""
A coil held by resistor and capacitor, against the differential equation; clamps beside the plain
diode.
"""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from latchcore.advice.mending import advised
from latchcore.figures.quantity import parse
from tests.core.benches import EIGHT_BIT, RADIO, bench, edited, findings, result


def held(figure="200 mA", voltage="12 V", **more):
    settings = {"hold": "rc"} | more.pop("settings", {})
    more.setdefault("load", {"pull_in": "55 %"})
    return bench(
        "solenoid",
        voltage,
        figure,
        stage="nmos_low_side",
        board=EIGHT_BIT,
        pin="L5",
        settings=settings,
        **more,
    )


def simulated(resistance, inductance, resistor, capacitor, supply, until, start=0.0):
    """
    Coil volts at ``until``, resistor and capacitor in series with coil; start: volts left on the
    capacitor.
    """

    def rates(_, state):
        current, volts = state
        return [
            (supply - volts - current * resistance) / inductance,
            (current - volts / resistor) / capacitor,
        ]

    return (
        supply
        - solve_ivp(rates, (0, until), [0.0, start], rtol=1e-9, atol=1e-12, method="LSODA").y[1, -1]
    )


def fitted(build):
    stage = result(build)
    return (
        stage,
        parse(stage.value("hold_resistor").text, "Ω"),
        parse(stage.value("hold_capacitor").text.rsplit(" ", 2)[0], "F"),
    )


def test_what_is_fitted_lets_it_pull_in_and_then_holds_it_in_the_equation():
    stage, resistor, capacitor = fitted(held())
    coil = advised(held()).channels[0].result
    resistance, low = 12 / 0.2 / 1.1, coil.measure("coil_pull_in").worst
    inductance = 0.010 * resistance
    at_seat = simulated(resistance, inductance, resistor * 0.95, capacitor * 0.8, low, 0.05)
    assert at_seat >= stage.measure("hold_seat").fix * 0.97
    settled = simulated(resistance, inductance, resistor * 1.05, capacitor, low, 5.0)
    assert (
        settled == pytest.approx(low * resistance / (resistance + resistor * 1.05), rel=1e-3)
        and settled >= 0.6 * 12
    )


def test_the_pause_lets_the_capacitor_empty_to_under_a_hundredth():
    stage, resistor, capacitor = fitted(held())
    pause = 5 * resistor * 1.05 * capacitor * 1.2
    left = 12.6 * np.exp(-pause / (resistor * 1.05 * capacitor * 1.2))
    assert left < 0.01 * 12.6 and stage.coil.hold_rc["pause"]
    assert (
        findings(
            edited(
                held(),
                ("set_switching", {"channel": "ch2", "shortest_off": f"{pause * 1.05:.4f} s"}),
            )
        ).get("C1")
        is None
    )
    assert (
        findings(
            edited(
                held(),
                ("set_switching", {"channel": "ch2", "shortest_off": f"{pause * 0.5:.4f} s"}),
            )
        ).get("C1")
        == "fix"
    )


def test_pulses_leave_it_no_pause():
    assert (
        findings(
            edited(held(), ("set_switching", {"channel": "ch2", "pwm": "100 Hz", "duty": "50 %"}))
        ).get("C1")
        == "fix"
    )


def test_the_saving_is_that_of_one_resistor_more_in_the_path():
    stage, resistor, _ = fitted(held())
    assert stage.coil.hold_rc["saved"] == f"{(1 - 60 / (60 + resistor)) * 100:.0f} %"
    assert stage.coil.hold is None and "C3" not in findings(held())


def test_a_resistor_at_hand_that_is_too_large_lets_it_go():
    build = held(settings={"hold_resistor": "100"})
    assert findings(build)["C3"] == "stop"
    mend = next(f for f in advised(build).channels[0].findings if f.check == "C3").remedies
    assert any(r.edits for r in mend)


def test_a_supply_that_hardly_pulls_it_in_has_nothing_to_spare():
    assert findings(held(rail="7 V")).get("C1") == "fix"


def test_the_coil_hangs_on_the_far_side_of_the_resistor_with_its_clamp():
    net = result(held()).netlist
    assert net.part("ch2.R6").terminals == {"1": "rail1", "2": "ch2.HOLD"} and net.part(
        "ch2.C1"
    ).terminals == {"+": "rail1", "-": "ch2.HOLD"}
    assert (
        net.part("ch2.LOAD").terminals["+"] == "ch2.HOLD"
        and net.part("ch2.D1").terminals["K"] == "ch2.HOLD"
    )


def release(clamp, stage="nmos_low_side"):
    return result(
        bench("solenoid", "12 V", "200 mA", stage=stage, settings={"clamp": clamp})
    ).coil.release_time


def test_the_higher_the_clamp_the_sooner_it_lets_go():
    assert release("diode") == release("built_in") > release(
        "suppressor_across_switch"
    ) and release("diode") > release("diode_zener")


def test_a_suppressor_must_stand_above_the_rail_and_below_the_switch():
    fine = bench("solenoid", "12 V", "200 mA", settings={"clamp": "suppressor_across_switch"})
    assert (
        not {"C4", "C5"} & set(findings(fine))
        and result(fine).parts["clamp_zener"].family == "suppressor"
    )
    low = bench(
        "solenoid",
        "24 V",
        "200 mA",
        rail="24 V",
        board=RADIO,
        settings={"clamp": "suppressor_across_switch", "clamp_suppressor": "suppressor-18v-600w"},
    )
    assert findings(low)["C5"] == "stop"


def test_a_diode_inside_the_coil_is_a_clamp_and_the_wrong_way_round_a_short():
    fine = bench("relay_coil", settings={"clamp": "built_in"})
    assert (
        not {"C4", "C5"} & set(findings(fine))
        and result(fine).netlist.part("ch2.D1").value == "inside the coil"
    )
    assert (
        findings(edited(fine, ("set_setting", {"channel": "ch2", "clamp_band": "switch"})))["C5"]
        == "stop"
    )
