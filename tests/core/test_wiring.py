"""
The wire list: every terminal reached once, ends as printed, thickness by current, colours by region
and habit.
"""

import re

import pytest

from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.edits import EditError, apply
from latchcore.evaluate import evaluate
from latchcore.sums import ampacity as sums
from latchcore.whole.wire_list import node_numbers, totals, wire_list
from tests.core.benches import bench, edited

CATALOGUE = load_catalogue()


def groups(build: Build):
    return {g.id: g for g in wire_list(BuildContext(build, CATALOGUE), evaluate(build))}


def rows(build: Build):
    return [r for g in groups(build).values() for r in g.rows]


def on_modules(kind="mod-5v-2", **more) -> Build:
    build = edited(
        Build(name="modules"),
        ("set_board", {"board": "board-radio-3v3"}),
        ("add_rail", {"voltage": "5 V", "rating": "2 A"}),
        ("add_rail", {"voltage": "12 V", "rating": "5 A"}),
    )
    for pin in ("P25", "P26"):
        build = edited(
            build,
            (
                "add_channel",
                {
                    "kind": "led_strip",
                    "voltage": "12 V",
                    "figure": "1 A",
                    "stage": "relay_module",
                    "pin": pin,
                    "rail": "rail2",
                },
            ),
        )
    return build


def line(build: Build, pin="P25") -> Build:
    """The build with a mains lamp on a bare relay."""
    build = edited(
        build, ("add_rail", {"voltage": "230 V", "source": "mains", "name": "house line"})
    )
    rail = build.rails[-1].id
    return edited(
        build,
        (
            "add_channel",
            {
                "kind": "filament_lamp",
                "voltage": "230 V",
                "figure": "60 W",
                "stage": "relay_contact",
                "pin": pin,
                "rail": rail,
            },
        ),
    )


def test_every_terminal_of_every_node_is_reached_and_none_twice():
    build = on_modules()
    net = evaluate(build).netlist
    for node in net.nodes():
        ends = [e for e in net.at(node)]
        mine = [
            r for r in rows(build) if r.key and any(f"{a}.{t}" in r.key.split("|") for a, t in ends)
        ]
        # A tree over n distinct printed ends has n - 1 connections; what is printed alike is one
        # terminal.
        assert len(mine) <= max(len(ends) - 1, 0)
    assert len({r.number for r in rows(build)}) == len(rows(build))


def test_numbers_are_those_of_the_channels_own_drawing():
    build = bench(stage="npn_low_side")
    net = evaluate(build).channels[0].result.netlist
    numbers = node_numbers(net, "ch2")
    found = groups(build)["ch2"].rows
    assert all(row.number.startswith("A") for row in found)
    own = {int(m[1]) for row in found if (m := re.match(r"A(\d+)[a-z]?$", row.number))}
    assert own == set(numbers.values())
    # Feed and return go by their sign, and by the letter of their rail.
    assert {"A V1+b", "A−a"} <= {row.number for row in found}


def test_a_pin_goes_by_every_name_it_has():
    row = next(r for r in groups(bench())["ch2"].rows if r.node == "pin")
    assert row.start == "board P25 (line 25, left 9)" and row.kind == "wire"


def test_module_terminals_are_named_as_printed_and_shared_ones_stand_once():
    build = on_modules()
    ends = [e for r in rows(build) for e in (r.start, r.end) if e.startswith("module")]
    assert "module 1 VCC" in ends and "module 1 IN1 of A" in ends and "module 1 IN2 of B" in ends
    ground = [r for r in rows(build) if "module 1 GND" in (r.start, r.end)]
    assert len({r.key for r in ground}) == len(ground) and not any(
        r.start == r.end for r in rows(build)
    )


def test_no_loads_current_returns_through_the_board():
    build = edited(
        bench(stage="npn_low_side"),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
        ("set_board_feed", {"rail": "rail3"}),
    )
    board = [r for r in rows(build) if "board 0 V" in (r.start, r.end)]
    assert len(board) == 1 and board[0].start.endswith(" -")


def test_wires_are_as_thick_as_their_current_asks_and_never_thinner_than_they_can_be_handled():
    build = bench("led_strip", "12 V", "6 A", stage="nmos_low_side")
    area = {r.node: r.area for r in rows(build) if r.kind == "wire"}
    running = evaluate(build).channels[0].result.running
    assert float(area["sw"].split()[0]) * 1e-6 == sums.least_area(running, sums.SINGLE)
    assert area["pin"] == "0.14 mm²"
    thin = rows(bench("led_strip", "12 V", "100 mA", stage="nmos_low_side"))
    assert {r.area for r in thin if r.kind == "wire" and r.node in ("sw", "12 V rail", "0 V")} == {
        "0.22 mm²"
    }


def test_what_was_stated_of_a_wire_stands_in_the_list():
    build = edited(
        bench("led_strip", "12 V", "1 A", stage="nmos_low_side"),
        (
            "set_wire",
            {
                "channel": "ch2",
                "wire_length": "4 m",
                "wire_area": "0.75 mm²",
                "through": "two-way plug",
            },
        ),
    )
    row = next(r for r in rows(build) if r.through)
    assert (row.area, row.length, row.through) == ("0.75 mm²", "4 m", "two-way plug")
    assert any(
        x[3].startswith("8 m") or "4 m" in x[3] for x in totals(list(groups(build).values()))
    )
    with pytest.raises(EditError, match="wire_length, wire_area, block"):
        apply(build, "set_wire", {"channel": "ch2", "colour": "red"})


def test_parts_of_one_stage_are_soldered_not_wired():
    soldered = [r for r in groups(bench(stage="npn_low_side"))["ch2"].rows if r.kind != "wire"]
    assert soldered and all(
        r.start.startswith("A ") and r.end.startswith("A ") and not r.colour for r in soldered
    )
    assert any("base" in r.end or "base" in r.start for r in soldered)


@pytest.mark.parametrize(
    ("region", "live", "neutral", "earth", "ground"),
    [
        ("europe-230", "brown", "blue", "green-yellow", "black"),
        ("north-america-120", "black", "white", "green or bare", "grey"),
    ],
)
def test_mains_conductors_wear_the_regions_colours_and_the_low_side_none_of_them(
    region, live, neutral, earth, ground
):
    build = edited(line(bench(pin="P26")), ("set_conditions", {"region": region}))
    hazardous = [r for r in rows(build) if r.domain == "hazardous" and r.kind == "wire"]
    assert {r.colour for r in hazardous} == {live, neutral, earth}
    assert all(float(r.area.split()[0]) >= 0.75 for r in hazardous)
    low = {r.colour.split(",")[0] for r in rows(build) if r.domain != "hazardous" and r.colour}
    assert ground in low and not low & {live, neutral}


def test_the_line_side_of_a_contact_is_hazardous_and_its_coil_is_not():
    build = line(bench(pin="P26"))
    domain = {r.node: r.domain for r in groups(build)[build.channels[-1].id].rows}
    assert domain["fed"] == "hazardous" and domain["pin"] == "logic"
    assert domain["sw"] == "low voltage"


def test_inputs_have_wires_with_the_length_of_their_lead():
    build = edited(bench(), ("add_input", {"kind": "reed", "name": "gate", "lead_length": "6 m"}))
    found = groups(build)[build.inputs[0].id]
    assert found.letter == "I1" and any(r.length == "6 m" for r in found.rows)
    assert any("board logic supply" in (r.start, r.end) for r in rows(build))
