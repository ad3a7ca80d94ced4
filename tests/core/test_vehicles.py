"""Two motors that move one thing: stalled together, stopped without a command, mixed."""

from __future__ import annotations

import pytest

from latchcore.advice.mending import advised
from latchcore.document.models import Build
from latchcore.edits import EditError, apply
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import BuildFileError, read_build, write_build
from latchcore.sums.mixing import mix
from tests.core.benches import bench, edited, findings


def cart(rating="20 A", **fields) -> Build:
    build = bench(
        "motor_both",
        "12 V",
        "0.5 A",
        stage="bridge_chip",
        rating=rating,
        settings={"rest": "1 s"},
    )
    build = edited(
        build,
        ("copy_channel", {"channel": "ch2"}),
        ("add_vehicle", {"left": "ch2", "right": "ch3", "name": "Cart"}),
    )
    return edited(build, ("set_vehicle", {"vehicle": "veh4", **fields})) if fields else build


def test_both_motors_stalled_are_too_much_by_a_hair_and_one_press_mends_it():
    report = evaluate(cart())
    both = sum(c.result.surge for c in report.channels)
    for share, short in ((0.999, True), (1.001, False)):
        build = cart(rating=f"{both * share:.5f} A", time_out="500 ms")
        found = {f.check: f for f in advised(build).all_findings}.get("S1")
        assert (found is not None) == short
        if found:
            assert "Both motors" in found.title
            assert "S1" not in findings(edited(build, *found.remedies[0].edits))


def test_a_rail_that_one_motor_alone_overloads_is_told_once():
    found = [f for f in evaluate(cart(rating="3 A")).all_findings if f.check == "S1"]
    assert len(found) == 1 and "Both motors" not in found[0].title


def test_what_stops_it_without_a_command_is_asked_until_it_is_stated():
    asked = next(f for f in evaluate(cart()).all_findings if f.check == "T6")
    assert asked.severity == "check" and not evaluate(cart()).sound
    stated = edited(cart(), *asked.remedies[0].edits)
    assert "T6" not in findings(stated) and stated.vehicles[0].time_out == "500 ms"


@pytest.mark.parametrize(
    ("args", "field"),
    [
        ({"left": "ch2", "right": "ch2"}, "right"),
        ({"left": "", "right": "ch3"}, "left"),
        ({"left": "ch9", "right": "ch3"}, None),
    ],
)
def test_what_no_vehicle_is_moved_by_is_refused_at_its_field(args, field):
    build = edited(cart(), ("remove_vehicle", {"vehicle": "veh4"}))
    with pytest.raises(EditError) as caught:
        apply(build, "add_vehicle", args)
    assert caught.value.field == field


def test_a_motor_moves_one_vehicle_and_turns_both_ways():
    with pytest.raises(EditError, match="moves Cart already"):
        apply(cart(), "add_vehicle", {"left": "ch2", "right": "ch3"})
    one = edited(cart(), ("add_channel", {"kind": "dc_motor", "voltage": "12 V", "figure": "1 A"}))
    with pytest.raises(EditError, match="does not turn both ways"):
        apply(one, "set_vehicle", {"vehicle": "veh4", "right": one.channels[-1].id})


def test_a_vehicle_goes_with_its_motor_and_the_file_comes_back():
    assert not edited(cart(), ("remove_channel", {"channel": "ch3"})).vehicles
    text = write_build(cart(time_out="1 s", most="80 %"))
    assert write_build(read_build(text)) == text
    with pytest.raises(BuildFileError, match="both sides are one motor"):
        read_build(text.replace('"right": "ch3"', '"right": "ch2"'))


def test_turning_on_the_spot_and_straight_on_are_what_they_say():
    assert mix(0.0, 1.0) == (1.0, -1.0) and mix(1.0, 0.0) == (1.0, 1.0)
    left, right = mix(1.0, 0.5)
    assert left == 1.0 and 0 < right < 1, "the curve is kept where one side is at its end"
