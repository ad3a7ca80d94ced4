"""Verdicts on solid-state outputs and detectors, each beside its limit and through the document."""

import pytest

from latchcore.advice.mending import advised
from latchcore.evaluate import evaluate
from tests.core.benches import EIGHT_BIT, bench, edited, findings, result, with_part
from tests.core.test_ac_switches import of_stage, on_line


def setting(build, **values):
    return edited(build, ("set_setting", {"channel": "ch2", **values}))


def applied(build, check, number=""):
    """The build after the first press against a check whose label holds the number."""
    found = next(f for f in advised(build).all_findings if f.check == check)
    remedy = next(r for r in found.remedies if r.edits and number in r.label)
    return edited(build, *remedy.edits)


# The gate's path: 43.07 V are there half a millisecond after the zero, 4 V stay in gate and driver;
# 50 mA through 409.5 Ω and the lamp's highest resistance, 230²/P/0.9.
@pytest.mark.parametrize(("watts", "verdict"), [("157 W", "fix"), ("159 W", None)])
def test_a_small_lamp_lies_in_the_gates_path_of_a_triac_that_wants_fifty_milliamperes(
    watts, verdict
):
    build = setting(on_line(figure=watts), triac="triac-600v-8a")
    assert of_stage(build).get("A8") == verdict
    # Left to itself the stage takes one that is content with less.
    assert "A8" not in of_stage(on_line(figure=watts))
    if verdict:
        assert "A8" not in of_stage(applied(build, "A8", "sensitive"))


@pytest.mark.parametrize(("pulse", "verdict"), [("40 µs", "fix"), ("41 µs", None)])
def test_the_gate_is_held_until_the_load_holds_the_triac(pulse, verdict):
    # 30 mA through 979.6 Ω are reached 340.5 µs after the zero of 47 Hz; it begins at 300 µs.
    build = setting(
        on_line(figure="60 W"),
        triac="triac-800v-8a-sensitive",
        control="phase",
        gate_pulse=pulse,
    )
    assert of_stage(build).get("A8") == verdict
    if verdict:
        assert "A8" not in of_stage(applied(build, "A8", "gate pulse of 50 µs"))


def test_an_inductive_or_electronic_load_has_its_gate_held_instead():
    for kind in ("brush_motor", "led_lamp"):
        found = result(
            on_line(kind, "40 W", settings={"control": "phase"}, load={"dimmable": "yes"})
        )
        assert found.output.gate_held and found.measure("latching") is None


@pytest.mark.parametrize(("watts", "verdict"), [("374 W", None), ("378 W", "fix")])
def test_a_start_that_comes_every_time_may_take_three_fifths_of_the_half_cycle_print(
    watts, verdict
):
    # 15 × 1.1 × 1.05 × P/230 × √2 against 0.6 × 70 A.
    build = setting(on_line(figure=watts), triac="triac-600v-8a")
    assert of_stage(build).get("D13") == verdict


@pytest.mark.parametrize(
    ("plug", "lives", "says"), [("reversible", "one", "fix"), ("polarised", "one", None)]
)
def test_on_the_line_neither_pole_nor_surge_nor_distance_is_accepted_away(plug, lives, says):
    build = edited(
        setting(on_line(figure="500 W"), triac="triac-600v-8a"),
        ("set_rail", {"rail": "rail1", "plug": plug, "lives": lives}),
    )
    found = {f.check: f for f in evaluate(build).channels[0].findings}
    assert found["D13"].severity == "fix" and not found["D13"].acceptable
    assert (found.get("K8") and found["K8"].severity) == says
    if says:
        assert not found["K8"].acceptable
    # The same surge on a rail of twelve volts may be.
    low = bench("filament_lamp", "12 V", "2 A", stage="nmos_low_side")
    low = setting(low, transistor="nmos-30v-6a-2v5")
    assert next(f for f in evaluate(low).channels[0].findings if f.check == "D13").acceptable


@pytest.mark.parametrize(("kind", "leak", "verdict"), [
    ("led_lamp", "0.19 mA", None),
    ("led_lamp", "0.21 mA", "fix"),
    ("filament_lamp", "0.21 mA", None),
])  # fmt: skip
def test_an_electronic_lamp_glows_from_a_fifth_of_a_milliampere(kind, leak, verdict):
    build = with_part(
        on_line(kind, "40 W", stage="solid_relay"), "solid-relay-10a-zero", leakage=leak
    )
    build = setting(build, device="own", quench="none")
    assert of_stage(build).get("A4") == verdict
    if verdict:
        after = applied(build, "A4", "bypass")
        left = result(after).measure("leakage")
        # 0.21 mA through 100 nF at 47 Hz.
        assert left.unit == "V" and left.worst == pytest.approx(7.11, abs=0.01)
        assert "A4" not in of_stage(after)
        assert any(p.ref == "ch2.Z3" for p in evaluate(after).netlist.parts)


