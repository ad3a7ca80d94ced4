"""Chains through the document: lines, levels, what reset leaves, what a slip does."""

from __future__ import annotations

import pytest

from latchcore.advice.mending import advised
from latchcore.advice.wish_build import open_wish
from latchcore.advice.wishes import read_wish
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.edits import EditError, apply
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import read_build, write_build
from latchcore.whole.wire_list import wire_list
from tests.core.benches import COMPUTER, EIGHT_BIT, RADIO, edited, with_part

COMPARED = {"chain": "chain2", "idle": "low", "samples": "first", "compared": "yes"}


def chained(part="chain-register-8", count="1", many=2, board=EIGHT_BIT, load=None, **chain):
    """A chain, and some relay coils (or other loads) on a rail of their own, moved to it."""
    load = load or {"kind": "relay_coil", "voltage": "12 V", "figure": "400 Ω"}
    build = edited(
        Build(name="chained"),
        ("set_board", {"board": board}),
        ("set_watchdog", {"watchdog": "yes"}),
        ("add_rail", {"voltage": "12 V", "rating": "20 A"}),
        ("add_chain", {"part": part, "count": count}),
    )
    stage = {"stage": "register_output"} if "power" in part else {}
    for _ in range(many):
        build = edited(build, ("add_channel", {**load, "rail": "rail1", "pin": "", **stage}))
    ids = ",".join(c.id for c in build.channels)
    build = edited(build, ("move_to_chain", {"chain": "chain2", "channels": ids}))
    bus = load_catalogue().parts[part].bus
    return edited(
        build,
        *((("set_chain", COMPARED),) if bus == "shift" else ()),
        *((("set_chain", {"chain": "chain2", **chain}),) if chain else ()),
    )


def of_chain(build, *checks):
    """Findings about the chain, by check."""
    found = {f.check: f for f in evaluate(build).all_findings if f.where == "chain:chain2"}
    return {c: found.get(c) for c in checks} if checks else found


def test_a_chain_takes_lines_of_the_board_and_gives_its_own():
    build = chained()
    chain = build.chains[0]
    assert set(chain.lines) == {"data", "clock", "latch", "enable"}
    assert [c.pin for c in build.channels] == ["chain2.0", "chain2.1"]
    assert not evaluate(build).all_findings


def test_a_sound_chain_of_every_class_has_no_finding():
    for part in ("chain-register-8", "chain-register-8-low-level", "chain-register-8-power"):
        assert not of_chain(chained(part)), part
    assert not of_chain(chained("chain-pulse-16"))


def test_what_hangs_on_a_chain_is_sized_by_the_levels_of_the_chain():
    """A radio board of 3.3 V drives a base by a 5 V register with what that gives, not its own."""
    build = chained("chain-register-8-low-level", board=RADIO)
    build = edited(
        build,
        ("add_rail", {"voltage": "5 V", "source": "board_pin"}),
        ("set_chain", {"chain": "chain2", "rail": "rail5", "shifter": "yes"}),
    )
    at = BuildContext(build, load_catalogue()).channel(build.channels[0])
    assert at.board.logic.max == pytest.approx(5.25, abs=0.3)
    assert at.board.pin_recommended == 0.006


def test_an_expander_gives_a_milliampere_and_sinks_twenty():
    """Its source current is too small for a base; a coupler pulled low takes what it sinks."""
    build = chained("chain-expander-16", many=1)
    gives = next(m for m in evaluate(build).channels[0].result.measures if m.key == "pin_current")
    assert gives.fix == 0.001
    led = {"kind": "indicator_led", "voltage": "2 V", "figure": "10 mA"}
    lit = edited(
        chained("chain-expander-16", many=1, load={**led, "stage": "direct_pin"}),
        ("add_rail", {"voltage": "5 V", "source": "board_pin"}),
    )
    rail = lit.rails[-1].id
    lit = edited(
        lit,
        ("set_channel_rail", {"channel": "ch3", "rail": rail}),
        ("set_setting", {"channel": "ch3", "connection": "sink"}),
    )
    sinks = next(m for m in evaluate(lit).channels[0].result.measures if m.key == "pin_current")
    assert sinks.fix == 0.02 and sinks.verdict == "sound"


