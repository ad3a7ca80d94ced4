"""A pin straight into somebody's input: logic both ways, and a level made of pulses."""

import pytest

from tests.core.benches import EIGHT_BIT, RADIO, bench, edited, findings, result

JOINED = {"line_ground": "joined"}


def line(figure="100 kΩ", volts="3.3 V", board=RADIO, **settings):
    return bench(
        "logic_line", volts, figure, stage="pin_logic", board=board, settings=JOINED | settings
    )


def test_a_weak_line_of_the_boards_own_volts_is_sound_and_asks_for_a_resistor():
    build = line()
    found = findings(build)
    assert "P7" not in found and "P8" not in found and "S11" not in found
    assert result(build).value("series_resistor").text == "3k3"
    assert result(build).netlist.part("ch2.R1").terminals == {"1": "ch2.PIN", "2": "ch2.LINE+"}


@pytest.mark.parametrize(("volts", "verdict"), [("4.4 V", None), ("4.5 V", "stop")])
def test_its_high_level_must_be_read_as_high_there(volts, verdict):
    # 3.3 V less five per cent and a tenth of a volt at the pin: seven tenths of 4.4 V.
    assert findings(line(volts=volts, figure="1 MΩ")).get("P8") == verdict
    assert findings(line(volts=volts, figure="1 MΩ", acts_on="high")).get("P7") == verdict


@pytest.mark.parametrize(("ohms", "verdict"), [("18 kΩ", None), ("39 kΩ", "stop")])
def test_a_resistor_leaves_the_low_level_low(ohms, verdict):
    assert findings(line(series_resistor=ohms)).get("P7") == verdict


@pytest.mark.parametrize(("ohms", "verdict"), [("3k3", None), ("2.4 kΩ", "fix"), ("220", "stop")])
def test_a_dead_device_is_not_fed_by_the_pin(ohms, verdict):
    assert findings(line(series_resistor=ohms)).get("S11") == verdict


def test_what_hangs_on_one_supply_dies_together():
    fed = edited(
        line(series_resistor="220"),
        ("set_board_feed", {"rail": "rail1"}),
        ("set_channel_rail", {"channel": "ch2", "rail": "rail1"}),
    )
    assert "S11" not in findings(fed)


def test_a_line_that_acts_on_high_is_held_low_against_its_own_pull_up():
    strong = line("10 kΩ", acts_on="high")
    assert "P6" not in findings(strong)
    assert result(strong).value("pull_resistor").value < 3e3
    weak = line("10 kΩ", acts_on="high", pull_resistor="10k")
    assert findings(weak)["P6"] == "fix"
    none = line("10 kΩ", acts_on="high", pull_resistor="none")
    assert findings(none)["P6"] == "fix"


def test_a_line_that_acts_on_low_is_on_while_the_board_is_dead():
    states = {s.key: s.load for s in result(line("10 kΩ")).states}
    assert states["floating"] == "off" and states["unpowered"] == "on"
    assert findings(line("10 kΩ"))["P13"] == "fix"


def test_a_line_with_more_volts_pushes_into_the_floating_pin():
    assert findings(line("470 Ω", volts="4.4 V", series_resistor="220"))["P9"] == "stop"
    assert "P9" not in findings(line("1 MΩ", volts="4.4 V"))


def test_without_the_common_line_nothing_is_read():
    assert findings(line(line_ground="apart"))["I3"] == "stop"


def level(volts="3.3 V", ohms="100 kΩ", pwm=None, board=RADIO, **settings):
    more = {"switching": {"pwm": pwm}} if pwm else {}
    return bench(
        "analogue_input",
        volts,
        ohms,
        stage="pwm_filter",
        board=board,
        settings=JOINED | settings,
        **more,
    )


@pytest.mark.parametrize(("volts", "verdict"), [("3.4 V", None), ("3.6 V", "fix")])
def test_a_pin_reaches_no_further_than_its_own_supply(volts, verdict):
    assert findings(level(volts)).get("D11") == verdict


@pytest.mark.parametrize(("volts", "verdict"), [("3.2 V", None), ("3.1 V", "stop")])
def test_nor_may_it_go_over_what_the_input_bears(volts, verdict):
    assert findings(level(volts)).get("S8") == verdict


@pytest.mark.parametrize(("farads", "verdict"), [("6.8 µF", None), ("4.7 µF", "fix")])
def test_the_ripple_stays_under_a_step(farads, verdict):
    assert findings(level(pwm="1 kHz", filter_capacitor=farads)).get("D11") == verdict


def test_faster_pulses_take_a_smaller_capacitor_and_settle_sooner():
    slow, fast = (result(level(pwm=f)) for f in ("1 kHz", "10 kHz"))
    assert fast.the_value("filter_capacitor").value < slow.the_value("filter_capacitor").value
    assert fast.pulses.settle < slow.pulses.settle / 5


def test_a_pin_without_pulses_makes_no_level():
    assert findings(level("5 V", board=EIGHT_BIT))["P10"] == "stop"
