"""
Solid-state modules, modules with a level jumper, modules with a regulator: each unknown of the
first day.
"""

import pytest

from latchcore.advice.mending import advised
from latchcore.figures.spread import Spread
from latchcore.pieces.module_input import regulated
from tests.core.benches import EIGHT_BIT, RADIO, bench, edited, result, with_part
from tests.core.test_relays import contact, found, on_module, way


def solid(
    kind="heater",
    volts="12 V",
    figure="1 A",
    source="adapter",
    module=None,
    board=EIGHT_BIT,
    **more,
):
    chosen = {"module": module} if module else {}
    build = contact(
        kind,
        volts,
        figure,
        coil="5 V",
        stage="solid_module",
        board=board,
        settings=chosen | more.pop("settings", {}),
        **more,
    )
    return edited(build, ("set_rail", {"rail": "rail1", "source": source}))


def test_direct_and_alternating_outputs_are_never_exchanged():
    assert found(solid(module="module-solid-ac-2a-high"))["A1"] == "stop"
    assert found(solid(volts="24 V", source="ac_low", module="module-solid-dc-5a"))["A1"] == "stop"
    assert (
        result(solid()).parts["module"].output == "dc"
        and result(solid(volts="24 V", source="ac_low")).parts["module"].output == "ac_zero"
    )


def test_an_unknown_module_carries_half_of_what_is_printed():
    assert (
        found(solid(figure="3 A"))["D2"] == "fix"
        and found(solid(figure="6 A"))["D2"] == "stop"
        and "D2" not in found(solid(figure="2 A"))
    )


@pytest.mark.parametrize("figure, severity", [("1 W", "fix"), ("40 W", None)])
def test_what_it_leaks_is_much_to_a_small_load(figure, severity):
    assert found(solid("heater", "230 V", figure, "mains", board=EIGHT_BIT)).get("A4") == severity


def test_an_output_that_turns_on_at_the_zero_cannot_dim():
    build = edited(
        solid("filament_lamp", "230 V", "60 W", "mains"),
        ("set_switching", {"channel": "ch2", "pwm": "100 Hz"}),
    )
    assert found(build)["A2"] == "stop"


def test_a_semiconductor_is_no_air_gap():
    build = edited(solid(), ("set_needs", {"channel": "ch2", "needs": "air_gap"}))
    assert found(build)["A9"] == "stop"


def test_a_coil_behind_a_direct_output_is_clamped_at_the_coil():
    build = solid("solenoid", "12 V", "500 mA")
    assert result(build).netlist.part("ch2.D3").terminals == {"A": "0V", "K": "ch2.SW"}
    assert (
        found(edited(build, ("set_setting", {"channel": "ch2", "load_clamp": "none"})))["C4"]
        == "stop"
    )


@pytest.mark.parametrize(
    "module, level", [("module-solid-ac-2a-low", "low"), ("module-solid-ac-2a-high", "high")]
)
def test_high_and_low_trigger_have_their_own_truth(module, level):
    stage = result(solid(volts="24 V", source="ac_low", module=module))
    assert stage.on_with == level


def test_a_three_volt_pin_needs_one_of_the_ways_for_a_low_triggered_one():
    build = solid(volts="24 V", source="ac_low", module="module-solid-ac-2a-low", board=RADIO)
    assert found(build)["P8"] == "stop"
    mends = next(f for f in advised(build).channels[0].findings if f.check == "P8").remedies
    assert any("NPN" in r.label for r in mends)
    assert way(build)["npn"].works and not way(build)["as_it_is"].works


def test_a_level_jumper_turns_the_command_round():
    low = on_module(
        "module-12v-level-jumper", coil="12 V", board=EIGHT_BIT, settings={"level": "low"}
    )
    high = edited(low, ("set_setting", {"channel": "ch2", "level": "high"}))
    assert result(low).on_with == "low" and result(high).on_with == "high"
    # Its inputs hang on twelve volts: low, a five-volt pin cannot let go; high, the pin alone
    # drives its LED.
    assert (
        found(low)["P8"] == "stop"
        and "P8" not in found(high)
        and result(high).value("pull_resistor") is not None
    )


def test_a_regulator_for_the_inputs_leaves_the_coils_on_the_raw_rail():
    build = on_module("module-6v-regulated-inputs", coil="9 V", board=EIGHT_BIT)
    assert found(build)["C2"] == "stop"
    stage = result(build)
    assert (
        stage.module.unit.supply.max == pytest.approx(5.2)
        and stage.measure("coil_maximum").worst > 9.0
    )
    fine = on_module("module-6v-regulated-inputs", coil="6 V", board=EIGHT_BIT)
    assert "C2" not in found(fine)


def test_a_regulator_that_feeds_the_coils_drops_out_before_they_do():
    build = with_part(
        on_module("module-6v-regulated-inputs", coil="9 V", board=EIGHT_BIT),
        "module-6v-regulated-inputs",
        regulator="6 V ±4 %",
        regulator_feeds="coils",
        regulator_drop="2 V",
    )
    build = edited(build, ("set_setting", {"channel": "ch2", "module": "own"}))
    assert "C2" not in found(build) and "C1" not in found(build)
    starved = edited(build, ("set_rail", {"rail": "rail3", "voltage": "6 V"}))
    assert found(starved)["C1"] == "stop"


def test_dropping_out_a_regulator_gives_the_rail_less_its_drop():
    module = result(on_module("module-6v-regulated-inputs", coil="9 V", board=EIGHT_BIT)).parts[
        "module"
    ]
    given = regulated(module, Spread(4.5, 6.0, 6.5))
    assert given.min == pytest.approx(4.2) and given.max == pytest.approx(5.2)


def test_it_is_worked_out_for_the_advisor_like_any_other():
    assert (
        result(bench("heater", "12 V", "1 A", stage="solid_module"))
        .live["switch"]
        .startswith("on ≤")
    )
