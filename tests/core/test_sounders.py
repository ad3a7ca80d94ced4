"""Buzzers and piezos: what the pin gives, the tone, what empties a disc again."""

import pytest

from tests.core.benches import COMPUTER, RADIO, bench, edited, findings, result

TONE = {"pwm": "2 kHz", "duty": "50 %"}


def on_pin(figure="8 mA", volts="3.3 V", kind="buzzer_active", board=RADIO, **more):
    return bench(kind, volts, figure, rail="12 V", stage="pin_sounder", board=board, **more)


@pytest.mark.parametrize(("figure", "verdict"), [("9.2 mA", None), ("9.6 mA", "fix")])
def test_a_buzzer_hangs_on_a_pin_up_to_what_the_pin_may_give(figure, verdict):
    # A fifth more than stated, at the highest supply.
    assert findings(on_pin(figure)).get("P1") == verdict


def test_no_rail_feeds_it_and_none_is_judged():
    build = edited(on_pin(), ("set_channel_rail", {"channel": "ch2", "rail": ""}))
    assert findings(build) == {} and result(build).running == 0.0
    assert result(build).netlist.part("ch2.LOAD").terminals == {"+": "ch2.PIN", "-": "0V"}


@pytest.mark.parametrize(("volts", "verdict"), [("6 V", "D11"), ("2.6 V", "S8"), ("3 V", None)])
def test_the_pins_own_volts_must_fit_it(volts, verdict):
    found = findings(on_pin(figure="2 mA", volts=volts))
    assert set(found) == ({verdict} if verdict else set())


def test_a_coil_never_hangs_on_a_bare_pin():
    assert findings(on_pin("42 Ω", kind="buzzer_coil", switching=TONE))["S8"] == "stop"


def test_an_empty_disc_is_a_short_until_a_resistor_stands_before_it():
    build = on_pin("3 mA", "5 V", kind="buzzer_piezo", switching=TONE)
    assert findings(build) == {} and result(build).value("series_resistor").text == "330"
    bare = edited(build, ("set_setting", {"channel": "ch2", "series_resistor": "none"}))
    assert findings(bare)["P1"] == "stop"


@pytest.mark.parametrize("kind", ["buzzer_coil", "buzzer_piezo"])
def test_without_an_oscillator_it_wants_a_tone(kind):
    build = bench(kind, "5 V", "20 mA", rail="5 V", stage="nmos_low_side")
    assert findings(build)["S8"] == "fix"
    assert "S8" not in findings(edited(build, ("set_switching", {"channel": "ch2", **TONE})))
    active = bench("buzzer_active", "5 V", "20 mA", rail="5 V", stage="nmos_low_side")
    assert "S8" not in findings(active)


def piezo(**settings):
    return bench(
        "buzzer_piezo",
        "12 V",
        "3 mA",
        stage="nmos_low_side",
        switching=TONE,
        settings=settings,
    )


@pytest.mark.parametrize(
    ("bleed", "verdict"), [("auto", None), ("910", None), ("1k1", "fix"), ("none", "fix")]
)
def test_a_low_side_switch_empties_a_piezo_through_a_bleed(bleed, verdict):
    # A sixth of the half-period over 40 nF: 1.04 kΩ at its top.
    build = piezo(bleed=bleed)
    assert findings(build).get("S8") == verdict
    assert (result(build).netlist.part("ch2.R7") is None) == (bleed == "none")


def test_a_coil_sounder_has_a_fast_clamp_and_a_piezo_none():
    coil = bench("buzzer_coil", "5 V", "42 Ω", rail="5 V", stage="nmos_low_side", switching=TONE)
    assert result(coil).parts["clamp_diode"].fast
    assert result(piezo()).netlist.part("ch2.D1") is None
    assert findings(bench("buzzer_piezo", "12 V", "3 mA", stage="pmos_high_side"))["S8"] == "stop"


def test_a_weaker_pin_needs_the_larger_resistor():
    values = [
        result(on_pin("3 mA", "5 V", "buzzer_piezo", board, switching=TONE))
        .value("series_resistor")
        .value
        for board in (RADIO, COMPUTER)
    ]
    assert values[0] < values[1]
