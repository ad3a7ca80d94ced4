"""
What the stages owe a builder, for random loads, boards and parts, recomputed by other means than
theirs.
"""

import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.figures import preferred
from latchcore.figures.windows import Bound, resistor_window
from latchcore.sums import bipolar
from tests.core.benches import COMPUTER, EIGHT_BIT, RADIO, bench, result

BOARDS = [EIGHT_BIT, RADIO, COMPUTER]
CATALOGUE = load_catalogue()


def tries(series, low, high):
    """Every preferred value whose both tolerance ends lie in a range, by trying each one."""
    tol = preferred.TOLERANCE[series]
    return [
        v
        for v in preferred.values(series)
        if v * (1 - tol) >= low * (1 - 1e-9) and v * (1 + tol) <= high * (1 + 1e-9)
    ]


@settings(max_examples=120, deadline=None)
@given(
    board=st.sampled_from(BOARDS),
    part=st.sampled_from([p.id for p in CATALOGUE.of_family("npn")]),
    milliamperes=st.floats(5, 900),
    series=st.sampled_from(["E12", "E24", "E96"]),
    school=st.sampled_from(["auto", "forced_gain", "overdrive"]),
)
def test_a_base_resistor_satisfies_every_corner_or_names_the_conflict(
    board, part, milliamperes, series, school
):
    build = bench(
        figure=f"{milliamperes:.4g} mA",
        board=board,
        conditions={"series": series, "school": school},
        settings={"transistor": part},
    )
    stage = result(build)
    resistor, window = stage.value("base_resistor"), stage.value("base_resistor").window
    pins, npn, tol = CATALOGUE.parts[board], CATALOGUE.parts[part], preferred.TOLERANCE[series]
    base_emitter = stage.value("pull_resistor").value
    collector = stage.running
    forced, gentle = collector / 10, max(3 * collector / npn.gain(collector), collector / 25)

    def least_base_current(r):
        """March through the pin's droop instead of solving it."""
        low, high = 0.0, pins.voh_noload_min / (r * (1 + tol))
        for _ in range(80):
            current = (low + high) / 2
            level = pins.voh_noload_min - pins.droop * current
            low, high = (
                (current, high)
                if (level - npn.v_be.max) / (r * (1 + tol)) > current
                else (low, current)
            )
        return low - npn.v_be.max / (base_emitter * (1 - tol))

    def passes(r, need):
        pin = (pins.logic.max - npn.v_be.min) / (r * (1 - tol))
        return least_base_current(r) >= need * (1 - 1e-9) and pin <= pins.pin_recommended * (
            1 + 1e-9
        )

    wanted = {"forced_gain": [forced], "overdrive": [gentle], "auto": [forced, gentle]}[school]
    shelf = [v for v in preferred.values(series) if 10 < v < 1e5]
    for need in wanted:
        good = [v for v in shelf if passes(v, need)]
        if good:
            break
    assert window.admissible == good
    if good:
        assert resistor.value in good and stage.measure("base_current").verdict == "sound"
    else:
        assert set(window.cures) <= {"base_current", "pin_current"} and window.cures
        assert (
            "No preferred value"
            in next(
                f for f in advised(build).channels[0].findings if f.check in ("D1", "P7")
            ).sentence
        )


@settings(max_examples=100, deadline=None)
@given(
    board=st.sampled_from(BOARDS),
    part=st.sampled_from([p.id for p in CATALOGUE.of_family("nmos")]),
    amperes=st.floats(0.05, 8),
    pwm=st.one_of(st.none(), st.floats(50, 20000)),
    side=st.sampled_from(["pin", "gate"]),
)
def test_a_gate_resistor_satisfies_every_corner_or_names_the_conflict(
    board, part, amperes, pwm, side
):
    build = bench(
        "led_strip",
        figure=f"{amperes:.4g} A",
        board=board,
        pin={EIGHT_BIT: "L5", RADIO: "P25", COMPUTER: "N18"}[board],
        stage="nmos_low_side",
        settings={"transistor": part, "pull_side": side},
        switching={"pwm": f"{pwm:.5g} Hz"} if pwm else None,
    )
    stage = result(build)
    gate = stage.value("gate_resistor")
    pins, fet = CATALOGUE.parts[board], CATALOGUE.parts[part]
    if gate.window.empty:
        assert gate.window.cures or fet.v_plateau.max >= pins.voh_noload_min
    assume(not gate.window.empty)
    low, high = gate.value * 0.95, gate.value * 1.05
    assert gate.value >= 220 and pins.logic.max / low <= pins.pin_absolute
    limit = min(20e-6, 0.05 / pwm) if pwm else 20e-6
    for left in (pins.voh_noload_min - fet.v_plateau.max, fet.v_plateau.min - pins.vol_max):
        assert fet.q_gd * (high + 100) / left <= limit * (1 + 1e-3)
    if side == "gate":
        pull = stage.value("pull_resistor").value * 0.95
        static = pins.voh_noload_min * pull / (pull + high + pins.droop)
        assert static >= fet.on_voltage * (1 - 1e-9)


