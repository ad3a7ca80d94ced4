"""Blocks bought closed: a packaged unit on the line, a solid-state device on direct current."""

import pytest

from latchcore.evaluate import evaluate
from tests.core.benches import EIGHT_BIT, bench, edited, findings, result, with_part


def on_line(kind="filament_lamp", figure="60 W", plug="polarised"):
    build = bench(
        kind, "230 V", figure, rail="230 V", source="mains", stage="packaged_unit", board=EIGHT_BIT
    )
    return edited(build, ("set_rail", {"rail": "rail1", "plug": plug, "fuse": "2 A"}))


def _all(build):
    return evaluate(build).all_findings


def own(build, base="packaged-unit-250v-10a", key="unit", **figures):
    return edited(
        with_part(build, base, **figures), ("set_setting", {"channel": "ch2", key: "own"})
    )


@pytest.mark.parametrize(("lamps", "verdict"), [("0.32 A", None), ("0.31 A", "fix")])
def test_a_unit_is_used_within_its_print_for_the_kind(lamps, verdict):
    build = own(on_line(), lamps=lamps)
    assert result(build).running == pytest.approx(0.316, abs=0.001)
    assert findings(build).get("K1") == verdict


def test_without_a_print_for_motors_a_motor_gets_the_share_of_the_resistive_figure():
    printed = own(on_line("induction_motor", "300 W"), motors="9 A")
    silent = own(on_line("induction_motor", "300 W"), motors="0.1 A")
    assert "K1" not in findings(printed) and findings(silent)["K1"] == "fix"


@pytest.mark.parametrize(("plug", "verdict"), [("polarised", None), ("reversible", "stop")])
def test_one_pole_is_too_few_behind_a_plug_that_can_be_turned(plug, verdict):
    build = own(on_line(plug=plug))
    assert findings(build).get("K8") == verdict
    two = own(on_line(plug=plug), poles=2)
    assert "K8" not in findings(two)
    assert result(two).netlist.part("ch2.LOAD").terminals["-"] == "ch2.BACK"


def test_left_to_itself_it_takes_two_poles_where_the_line_asks():
    assert result(on_line(plug="reversible")).parts["packaged"].poles == 2
    assert result(on_line()).parts["packaged"].poles == 1


def test_a_unit_without_an_approval_is_asked_for_it():
    named, bare = own(on_line()), own(on_line(), approval="")
    titles = {f.title for f in _all(bare)} - {f.title for f in _all(named)}
    assert titles == {"Which approval does it carry?"}


def test_closed_units_answer_for_enclosure_and_cable_themselves():
    open_facts = next(f for f in _all(on_line()) if f.check == "X1").sentence
    assert "enclosure" not in open_facts and "residual-current" in open_facts
    wired = edited(on_line(), ("set_stage", {"channel": "ch2", "stage": "relay_contact"}))
    assert "enclosure" in next(f for f in _all(wired) if f.check == "X1").sentence


@pytest.mark.parametrize(
    ("said", "verdict"), [("unknown", "check"), ("own", None), ("default", "fix")]
)
def test_what_a_network_can_reach_is_asked_and_judged(said, verdict):
    build = own(on_line(), network=True)
    build = edited(build, ("set_setting", {"channel": "ch2", "network": said}))
    assert findings(build).get("T4") == verdict
    assert "T4" not in findings(own(on_line()))


def direct(kind="led_strip", figure="2 A", **figures):
    build = bench(kind, "12 V", figure, stage="solid_direct", board=EIGHT_BIT)
    return own(build, "solid-direct-60v-10a", "device", **figures) if figures else build


@pytest.mark.parametrize(("volts", "verdict"), [("12.5 V", "stop"), ("13 V", None)])
def test_its_open_output_bears_the_highest_supply(volts, verdict):
    found = findings(direct(v_max=volts)).get("D3")
    assert found == verdict


def test_a_coil_on_it_has_a_diode_and_its_volts_count():
    build = direct("solenoid", "1 A")
    assert result(build).netlist.part("ch2.D3").terminals == {"A": "0V", "K": "ch2.SW"}
    assert result(build).measure("blocking").worst > 12.6
    bare = edited(build, ("set_setting", {"channel": "ch2", "load_clamp": "none"}))
    assert findings(bare)["C4"] == "stop"


def test_on_alternating_current_it_conducts_whatever_is_commanded():
    build = bench("heater", "24 V", "1 A", rail="24 V", source="ac_low", stage="solid_direct")
    assert findings(build)["A1"] == "stop"


@pytest.mark.parametrize(("least", "verdict"), [("4.37 V", None), ("4.4 V", "stop")])
def test_its_input_wants_its_volts_at_the_pins_low_corner(least, verdict):
    assert findings(direct(input_min=least, input_max="32 V")).get("P7") == verdict


@pytest.mark.parametrize(
    ("clamp", "found"), [("none", "fix"), ("snubber", None), ("diode", "stop")]
)
def test_what_stands_across_a_load_behind_a_triac(clamp, found):
    build = bench("ac_coil", "230 V", "20 W", rail="230 V", source="mains", stage="triac_coupler")
    build = edited(
        build, ("set_setting", {"channel": "ch2", "quench": "none", "load_clamp": clamp})
    )
    check = "C5" if clamp == "diode" else "A5"
    if found == "fix":
        # Its class bears such a load bare; one that does not wants something.
        build = with_part(build, result(build).parts["switch"].id, snubberless=False)
        build = edited(build, ("set_setting", {"channel": "ch2", "triac": "own"}))
    assert findings(build).get(check) == found


def test_a_snubber_across_the_load_leaks_nothing_through_it():
    line = bench("ac_coil", "230 V", "20 W", rail="230 V", source="mains", stage="solid_relay")
    across = edited(line, ("set_setting", {"channel": "ch2", "load_clamp": "snubber"}))
    assert result(across).output.leaks < result(line).output.leaks
    ends = result(across).netlist.part("ch2.Z1").terminals
    assert ends == {"1": "ch2.SW", "2": "rail1.N"}


def test_a_varistor_across_the_load_asks_the_higher_class():
    line = bench("heater", "230 V", "200 W", rail="230 V", source="mains", stage="solid_relay")
    across = edited(line, ("set_setting", {"channel": "ch2", "load_clamp": "varistor"}))
    assert [result(b).measure("class_switch").stop for b in (line, across)] == [600.0, 800.0]
