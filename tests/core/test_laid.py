"""Distribution points, cables, metal joined by hand, earth by class."""

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.upgrades import upgraded
from latchcore.edits import EditError, apply
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import BuildFileError, read_build, write_build
from latchcore.metal.conductors import Terminal
from latchcore.whole.laying.conductors import crowded
from tests.core.benches import bench, edited
from tests.core.test_ac_switches import on_line
from tests.core.test_conductors import wires


def shelf(*edits):
    """Two strips of two amperes behind a point each; the second point hangs on the first."""
    build = edited(
        bench("led_strip", "12 V", "2 A", stage="nmos_low_side", rating="10 A"),
        ("copy_channel", {"channel": "ch2"}),
        ("add_block", {"rail": "rail1", "name": "Upper shelf"}),
        ("add_block", {"rail": "rail1", "name": "Lower shelf"}),
        ("set_block", {"block": "blk5", "behind": "blk4"}),
        ("set_wire", {"channel": "ch2", "block": "blk4"}),
        ("set_wire", {"channel": "ch3", "block": "blk5"}),
    )
    return edited(build, *edits)


def to(build, part, terminal="+"):
    return next(c for c in wires(build) if c.end == Terminal(part, terminal))


def said(build, *checks):
    return [f for f in advised(build).all_findings if f.check in checks]


def test_the_shared_piece_of_a_chain_carries_the_sum_and_each_end_its_own():
    build = shelf()
    whole, half = to(build, "BLOCK.blk4"), to(build, "BLOCK.blk5")
    runs = [c.result.running for c in evaluate(build).channels]
    assert whole.running == pytest.approx(sum(runs)) and half.running == pytest.approx(runs[1])
    assert whole.start.part == "SUPPLY.rail1" and half.start == Terminal("BLOCK.blk4", "+")
    assert to(build, "ch3.LOAD").start == Terminal("BLOCK.blk5", "+")
    back = [c for c in wires(build) if c.end.part == "BLOCK.blk5" and c.end.terminal == "-"]
    assert back[0].running == pytest.approx(half.running)


@pytest.mark.parametrize(("area", "severity"), [("0.5 mm²", None), ("0.34 mm²", "stop")])
def test_the_shared_piece_is_held_against_the_sum(area, severity):
    # Twice some two and a half amperes at the highest supply; 0.5 mm² carries six, 0.34 mm² four.
    build = shelf(("set_block", {"block": "blk4", "wire_area": area}))
    found = said(build, "S11")
    assert [f.severity for f in found] == ([severity] if severity else [])
    if found:
        mended = edited(build, *found[0].remedies[0].edits)
        assert not said(mended, "S11")


def test_its_print_and_its_places_are_held_too():
    runs = sum(c.result.running for c in evaluate(shelf()).channels)
    for amperes, over in ((runs + 0.01, False), (runs - 0.01, True)):
        build = shelf(("set_block", {"block": "blk4", "rating": f"{amperes:.3f} A"}))
        assert bool(said(build, "S11")) == over
    # Its own feed, a strip and the lower shelf: three in each pole.
    assert not said(shelf(("set_block", {"block": "blk4", "places": "3"})), "S11")
    short = shelf(("set_block", {"block": "blk4", "places": "2"}))
    (found,) = said(short, "S11")
    assert found.severity == "fix" and not said(edited(short, *found.remedies[0].edits), "S11")


def test_wires_to_a_point_take_volts_from_every_load_behind_it():
    long = shelf(("set_block", {"block": "blk4", "wire_length": "3 m", "wire_area": "0.5 mm²"}))
    context = BuildContext(long, load_catalogue()).channel(long.channels[1])
    ohms = 2 * 0.01724 * 3 / 0.5
    loads = [BuildContext(long, load_catalogue()).channel(c).load for c in long.channels]
    assert context.wire_drop == pytest.approx(ohms * sum(x.current.max for x in loads))
    (found,) = said(long, "S6")
    assert found.severity == "fix" and "Upper shelf" in found.title
    assert not said(edited(long, *found.remedies[0].edits), "S6")