@settings(max_examples=60, deadline=None)
@given(
    board=st.sampled_from(BOARDS),
    small=st.floats(5, 400),
    factor=st.floats(1.05, 3),
    stage=st.sampled_from(["npn_low_side", "nmos_low_side"]),
)
def test_more_load_never_asks_less_of_the_pin(board, small, factor, stage):
    part = {"npn_low_side": "npn-80v-1a", "nmos_low_side": "nmos-60v-3a-2v5"}[stage]
    less, more = (
        result(
            bench(
                "heater",
                figure=f"{current:.4g} mA",
                board=board,
                stage=stage,
                settings={"transistor": part},
            )
        )
        for current in (small, small * factor)
    )
    assert more.running > less.running
    if (
        not (less.values[1].window.empty or more.values[1].window.empty)
        and less.drive.school == more.drive.school
    ):
        assert more.pin_current >= less.pin_current * (1 - 1e-9)


def test_the_same_function_takes_arrays_and_floats():
    import numpy as np

    resistors, drops = np.array([330.0, 390.0, 470.0]), np.array([0.7, 0.8, 0.9])
    together = bipolar.base_current(3.1, 22.5, resistors, drops, 4465.0)
    alone = [
        bipolar.base_current(3.1, 22.5, float(r), float(v), 4465.0)
        for r, v in zip(resistors, drops, strict=True)
    ]
    assert together.tolist() == pytest.approx(alone)


@given(st.floats(10, 1e5), st.floats(0.2, 5), st.sampled_from(["E12", "E24", "E96"]))
def test_a_window_holds_exactly_the_values_that_trying_each_one_finds(low, ratio, series):
    window = resistor_window(
        series, preferred.TOLERANCE[series], [Bound("low", low)], [Bound("high", low * ratio)]
    )
    assert window.admissible == tries(series, low, low * ratio)
    if window.empty:
        assert window.empty_reason in ("bounds_cross", "tolerance", "no_preferred_value") and set(
            window.cures
        ) <= {"low", "high"}
    else:
        assert window.chosen in window.admissible


def test_three_volt_logic_cannot_saturate_half_an_ampere_and_says_which_limits_conflict():
    finding = next(
        f
        for f in advised(bench("solenoid", figure="400 mA")).channels[0].findings
        if f.check == "D1"
    )
    assert (
        "pin's recommended current" in finding.sentence
        and "base current it needs" in finding.sentence
    )
    assert "MOSFET" in finding.remedies[0].label


def test_the_second_school_takes_over_where_the_first_has_no_value():
    stage = result(bench(voltage="5 V", figure="72 Ω", rail="5 V", board=COMPUTER))
    assert stage.drive.school == "overdrive" and not stage.value("base_resistor").window.empty


def test_a_weakly_pulled_pin_gets_a_stronger_pull_resistor():
    assert result(bench(board=COMPUTER, pin="N5")).value("pull_resistor").text == "4k7"
    assert result(bench(board=COMPUTER, pin="N22")).value("pull_resistor").text == "10k"


def test_a_pin_with_bus_pull_ups_wants_ohms_and_is_told_which():
    stage = result(bench(board=COMPUTER, pin="N2"))
    held = {s.key: s for s in stage.states}["weakly_pulled"]
    assert held.load == "off" and stage.value("pull_resistor").value <= 180


def test_a_strip_draws_more_than_in_proportion_when_the_supply_rises():
    stage = result(bench("led_strip", figure="1 A", stage="nmos_low_side"))
    assert stage.running == pytest.approx(1.1 * (12.6 - 9.6) / (12 - 9.6))


def test_a_converter_draws_most_at_the_lowest_supply():
    stage = result(bench("led_lamp", figure="4 W", stage="nmos_low_side"))
    assert stage.running == pytest.approx(4.4 / 11.4)


def test_a_zener_in_the_clamp_lets_the_coil_go_sooner_and_loads_the_switch_more():
    plain = result(bench("solenoid", figure="8 Ω", stage="nmos_low_side"))
    quick = result(
        bench("solenoid", figure="8 Ω", stage="nmos_low_side", settings={"clamp": "diode_zener"})
    )
    assert quick.coil.release_time < plain.coil.release_time / 2
    assert quick.measure("blocking").worst > plain.measure("blocking").worst + 10


def test_five_states_of_a_plain_stage():
    states = {s.key: s.load for s in result(bench()).states}
    assert states == {
        "commanded_off": "off",
        "commanded_on": "on",
        "floating": "off",
        "weakly_pulled": "off",
        "unpowered": "off",
        "hung": "on",
    }


def test_working_and_figure_are_one(capsys):
    stage = result(bench())
    for measure in stage.measures:
        step = stage.working.step(measure.symbol)
        assert step is not None, measure.label
        if math.isfinite(measure.worst) and measure.symbol not in ("I_load_max", "d"):
            assert step.result == pytest.approx(measure.worst)


def test_a_dead_board_is_fed_through_an_led_at_the_highest_rail():
    build = bench(
        "indicator_led",
        "2 V",
        "10 mA",
        rail="5 V",
        stage="direct_pin",
        settings={"connection": "sink"},
    )
    led = result(build)
    assert led.drive.back_feed > 0
    step = next(s for s in led.working.steps if s.symbol == "I_back")
    context = BuildContext(build, load_catalogue()).channel(build.channels[0])
    assert step.values["V_rail"] == context.volts.max
