"""A motor both ways through a bridge: every combination of its lines, its currents, its lines."""

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.edits import EditError
from latchcore.evaluate import evaluate
from latchcore.stages import STAGES
from latchcore.sums.motion.told import told
from latchcore.whole.pinning import demands
from latchcore.whole.wire_list import wire_list
from tests.core.benches import (
    COMPUTER,
    EIGHT_BIT,
    RADIO,
    bench,
    edited,
    findings,
    result,
    with_part,
)

BIPOLAR = "bridge-bipolar-46v-2a"


def motor(figure="400 mA", volts="12 V", **how):
    build = bench("motor_both", volts, figure, rail=volts, stage="bridge_chip", **how)
    return edited(build, ("set_stage", {"channel": "ch2", "stage": "bridge_chip"}))


def fixed(build, **settings):
    return edited(build, ("set_setting", {"channel": "ch2", **settings}))


def own(build, base="bridge-mosfet-45v-3a", **figures):
    return fixed(with_part(build, base, **figures), bridge="own")


def table(build):
    return {row.inputs: row for row in told(result(build).motion)}


def finding(build, check):
    return next(f for f in advised(build).channels[0].findings if f.check == check)


def test_a_channel_that_turns_both_ways_begins_on_a_bridge_with_a_line_for_each_direction():
    build = edited(
        bench(board=RADIO),
        ("add_channel", {"kind": "motor_both", "voltage": "12 V", "figure": "400 mA"}),
    )
    channel = build.channels[-1]
    assert channel.stage.kind == "bridge_chip" and set(channel.lines) == {"reverse"}
    assert channel.lines["reverse"] not in (channel.pin, build.channels[0].pin)
    keys = [d.key for d in demands(build, BuildContext(build, load_catalogue()))]
    assert keys == ["ch2", channel.id, f"{channel.id}.reverse"]


@pytest.mark.parametrize(
    "stage",
    [s for s in STAGES if not s.startswith("bridge_") or s in ("bridge_reed", "bridge_analogue")],
)
def test_no_other_stage_turns_it_both_ways(stage):
    context = BuildContext(motor(), load_catalogue()).channel(motor().channels[0])
    assert STAGES[stage].suits(context)


def test_each_combination_of_a_mosfet_bridge_as_it_is_printed():
    rows = table(motor())
    assert {k: rows[k].result for k in ("10", "01", "11", "00", "zz", "pp")} == {
        "10": "forward",
        "01": "reverse",
        "11": "brake",
        "00": "coast",
        "zz": "coast",
        "pp": "coast",
    }
    assert rows["10"].reachable and rows["10"].by[-1] == "forward high"
    assert not rows["1z"].reachable


def test_an_enable_that_floats_high_is_held_low_by_its_pull_or_else_asked_for():
    build = fixed(motor(board=EIGHT_BIT), bridge=BIPOLAR)
    assert set(build.channels[0].lines) == {"forward", "reverse"}
    rows = table(build)
    assert rows["zzz"].result == "coast" and rows["110"].result == "forward"
    assert rows["111"].result == rows["100"].result == "brake"
    assert rows["0zz"].result == "coast"
    bare = table(fixed(build, pull_resistor="none"))
    assert bare["zzz"].result == "brake"
    half = table(fixed(build, pull_resistor="none"))
    assert half["11z"].result == "brake" and half["1z0"].result == "forward"


def test_a_tied_enable_takes_no_line_and_its_bridge_stands_on_the_logic_supply():
    build = fixed(motor(board=EIGHT_BIT), bridge=BIPOLAR, enable="tied")
    assert set(build.channels[0].lines) == {"reverse"}
    u1 = result(build).netlist.part("ch2.U1").terminals
    assert u1["EN"] == u1["VCC"] == "board.VDD"


@pytest.mark.parametrize(("rest", "peak"), [("500 ms", 1), ("499 ms", 2), ("", 2)])
def test_turned_round_before_it_stands_it_draws_twice_its_stall(rest, peak):
    build = motor(load={"surge": "1.5 A"})
    build = fixed(build, rest=rest) if rest else build
    assert result(build).measure("bridge_peak").worst == pytest.approx(1.5 * peak)
    assert result(build).surge == pytest.approx(1.5 * peak)


