"""The netlist says what is joined; everything about wiring is read from it."""

import pytest

from latchcore.evaluate import evaluate
from tests.core.benches import bench, result


def test_a_low_side_stage_is_joined_as_it_is_soldered():
    net = result(bench()).netlist
    assert [p.ref for p in net.across("ch2.PIN", "ch2.BASE")] == ["ch2.R1"]
    assert [p.ref for p in net.across("ch2.BASE", "0V", "resistor")] == ["ch2.R2"]
    transistor, diode = net.part("ch2.Q1"), net.part("ch2.D1")
    assert transistor.terminals == {"B": "ch2.BASE", "C": "ch2.SW", "E": "0V"}
    assert diode.terminals == {"A": "ch2.SW", "K": "rail1"}


@pytest.mark.parametrize("side, node", [("pin", "ch2.PIN"), ("gate", "ch2.GATE")])
def test_the_pull_down_hangs_where_it_was_placed(side, node):
    net = result(
        bench("led_strip", figure="1 A", stage="nmos_low_side", settings={"pull_side": side})
    ).netlist
    assert net.part("ch2.R2").terminals["1"] == node


def test_a_turned_diode_is_turned_in_the_netlist():
    net = result(bench(settings={"clamp_band": "switch"})).netlist
    assert net.part("ch2.D1").terminals == {"A": "rail1", "K": "ch2.SW"}


def test_a_shared_ground_makes_one_island():
    assert len(evaluate(bench()).netlist.islands()) == 1
