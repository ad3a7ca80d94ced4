"""Motors both ways by four switches or by relays: what shorts, what disarms it, what moves hot."""

from __future__ import annotations

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.evaluate import evaluate
from latchcore.whole.wire_list import wire_list
from tests.core.benches import EIGHT_BIT, bench, edited, findings, result


def turned(stage, volts="24 V", figure="1 A", **settings):
    build = bench("motor_both", volts, figure, rail=volts, stage=stage, board=EIGHT_BIT)
    if settings:
        build = edited(build, ("set_setting", {"channel": "ch2", **settings}))
    return edited(build, ("set_stage", {"channel": "ch2", "stage": stage}))


def four(**settings):
    return turned("bridge_discrete", **settings)


def relays(volts="24 V", **settings):
    return turned("bridge_relays", volts, **settings)


def test_four_switches_behind_logic_have_no_finding():
    assert not findings(four())


@pytest.mark.parametrize("lines", ["two", "four"])
def test_without_an_interlock_both_switches_of_a_side_are_reached(lines):
    build = four(lines=lines, interlock="none")
    stop = next(f for f in advised(build).all_findings if f.check == "M1")
    assert stop.severity == "stop" and "high" in stop.sentence
    for remedy in stop.remedies:
        assert "M1" not in findings(edited(build, *remedy.edits)), remedy.label


def test_each_interlock_disarms_what_shorts_without_it():
    motion = result(four()).motion
    assert motion.table.row("11").result == "coast" and "11" in motion.disarms["together"]
    cross = result(four(lines="four", interlock="cross")).motion
    assert cross.table.row("1101").result != "forbidden"
    assert "1100" in cross.disarms["together"]


def test_a_rest_before_it_turns_keeps_two_lines_apart_by_program():
    assert "M1" not in findings(four(interlock="none", rest="1 s"))


def test_upper_gates_float_with_the_motor():
    net = result(four()).netlist
    couplers = [p for p in net.parts if p.kind == "pv_coupler"]
    assert {p.terminals["-"] for p in couplers} == {"ch2.OUT1", "ch2.OUT2"}
    uppers = [p for p in net.parts if p.kind == "nmos" and p.terminals["D"] == "rail1"]
    assert {p.terminals["S"] for p in uppers} == {"ch2.OUT1", "ch2.OUT2"}


def test_opposite_switches_share_a_line_and_those_of_a_side_do_not():
    net = result(four(interlock="none", rest="1 s")).netlist
    line = {p.note: p.terminals["1"] for p in net.parts if p.ref.rpartition(".")[2][:2] == "R1"}
    assert line["a_high"] == line["b_low"] != line["b_high"] == line["a_low"]


def test_the_dead_time_is_half_over_what_the_slower_pair_takes_by_a_hair():
    wanted = result(four()).working.step("t_dead").result
    edges = result(four()).working.step("t_edges").result
    assert wanted == pytest.approx(1.5 * edges) and wanted > 1e-6
    for share, stop in ((0.999, True), (1.001, False)):
        found = findings(four(dead_time=f"{wanted * share * 1e3:.6f} ms")).get("M2")
        assert (found == "stop") == stop


def test_a_short_dead_time_is_lengthened_by_one_press():
    build = four(dead_time="1 ms")
    stop = next(f for f in advised(build).all_findings if f.check == "M2")
    assert "M2" not in findings(edited(build, *stop.remedies[0].edits))


def test_turned_at_speed_it_draws_twice_its_stall():
    at_speed, rested = result(four()), result(four(rest="1 s"))
    assert at_speed.surge == pytest.approx(2 * rested.surge)
    assert at_speed.measure("bridge_peak") and rested.measure("bridge_peak") is None


def test_pulses_come_no_faster_than_the_upper_pair_unless_the_lower_has_lines_of_its_own():
    assert result(four()).pulses.limit < 100 < result(four(lines="four")).pulses.limit


def test_a_relay_at_each_end_brakes_at_rest_and_a_mosfet_cuts_first():
    found = result(relays())
    assert found.motion.table.row("000").result == "brake"
    assert found.motion.table.row("110").result == "forward"
    assert not found.motion.hot and "K5" not in findings(relays())


def test_contacts_that_cut_themselves_arc_over_the_supply_above_24_volts_by_a_hair():
    """What counts is the highest supply: 24 V and no more."""
    for volts, stop in (("23 V to 24 V", False), ("23 V to 24.1 V", True)):
        build = edited(relays(run="none"), ("set_rail", {"rail": "rail1", "voltage": volts}))
        found = {f.check: f for f in advised(build).all_findings}.get("M1")
        assert (found is not None) == stop
        if found:
            cut = edited(build, *found.remedies[0].edits)
            assert "M1" not in findings(cut) and set(cut.channels[0].lines) == {
                "forward",
                "reverse",
            }


def test_one_relay_of_two_poles_crosses_the_motor_over():
    found = result(relays(pattern="one"))
    relay = next(p for p in found.netlist.parts if p.kind == "relay")
    assert relay.terminals["NO"] == relay.terminals["NC2"] == "rail1"
    assert relay.terminals["NC"] == relay.terminals["NO2"] != "rail1"
    assert found.parts["relay"].poles >= 2
    assert found.motion.table.row("10").result == "reverse"
    assert found.motion.table.row("11").result == "forward"
    assert found.motion.table.row("00").result == "coast"


def test_a_reversing_motor_has_no_diode_of_its_own_across_it():
    for build in (relays(), four()):
        net = result(build).netlist
        ends = set(net.part("ch2.LOAD").terminals.values())
        across = [p for p in net.parts if p.kind == "diode" and set(p.terminals.values()) == ends]
        assert not across


@pytest.mark.parametrize("stage", ["bridge_discrete", "bridge_relays"])
def test_every_switch_and_both_ends_of_the_motor_stand_in_the_wire_list(stage):
    build = turned(stage)
    groups = wire_list(BuildContext(build, load_catalogue()), evaluate(build))
    rows = [r for g in groups for r in g.rows]
    motor = [r for r in rows if r.kind == "wire" and "DC motor, both ways" in r.end + r.start]
    assert len(motor) == 2
    for switch in ("Q1", "Q1b"):
        assert any(f" {switch} " in f"{r.start} {r.end} " for r in rows)
