"""Facts that used to have no place: each said, each changes a verdict beside its limit."""

import pytest

from latchcore.evaluate import evaluate
from tests.core.benches import bench, edited, findings, result, with_part
from tests.core.test_ac_switches import of_stage, on_line
from tests.core.test_conductors import wires


def setting(build, **values):
    return edited(build, ("set_setting", {"channel": "ch2", **values}))


@pytest.mark.parametrize(("more", "verdict"), [(-0.01, "note"), (0.01, "stop")])
def test_what_always_hangs_on_a_rail_is_in_its_sums(more, verdict):
    build = bench("led_strip", "12 V", "1 A", stage="nmos_low_side", rating="2 A")
    each = result(build).running
    always = round(2.0 - each + more, 4)
    build = edited(build, ("set_rail", {"rail": "rail1", "always": f"{always:g} A"}))
    rail = evaluate(build).rails[0]
    assert rail.all_on == pytest.approx(each + always) and rail.idle == pytest.approx(always)
    found = findings(build)
    assert (found.get("S1") or found.get("S2")) == verdict


@pytest.mark.parametrize(
    ("watts", "verdict"), [("95 W", None), ("150 W", "fix"), ("300 W", "stop")]
)
def test_no_sink_fitted_is_said_and_judged_as_it_is(watts, verdict):
    build = setting(on_line("heater", watts), heat_sink="none")
    assert of_stage(build).get("A3") == verdict
    # Left to itself a sink is asked for, and none is wrong yet.
    assert "A3" not in of_stage(on_line("heater", watts))
    assert "none" in result(build).value("heat_sink").text


@pytest.mark.parametrize(("least", "verdict"), [("11.3 V", None), ("11.45 V", "stop")])
def test_the_least_volts_a_load_works_at_are_its_own(least, verdict):
    build = bench("led_strip", "12 V", "1 A", stage="nmos_low_side", load={"least_volts": least})
    assert findings(build).get("S8") == verdict


def test_a_drop_leaves_a_load_under_what_it_works_at():
    load = {"least_volts": "11.3 V"}
    short = bench("led_strip", "12 V", "150 mA", stage="darlington_low_side", load=load)
    assert findings(short)["D11"] == "fix"
    assert "D11" not in findings(
        edited(short, ("set_load", {"channel": "ch2", "least_volts": "9 V"}))
    )


@pytest.mark.parametrize(("ignores", "verdict"), [("0.61 mA", None), ("0.59 mA", "fix")])
def test_leakage_a_load_takes_no_notice_of_counts_in_place_of_what_is_usual(ignores, verdict):
    build = on_line("led_lamp", "40 W", load={"ignores": ignores})
    assert of_stage(build).get("A4") == verdict and of_stage(on_line("led_lamp", "40 W"))["A4"]


@pytest.mark.parametrize(("used", "verdict"), [("50 %", None), ("51 %", "stop")])
def test_the_share_of_time_in_use_stands_beside_the_share_of_a_pulse(used, verdict):
    build = bench(
        "solenoid", "12 V", "500 mA", stage="nmos_low_side",
        load={"duty_rated": "25 %"}, switching={"pwm": "2 kHz", "duty": "50 %", "on_share": used},
    )  # fmt: skip
    assert findings(build).get("C8") == verdict
    rail = evaluate(build).rails[0]
    assert rail.typical == pytest.approx(result(build).typical * 0.5 * float(used[:2]) / 100)


@pytest.mark.parametrize(("time", "verdict"), [("10 ms", None), ("9 ms", "stop")])
def test_a_pulse_is_as_long_as_it_is_printed_for(time, verdict):
    load = {"surge": "24.5 A", "surge_time": "10 ms"}
    build = bench("filament_lamp", "12 V", "1 A", stage="nmos_low_side", load=load)
    build = setting(with_part(build, "nmos-30v-6a-2v5", pulse_time=time), transistor="own")
    assert findings(build).get("D13") == verdict


@pytest.mark.parametrize(("volts", "verdict"), [("266 V", None), ("265 V", "stop")])
def test_a_varistor_somebody_chose_is_held_to_the_highest_line(volts, verdict):
    # 1.05 × 253 V = 265.65 V.
    build = setting(on_line(figure="200 W"), varistor="fitting", triac="triac-800v-16a")
    build = setting(build, varistor_rating=volts)
    assert of_stage(build).get("A6") == verdict


@pytest.mark.parametrize(("clamps", "verdict"), [("799 V", None), ("801 V", "stop")])
def test_what_a_varistor_clamps_at_is_the_class_the_switch_wants(clamps, verdict):
    build = setting(
        on_line(figure="200 W"), varistor="fitting", triac="triac-800v-16a", varistor_clamp=clamps
    )
    assert of_stage(build).get("A6") == verdict


@pytest.mark.parametrize("count", [8, 16])
def test_modules_of_eight_and_sixteen_hold_as_many_and_no_more(count):
    build = bench("led_strip", "12 V", "200 mA", stage="relay_module", board="board-8bit-5v-70")
    build = edited(build, ("add_rail", {"voltage": "5 V", "rating": "5 A"}))
    build = setting(build, module=f"module-5v-low-{count}")
    full = edited(build, ("copy_channel", {"channel": "ch2", "many": str(count - 1)}))
    assert "P11" not in findings(full)
    over = edited(full, ("copy_channel", {"channel": "ch2"}))
    assert findings(over)["P11"] == "stop"


def test_the_line_of_two_lives_is_a_region_of_its_own():
    build = bench("heater", "240 V", "500 W", rail="240 V", source="mains", stage="relay_contact")
    build = edited(
        build,
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
        ("set_conditions", {"region": "north-america-240"}),
        ("set_rail", {"rail": "rail1", "fuse": "5 A"}),
    )
    # Nothing was said of the rail: the region has it.
    assert build.rails[0].lives == "one" and findings(build)["K8"] == "stop"
    assert "S8" not in findings(build)
    both = setting(build, breaks="both")
    assert "K8" not in findings(both)
    line = [c for c in wires(both) if c.domain == "hazardous" and not c.node.endswith(".PE")]
    assert {c.colour for c in line} == {"black"}
    fused = {c.end.terminal for c in line if c.end.part == "FUSE.rail1"}
    assert fused == {"1", "3"}
    # Elsewhere a line of 240 V is no two lives.
    assert "K8" not in findings(
        edited(
            both,
            ("set_conditions", {"region": "europe-230"}),
            ("set_rail", {"rail": "rail1", "plug": "polarised"}),
        )
    )