def test_a_measured_run_down_takes_the_place_of_the_half_second():
    build = fixed(motor(load={"surge": "1.5 A"}), rest="900 ms", run_down="1 s")
    assert result(build).measure("bridge_peak").worst == pytest.approx(3.0)
    assert result(fixed(build, run_down="900 ms")).measure("bridge_peak").worst == 1.5


@pytest.mark.parametrize(("peak", "verdict"), [("3.01 A", None), ("2.99 A", "stop")])
def test_the_peak_rating_holds_what_turning_draws(peak, verdict):
    build = own(motor(load={"surge": "1.5 A"}), i_peak=peak)
    assert findings(build).get("M3") == verdict


def test_waiting_until_it_stands_is_one_press_with_its_time():
    build = own(motor(load={"surge": "1.5 A"}), i_peak="2 A")
    remedy = finding(build, "M3").remedies[0]
    assert "500 ms" in remedy.label
    assert "M3" not in findings(edited(build, *remedy.edits))


@pytest.mark.parametrize(
    ("rating", "verdict"), [("0.461 A", "stop"), ("0.47 A", "fix"), ("0.7 A", None)]
)
def test_running_current_against_the_continuous_rating_and_its_share(rating, verdict):
    build = own(fixed(motor(load={"surge": "0.5 A"}), rest="1 s"), i_max=rating)
    assert result(build).running == pytest.approx(0.462, abs=1e-3)
    assert findings(build).get("M3") == verdict


@pytest.mark.parametrize(
    ("figures", "check"),
    [
        ({"v_supply_max": "12.7 V"}, None),
        ({"v_supply_max": "12.5 V"}, "D3"),
        ({"v_supply_min": "11.3 V"}, None),
        ({"v_supply_min": "11.5 V"}, "D10"),
    ],
)
def test_the_supply_lies_between_what_it_works_from_and_what_it_bears(figures, check):
    found = findings(own(fixed(motor(), rest="1 s"), **figures))
    assert ({"D3", "D10"} & set(found)) == ({check} if check else set())


@pytest.mark.parametrize(("high", "verdict"), [("3.07 V", None), ("3.09 V", "stop")])
def test_a_pins_high_level_against_what_its_inputs_read(high, verdict):
    assert findings(own(fixed(motor(), rest="1 s"), reads_high=high)).get("P7") == verdict


def test_logic_that_wants_five_volts_is_fed_from_a_rail_of_them_by_one_press():
    build = edited(
        fixed(motor(), bridge=BIPOLAR, rest="1 s"), ("set_load", {"channel": "ch2", "surge": "1 A"})
    )
    build = edited(build, ("add_rail", {"voltage": "5 V", "rating": "1 A"}))
    assert findings(build)["D10"] == "stop"
    remedy = next(r for r in finding(build, "D10").remedies if "Feed its logic" in r.label)
    mended = edited(build, *remedy.edits)
    assert "D10" not in findings(mended)
    assert result(mended).netlist.part("ch2.U1").terminals["VCC"] == build.rails[-1].id


def test_the_motor_goes_without_what_both_switches_keep():
    low, high = result(fixed(motor(board=EIGHT_BIT), bridge=BIPOLAR)).load_volts
    assert low == pytest.approx(11.4 - 2.5) and high == pytest.approx(12.6)
    assert load_catalogue().parts[BIPOLAR].drop(1.5) == pytest.approx(4.05)
    assert load_catalogue().parts[BIPOLAR].drop(3.0) == pytest.approx(6.6)


@pytest.mark.parametrize(("line", "verdict"), [("P16", None), ("P14", "stop")])
def test_a_second_line_that_pulses_at_boot_turns_the_motor(line, verdict):
    build = edited(motor(), ("place_pin", {"what": "ch2.reverse", "pin": line}))
    assert findings(build).get("P5") == verdict
    if verdict:
        said = finding(build, "P5")
        assert said.title.startswith("P14 pulses") and "reverse" in said.remedies[0].label
        assert "P5" not in findings(edited(build, *said.remedies[0].edits))


def test_two_lines_that_pulse_do_so_each_for_itself():
    build = edited(motor(pin="P5"), ("place_pin", {"what": "ch2.reverse", "pin": "P14"}))
    assert findings(build)["P5"] == "stop"
    both = edited(build, *finding(build, "P5").remedies[0].edits)
    assert not {"P5", "P6", "P3"} & set(findings(both))