@pytest.mark.parametrize(("sink", "verdict"), [("0.51 K/W", None), ("0.49 K/W", "stop")])
def test_no_sink_under_half_a_kelvin_per_watt_is_to_be_had(sink, verdict):
    build = setting(on_line("heater", "300 W"), heat_sink=sink)
    assert of_stage(build).get("A3") == verdict


@pytest.mark.parametrize(("inside", "verdict"), [("52 °C", "fix"), ("51 °C", None)])
def test_what_was_measured_in_the_box_counts_in_place_of_fifty_degrees(inside, verdict):
    build = setting(on_line("heater", "500 W"), heat_sink="7 K/W")
    assert "A3" not in of_stage(build)
    assert of_stage(edited(build, ("set_conditions", {"inside": inside}))).get("A3") == verdict


@pytest.mark.parametrize(("control", "verdict"), [("zero", "fix"), ("random", None)])
def test_the_zero_is_a_transformers_worst_instant(control, verdict):
    build = setting(on_line("transformer", "100 W"), control=control)
    assert of_stage(build).get("A2") == verdict
    # Left to itself the stage fires it at any moment.
    assert result(on_line("transformer", "100 W")).output.control == "random"
    if verdict:
        assert "A2" not in of_stage(applied(build, "A2", "any moment"))


@pytest.mark.parametrize(("most", "verdict"), [("12.7 V", None), ("12.5 V", "stop")])
def test_the_control_input_is_held_to_its_most_as_to_its_least(most, verdict):
    build = edited(on_line(stage="solid_relay"), ("add_rail", {"voltage": "12 V", "rating": "1 A"}))
    build = with_part(build, "solid-relay-10a-zero", input_max=most)
    coils = build.rails[-1].id
    build = setting(build, device="own", drive="npn", coil_rail=coils)
    assert of_stage(build).get("S8") == verdict


@pytest.mark.parametrize(("farads", "watts"), [("47 nF", 2.0), ("100 nF", 3.0)])
def test_a_snubbers_resistor_gets_hot_under_phase_control(farads, watts):
    build = setting(
        on_line("brush_motor", "300 W", load={"dimmable": "yes"}),
        control="phase", quench="snubber", snubber_capacitor=farads, snubber_resistor="100 Ω",
    )  # fmt: skip
    heat = result(build).measure("snubber_watts")
    assert heat.worst == pytest.approx(2 * float(farads.split()[0]) * 1e-9 * 2 * 253**2 * 53)
    assert heat.stop == watts and f"{watts:g} W" in result(build).value("snubber").text
    plain = setting(build, control="random")
    assert result(plain).measure("snubber_watts") is None


@pytest.mark.parametrize(("board", "pull"), [(EIGHT_BIT, 22e3), ("board-radio-3v3", 18e3)])
def test_a_detectors_coupler_lets_go_before_its_led_lights_again(board, pull):
    build = edited(
        on_line(board=board), ("add_input", {"kind": "zero_coupler", "rail": "rail1", "name": "Z"})
    )
    found = evaluate(build).inputs[0]
    assert found.value("pull").value == pull
    shortest = next(m for m in found.measures if m.key == "pulse")
    assert shortest.verdict == "sound" and shortest.fix == pytest.approx(300e-6 * pull / 47e3)
    assert "T5" not in findings(build)


# The generator of 7 V and 12 µA with a bleeder of its own in place of the discharge inside.
@pytest.mark.parametrize(("volts", "ohms"), [(2.5, 1.8e6), (4.5, 1.8e6)])
def test_a_photovoltaic_gate_has_what_its_bleeder_leaves(volts, ohms):
    build = bench("heater", "12 V", "500 mA", stage="pv_mosfet")
    build = setting(with_part(build, "pv-coupler-7v", discharges=False), pv="own")
    switch = "nmos-30v-6a-2v5" if volts < 4 else "nmos-60v-30a-4v5"
    found = result(setting(build, transistor=switch))
    gate, bleeder = found.measure("gate_on"), found.value("up_resistor").value
    assert bleeder == ohms and gate.verdict == "sound" and gate.stop == volts
    assert gate.worst == pytest.approx(7.0 * (1 - 7.0 / (ohms * 0.95 * 12e-6)))
