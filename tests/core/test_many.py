"""Several channels at once: added, copied, numbered, changed."""

import pytest

from latchcore.document.models import MOST_CHANNELS
from latchcore.edits import EditError, apply
from tests.core.benches import bench, edited

LAMP = {"kind": "filament_lamp", "voltage": "12 V", "figure": "5 W", "rail": "rail1"}


def names(build) -> list[str]:
    return [c.name for c in build.channels]


def test_as_many_as_are_wanted_are_added_numbered_each_on_a_pin_of_its_own():
    build = edited(bench(), ("add_channel", {**LAMP, "name": "Lamp", "many": "4"}))
    assert names(build)[1:] == ["Lamp 1", "Lamp 2", "Lamp 3", "Lamp 4"]
    pins = [c.pin for c in build.channels]
    assert len(set(pins)) == 5 and None not in pins
    assert len({c.id for c in build.channels}) == 5


def test_one_keeps_the_name_that_was_typed():
    assert names(edited(bench(), ("add_channel", {**LAMP, "name": "Lamp"})))[1] == "Lamp"


def test_copies_go_on_with_the_number_and_stand_behind_what_they_are_of():
    build = edited(
        bench(),
        ("add_channel", {**LAMP, "name": "Lamp 7"}),
        ("add_channel", {**LAMP, "name": "Lamp 8"}),
        ("copy_channel", {"channel": "ch3", "many": "2"}),
    )
    assert names(build)[1:] == ["Lamp 7", "Lamp 9", "Lamp 10", "Lamp 8"]


def test_where_pins_run_out_the_rest_come_without_one():
    build = edited(
        bench(board="board-8bit-5v-20", pin="L4"), ("add_channel", {**LAMP, "many": "30"})
    )
    without = [c for c in build.channels if c.pin is None]
    taken = [c.pin for c in build.channels if c.pin]
    assert without and len(set(taken)) == len(taken)


@pytest.mark.parametrize("typed", ["0", "-1", "two", "1.5", str(MOST_CHANNELS), "9" * 30])
def test_a_count_that_is_none_or_does_not_fit_is_refused_with_what_fits(typed):
    with pytest.raises(EditError, match=f"1 to {MOST_CHANNELS - 1}"):
        apply(bench(), "copy_channel", {"channel": "ch2", "many": typed})
    whole, _ = apply(bench(), "copy_channel", {"channel": "ch2", "many": str(MOST_CHANNELS - 1)})
    assert len(whole.channels) == MOST_CHANNELS


def test_one_change_reaches_every_channel_that_is_ticked_and_no_other():
    build = edited(
        bench(), ("add_channel", {**LAMP, "many": "3"}), ("add_rail", {"voltage": "12 V"})
    )
    rail = build.rails[-1].id
    change = {"channels": "ch3,ch5", "rail": rail, "stage": "nmos_low_side", "wire_area": "1 mm²"}
    changed = edited(build, ("change_several", change))
    reached = {c.id: (c.rail, c.stage.kind, c.wire_area) for c in changed.channels}
    assert reached["ch3"] == reached["ch5"] == (rail, "nmos_low_side", "1 mm²")
    assert reached["ch4"] == ("rail1", "npn_low_side", None)
    # What was left empty stays as it was.
    again = edited(changed, ("change_several", {"channels": "ch3", "fuse": "1 A", "rail": ""}))
    assert again.channel("ch3").rail == rail and again.channel("ch3").fuse == "1 A"


@pytest.mark.parametrize(
    "change, says",
    [
        ({"channels": "", "rail": "rail1"}, "No channel is ticked"),
        ({"channels": "ch2", "rail": ""}, "Nothing to change"),
        ({"channels": "ch2", "colour": "red"}, "no “colour”"),
        ({"channels": "ch2,ch9", "rail": "rail1"}, "no longer in the build"),
        ({"channels": "ch2", "wire_area": "thick"}, "thick"),
    ],
)
def test_a_change_of_several_is_all_or_nothing_and_says_what_is_wrong(change, says):
    build = bench()
    before = build.model_dump()
    with pytest.raises(EditError, match=says):
        apply(build, "change_several", change)
    assert build.model_dump() == before
