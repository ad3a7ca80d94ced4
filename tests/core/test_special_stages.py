"""Stages for lines, strings and what is not a power load."""

import pytest

from tests.core.benches import EIGHT_BIT, bench, edited, findings, result, with_part
from tests.core.test_all_stages import LOADS


def test_photovoltaic_drive_takes_milliseconds():
    found = result(bench(**LOADS["power"], stage="pv_mosfet", board=EIGHT_BIT))
    assert 1 < found.pulses.limit < 500
    assert (
        findings(
            bench(
                **LOADS["power"],
                stage="pv_mosfet",
                board=EIGHT_BIT,
                pin="L5",
                switching={"pwm": "1 kHz"},
            )
        ).get("D9")
        == "fix"
    )


def test_strings_use_as_many_leds_as_the_lowest_supply_leaves_room_for():
    build = edited(
        bench(**LOADS["led_array"], stage="led_strings"),
        ("set_load", {"channel": "ch2", "count": "24"}),
    )
    found = result(build)
    assert (found.strings.per_string, found.strings.count) == (3, 8)
    assert found.measure("string_current").verdict == "sound" and found.running == pytest.approx(
        8 * found.measure("string_current").worst
    )


def test_a_reed_is_refused_what_welds_it():
    assert (
        findings(bench("button_pair", "24 V", "800 mA", rail="5 V", stage="bridge_reed")).get("K1")
        == "stop"
    )
    assert (
        findings(bench("button_pair", "60 V", "300 mA", rail="5 V", stage="bridge_reed")).get("K3")
        == "stop"
    )
    assert findings(bench(**LOADS["pair"], rail="5 V", stage="bridge_reed")) == {}


def test_eight_coils_on_one_array_are_too_hot_and_two_are_not():
    def many(count, figure="350 mA"):
        build = bench("relay_coil", "12 V", figure, stage="array_low_side", board=EIGHT_BIT)
        for pin in ("L5", "L6", "L7", "L8", "L9", "L10", "L11")[: count - 1]:
            build = edited(
                build,
                (
                    "add_channel",
                    {
                        "kind": "relay_coil",
                        "voltage": "12 V",
                        "figure": figure,
                        "pin": pin,
                        "rail": "rail1",
                        "stage": "array_low_side",
                    },
                ),
            )
        return build

    assert findings(many(8)).get("D10") == "stop" and findings(many(8, "40 mA")).get("D10") is None


def test_an_array_with_its_diode_pin_open_or_on_two_rails():
    build = bench(
        "relay_coil", "12 V", "30 mA", stage="array_low_side", settings={"common_pin": "open"}
    )
    assert findings(build).get("D10") == "stop"
    two = edited(
        bench("relay_coil", "12 V", "30 mA", stage="array_low_side"),
        ("add_rail", {"voltage": "5 V", "rating": "2 A"}),
        (
            "add_channel",
            {
                "kind": "relay_coil",
                "voltage": "5 V",
                "figure": "70 mA",
                "rail": "rail3",
                "stage": "array_low_side",
            },
        ),
    )
    assert findings(two).get("D10") == "stop"
    assert findings(bench("relay_coil", "12 V", "30 mA", stage="array_low_side")) == {}


@pytest.mark.parametrize(
    "check, severity, build",
    [
        (
            "D8",
            "stop",
            lambda: bench(**LOADS["power"], stage="pmos_high_side", settings={"drive": "pin"}),
        ),
        ("D8", None, lambda: bench(**LOADS["power"], stage="pmos_high_side")),
        ("D15", "stop", lambda: bench(**LOADS["power"], stage="nmos_above")),
        ("D15", None, lambda: bench(**LOADS["power"], stage="coupler_pmos")),
        ("D10", "fix", lambda: bench("heater", "12 V", "270 mA", stage="array_low_side")),
        ("D10", None, lambda: bench("heater", "12 V", "100 mA", stage="array_low_side")),
        (
            "P9",
            "stop",
            lambda: bench(
                "button_pair",
                "12 V",
                "1 mA",
                rail="5 V",
                stage="bridge_analogue",
                settings={"line_ground": "joined"},
            ),
        ),
        ("P7", None, lambda: bench(**LOADS["logic"], stage="coupler_logic")),
        ("I3", "stop", lambda: bench(**LOADS["logic"], stage="open_collector")),
        (
            "I3",
            None,
            lambda: bench(
                **LOADS["logic"], stage="open_collector", settings={"line_ground": "joined"}
            ),
        ),
        (
            "D11",
            "fix",
            lambda: bench("led_strip", "5 V", "300 mA", rail="5 V", stage="coupler_darlington"),
        ),
        (
            "D9",
            "stop",
            lambda: bench(
                **LOADS["pair"], rail="5 V", stage="bridge_reed", switching={"pwm": "200 Hz"}
            ),
        ),
    ],
)
def test_findings_of_the_other_stages(check, severity, build):
    assert findings(build()).get(check) == severity


@pytest.mark.parametrize("part, stage", [("coupler", "coupler_nmos"), ("driver", "triac_coupler")])
@pytest.mark.parametrize("share, fits", [(0.999, False), (1.001, True)])
def test_a_couplers_light_is_held_to_its_own_rating(part, stage, share, fits):
    mains = stage == "triac_coupler"
    build = (
        bench("heater", "230 V", "400 W", rail="230 V", source="mains", stage=stage)
        if mains
        else bench(stage=stage)
    )
    sized, ohms = result(build), result(build).value("led_resistor").text
    base = sized.parts[part].id
    fixed = ("set_setting", {"channel": "ch2", part: "own", "led_resistor": ohms})
    most = result(edited(with_part(build, base), fixed)).pin_current
    own = edited(with_part(build, base, i_f_max=f"{most * share:.6g} A"), fixed)
    assert (result(own).measure("led_most").verdict == "sound") == fits
    assert ("D2" not in findings(own)) == fits


def test_a_wide_input_is_sized_for_the_low_end_of_its_range_and_its_heat_for_the_high_end():
    wide, high = (
        result(bench("wide_signal", volts, "2 mA", rail="5 V", stage="wide_input"))
        for volts in ("5 to 30 V", "30 V")
    )
    assert wide.value("series_resistor").value < high.value("series_resistor").value / 3
    # The current at the low end is what the coupler needs; at the high end the shunt takes over.
    low = wide.measure("led_current")
    assert low.worst == pytest.approx(
        (5 - wide.parts["coupler"].v_f.max - 0.6) / wide.value("series_resistor").value.high,
        rel=0.05,
    )
    assert wide.measure("series_resistor_watts").worst > low.worst**2 * 100
