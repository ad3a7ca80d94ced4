"""
Pictures of the whole build: every load once, nothing over anything else, widths and cells by what
they stand for.
"""

import re
import xml.etree.ElementTree as ET

import pytest

from drawings.barrier_map import barrier_picture
from drawings.build_plan import build_plan
from drawings.dimming import dimming_curve
from drawings.rail_tree import rail_tree
from drawings.timeline import COLUMNS, timeline_picture
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.evaluate import evaluate
from latchcore.sums import phase
from latchcore.whole.barriers import barrier_map
from latchcore.whole.timeline import rows
from tests.core.benches import edited
from tests.core.test_demo import demo
from tests.core.test_rails import lamp, rails

CATALOGUE = load_catalogue()
SPACE = "{http://www.w3.org/2000/svg}"
DEMOS = [
    "hollyhock-marionettes",
    "stairwell-chime",
    "fernhouse-vents",
    "seedling-bench",
    "potting-bench-valve",
]


def parsed(svg: str):
    root = ET.fromstring(svg)
    assert root.get("aria-label") and root.find(f"{SPACE}title") is not None
    return root


def texts(root):
    return [t for t in root.iter(f"{SPACE}text") if t.get("transform") is None]


def boxes(root):
    """Where words stand, by the narrow letters of the bench: left, right, top, bottom."""
    for t in texts(root):
        x, y, wide = float(t.get("x")), float(t.get("y")), 5.4 * len(t.text or "")
        left = {"start": x, "middle": x - wide / 2, "end": x - wide}[t.get("text-anchor")]
        yield t.text, left, left + wide, y - 9, y + 2


def many(count: int) -> Build:
    build = edited(
        Build(name="many"),
        ("set_board", {"board": "board-8bit-5v-70"}),
        ("add_rail", {"voltage": "12 V", "rating": "20 A"}),
        ("add_rail", {"voltage": "5 V", "rating": "4 A"}),
    )
    for n in range(count):
        stage = ("nmos_low_side", "relay_module", "npn_low_side")[n % 3]
        build = edited(
            build,
            (
                "add_channel",
                {
                    "name": f"Load number {n + 1}",
                    "kind": "led_strip",
                    "voltage": "12 V",
                    "figure": "200 mA",
                    "stage": stage,
                    "rail": "rail1",
                },
            ),
        )
    return build


def plan(build):
    return parsed(build_plan(BuildContext(build, CATALOGUE), evaluate(build)))


@pytest.mark.parametrize("count", [1, 16, 64])
def test_the_plan_stays_readable_no_word_lies_on_another(count):
    root = plan(many(count))
    width, height = (float(v) for v in root.get("viewBox").split()[2:])
    found = list(boxes(root))
    for word, left, right, top, bottom in found:
        assert left >= -2 and right <= width + 2 and top >= -2 and bottom <= height, word
    for i, (one, l1, r1, t1, b1) in enumerate(found):
        for other, l2, r2, t2, b2 in found[i + 1 :]:
            assert not (l1 < r2 - 1 and l2 < r1 - 1 and t1 < b2 - 1 and t2 < b1 - 1), (one, other)
    assert sum((t.text or "").startswith("Load number") for t in texts(root)) == count


@pytest.mark.parametrize("name", DEMOS)
def test_the_plan_of_every_example_names_each_load_once_and_parts_what_is_parted(name):
    build, report = demo(name)
    root = plan(build)
    words = [t.text for t in texts(root)]
    for c in build.channels:
        assert sum(w == c.name for w in words) == 1
    heavy = sum("heavy" in (p.get("class") or "") for p in root.iter(f"{SPACE}path"))
    hazardous = sum(
        BuildContext(build, CATALOGUE).hazardous(build.rail(c.rail)) for c in build.channels
    )
    assert heavy == 2 * hazardous


def test_the_branches_of_the_tree_are_as_wide_as_their_currents():
    build = lamp(
        lamp(rails({"voltage": "12 V", "rating": "5 A"}), "300 mA", "rail1"), "900 mA", "rail1"
    )
    svg = rail_tree(evaluate(build).rails, {"rail1": "regulated adapter"})
    wide = [
        float(p.get("stroke-width"))
        for p in parsed(svg).iter(f"{SPACE}path")
        if p.get("class") == "feed"
    ]
    assert max(wide) / min(wide) == pytest.approx(3.0, rel=0.02)


def test_a_rail_that_hangs_on_another_stands_to_its_right_and_its_line_carries_what_it_takes():
    build = lamp(
        rails(
            {"voltage": "12 V", "rating": "5 A"},
            {"voltage": "5 V", "fed_by": "rail1", "converter": "linear"},
        ),
        "500 mA",
        "rail2",
        "5 V",
    )
    root = parsed(rail_tree(evaluate(build).rails, {}))
    left = [
        float(r.get("x"))
        for r in root.iter(f"{SPACE}rect")
        if "island-box" in (r.get("class") or "")
    ]
    assert sorted(left)[0] < sorted(left)[1]


def test_an_overloaded_rail_is_marked_and_more_loads_than_there_is_room_for_become_one_line():
    build = rails({"voltage": "12 V", "rating": "1 A"})
    for _ in range(12):
        build = lamp(build, "300 mA", "rail1")
    svg = rail_tree(evaluate(build).rails, {})
    assert "danger" in svg and "6 more" in svg


@pytest.mark.parametrize("name", DEMOS)
def test_every_moment_of_every_channel_has_its_cell(name):
    build, report = demo(name)
    found = rows(BuildContext(build, CATALOGUE), report.channels)
    svg = timeline_picture(found, {"boot": 1.0, "upload": 5.0}, True)
    cells = re.findall(r'class="does (on|off|undecided)"', svg)
    assert len(cells) == sum(len(r.moments) + len(r.other) for r in found)
    assert len(COLUMNS) == 15 and parsed(svg) is not None
    assert cells.count("on") == sum(m.load == "on" for r in found for m in (*r.moments, *r.other))


@pytest.mark.parametrize(("frequency", "other"), [(50.0, 60.0), (60.0, 50.0)])
def test_the_dimming_curve_falls_from_all_to_nothing_and_hatches_what_does_not_hold(
    frequency, other
):
    window = phase.firing_window(
        phase.CORNERS[frequency][0], frequency, phase.CORNERS[frequency][1], 100e-6, 100e-6
    )
    root = parsed(dimming_curve(frequency, window, other))
    barred = [r for r in root.iter(f"{SPACE}rect") if r.get("class") == "barred"]
    assert len(barred) == 2
    curve = next(p.get("d") for p in root.iter(f"{SPACE}path") if p.get("class") == "ink heavy")
    heights = [float(pair.split()[1]) for pair in curve[1:].split("L")]
    assert heights == sorted(heights) and heights[0] < heights[-1]


def test_the_barrier_picture_names_islands_and_what_stands_between():
    build, report = demo("hollyhock-marionettes")
    letters = {c.id: c.letter for c in report.channels} | {
        i.id: f"I{n + 1}" for n, i in enumerate(report.inputs)
    }
    svg = barrier_picture(barrier_map(BuildContext(build, CATALOGUE), report.netlist), letters)
    words = " ".join(t.text for t in texts(parsed(svg)))
    assert (
        "house line" in words
        and "hazardous, up to 253 V" in words
        and "K OK1" in words
        and "I4 OK1" in words
        and "reinforced" in words
    )