def test_a_thin_piece_to_a_point_asks_for_a_fuse_like_any_wire():
    battery = ("set_rail", {"rail": "rail1", "source": "battery", "fuse": "8 A"})
    thick = shelf(battery, ("set_block", {"block": "blk4", "wire_area": "0.75 mm²"}))
    thin = shelf(battery, ("set_block", {"block": "blk4", "wire_area": "0.5 mm²"}))
    above = "The fuse of 12 V battery is above its wire"
    assert above not in [f.title for f in said(thick, "S7")]
    assert above in [f.title for f in said(thin, "S7")]


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (("set_block", {"block": "blk4", "behind": "blk5"}), "hangs on Upper shelf itself"),
        (("set_block", {"block": "blk4", "behind": "blk4"}), "hangs on Upper shelf itself"),
        (("set_block", {"block": "blk9"}), "no longer in the build"),
        (("set_block", {"block": "blk4", "colour": "red"}), "has no “colour”"),
        (("set_wire", {"channel": "ch2", "block": "blk6"}), "not on the rail of"),
        (("set_wire", {"channel": "ch2", "cable": "cab9"}), "no longer in the build"),
        (("add_metal", {"name": "plate", "ends": "rail9+"}), "no longer in the build"),
        (("remove_rail", {"rail": "rail7"}), "still feeds"),
    ],
)
def test_what_cannot_be_laid_is_refused_in_words(edit, says):
    build = shelf(("add_rail", {"voltage": "5 V"}), ("add_rail", {"voltage": "9 V"}))
    build = edited(build, ("add_block", {"rail": build.rails[-1].id}))
    name, args = edit
    ids = {"blk6": build.blocks[-1].id, "rail7": build.rails[-1].id}
    with pytest.raises(EditError, match=says):
        apply(build, name, {key: ids.get(value, value) for key, value in args.items()})


def test_what_hung_on_a_point_moves_to_what_that_hung_on():
    build = shelf(("remove_block", {"block": "blk4"}))
    assert [c.block for c in build.channels] == [None, "blk5"] and build.blocks[0].behind is None
    moved = shelf(("add_rail", {"voltage": "12 V"}))
    moved = edited(moved, ("set_channel_rail", {"channel": "ch2", "rail": moved.rails[-1].id}))
    assert moved.channels[0].block is None


def test_files_with_points_are_read_and_those_that_hold_no_water_are_not():
    text = write_build(shelf())
    assert write_build(read_build(text)) == text
    with pytest.raises(BuildFileError, match="circle"):
        read_build(text.replace('"id": "blk4",', '"id": "blk4",\n      "behind": "blk5",'))
    with pytest.raises(BuildFileError, match="no block"):
        read_build(text.replace('"block": "blk4"', '"block": "blk8"'))
    assert upgraded({"schema_version": 2, "rails": []})["schema_version"] == 6


def in_a_cable(*edits):
    build = edited(
        on_line("heater", "900 W", stage="relay_contact"),
        ("set_load", {"channel": "ch2", "protection": "class_ii"}),
        ("add_cable", {"name": "To the tank", "cores": "2"}),
        ("set_wire", {"channel": "ch2", "cable": "cab4"}),
    )
    return edited(build, *edits)


def test_a_cable_gives_its_figures_to_every_wire_in_it():
    build = in_a_cable(("set_cable", {"cable": "cab4", "wire_area": "0.5 mm²"}))
    wire = to(build, "ch2.LOAD")
    assert (wire.area, wire.cable) == (0.5e-6, "To the tank")
    # 4.3 A through a flex for three, unless the wire says itself what it is.
    assert "S6" in {f.check for f in evaluate(build).all_findings}
    own = edited(build, ("set_wire", {"channel": "ch2", "wire_area": "0.75 mm²"}))
    assert "S6" not in {f.check for f in evaluate(own).all_findings}
    coiled = edited(own, ("set_cable", {"cable": "cab4", "laid": "coiled"}))
    assert "S6" in {f.check for f in evaluate(coiled).all_findings}


def test_a_cable_has_a_core_for_each_wire_and_one_for_earth():
    assert not said(in_a_cable(), "S11")
    earthed = in_a_cable(("set_load", {"channel": "ch2", "protection": "class_i"}))
    (found,) = said(earthed, "S11")
    assert "3 wires" in found.sentence and not said(
        edited(earthed, *found.remedies[0].edits), "S11"
    )


