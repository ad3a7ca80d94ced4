"""What the wires keep: in the volts of coil and load, in the sag, in the board's feed."""

import pytest

from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.evaluate import evaluate
from latchcore.sums.ampacity import COPPER
from tests.core.benches import bench, edited, findings, result

THIN = {"wire_length": "10 m", "wire_area": "0.5 mm²"}
OHMS = 2 * COPPER * 10 / 0.5e-6


def most_of(build) -> float:
    """What the load takes at the most by what is stated of it."""
    return BuildContext(build, load_catalogue()).channel(build.channels[0]).load.current.max


def on_rail(build, **wire):
    return edited(build, ("set_rail", {"rail": "rail1", **wire}))


def test_the_rails_wire_lowers_the_volts_of_each_of_its_loads_by_what_all_of_them_take():
    one = bench("heater", "12 V", "1 A", stage="nmos_low_side")
    two = edited(one, ("copy_channel", {"channel": "ch2"}))
    for build, times in ((one, 1), (two, 2)):
        bare, wired = result(build), result(on_rail(build, **THIN))
        lost = bare.measure("load_volts").worst - wired.measure("load_volts").worst
        assert lost == pytest.approx(times * OHMS * most_of(build), rel=1e-6)


def test_a_loads_own_wire_counts_for_that_load_alone():
    build = edited(
        bench("heater", "12 V", "1 A", stage="nmos_low_side"),
        ("copy_channel", {"channel": "ch2"}),
    )
    wired = edited(build, ("set_wire", {"channel": "ch2", **THIN}))
    before, after = evaluate(build).channels, evaluate(wired).channels
    assert after[0].result.load_volts[0] < before[0].result.load_volts[0]
    assert after[1].result.load_volts == before[1].result.load_volts


def test_a_coil_behind_a_thin_wire_does_not_pull_in_at_the_corner_and_behind_a_thick_one_does():
    coil = bench("solenoid", "12 V", "1 A", stage="nmos_low_side")
    thin = on_rail(coil, wire_length="10 m", wire_area="0.22 mm²", fuse="2 A")
    thick = on_rail(coil, wire_length="10 m", wire_area="1.5 mm²", fuse="2 A")
    assert findings(thin).get("C1") == "fix" and "C1" not in findings(thick)


def test_a_relays_coil_is_not_charged_with_the_wire_of_what_it_switches():
    build = bench("heater", "12 V", "1 A", stage="relay_contact")
    wired = edited(build, ("set_wire", {"channel": "ch2", **THIN}))
    assert (
        result(wired).measure("coil_pull_in").worst == result(build).measure("coil_pull_in").worst
    )
    along = on_rail(build, **THIN)
    assert result(along).measure("coil_pull_in").worst < result(build).measure("coil_pull_in").worst


def test_the_sag_is_that_of_source_and_wire_together():
    motor = bench("dc_motor", "12 V", "1 A", stage="nmos_low_side")
    source, both = (
        evaluate(on_rail(motor, resistance="0.5 Ω", **wire)).rails[0] for wire in ({}, THIN)
    )
    fall = [r.volts.min - r.sagging for r in (source, both)]
    assert fall[1] / fall[0] == pytest.approx((0.5 + OHMS) / 0.5)
    alone = evaluate(on_rail(motor, **THIN)).rails[0]
    assert alone.volts.min - alone.sagging == pytest.approx(fall[1] - fall[0])


def test_a_rail_that_hangs_on_another_by_a_wire_loses_in_both():
    build = edited(
        bench("heater", "12 V", "1 A", stage="nmos_low_side"),
        ("add_rail", {"voltage": "12 V"}),
        ("set_rail", {"rail": "rail3", "fed_by": "rail1"}),
        ("set_channel_rail", {"channel": "ch2", "rail": "rail3"}),
    )
    alone = edited(build, ("set_rail", {"rail": "rail3", **THIN}))
    both = on_rail(alone, **THIN)
    lost = [result(build).load_volts[0] - result(b).load_volts[0] for b in (alone, both)]
    assert lost[1] == pytest.approx(2 * lost[0]) and lost[0] > 0
    regulated = edited(both, ("set_rail", {"rail": "rail3", "converter": "switching"}))
    assert result(build).load_volts[0] - result(regulated).load_volts[0] == pytest.approx(lost[0])