@pytest.mark.parametrize(
    ("fields", "keeps"),
    [
        ({}, False),
        ({"enable": "tied"}, True),
        ({"enable_pull": "none"}, True),
        # 5 µA of a board pin at most, 5 µA of the register: 10 µA over 1.01 · R against 0.3 · V.
        ({"enable_pull": "4.7 kΩ"}, False),
        ({"enable_pull": "1 MΩ"}, True),
    ],
)
def test_a_register_keeps_its_outputs_unless_its_enable_is_pulled_off(fields, keeps):
    found = of_chain(chained(**fields), "M6")["M6"]
    assert (found is not None) == keeps
    if found:
        assert found.severity == "fix"


def test_a_pull_at_the_enable_is_too_weak_by_a_hair():
    """It must stay over 0.7 of the supply against leakage at the pull's upper end."""
    build = chained()
    chain = BuildContext(build, load_catalogue()).chains["chain2"]
    room = chain.supply.min - chain.reads_high
    loose = chain.around.board.leakage + chain.part.leakage
    most = room / loose / 1.05
    strong, weak = (f"{most * share / 1000:.3f} kΩ" for share in (0.995, 1.005))
    assert of_chain(chained(enable_pull=strong), "M6")["M6"] is None
    assert of_chain(chained(enable_pull=weak), "M6")["M6"] is not None


def test_what_a_register_keeps_is_a_stop_for_a_hazard_and_ends_by_one_press():
    pump = {"kind": "pump", "voltage": "12 V", "figure": "300 mA", "stage": "nmos_low_side"}
    build = chained(load=pump, enable="tied")
    found = next(f for f in advised(build).all_findings if f.check == "M6")
    assert found.severity == "stop" and found.lasting and "Pump" in found.sentence
    mended = edited(build, *found.remedies[0].edits)
    assert "M6" not in of_chain(mended)


def test_a_dead_board_pulls_the_enable_of_a_register_that_is_still_fed():
    """Its pin holds the line at 0.6 V: low for an input that reads high from 2 V or 3.5 V."""
    build = chained("chain-register-8-low-level", board=EIGHT_BIT)
    own = edited(build, ("add_rail", {"voltage": "5 V", "rating": "1 A"}))
    fed = edited(own, ("set_chain", {"chain": "chain2", "rail": own.rails[-1].id}))
    assert of_chain(fed)["M6"].severity == "fix"
    assert "dead board" in of_chain(fed)["M6"].sentence
    shifted = edited(fed, ("set_chain", {"chain": "chain2", "shifter": "yes"}))
    assert "M6" not in of_chain(shifted)
    same = edited(fed, ("set_board_feed", {"rail": own.rails[-1].id}))
    assert "M6" not in of_chain(same)


def test_the_board_must_be_read_as_high_or_be_shifted():
    """3.3 V into a register on 5 V reads from 3.5 V: a stop, mended by a shifter or by its feed."""
    build = chained(board=RADIO)
    five = edited(build, ("add_rail", {"voltage": "5 V", "source": "board_pin"}))
    rail = five.rails[-1].id
    high = edited(five, ("set_chain", {"chain": "chain2", "rail": rail}))
    found = {f.check: f for f in advised(high).all_findings if f.where == "chain:chain2"}
    assert found["P7"].severity == "stop" and "pull-up" in found["P7"].sentence
    for remedy in found["P7"].remedies:
        assert "P7" not in of_chain(edited(high, *remedy.edits))
    assert "P7" not in of_chain(edited(high, ("set_chain", {"chain": "chain2", "shifter": "yes"})))