def test_an_input_that_reads_high_by_itself_wants_its_pull():
    open_high = own(fixed(motor(), rest="1 s"), open_reads="unknown")
    assert "P6" not in findings(open_high)
    bare = fixed(open_high, pull_resistor="none")
    assert findings(bare)["P6"] == "stop"
    assert "P6" not in findings(edited(bare, *finding(bare, "P6").remedies[0].edits))


@pytest.mark.parametrize(("rest", "verdict"), [("1 s", None), ("", "check")])
def test_both_lines_high_between_two_writes_is_named_in_the_print_or_asked(rest, verdict):
    build = own(motor(load={"surge": "1 A"}), at_both="unnamed")
    build = fixed(build, rest=rest) if rest else build
    assert findings(build).get("M1") == verdict
    if verdict:
        assert "reverse high" in finding(build, "M1").sentence


def test_pulses_want_a_timer_behind_each_direction_or_behind_the_enable_alone():
    build = edited(motor(), ("set_switching", {"channel": "ch2", "pwm": "18 kHz"}))
    wanted = {d.key: d.wants for d in demands(build, BuildContext(build, load_catalogue()))}
    assert "pwm" in wanted["ch2"] & wanted["ch2.reverse"]
    build = fixed(build, bridge=BIPOLAR)
    wanted = {d.key: d.wants for d in demands(build, BuildContext(build, load_catalogue()))}
    assert "pwm" in wanted["ch2"] and "pwm" not in wanted["ch2.forward"] | wanted["ch2.reverse"]


def test_a_line_is_put_on_a_pin_changes_places_and_is_let_go():
    build = motor()
    first = build.channels[0].pin
    swapped = edited(build, ("place_pin", {"what": "ch2.reverse", "pin": first}))
    assert swapped.channels[0].lines == {"reverse": first}
    assert swapped.channels[0].pin == build.channels[0].lines["reverse"]
    gone = edited(build, ("place_pin", {"what": "ch2.reverse", "pin": ""}))
    assert gone.channels[0].lines == {} and evaluate(gone).channels[0].missing == ["pin"]
    assert evaluate(edited(gone, ("assign_pins", {}))).channels[0].missing == []
    with pytest.raises(EditError, match="no pin of this board"):
        edited(build, ("place_pin", {"what": "ch2.reverse", "pin": "Z9"}))
    with pytest.raises(EditError, match="no longer in the build"):
        edited(build, ("place_pin", {"what": "ch2.sideways", "pin": "P16"}))


def test_a_line_given_twice_is_found():
    build = motor()
    channel = build.channels[0].model_copy(update={"lines": {"reverse": build.channels[0].pin}})
    twice = build.model_copy(update={"channels": [channel]})
    assert findings(twice)["P10"] == "stop"
    mended = edited(twice, *next(f for f in advised(twice).all_findings).remedies[0].edits)
    assert "P10" not in findings(mended)


def test_copies_take_lines_of_their_own_and_another_stage_lets_them_go():
    build = edited(motor(board=COMPUTER), ("copy_channel", {"channel": "ch2", "many": "3"}))
    pins = [p for c in build.channels for p in (c.pin, *c.lines.values())]
    assert len(pins) == len(set(pins)) == 8
    one_way = edited(build, ("set_stage", {"channel": "ch2", "stage": "npn_low_side"}))
    assert one_way.channels[0].lines == {}


def test_another_board_keeps_no_line_it_does_not_have():
    moved = edited(motor(), ("set_board", {"board": EIGHT_BIT}))
    assert moved.channels[0].pin is None and moved.channels[0].lines == {}


def test_what_is_soldered_names_each_line_and_both_ends_of_the_motor():
    build = fixed(motor(), rest="1 s")
    rows = [
        r for g in wire_list(BuildContext(build, load_catalogue()), evaluate(build)) for r in g.rows
    ]
    ends = {r.end for r in rows} | {r.start for r in rows}
    assert {"A board, forward", "A board, reverse", "A board, OUT1", "A board, OUT2"} <= ends
    net = result(build).netlist
    assert {net.part(f"ch2.R{n}").terminals["2"] for n in (1, 2)} == {"0V"}
    load = net.part("ch2.LOAD").terminals
    assert (load["+"], load["-"]) == ("ch2.OUT1", "ch2.OUT2")


