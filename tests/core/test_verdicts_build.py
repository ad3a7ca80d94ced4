"""Verdicts on rails and whole builds: what is said once, what is not summed, what mends all."""

import json

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.edits import EditError, apply
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import parse
from latchcore.formats.buildfile import read_build, write_build
from tests.core.benches import COMPUTER, EIGHT_BIT, bench, edited, findings, result
from tests.core.test_ac_switches import on_line


def copies(build, count):
    return edited(build, *[("copy_channel", {"channel": "ch2"})] * (count - 1))


@pytest.mark.parametrize("count", [1, 2, 5])
def test_what_one_rail_does_to_several_channels_is_said_once_with_all_of_them(count):
    build = copies(bench("led_strip", "5 V", "300 mA", stage="nmos_low_side"), count)
    report = advised(build)
    found = [f for f in report.all_findings if f.check == "S8"]
    assert len(found) == 1 and len(report.channels) == count
    if count > 1:
        assert set(found[0].concerns) == {c.id for c in report.channels}
        assert report.where(found[0]) == ", ".join("ABCDE"[:count])
    # Each channel still says it for itself, and one press mends it for all.
    assert all(any(f.check == "S8" for f in c.findings) for c in report.channels)
    press = next(r for r in found[0].remedies if r.edits)
    mended, _ = apply(build, press.edit_name, press.edit_args)
    # One adapter for all of them, not one each.
    assert "S8" not in findings(mended) and len(mended.rails) == len(build.rails) + 1


@pytest.mark.parametrize("edit", ["feed_load", "regulate_coil"])
def test_a_load_that_is_fed_anew_leaves_the_point_of_its_old_rail(edit):
    build = edited(
        bench("relay_coil", "9 V", "400 Ω", stage="npn_low_side"),
        ("add_block", {"rail": "rail1", "name": "Shelf"}),
        ("set_wire", {"channel": "ch2", "block": "blk3"}),
    )
    more = {"rail": "rail1"} if edit == "regulate_coil" else {}
    fed = edited(build, (edit, {"channel": "ch2", "voltage": "9 V", **more}))
    text = write_build(fed)
    assert fed.channels[0].block is None and write_build(read_build(text)) == text


def test_what_stands_at_one_channel_of_a_rail_alone_is_its_own():
    build = copies(bench("led_strip", "12 V", "300 mA", stage="nmos_low_side"), 2)
    build = edited(build, ("set_load", {"channel": "ch3", "voltage": "5 V"}))
    (found,) = [f for f in evaluate(build).all_findings if f.check == "S8"]
    assert found.where == "ch3" and not found.concerns


def test_two_causes_of_one_check_are_both_said_and_two_corners_of_one_cause_are_not():
    build = bench("relay_coil", "12 V", "400 Ω", rail="9 V", stage="npn_low_side")
    coil = [f for f in evaluate(build).channels[0].findings if f.check == "C1"]
    assert len(coil) == 1 and coil[0].severity == "stop"
    delays = {"control": "phase", "earliest_delay": "0.1 ms", "latest_delay": "10 ms"}
    both = on_line(figure="200 W", settings=delays)
    window = [f for f in evaluate(both).channels[0].findings if f.check == "A10"]
    assert {f.cause for f in window} == {"earliest", "latest"}


def test_the_diode_pin_of_an_array_is_wired_for_the_whole_package():
    build = copies(bench("relay_coil", "12 V", "30 mA", stage="array_low_side"), 3)
    opened = [("set_setting", {"channel": c.id, "common_pin": "open"}) for c in build.channels]
    build = edited(build, *opened)
    found = next(f for f in advised(build).all_findings if f.check == "D10")
    press = found.remedies[0]
    mended, says = apply(build, press.edit_name, press.edit_args)
    assert "D10" not in findings(mended) and "2 more" in says
    assert all(
        "common_pin" not in c.stage.settings or c.stage.settings["common_pin"] == "rail"
        for c in mended.channels
    )