def test_a_level_is_read_or_not_by_a_hair():
    build = chained(board=RADIO)
    five = edited(build, ("add_rail", {"voltage": "5 V", "source": "board_pin"}))
    level = BuildContext(five, load_catalogue()).board.voh_noload_min
    for above, stops in ((0.01, True), (-0.01, False)):
        base = with_part(five, "chain-register-8-low-level", reads_high=f"{level + above:.3f} V")
        at = {"chain": "chain2", "part": "own", "rail": five.rails[-1].id}
        assert ("P7" in of_chain(edited(base, ("set_chain", at)))) == stops


def test_a_pull_up_to_five_volts_is_not_for_a_pin_of_three():
    """Read as high it is, yet its enable's pull-up leads 5 V into the board: the second fault."""
    build = chained("chain-register-8-low-level", board=RADIO)
    five = edited(build, ("add_rail", {"voltage": "5 V", "source": "board_pin"}))
    on = {"chain": "chain2", "rail": five.rails[-1].id, "shifter": "no"}
    found = of_chain(edited(five, ("set_chain", on)))
    assert "P7" not in found and found["P9"].severity == "stop"
    none = edited(five, ("set_chain", on | {"enable_pull": "none"}))
    assert "P9" not in of_chain(none)


def test_its_supply_is_within_what_it_is_made_for_by_a_hair():
    build = edited(chained(), ("add_rail", {"voltage": "5.5 V to 5.5 V", "rating": "1 A"}))
    rail = build.rails[-1].id
    within = {"chain": "chain2", "rail": rail, "shifter": "yes"}
    assert "S8" not in of_chain(edited(build, ("set_chain", within)))
    over = edited(
        build, ("set_chain", within), ("set_rail", {"rail": rail, "voltage": "5.51 V to 5.51 V"})
    )
    assert of_chain(over)["S8"].severity == "stop"


def test_a_package_gives_no_more_than_all_its_outputs_may():
    """Eight bases at 5.9 mA are 47 mA of 70 mA; eight LEDs at 9 mA each are too much."""
    led = {"kind": "indicator_led", "voltage": "2 V", "figure": "6 mA", "stage": "direct_pin"}
    build = chained(many=8, load=led)
    total = evaluate(build).chains[0].packages[0]
    for share, stops in ((0.999, True), (1.001, False)):
        base = with_part(build, "chain-register-8", package=f"{total * share * 1000:.4f} mA")
        own = edited(base, ("set_chain", {"chain": "chain2", "part": "own"}))
        assert ("P2" in of_chain(own)) == stops
    assert "P2" not in {f.check for f in evaluate(build).all_findings if f.where == "board"}


def test_open_drains_of_one_package_heat_each_other_by_a_hair():
    coil = {"kind": "relay_coil", "voltage": "12 V", "figure": "130 Ω"}
    build = chained("chain-register-8-power", many=8, load=coil)
    watts = sum(c.result.power for c in evaluate(build).channels)
    room = (150 - 25 - 30) / watts
    for share, hot in ((0.999, False), (1.001, True)):
        base = with_part(build, "chain-register-8-power", theta_ja=f"{room * share:.4f} K/W")
        own = edited(base, ("set_chain", {"chain": "chain2", "part": "own"}))
        assert ("D6" in of_chain(own)) == hot


def test_the_clamp_of_an_open_drain_takes_the_coils_energy_by_a_hair():
    """½·L·I²·V_cl/(V_cl − V_supply) of the coil that is opened, against what the output bears."""
    coil = {"kind": "solenoid", "voltage": "12 V", "figure": "90 mA"}
    build = chained("chain-register-8-power", many=1, load=coil)
    energy = evaluate(build).channels[0].result.measure("clamp_energy").worst
    load = BuildContext(build, load_catalogue()).channel(build.channels[0])
    current = evaluate(build).channels[0].result.running
    high = load.volts.max
    assert energy == pytest.approx(load.load.inductance.max * current**2 / 2 * 45 / (45 - high))
    for share, fix in ((0.999, True), (1.001, False)):
        bears = f"{energy * share * 1000:.5f} mJ"
        base = with_part(build, "chain-register-8-power", clamp_energy=bears)
        own = edited(base, ("set_chain", {"chain": "chain2", "part": "own"}))
        assert ("C6" in {f.check for f in evaluate(own).all_findings}) == fix


