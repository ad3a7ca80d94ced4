"""What is printed on a contact for a kind of load, and how it is moved, each beside its limit."""

import pytest

from latchcore.catalogue import load_catalogue
from latchcore.evaluate import evaluate
from latchcore.sums.contacts import contact_share
from tests.core.benches import EIGHT_BIT, bench, edited, findings, result, with_part


def lamp(figure="1 A", **relay):
    base = bench("filament_lamp", "12 V", figure, stage="relay_contact")
    build = with_part(base, "relay-12v-10a", **relay)
    return edited(build, ("set_setting", {"channel": "ch2", "relay": "own"}))


@pytest.mark.parametrize(("printed", "verdict"), [("1.16 A", None), ("1.15 A", "fix")])
def test_a_print_for_the_kind_counts_in_place_of_its_share(printed, verdict):
    plain = lamp()
    assert result(plain).contact.allowed == pytest.approx(1.0) and findings(plain)["K1"] == "fix"
    build = lamp(for_lamps=printed)
    assert findings(build).get("K1") == verdict
    assert result(build).measure("contact_current").fix_name.startswith("printed")


def test_a_print_for_another_kind_says_nothing_of_this_one():
    assert findings(lamp(for_motors="5 A"))["K1"] == "fix"


def test_a_print_for_the_kind_says_that_it_makes_the_kinds_own_surge():
    held = dict(rating=10, share=0.1, surge_ratio=100, surge_lasts=0.0005, running=1.0)
    assert contact_share(**held).making is None
    assert contact_share(**held, printed=1.0).making == 100.0
    assert contact_share(**held, printed=1.0, closed=True).steady == 0.5


def test_a_print_above_thirty_volts_does_not_lift_the_curve():
    high = bench("dc_motor", "48 V", "1 A", rail="48 V", stage="relay_contact")
    build = edited(
        with_part(high, "relay-24v-10a", for_motors="10 A"),
        ("set_setting", {"channel": "ch2", "relay": "own"}),
    )
    plain = edited(high, ("set_setting", {"channel": "ch2", "relay": "relay-24v-10a"}))
    assert result(build).contact.allowed == pytest.approx(result(plain).contact.allowed)


@pytest.mark.parametrize(("tracks", "verdict"), [("4.63 A", None), ("4.6 A", "fix")])
def test_tracks_that_were_measured_count_in_place_of_half_the_relay(tracks, verdict):
    build = bench("heater", "12 V", "4 A", stage="relay_contact")
    build = with_part(build, "relay-12v-10a", tracks=tracks, cheap_board=True)
    build = edited(build, ("set_setting", {"channel": "ch2", "relay": "own"}))
    running = result(build).running
    assert running == pytest.approx(4.62, abs=0.005)
    assert findings(build).get("K1") == verdict


def test_a_printed_life_and_the_years_wanted_move_what_is_said_of_its_life():
    used = ("set_use", {"channel": "ch2", "cycles_per_day": "500"})
    plain = edited(bench("heater", "12 V", "4 A", stage="relay_contact"), used)
    assert findings(plain)["K6"] == "note"
    months = edited(plain, ("set_use", {"channel": "ch2", "cycles_per_day": "500", "years": "1"}))
    assert "K6" not in findings(months)
    twice = edited(
        with_part(plain, "relay-12v-10a", life=4e5),
        ("set_setting", {"channel": "ch2", "relay": "own"}),
    )
    held = edited(plain, ("set_setting", {"channel": "ch2", "relay": "relay-12v-10a"}))
    assert result(twice).contact.life == pytest.approx(4 * result(held).contact.life, rel=0.01)
    # Said once, the years stay when anything else of its use is said.
    again = edited(months, ("set_use", {"channel": "ch2", "cycles_per_day": "90"}))
    assert again.channels[0].years == 1


def test_a_contact_that_moves_dead_only_carries_and_that_is_said():
    hot = lamp("2 A")
    assert findings(hot)["K1"] == "fix"
    dead = edited(hot, ("set_setting", {"channel": "ch2", "moves": "dead"}))
    assert "K1" not in findings(dead) and findings(dead)["K5"] == "note"


def test_a_contact_printed_for_motors_wants_no_snubber_only_a_word():
    line = bench(
        "induction_motor", "230 V", "60 W", rail="230 V", source="mains", stage="relay_contact"
    )
    line = edited(line, ("add_rail", {"voltage": "12 V"}))
    bare = {"channel": "ch2", "coil_rail": "rail3", "load_clamp": "none"}
    plain = edited(line, ("set_setting", bare | {"relay": "relay-12v-16a-apart"}))
    assert findings(plain)["A5"] == "fix"
    printed = edited(
        with_part(line, "relay-12v-16a-apart", for_motors="3 A"),
        ("set_setting", bare | {"relay": "own"}),
    )
    assert findings(printed)["A5"] == "note"


def on_two_rails(**settings):
    build = bench("heater", "12 V", "5 W", stage="relay_module", board=EIGHT_BIT)
    return edited(
        build,
        ("add_rail", {"voltage": "12 V", "name": "coils"}),
        ("add_rail", {"voltage": "5 V", "name": "inputs"}),
        ("set_setting", {"channel": "ch2", "coil_rail": "rail3", **settings}),
    )


def test_inputs_of_a_module_hang_on_a_rail_of_their_own():
    both = on_two_rails(module="module-12v-low")
    apart = on_two_rails(module="module-12v-low", feed="rail", input_rail="rail4")
    parts = [result(b).netlist.part("ch2.K1").terminals for b in (both, apart)]
    assert [p["VCC"] for p in parts] == ["rail3", "rail4"]
    assert [p["COIL+"] for p in parts] == ["rail3", "rail3"]
    assert result(apart).module.unit.supply.typ == 5.0
    joined = with_part(apart, "module-12v-low", separate=False)
    joined = edited(joined, ("set_setting", {"channel": "ch2", "module": "own"}))
    assert findings(joined)["S8"] == "stop"


@pytest.mark.parametrize(("feed", "verdict"), [("module", "stop"), ("logic", None)])
def test_an_input_pulled_low_by_the_board_wants_its_supply_from_the_boards_side(feed, verdict):
    build = on_two_rails(module="module-12v-low", feed=feed)
    build = edited(build, ("set_rail", {"rail": "rail3", "ground": "own"}))
    assert findings(build).get("I3") == verdict


def test_what_the_modules_own_transistor_keeps_is_in_the_coils_volts():
    build = with_part(on_two_rails(), "module-5v-low-plain", driver_drop="0.9 / 1.1 / 1.4 V")
    build = edited(
        build, ("set_setting", {"channel": "ch2", "module": "own", "coil_rail": "rail4"})
    )
    assert result(build).measure("coil_pull_in").worst == pytest.approx(4.75 - 1.4, abs=0.02)


def test_the_mosfet_of_a_coil_can_be_named():
    other = load_catalogue().of_family("nmos")[-1].id
    build = bench("heater", "12 V", "5 W", stage="relay_contact")
    build = edited(build, ("set_setting", {"channel": "ch2", "drive": "nmos", "mosfet": other}))
    assert result(build).parts["transistor"].id == other
    assert evaluate(build).channels[0].result.netlist.part("ch2.Q1").kind == "nmos"