def test_it_stands_on_direct_current_only():
    build = bench("motor_both", "24 V", "1 A", rail="24 V", source="ac_low", stage="bridge_chip")
    assert "stop" in findings(build).values()


def test_a_stage_of_several_lines_shares_none_of_them():
    build = edited(
        motor(), ("add_channel", {"kind": "relay_coil", "voltage": "12 V", "figure": "400 Ω"})
    )
    coil = build.channels[-1].id
    for channel, lead in ((coil, "ch2"), ("ch2", coil)):
        with pytest.raises(EditError, match="several lines has them alone"):
            edited(build, ("move_together", {"channel": channel, "lead": lead}))


@pytest.mark.parametrize(("most", "verdict"), [("4.2 mA", None), ("4.19 mA", "stop")])
def test_every_line_counts_where_pins_share_a_limit(most, verdict):
    build = fixed(motor(board=EIGHT_BIT), rest="1 s", pull_resistor="2k7")
    own_board = with_part(build, EIGHT_BIT, total_absolute=most, total_recommended="4.1 mA")
    pins = edited(own_board, ("set_board", {"board": "own"}), ("assign_pins", {}))
    assert 2 * result(pins).pin_current == pytest.approx(4.1936e-3, rel=1e-4)
    assert findings(pins).get("P2") == (verdict or "fix")


@pytest.mark.parametrize(("energy", "verdict"), [("1.8 mJ", None), ("1.92 mJ", "fix")])
def test_what_braking_gives_back_may_lift_the_rail_over_the_bridge(energy, verdict):
    # sqrt(12.6² + 2·E/C) reaches 14 V with 100 µF at 1.86 mJ.
    build = own(motor(load={"returned": energy}), v_supply_max="14 V")
    build = edited(fixed(build, rest="1 s"), ("set_rail", {"rail": "rail1", "bulk": "100 µF"}))
    assert findings(build).get("S12") == verdict
    if verdict:
        assert "the switch of" in finding_of_build(build, "S12").sentence


def finding_of_build(build, check):
    return next(f for f in advised(build).all_findings if f.check == check)


@pytest.mark.parametrize(("pull", "verdict"), [("9k1", None), ("10k", "stop")])
def test_a_pull_holds_an_input_against_what_lifts_it(pull, verdict):
    # 51 µA through 9.1 kΩ + 5 % stay under 0.5 V, through 10 kΩ + 5 % they do not.
    build = own(fixed(motor(), rest="1 s"), open_reads="high")
    assert findings(fixed(build, pull_resistor=pull)).get("P6") == verdict
    assert result(build).the_value("pull_resistor").text == "8k2"


def test_an_input_that_draws_to_ground_by_itself_does_not_lift_its_line():
    assert result(motor()).the_value("pull_resistor").text == "10k"


@pytest.mark.parametrize(("high", "verdict"), [("2.96 V", None), ("2.97 V", "stop")])
def test_a_pull_of_few_ohms_costs_the_pin_its_level(high, verdict):
    build = own(fixed(motor(), rest="1 s", pull_resistor="680"), reads_high=high)
    board = load_catalogue().parts[RADIO]
    left = board.voh_noload_min - board.droop * result(build).pin_current
    assert left == pytest.approx(2.9632, abs=1e-4)
    assert findings(build).get("P7") == verdict


def test_only_logic_of_its_own_is_fed_from_another_rail():
    build = fixed(motor(), bridge="bridge-mosfet-28v-20a", enable="tied", logic_rail="rail1")
    assert result(build).netlist.part("ch2.U1").terminals["EN"] == "board.VDD"


def test_a_second_line_without_a_timer_is_moved_by_one_press():
    board = load_catalogue().parts[EIGHT_BIT]
    plain = next(p.id for p in board.pins if p.can == ["in", "out"] and not p.owner)
    build = edited(
        motor(board=EIGHT_BIT, pin="L3"),
        ("place_pin", {"what": "ch2.reverse", "pin": plain}),
        ("set_switching", {"channel": "ch2", "pwm": "18 kHz", "duty": "50 %"}),
    )
    said = finding(build, "P10")
    assert plain in said.title
    mended = edited(build, *said.remedies[0].edits)
    assert "P10" not in findings(mended) and mended.channels[0].pin == "L3"
