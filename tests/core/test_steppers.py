"""Steppers through the document: rise and rate, current standing still, drivers, their states."""

from __future__ import annotations

import math

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.evaluate import evaluate
from tests.core.benches import EIGHT_BIT, bench, edited, findings, result, with_part

OWN_VOLTS = {"kind": "stepper_unipolar", "voltage": "5 V", "figure": "12 Ω", "rail": "5 V"}


def unipolar(**settings):
    return bench(**OWN_VOLTS, stage="coil_switches", settings=settings)


def bipolar(stage, volts="12 V", figure="0.4 A", rail="12 V", **settings):
    return bench("stepper_bipolar", volts, figure, rail=rail, stage=stage, settings=settings)


def test_a_unipolar_stepper_has_a_line_and_a_switch_for_each_half_winding():
    build = unipolar()
    assert list(build.channels[0].lines) == ["b1", "a2", "b2"]
    net = result(build).netlist
    switches = [p for p in net.parts if p.kind == "nmos"]
    assert len(switches) == 4 and len({p.terminals["G"] for p in switches}) == 4
    assert {p.terminals["+"] for p in net.parts if p.kind == "load"} == {"rail1"}


def test_two_phases_on_take_twice_what_one_takes():
    two, one = result(unipolar(phases="2")), result(unipolar(phases="1"))
    assert two.running == pytest.approx(2 * one.running)
    assert two.each == one.each == one.running


def test_a_step_must_leave_the_current_time_to_rise_by_a_hair():
    """At its own volts the rated current is never reached at a low corner: 3·L/R counts."""
    found = result(unipolar())
    rate = found.working.step("f_rise").result
    load = BuildContext(unipolar(), load_catalogue()).channel(unipolar().channels[0]).load
    assert rate == pytest.approx(1 / (3 * load.inductance.max / load.resistance.min))
    for share, loses in ((0.999, False), (1.001, True)):
        build = unipolar(step_rate=f"{rate * share:.4f} Hz")
        assert ("D9" in findings(build)) == loses


def test_without_a_ramp_it_starts_no_faster_than_its_start_stop_rate():
    """Behind a resistor the current rises sooner; then the start-stop rate is what limits."""
    quick = {"series": "47 Ω", "series_watts": "50 W"}
    at = {**OWN_VOLTS, "rail": "24 V"}

    def rates(**how):
        return findings(bench(**at, stage="coil_switches", settings={**quick, **how}))

    assert "D9" not in rates(step_rate="200 Hz")
    assert rates(step_rate="201 Hz")["D9"] == "fix"
    assert "D9" not in rates(step_rate="201 Hz", ramp="ramped")
    assert "D9" not in rates(step_rate="400 Hz", start_stop="400 Hz")


def test_a_higher_rail_wants_a_resistor_before_each_winding_and_a_press_fits_one():
    build = bench(**{**OWN_VOLTS, "rail": "24 V"}, stage="coil_switches")
    stop = next(f for f in advised(build).all_findings if f.check == "C2")
    assert stop.severity == "stop"
    fitted = edited(build, *stop.remedies[0].edits)
    assert "C2" not in findings(fitted)
    parts = [p for p in result(fitted).netlist.parts if p.ref.rpartition(".")[2][:2] == "R3"]
    assert len(parts) == 4


def test_the_resistor_before_a_winding_bears_its_heat_by_a_hair():
    at = {**OWN_VOLTS, "rail": "24 V"}
    plain = bench(**at, stage="coil_switches", settings={"series": "56 Ω"})
    heat = result(plain).working.step("P_series").result
    holding = result(plain).working.step("I_hold").result
    assert heat == pytest.approx(holding**2 * 56)
    for share, stop in ((0.999, True), (1.001, False)):
        watts = {"series": "56 Ω", "series_watts": f"{heat * share:.5f} W"}
        found = findings(bench(**at, stage="coil_switches", settings=watts)).get("D14")
        assert (found == "stop") == stop


def test_both_halves_of_one_winding_are_forbidden_and_nothing_brings_them_about():
    motion = result(unipolar()).motion
    assert motion.table.row("1010").result == "forbidden"
    assert motion.table.row("1100").result == "hold"
    assert not motion.nearest("forbidden") and not motion.verdicts