@pytest.mark.parametrize("steps, says", [
    ({}, "0 steps"),
    ({"a": "no"}, "is no step"),
    ({"a": '["rename_build", {"name": 3}]'}, "is no step"),
    ({"a": '["together", {"a": "[]"}]'}, "steps within steps"),
    ({"a": '["nothing", {}]'}, "no edit called"),
    ({"a": '["rename_build", {"build": "x"}]'}, "takes name"),
    ({f"s{n}": "[]" for n in range(301)}, "301 steps"),
    ({"a": "[" * 3000}, "is no step"),
])  # fmt: skip
def test_steps_that_are_none_are_refused_and_nothing_is_done(steps, says):
    build = bench()
    with pytest.raises(EditError, match=says) as caught:
        apply(build, "together", steps)
    assert len(str(caught.value)) < 300 and build == bench()


def test_a_step_that_fails_takes_back_those_before_it():
    steps = {"1": '["rename_build", {"name": "other"}]', "2": '["set_stage", {"channel": "ch9"}]'}
    build = bench()
    with pytest.raises(EditError):
        apply(build, "together", steps)
    assert build.name == "bench"


@pytest.mark.parametrize(("interlock", "sum_of"), [("none", 2), ("program", 1), ("wired", 1)])
def test_sources_of_one_line_that_are_kept_apart_are_not_summed(interlock, sum_of):
    build = copies(bench("led_strip", "12 V", "2 A", stage="nmos_low_side"), 2)
    each = result(build).running
    build = edited(
        build,
        ("add_route", {"name": "line", "members": "ch2,ch3", "interlock": interlock, "gap": "1 s"}),
    )
    assert evaluate(build).rails[0].all_on == pytest.approx(sum_of * each)


@pytest.mark.parametrize(
    ("kind", "figure", "source", "verdict"),
    [
        ("filament_lamp", "500 mA", "vehicle", None),
        ("led_strip", "500 mA", "vehicle", "stop"),
        ("filament_lamp", "500 mA", "unregulated", "stop"),
    ],
)
def test_a_lamp_on_a_vehicles_supply_is_one_that_is_sold_for_it(kind, figure, source, verdict):
    build = bench(kind, "12 V", figure, source=source, stage="nmos_low_side")
    assert findings(build).get("S8") == verdict
    volts = evaluate(bench(kind, "12 V", figure, source="vehicle")).rails[0].volts
    assert (round(volts.min, 1), round(volts.max, 1)) == (11.0, 14.8)


@pytest.mark.parametrize(
    ("region", "volts", "lives", "verdict"),
    [
        ("europe-230", "230 V", "one", None),
        ("europe-230", "120 V", "one", "fix"),
        ("europe-230", "208 V", "one", None),
        ("europe-230", "206 V", "one", "fix"),
        ("north-america-120", "120 V", "one", None),
        ("north-america-120", "240 V", "one", "fix"),
        ("north-america-120", "240 V", "two", None),
    ],
)
def test_a_line_is_held_against_its_region(region, volts, lives, verdict):
    build = bench("heater", volts, "100 W", rail=volts, source="mains", stage="relay_contact")
    build = edited(
        build,
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
        ("set_conditions", {"region": region}),
        ("set_rail", {"rail": "rail1", "lives": lives}),
    )
    said = [f for f in advised(build).all_findings if f.check == "S8"]
    assert [f.severity for f in said] == ([verdict] if verdict else [])
    for remedy in said[0].remedies if verdict and volts != "206 V" else ():
        assert "S8" not in findings(edited(build, *remedy.edits))


@pytest.mark.parametrize(("area", "carries"), [("0.82 mm²", 10.0), ("0.81 mm²", 0.0)])
def test_a_gauge_as_it_is_printed_is_that_gauge(area, carries):
    build = bench("heater", "120 V", "100 W", rail="120 V", source="mains", stage="relay_contact")
    build = edited(
        build,
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
        ("set_conditions", {"region": "north-america-120"}),
        ("set_rail", {"rail": "rail1", "wire_area": area, "wire_length": "2 m"}),
    )
    assert evaluate(build).rails[0].ampacity == carries


# A coil of nine volts on twelve: a regulator of its own volts before it.
def test_a_coil_that_gets_too_many_volts_is_given_a_regulator_with_that_number():
    build = bench("relay_coil", "9 V", "400 Ω", stage="npn_low_side")
    found = next(f for f in advised(build).all_findings if f.check == "C2")
    press = next(r for r in found.remedies if "regulator of 9 V" in r.label)
    mended = edited(build, *press.edits)
    rail = mended.rails[-1]
    assert (rail.fed_by, rail.converter, rail.voltage) == ("rail1", "linear", "9 V")
    assert mended.channels[0].rail == rail.id and "C2" not in findings(mended)