def test_a_stage_that_wants_a_level_finds_none_on_an_open_drain():
    build = chained("chain-register-8-power", many=1)
    found = edited(build, ("set_stage", {"channel": "ch3", "stage": "npn_low_side"}))
    assert "." not in found.channels[0].pin, "moved to a line that drives"
    back = found.model_copy(deep=True)
    back.channels[0].pin = "chain2.0"
    assert {f.check: f.severity for f in evaluate(back).all_findings}["P3"] == "stop"


def test_a_slip_is_no_finding_where_both_ends_sample_at_one_edge():
    build = chained()
    assert "M7" not in of_chain(build)
    for idle, samples, stands in (("high", "second", False), ("low", "second", True)):
        other = COMPARED | {"idle": idle, "samples": samples}
        assert ("M7" in of_chain(edited(build, ("set_chain", other)))) == stands
    unsaid = edited(build, ("set_chain", {"chain": "chain2", "compared": "no"}))
    assert of_chain(unsaid)["M7"].severity == "fix"


def test_a_slip_that_reaches_nobody_is_no_finding():
    """One channel at the far end: farther falls out, nearer lands on an empty output."""
    build = chained(many=1, compared="no")
    far = edited(build, ("place_pin", {"what": "ch3", "pin": "chain2.7"}))
    assert "M7" not in of_chain(far)
    beside = edited(far, ("copy_channel", {"channel": "ch3"}))
    beside = edited(beside, ("place_pin", {"what": "ch4", "pin": "chain2.6"}))
    assert of_chain(beside)["M7"].severity == "fix"


def test_a_slip_into_a_code_of_a_bridge_that_its_chip_disarms_is_a_fix():
    """In one package both directions at once brake: nothing burns, yet nobody asked for it."""
    motor = {"kind": "motor_both", "voltage": "12 V", "figure": "0.3 A", "stage": "bridge_chip"}
    build = chained(many=1, load=motor, compared="no")
    assert set(build.channels[0].pins) == {"chain2.0", "chain2.1"}
    assert of_chain(build)["M7"].severity == "fix"


def test_numbers_that_its_chain_does_not_have_and_two_on_one():
    build = chained()
    off = build.model_copy(deep=True)
    off.channels[0].pin = "chain2.8"
    found = {f.check: f for f in evaluate(off).all_findings}
    assert found["T9"].severity == "stop" and "base" in found["T9"].sentence
    both = build.model_copy(deep=True)
    both.channels[0].pin = "chain2.1"
    found = {f.check: f for f in evaluate(both).all_findings}
    assert found["T9"].severity == "stop" and "P10" not in found


def test_the_numbering_may_begin_at_one_and_every_channel_keeps_its_place():
    build = chained()
    one = edited(build, ("set_chain", {"chain": "chain2", "base": "1"}))
    assert [c.pin for c in one.channels] == ["chain2.1", "chain2.2"]
    places = [c.place for c in evaluate(one).chains[0].cells if c.holders]
    assert places == [0, 1]
    far = edited(build, ("set_chain", {"chain": "chain2", "first": "farthest"}))
    assert [c.place for c in evaluate(far).chains[0].cells if c.holders] == [6, 7]


def test_a_shorter_chain_lets_go_of_what_falls_off_its_end_and_says_so():
    build = chained(count="2", many=9)
    shorter, says = apply(build, "set_chain", {"chain": "chain2", "count": "1"})
    assert shorter.channels[-1].pin is None and shorter.channels[-1].name in says
    gone = edited(build, ("remove_chain", {"chain": "chain2"}))
    assert not gone.chains and all(c.pin is None for c in gone.channels)