def test_steps_in_turn_stand_a_quarter_turn_apart():
    motion = result(unipolar()).motion
    angles = [motion.table.row(code).angle for code in ("1100", "0110", "0011", "1001")]
    assert [(b - a) % 8 for a, b in zip(angles, angles[1:], strict=False)] == [2, 2, 2]


def test_a_bipolar_stepper_turns_on_two_bridges_by_the_same_codes():
    found = result(bipolar("stepper_bridges"))
    chips = [p for p in found.netlist.parts if p.kind == "bridge_chip"]
    assert len(chips) == 2 and len({p.terminals["OUT1"] for p in chips}) == 2
    angles = [found.motion.table.row(c).angle for c in ("1100", "0110", "0011", "1001")]
    assert [(b - a) % 8 for a, b in zip(angles, angles[1:], strict=False)] == [2, 2, 2]


def test_a_driver_sets_the_current_by_its_reference():
    """I = V_ref/(8·0.1 Ω), at its corners; the rated current is kept at the highest."""
    found = result(bipolar("step_driver", "2 V", "0.85 A", "24 V"))
    volts = found.value("reference").value
    most = found.working.step("I_set_max").result
    assert most == pytest.approx(volts * 1.035 / (8 * 0.1 * 0.99))
    assert most <= 0.85 and volts == pytest.approx(math.floor(volts * 100 + 1e-9) / 100)
    assert found.running == pytest.approx(2 * most)


def test_a_driver_set_over_what_it_bears_is_a_stop_by_a_hair_and_a_sink_helps():
    limit = 1.0 * 8 * 0.1 * 0.99 / 1.035
    for share, stop in ((0.999, False), (1.001, True)):
        at = {"reference": f"{limit * share:.5f} V"}
        build = bipolar("step_driver", "3 V", "1.5 A", "24 V", driver="step-driver-35v-1a", **at)
        assert ("M3" in findings(build)) == stop
        sunk = edited(build, ("set_setting", {"channel": "ch2", "sink": "yes"}))
        assert "M3" not in findings(sunk)


def test_a_driver_on_a_rail_many_times_its_windings_volts_has_no_finding():
    build = bipolar("step_driver", "2 V", "0.85 A", "24 V", step_rate="800 Hz", ramp="ramped")
    assert not findings(build)


def test_an_enable_that_is_pulled_off_lets_go_through_reset_and_a_tied_one_holds():
    pulled = {s.key: s.load for s in result(bipolar("step_driver", "3 V", "0.6 A")).states}
    tied = result(bipolar("step_driver", "3 V", "0.6 A", enable="tied"))
    assert pulled["floating"] == "off"
    assert {s.key: s.load for s in tied.states}["floating"] == "on"


def test_a_driver_reads_the_pin_or_not_by_a_hair():
    build = bipolar("step_driver", "3 V", "0.6 A")
    level = BuildContext(build, load_catalogue()).board.voh_noload_min
    for above, stop in ((0.01, True), (-0.01, False)):
        own = with_part(build, "step-driver-35v-1a", reads_high=f"{level + above:.3f} V")
        fitted = edited(own, ("set_setting", {"channel": "ch2", "driver": "own"}))
        assert ("P7" in findings(fitted)) == stop


@pytest.mark.parametrize("stage", ["stepper_bridges", "step_driver"])
def test_every_winding_stands_in_the_wire_list(stage):
    from latchcore.whole.wire_list import wire_list

    build = bipolar(stage, *(("3 V", "0.6 A") if stage == "step_driver" else ()))
    groups = wire_list(BuildContext(build, load_catalogue()), evaluate(build))
    ends = [row.end for g in groups for row in g.rows if "Stepper" in row.end]
    assert len(ends) == 4 and any(", A," in e for e in ends) and any(", B," in e for e in ends)


def test_an_eight_bit_board_drives_a_unipolar_stepper_from_the_wish_on():
    build = bench(**OWN_VOLTS, stage="coil_switches", board=EIGHT_BIT)
    assert not {f for f, s in findings(build).items() if s == "stop"}