def test_pulses_too_fast_for_a_stage_are_given_the_frequency_that_passes():
    build = bench(
        "led_strip", "12 V", "1 A", stage="pmos_high_side",
        switching={"pwm": "50 kHz", "duty": "50 %"},
    )  # fmt: skip
    limit = result(build).pulses.limit
    found = next(f for f in advised(build).all_findings if f.check == "D9")
    press = next(r for r in found.remedies if r.label.startswith("Pulse it at"))
    mended = edited(build, *press.edits)
    assert "D9" not in findings(mended)
    # Rounded down to two digits, and no further.
    assert 0.9 * limit < parse(mended.channels[0].pwm, "Hz") <= limit


@pytest.mark.parametrize("free", [True, False])
def test_a_pin_that_serves_is_offered_free_or_by_a_swap(free):
    """A line of the small board that has no timer behind it, and the six that have one."""
    board = load_catalogue().parts[EIGHT_BIT]
    timed = [p.id for p in board.pins if "pwm" in p.can]
    plain = next(p.id for p in board.pins if "pwm" not in p.can and p.id == "L4")
    build = bench("led_strip", "12 V", "1 A", board=EIGHT_BIT, pin=plain, stage="nmos_low_side")
    strip = {"kind": "led_strip", "voltage": "12 V", "figure": "1 A", "stage": "nmos_low_side"}
    for pin in () if free else timed:
        build = edited(build, ("add_channel", {**strip, "rail": "rail1", "pin": pin}))
    build = edited(build, ("set_switching", {"channel": "ch2", "pwm": "400 Hz", "duty": "50 %"}))
    found = next(f for f in advised(build).all_findings if f.check == "P10")
    press = next(r for r in found.remedies if r.edits)
    assert press.label.startswith("Move to" if free else "Swap with")
    mended = edited(build, *press.edits)
    assert "P10" not in findings(mended) and mended.channels[0].pin in timed


def test_the_largest_base_resistors_of_several_channels_spare_the_board():
    # Seven bases at 390 Ω take more than the fifty milliamperes the board may give, at 470 Ω not.
    build = bench("relay_coil", "12 V", "400 Ω", board=COMPUTER, settings={"base_resistor": "390"})
    build = copies(build, 7)
    found = next(f for f in advised(build).all_findings if f.check == "P2")
    press = next(r for r in found.remedies if "base resistors" in r.label)
    after = evaluate(edited(build, *press.edits))
    assert "P2" not in {f.check for f in after.all_findings}
    assert after.pin_total < 0.9 * evaluate(build).pin_total
    assert not {f.check for f in after.all_findings} & {"D1", "D14"}


@pytest.mark.parametrize("rating", ["1.2 A", "5 A"])
def test_a_remedy_is_tried_on_the_whole_build(rating):
    """What mends a channel and overloads its rail is not offered."""
    build = bench("led_strip", "12 V", "1 A", stage="direct_pin", rating=rating)
    for finding in advised(build).all_findings:
        for remedy in (r for r in finding.remedies if r.edits):
            after = evaluate(edited(build, *remedy.edits))
            stood = {(f.check, f.where) for f in evaluate(build).all_findings}
            assert all(
                (f.check, f.where) in stood for f in after.all_findings if f.severity == "stop"
            ), remedy.label


def test_a_gap_between_the_sources_of_a_line_is_given_as_a_number():
    build = copies(bench("led_strip", "12 V", "1 A", stage="nmos_low_side"), 2)
    build = edited(
        build,
        ("add_route", {"name": "line", "members": "ch2,ch3", "interlock": "program", "gap": ""}),
    )
    found = next(f for f in advised(build).all_findings if f.check == "S9")
    assert "S9" not in findings(edited(build, *found.remedies[0].edits))


def test_steps_of_a_press_are_read_back_as_they_were():
    build = copies(bench("relay_coil", "12 V", "30 mA", stage="array_low_side"), 3)
    opened = [("set_setting", {"channel": c.id, "common_pin": "open"}) for c in build.channels]
    found = next(f for f in advised(edited(build, *opened)).all_findings if f.check == "D10")
    press = next(r for r in found.remedies if len(r.edits) > 1)
    assert [tuple(json.loads(t)) for t in press.edit_args.values()] == list(press.edits)
