"""Latching relays and valves, pulse coils: windows of pulses, both coils at once, what is kept."""

from __future__ import annotations

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.evaluate import evaluate
from latchcore.pieces.pulse import Pulses, meant, pulses_of, window
from tests.core.benches import bench, edited, findings, result

TWO = {"kind": "latching_relay_two", "voltage": "12 V", "figure": "180 Ω"}
VALVE = {"kind": "latching_valve", "voltage": "9 V", "figure": "30 Ω", "rail": "9 V"}


def two(load=None, switching=None, **settings):
    return bench(**TWO, stage="coil_switches", load=load, switching=switching, settings=settings)


def valve(load=None, switching=None):
    return bench(**VALVE, stage="bridge_chip", load=load, switching=switching)


def test_two_coils_have_a_line_each_and_are_never_on_together_by_program():
    motion = result(two()).motion
    assert motion.power.kind == "two_coils"
    assert motion.table.row("11").result == "forbidden"
    assert motion.table.row("10").result == "on" and motion.table.row("01").result == "off"
    assert not motion.nearest("forbidden")


def test_logic_before_the_gates_disarms_both_at_once():
    motion = result(two(apart="wired")).motion
    assert motion.table.row("11").result == "hold"
    assert motion.disarms["together"] == ["11"]
    parts = {p.kind for p in result(two(apart="wired")).netlist.parts}
    assert "lock" in parts


def test_both_coils_at_once_by_a_slip_is_a_stop_unless_logic_keeps_them_apart():
    def on_a_chain(**settings):
        build = edited(
            two(**settings),
            ("add_chain", {"part": "chain-register-8"}),
        )
        chain = build.chains[0].id
        build = edited(build, ("move_to_chain", {"chain": chain, "channels": "ch2"}))
        # A second one beside it: its set, slipped, meets nothing of the first's.
        build = edited(build, ("copy_channel", {"channel": "ch2"}))
        ids = build.channels[1].id
        return edited(build, ("move_to_chain", {"chain": chain, "channels": ids}))

    # The nearest output takes the level the data line stands at: set is followed by reset.
    found = {f.check: f.severity for f in evaluate(on_a_chain()).all_findings}
    assert found["M7"] == "stop"
    found = {f.check: f.severity for f in evaluate(on_a_chain(apart="wired")).all_findings}
    assert found["M7"] == "fix", "what slips to the next relay's line acts unasked"


def test_a_coil_both_ways_is_set_and_reset_by_one_bridge():
    motion = result(valve()).motion
    assert [line.name for line in motion.power.lines] == ["set", "reset"]
    assert motion.table.row("10").result == "on" and motion.table.row("01").result == "off"
    assert motion.table.row("00").result == "hold"
    assert "M3" not in findings(valve()), "a coil has no speed to be turned round at"


@pytest.mark.parametrize(("dead", "severity"), [("off", "stop"), ("on", "stop"), ("unknown", None)])
def test_what_latches_is_neither_off_nor_on_because_everything_is_dead(dead, severity):
    build = edited(valve(), ("set_use", {"channel": "ch2", "when_dead": dead}))
    assert findings(build).get("K7") == severity


def test_a_relay_that_latches_and_harms_nobody_is_told_so_as_a_fix():
    build = edited(two(), ("set_use", {"channel": "ch2", "when_dead": "off"}))
    assert findings(build)["K7"] == "fix"


def test_the_least_pulse_is_what_its_data_state_by_a_hair():
    for pulse, short in (("19.9 ms", True), ("20.1 ms", False)):
        build = two({"act_after": "20 ms"}, {"longest_on": pulse})
        assert ("C8" in findings(build)) == short


def test_the_armature_comes_on_top_of_the_rise():
    """The current rises at the slowest corner, then the armature takes its own time."""
    at = BuildContext(two({"armature": "4 ms"}), load_catalogue())
    with_it = pulses_of(at.channel(at.build.channels[0])).least
    plain = BuildContext(two(), load_catalogue())
    assert with_it == pytest.approx(pulses_of(plain.channel(plain.build.channels[0])).least + 4e-3)


def test_the_copper_says_how_long_a_stuck_pulse_may_last_by_a_hair():
    """m·c·dT/(V_max²/R_cold): the cold least coil, highest supply, no heat leaving."""
    load = {"copper": "2.1 g", "may_warm": "60 K"}
    build = two(load)
    context = BuildContext(build, load_catalogue()).channel(build.channels[0])
    most = window(context).most
    cold = 180 * 0.9 * (1 + 0.00393 * (5 - 20))
    assert most == pytest.approx(0.0021 * 385 * 60 / (context.volts.max**2 / cold), rel=0.01)
    for share, stop in ((1.001, True), (0.999, False)):
        longer = two(load, {"longest_on": f"{most * share:.5f} s"})
        found = {f.check: f for f in evaluate(longer).all_findings}.get("C8")
        assert (found is not None and found.severity == "stop") == stop
        if stop:
            assert "copper" in found.sentence


def test_the_shorter_of_copper_and_print_counts():
    build = two({"copper": "2.1 g", "longest_rated": "60 ms"}, {"longest_on": "61 ms"})
    found = {f.check: f for f in evaluate(build).all_findings}["C8"]
    assert found.severity == "stop" and "60 ms" in found.sentence


def test_a_unit_that_slipped_is_named_and_mended_by_one_press():
    """200 ms typed for 200 µs: only the one factor of a thousand makes it fit."""
    build = bench(
        "solenoid",
        "12 V",
        "1 A",
        stage="nmos_low_side",
        load={"act_after": "100 µs", "longest_rated": "1 ms", "inductance": "1 µH"},
        switching={"longest_on": "200 ms"},
    )
    found = next(f for f in advised(build).all_findings if f.check == "C8")
    assert "200 µs" in found.remedies[0].label
    mended = edited(build, *found.remedies[0].edits)
    assert mended.channels[0].longest_on == "200 µs"
    assert "On for longer" not in str([f.title for f in evaluate(mended).all_findings])


def test_a_unit_is_named_only_where_exactly_one_makes_it_fit():
    assert meant(0.2, Pulses(1e-4, False, None, 1e-3, False, True)) == pytest.approx(2e-4)
    assert meant(0.2, Pulses(None, False, None, 1e-3, False, True)) is None
    assert meant(0.2, Pulses(1e-4, False, None, None, False, True)) is None


def test_a_shut_valve_is_worked_from_a_chain_as_from_pins():
    build = edited(valve(), ("add_chain", {"part": "chain-register-8"}))
    moved = edited(build, ("move_to_chain", {"chain": "chain3", "channels": "ch2"}))
    assert set(moved.channels[0].pins) == {"chain3.0", "chain3.1"}
    assert result(moved).motion.table.row("10").result == "on"


def test_what_the_bridge_keeps_of_the_volts_makes_the_shortest_pulse_longer():
    stated = {"inductance": "60 mH", "pull_in": "5 V"}
    build = valve(load=stated)
    around = BuildContext(build, load_catalogue())
    context = around.channel(build.channels[0])
    alone = pulses_of(context).least
    driven = pulses_of(context, result(build)).least
    assert result(build).load_volts[0] < context.volts.min and driven > alone
    over, under = f"{driven * 1001:.4f} ms", f"{driven * 999:.4f} ms"
    assert alone < driven * 0.999
    assert "C8" not in findings(valve(load=stated, switching={"longest_on": over}))
    assert "C8" in findings(valve(load=stated, switching={"longest_on": under}))