@pytest.mark.parametrize(
    ("edit", "args", "message"),
    [
        ("add_chain", {"part": "npn-40v-200ma"}, "gives no lines"),
        ("add_chain", {"part": "chain-register-8", "count": "17"}, "at most 16"),
        ("add_chain", {"part": "chain-register-8", "count": "many"}, "many"),
        ("set_chain", {"chain": "chain2", "clock": "20 MHz"}, "expected up to 5 MHz"),
        ("set_chain", {"chain": "chain2", "base": "2"}, "is not one of"),
        ("set_chain", {"chain": "chain2", "enable_pull": "ten"}, "ten"),
        ("place_pin", {"what": "chain2.data", "pin": "chain2.5"}, "told by the board itself"),
        ("place_pin", {"what": "ch3", "pin": "chain2.9"}, "chain2.0 to chain2.7"),
        ("set_pin", {"channel": "ch3", "pin": "chain9.0"}, "no pin of this board"),
        ("move_to_chain", {"chain": "chain2", "channels": "ch99"}, "no channel"),
        ("remove_chain", {"chain": "chain9"}, "no longer"),
    ],
)
def test_what_no_chain_can_be_is_refused_with_what_was_expected(edit, args, message):
    with pytest.raises(EditError) as caught:
        apply(chained(), edit, args)
    assert message in str(caught.value)


def test_more_lines_than_a_chain_has_are_refused():
    build = chained(many=8)
    more = edited(build, ("copy_channel", {"channel": "ch3"}))
    with pytest.raises(EditError, match="0 outputs free"):
        apply(more, "move_to_chain", {"chain": "chain2", "channels": more.channels[1].id})


def test_two_on_one_bus_share_its_lines_and_the_file_comes_back():
    build = edited(chained("chain-expander-16"), ("add_chain", {"part": "chain-pulse-16"}))
    one, other = build.chains
    assert {"data", "clock"} <= set(one.lines) and set(other.lines) == {"enable"}
    assert not of_chain(build, "P11")["P11"]
    text = write_build(build)
    assert write_build(read_build(text)) == text


def test_pulses_of_a_driver_have_one_frequency_within_what_it_makes():
    fan = {"kind": "dc_motor", "voltage": "12 V", "figure": "0.3 A", "stage": "nmos_low_side"}
    build = chained("chain-pulse-16", load=fan)
    same = edited(
        build,
        ("set_switching", {"channel": "ch3", "pwm": "1 kHz", "duty": "50 %"}),
        ("set_switching", {"channel": "ch4", "pwm": "1 kHz", "duty": "20 %"}),
    )
    assert not {"P10", "D9"} & {f.check for f in evaluate(same).all_findings}
    two = edited(same, ("set_switching", {"channel": "ch4", "pwm": "500 Hz"}))
    assert "P10" in {f.check for f in evaluate(two).all_findings}
    for pwm, fits in (("1.5 kHz", True), ("1.51 kHz", False)):
        fast = edited(
            same,
            ("set_switching", {"channel": "ch3", "pwm": pwm}),
            ("set_switching", {"channel": "ch4", "pwm": pwm}),
        )
        assert ("pulse driver" not in [f.cause for f in evaluate(fast).all_findings]) == fits
    plain = chained(load=fan, many=1)
    pulsed = edited(plain, ("set_switching", {"channel": "ch3", "pwm": "1 kHz", "duty": "50 %"}))
    assert "P10" in {f.check for f in evaluate(pulsed).all_findings}


def test_every_line_of_a_chain_stands_in_the_wire_list_once():
    build = chained(count="2")
    report = evaluate(build)
    groups = {g.letter: g for g in wire_list(BuildContext(build, load_catalogue()), report)}
    wires = [r for r in groups["N1"].rows if r.kind == "wire"]
    for role, pin in build.chains[0].lines.items():
        assert sum(r.start.startswith(f"board {pin} ") and role in r.end for r in wires) == 1
    joints = {frozenset((r.start, r.end)) for r in groups["N1"].rows}
    assert frozenset(("N1 U1 SERIAL OUT", "N1 U2 SERIAL")) in joints
    assert any("package 1, output 0" in r.start for r in groups["A"].rows)