def test_the_line_and_low_voltage_never_share_a_cable():
    low = {"kind": "led_strip", "voltage": "5 V", "figure": "100 mA", "rail": "rail3"}
    build = in_a_cable(("add_channel", {**low, "stage": "npn_low_side"}))
    build = edited(build, ("set_wire", {"channel": build.channels[-1].id, "cable": "cab4"}))
    found = [f for f in said(build, "I2") if "one cable" in f.title]
    assert found[0].severity == "stop" and not found[0].acceptable
    mended = edited(build, *found[0].remedies[0].edits)
    assert not [f for f in said(mended, "I2") if "one cable" in f.title]


@pytest.mark.parametrize(("protection", "earths"), [("class_i", 1), ("class_ii", 0), ("", 1)])
def test_earth_is_led_to_what_is_not_doubly_insulated(protection, earths):
    build = in_a_cable(("set_load", {"channel": "ch2", "protection": protection}))
    found = [c for c in wires(build) if c.node == "rail1.PE"]
    assert len(found) == earths and all(c.start.part == "SUPPLY.rail1" for c in found)


def test_what_is_plugged_into_an_outlet_has_its_earth_from_there():
    build = in_a_cable(
        ("set_load", {"channel": "ch2", "protection": "class_i"}),
        ("add_block", {"rail": "rail1", "kind": "outlet"}),
        ("set_wire", {"channel": "ch2", "block": "blk5"}),
    )
    (earth,) = [c for c in wires(build) if c.node == "rail1.PE"]
    assert earth.end == Terminal("BLOCK.blk5", "PE")
    terminals = edited(build, ("set_block", {"block": "blk5", "kind": "block"}))
    (earth,) = [c for c in wires(terminals) if c.node == "rail1.PE"]
    assert earth.end == Terminal("ch2.LOAD", "PE")


def test_three_earths_meet_on_a_bar_and_not_in_one_screw():
    build = in_a_cable(("set_load", {"channel": "ch2", "protection": "class_i"}))
    for _ in range(2):
        build = edited(build, ("copy_channel", {"channel": "ch2"}))
    earths = [c for c in wires(build) if c.node == "rail1.PE"]
    assert [c.start.part for c in earths] == ["SUPPLY.rail1"] + ["POINT.rail1-"] * 3
    assert not [end for end, _ in crowded(wires(build)) if end.part.startswith("SUPPLY")]


def plate(ends, **facts):
    return edited(
        on_line("heater", "900 W", stage="relay_contact"),
        ("set_setting", {"channel": "ch2", "coil_rail": "rail3"}),
        ("add_metal", {"name": "Base plate", "ends": ends}),
        ("set_metal", {"metal": "mt4", **facts}),
    )


@pytest.mark.parametrize(
    ("ends", "facts", "stops"),
    [
        ("rail1-", {"touchable": "yes"}, True),
        ("rail1-", {"touchable": "no"}, False),
        ("board,rail3-", {"touchable": "yes"}, False),
        ("board,rail1-", {"touchable": "no"}, True),
    ],
)
def test_metal_joined_by_hand_is_one_piece_with_what_it_touches(ends, facts, stops):
    found = [f for f in evaluate(plate(ends, **facts)).all_findings if f.check == "I1"]
    assert bool(found) == stops and all(f.severity == "stop" for f in found)


def test_a_wire_laid_for_measuring_makes_the_low_rail_hazardous():
    build = plate("rail1-,rail3-", touchable="no")
    around = BuildContext(build, load_catalogue())
    assert around.hazardous(around.build.rail("rail3"))
    assert not BuildContext(plate("rail3-"), load_catalogue()).hazardous(build.rail("rail3"))


def test_earth_is_led_to_the_metal_it_is_stated_for():
    build = plate("", earthed="yes")
    ends = [c.end.part for c in wires(build) if c.node == "rail1.PE"]
    assert "METAL.mt4" in ends
    joined = plate("board", earthed="no")
    assert "METAL.mt4" in [c.end.part for c in wires(joined) if c.node == "0V"]