def test_a_rail_carries_what_its_chain_gives():
    build = edited(chained(), ("add_rail", {"voltage": "5 V", "rating": "1 A"}))
    rail = build.rails[-1].id
    fed = edited(build, ("set_chain", {"chain": "chain2", "rail": rail, "shifter": "yes"}))
    report = evaluate(fed)
    total = sum(c.result.pin_current for c in report.channels)
    found = next(r for r in report.rails if r.id == rail)
    assert found.all_on == pytest.approx(total + 200e-6)


def test_a_computer_of_three_volts_gets_a_chain_that_works_as_it_is_added():
    build = chained(board=COMPUTER)
    assert not of_chain(build)


def test_forty_relays_on_a_board_of_twenty_lines_go_to_a_chain_by_one_press():
    build = edited(
        Build(name="forty"),
        ("set_board", {"board": EIGHT_BIT}),
        ("set_watchdog", {"watchdog": "yes"}),
        ("add_rail", {"voltage": "12 V", "rating": "8 A"}),
        *(
            (
                "add_channel",
                {"kind": "relay_coil", "voltage": "12 V", "figure": "400 Ω", "pin": "auto"},
            )
            for _ in range(40)
        ),
    )
    short = next(f for f in advised(build).all_findings if f.check == "P11")
    press = next(r for r in short.remedies if "latched shift register" in r.label)
    told = edited(build, *press.edits)
    told = edited(told, ("assign_pins", {"scope": "missing"}))
    chain = told.chains[0]
    assert all(c.pin for c in told.channels) and chain.count >= 4
    assert "P11" not in {f.check for f in evaluate(told).all_findings}
    once = [pin for c in told.channels for pin in c.pins] + list(chain.lines.values())
    assert len(once) == len(set(once))
    # What is left is that nobody compared the edges; one press says so.
    left = [f for f in advised(told).all_findings]
    assert [f.check for f in left] == ["M7"]
    assert not evaluate(edited(told, *left[0].remedies[0].edits)).all_findings


def test_a_panel_goes_to_registers_whole_and_a_supply_makes_up_for_its_drivers():
    build = open_wish(read_wish("panel of 6 x 10 pulse coils 12 V 24 Ω on a 5 V board"), "wall")
    assert "D9" not in {f.check for f in evaluate(build).all_findings}
    build = edited(build, ("set_setting", {"channel": build.channels[0].id, "redrawn": "1 s"}))
    found = {f.check: f for f in advised(build).all_findings}
    press = next(r for r in found["P11"].remedies if "registers" in r.label)
    moved = edited(build, *press.edits)
    assert all(pin.startswith("chain") for pin in moved.channels[0].pins)
    assert moved.chains[0].count * 8 == len(moved.channels[0].pins) == 2 * (6 + 10)
    assert "P11" not in {f.check for f in evaluate(moved).all_findings}
    for check, left in (("C1", "13.5 V"), ("D9", "1.3 s")):
        (remedy,) = found[check].remedies
        assert left in remedy.label
        after = evaluate(edited(build, *remedy.edits))
        assert check not in {f.check for f in after.all_findings}


def test_all_lines_assigned_anew_stay_on_what_they_hang_on():
    build = chained(many=3, count="1")
    pins = [c.pin for c in edited(build, ("assign_pins", {"scope": "all"})).channels]
    assert all(pin.startswith("chain2.") for pin in pins)
    mixed = edited(
        build,
        (
            "add_channel",
            {"kind": "relay_coil", "voltage": "12 V", "figure": "400 Ω", "pin": "auto"},
        ),
        ("assign_pins", {"scope": "all"}),
    )
    assert [c.pin.startswith("chain2.") for c in mixed.channels] == [True, True, True, False]


def test_an_input_added_beside_a_chain_takes_a_free_pin_of_the_board():
    build = chained(many=8)
    free = len(BuildContext(build, load_catalogue()).board.pins)
    for _ in range(free):
        build = edited(build, ("add_input", {"kind": "button"}))
    pins = [i.pin for i in build.inputs if i.pin]
    # All the board can read, less the four lines of the register and what is not free at all.
    assert len(pins) == len(set(pins)) == 14 and not any("." in pin for pin in pins)
