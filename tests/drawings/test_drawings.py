"""Drawings show what the netlist holds, and nothing that people typed gets out of its quotes."""

import math
import xml.etree.ElementTree as ET
from dataclasses import replace

import pytest

from drawings.histogram import histogram
from drawings.margin import margin_bar, rail_bar
from drawings.points_plan import points_plan
from drawings.relay import state_picture
from drawings.schematic import schematic
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.design.report import Measure
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import show
from latchcore.stages import STAGES
from latchcore.whole.laying.conductors import conductors
from latchcore.whole.wire_list import letters_of
from tests.core.benches import EIGHT_BIT, bench, edited, result
from tests.core.test_all_stages import load_for

BUILDS = {
    "npn with diode": lambda: bench(),
    "mosfet, pull-down on the gate": lambda: bench(
        "solenoid", figure="8 Ω", stage="nmos_low_side", settings={"pull_side": "gate"}
    ),
    "no gate resistor": lambda: bench(
        "led_strip", figure="1 A", stage="nmos_low_side", settings={"gate_resistor": "none"}
    ),
    "diode and zener": lambda: bench(settings={"clamp": "diode_zener"}),
    "zener across the switch": lambda: bench(settings={"clamp": "zener_across_switch"}),
    "nothing pulls": lambda: bench(settings={"pull_resistor": "none"}),
    "led from the pin": lambda: bench("indicator_led", "2 V", "3 mA", stage="direct_pin"),
    "led into the pin": lambda: bench(
        "indicator_led",
        "2 V",
        "3 mA",
        stage="direct_pin",
        board=EIGHT_BIT,
        rail="5 V",
        settings={"connection": "sink"},
    ),
    "coil on a bare pin": lambda: bench(stage="direct_pin"),
}
for _kind in STAGES:
    BUILDS.setdefault(_kind, lambda kind=_kind: bench(**load_for(kind), stage=kind))
for _kind in (
    "darlington_low_side",
    "array_low_side",
    "pmos_high_side",
    "pnp_high_side",
    "coupler_nmos",
    "coupler_pmos",
    "pv_mosfet",
    "nmos_above",
):
    BUILDS[f"{_kind} with a coil"] = lambda kind=_kind: bench(
        "solenoid", "12 V", "200 mA", stage=kind
    )
BUILDS |= {
    "darlington above the load": lambda: bench(
        "solenoid", "12 V", "200 mA", stage="coupler_darlington", settings={"side": "high"}
    ),
    "p-channel on the pin": lambda: bench(
        "solenoid",
        "12 V",
        "200 mA",
        stage="pmos_high_side",
        settings={"drive": "pin", "clamp": "diode_zener"},
    ),
    "zener across a high side": lambda: bench(
        "solenoid",
        "12 V",
        "200 mA",
        stage="pmos_high_side",
        settings={"clamp": "zener_across_switch"},
    ),
    "coil clamped through a coupler stage": lambda: bench(
        "solenoid", "12 V", "200 mA", stage="coupler_nmos", settings={"clamp": "diode_zener"}
    ),
}
BUILDS |= {
    "module behind an NPN": lambda: bench(
        "heater", "12 V", "1 A", stage="relay_module", settings={"drive": "npn"}
    ),
    "module with a resistor across": lambda: bench(
        "heater", "12 V", "1 A", stage="relay_module", settings={"feed": "logic", "parallel": "330"}
    ),
    "module for high inputs, a coil behind it": lambda: bench(
        "solenoid", "12 V", "1 A", stage="relay_module", settings={"module": "module-5v-high"}
    ),
    "relay with a coil behind its NC contact": lambda: bench(
        "solenoid", "12 V", "1 A", stage="relay_contact", settings={"contact": "NC"}
    ),
    "module with its level jumper at high": lambda: bench(
        "heater",
        "12 V",
        "1 A",
        stage="relay_module",
        settings={"module": "module-12v-level-jumper", "level": "high"},
    ),
    "relay on a MOSFET": lambda: bench(
        "heater",
        "12 V",
        "1 A",
        stage="relay_contact",
        settings={"drive": "nmos", "gate_resistor": "none"},
    ),
    "relay held by resistor and capacitor": lambda: bench(
        "heater", "12 V", "1 A", stage="relay_contact", settings={"hold": "rc"}
    ),
    "coil held by resistor and capacitor": lambda: bench(
        "solenoid", "12 V", "200 mA", settings={"hold": "rc"}
    ),
    "coil held on a MOSFET with diode and zener": lambda: bench(
        "solenoid",
        "12 V",
        "200 mA",
        stage="nmos_low_side",
        settings={"hold": "rc", "clamp": "diode_zener"},
    ),
    "diode built into the coil": lambda: bench(settings={"clamp": "built_in"}),
    "suppressor across the switch": lambda: bench(settings={"clamp": "suppressor_across_switch"}),
    "contact in the return": lambda: bench(
        "heater", "12 V", "1 A", stage="relay_contact", settings={"breaks": "neutral"}
    ),
    "contact in the earth": lambda: bench(
        "heater",
        "230 V",
        "100 W",
        rail="230 V",
        source="mains",
        stage="relay_contact",
        settings={"breaks": "earth"},
    ),
    "contacts on both sides": lambda: bench(
        "heater", "12 V", "1 A", stage="relay_contact", settings={"breaks": "both", "contact": "NC"}
    ),
    "module with a varistor": lambda: bench(
        "solenoid", "12 V", "1 A", stage="relay_module", settings={"load_clamp": "varistor"}
    ),
    "AC valve on a relay": lambda: bench(
        "ac_coil", "24 V", "8 W", rail="24 V", source="ac_low", stage="relay_contact"
    ),
    "AC heater on a solid-state module": lambda: bench(
        "heater",
        "24 V",
        "8 W",
        rail="24 V",
        source="ac_low",
        stage="solid_module",
        settings={"drive": "npn"},
    ),
    "relay whose coil has diode and zener": lambda: bench(
        "heater", "12 V", "1 A", stage="relay_contact", settings={"clamp": "diode_zener"}
    ),
}
BUILDS |= {
    "mains lamp on a triac": lambda: bench(
        "filament_lamp",
        "230 V",
        "60 W",
        rail="230 V",
        source="mains",
        stage="triac_coupler",
        settings={"control": "phase", "varistor": "fitting"},
    ),
    "mains motor on a sensitive triac": lambda: bench(
        "induction_motor", "230 V", "60 W", rail="230 V", source="mains", stage="triac_coupler"
    ),
    "heater on a solid-state device behind an NPN": lambda: edited(
        bench("heater", "230 V", "1500 W", rail="230 V", source="mains", stage="solid_relay"),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
    ),
    "heater on a contactor": lambda: edited(
        bench("heater", "230 V", "3 kW", rail="230 V", source="mains", stage="contactor"),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
    ),
    "motor on a contactor, both sides": lambda: edited(
        bench(
            "induction_motor",
            "230 V",
            "1 kW",
            rail="230 V",
            source="mains",
            stage="contactor",
            settings={"breaks": "both"},
        ),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
    ),
    "motor on a solid-state device at the pin": lambda: bench(
        "induction_motor",
        "230 V",
        "60 W",
        rail="230 V",
        source="mains",
        board=EIGHT_BIT,
        stage="solid_relay",
        settings={"drive": "pin", "varistor": "fitting"},
    ),
}
SPACE = "{http://www.w3.org/2000/svg}"


def drawing(build, found=None):
    """The schematic of the first channel."""
    around = BuildContext(build, load_catalogue())
    return schematic(found or result(build), around, build.channels[0])


def drawn(build):
    return ET.fromstring(drawing(build))


@pytest.mark.parametrize("name", BUILDS)
def test_every_part_of_the_netlist_is_in_the_drawing(name):
    build = BUILDS[name]()
    root, net = drawn(build), result(build).netlist
    groups = {g.get("data-ref") for g in root.iter(f"{SPACE}g")}
    assert groups == {p.ref for p in net.parts if p.kind != "pin"}
    wired = {w.get("data-node") for w in root.iter() if w.get("data-node")}
    assert {n for n in net.nodes() if len(net.at(n)) > 1} <= wired


@pytest.mark.parametrize("name", BUILDS)
def test_nothing_is_drawn_outside_the_paper(name):
    root = drawn(BUILDS[name]())
    width, height = (float(v) for v in root.get("viewBox").split()[2:])
    for text in root.iter(f"{SPACE}text"):
        x, y, room = float(text.get("x")), float(text.get("y")), 6.3 * len(text.text or "")
        left = {"start": x, "middle": x - room / 2, "end": x - room}[text.get("text-anchor")]
        assert left >= -4 and left + room <= width + 40 and 0 < y < height, text.text


def segments(root):
    for path in root.iter(f"{SPACE}path"):
        if path.get("data-node") and path.get("class") == "wire":
            points = [tuple(map(float, p.split())) for p in path.get("d")[1:].split("L")]
            yield from (
                (path.get("data-node"), a, b) for a, b in zip(points, points[1:], strict=False)
            )


def touches(point, start, end):
    (x, y), (x1, y1), (x2, y2) = point, start, end
    inside = (
        min(x1, x2) - 0.5 <= x <= max(x1, x2) + 0.5 and min(y1, y2) - 0.5 <= y <= max(y1, y2) + 0.5
    )
    return inside and abs((x2 - x1) * (y - y1) - (y2 - y1) * (x - x1)) < 1.0


@pytest.mark.parametrize("name", BUILDS)
def test_no_wire_of_one_node_ends_on_a_wire_of_another(name):
    drawn_ = list(segments(drawn(BUILDS[name]())))
    for node, a, b in drawn_:
        for other, c, d in drawn_:
            if node != other:
                assert not any(touches(end, c, d) for end in (a, b)), (node, (a, b), other, (c, d))


def test_a_name_cannot_become_markup():
    build = edited(bench(), ("rename_channel", {"channel": "ch2", "name": '<script>"x"</script>'}))
    text = drawing(build)
    assert "<script" not in text and drawn(build) is not None


def test_the_band_points_to_the_rail_and_to_the_switch_when_turned():
    upright, turned = (drawing(b) for b in (bench(), bench(settings={"clamp_band": "switch"})))
    assert "band to the rail" in upright and "band to the switch" in turned and upright != turned


def measure(**changes):
    return Measure(
        **(
            dict(
                key="k",
                check="P1",
                label="Pin current",
                unit="A",
                worst=0.006,
                sense="max",
                corner="stiff",
                symbol="I",
                why="",
                stop=0.04,
                fix=0.012,
            )
            | changes
        )
    )


def widths(svg, css):
    return [
        float(r.get("width"))
        for r in ET.fromstring(svg).iter(f"{SPACE}rect")
        if (r.get("class") or "").startswith(css)
    ]


def test_a_bar_fills_in_proportion_to_its_value():
    half, full = (widths(margin_bar(measure(worst=w)), "fill")[0] for w in (0.006, 0.012))
    assert full / half == pytest.approx(2, rel=0.02)


def test_a_value_without_end_fills_the_whole_bar_and_is_still_a_drawing():
    assert widths(margin_bar(measure(worst=float("inf"))), "fill")[0] == pytest.approx(240, abs=1)


def test_a_rail_bar_says_its_sums_in_words_too():
    assert "worst instant 1.44 A of 2 A" in rail_bar(0.2, 0.5, 1.44, 2.0, 0.05, "12 V")


def test_a_histogram_outlines_what_lies_beyond_its_limit():
    from latchcore.advice.spreading import spread_out
    from latchcore.catalogue import load_catalogue
    from latchcore.design.context import BuildContext

    build = bench(settings={"base_resistor": "680"})
    found = result(build)
    spread = spread_out(
        BuildContext(build, load_catalogue()).channel(build.channels[0]),
        found,
        found.measure("base_current"),
        draws=20_000,
    )
    picture = ET.fromstring(histogram(spread))
    bins = [r.get("class") for r in picture.iter(f"{SPACE}rect")]
    assert 0 < spread.outside < 1 and "bin beyond" in bins and "bin" in bins
    # A corner that runs away, a junction for one, still leaves a picture.
    away = replace(spread, measure=replace(spread.measure, worst=math.inf))
    assert "nan" not in histogram(away) and "inf" not in histogram(away).split("worst corner")[0]


@pytest.mark.parametrize(
    "chosen, lit",
    [
        ("NO", {"commanded_on", "hung"}),
        ("NC", {"commanded_off", "floating", "weakly_pulled", "unpowered"}),
    ],
)
def test_the_arm_lies_where_the_coil_puts_it_and_the_load_follows_the_contact(chosen, lit):
    found = result(
        bench("heater", "12 V", "1 A", stage="relay_contact", settings={"contact": chosen})
    )
    for state in found.states:
        root = ET.fromstring(state_picture(state, found))
        arm = next(g for g in root.iter() if (g.get("class") or "") == "ink heavy")
        assert (state.load == "on") == ("energised" in ET.tostring(root, "unicode"))
        end = arm.get("y2") or arm.get("d") or arm.get("points")
        assert ("57" in end) == (state.load == "on")
        assert (state.key in lit) == ("load on" in ET.tostring(root, "unicode"))


def test_what_is_soldered_across_the_input_resistor_is_on_the_drawing_and_in_the_list():
    build = BUILDS["module with a resistor across"]()
    assert any("R5 330" in (t.text or "") for t in drawn(build).iter(f"{SPACE}text"))
    laid = conductors(BuildContext(build, load_catalogue()), evaluate(build))
    ends = {(str(c.start), str(c.end)) for c in laid if c.joint}
    assert ("ch2.K1.RIN", "ch2.R5.2") in ends and result(build).netlist.part("ch2.R5").terminals[
        "1"
    ] == "board.VDD"


def test_a_fuse_of_its_own_is_drawn_once_even_where_the_coil_hangs_behind_it_too():
    build = edited(
        bench("heater", "12 V", "1 A", stage="relay_contact", settings={"relay": "relay-12v-10a"}),
        ("set_wire", {"channel": "ch2", "fuse": "2 A"}),
    )
    found = evaluate(build).channels[0].result
    assert found.netlist.part("ch2.F1").value == "slow 2 A"
    picture = ET.fromstring(drawing(build, found))
    boxes = [
        r for r in picture.iter(f"{SPACE}rect") if (r.get("width"), r.get("height")) == ("22", "10")
    ]
    assert len(boxes) == 1


@pytest.mark.parametrize("stage", ["triac_coupler", "relay_contact"])
def test_the_drawing_of_a_snubber_has_the_resistor_and_the_capacitor_that_were_typed(stage):
    typed = {"snubber_resistor": "47 Ω", "snubber_capacitor": "220 nF"}
    typed |= {"quench": "snubber"} if stage == "triac_coupler" else {"load_clamp": "snubber"}
    motor = dict(kind="induction_motor", voltage="230 V", figure="0.5 A", rail="230 V")
    build = bench(**motor, source="mains", stage=stage, settings=typed)
    if stage == "relay_contact":
        build = edited(build, ("add_rail", {"voltage": "12 V", "rating": "2 A"}))
    text = drawing(build)
    assert "47 Ω" in text and "220 nF" in text and "100 Ω" not in text


def test_the_points_of_a_rail_have_a_wire_to_each_channel_and_the_sum_before_them():
    build = edited(
        bench("heater", "12 V", "1 A", stage="nmos_low_side"),
        ("copy_channel", {"channel": "ch2"}),
        ("copy_channel", {"channel": "ch2"}),
        ("set_rail", {"rail": "rail1", "fuse": "5 A"}),
    )
    around, report = BuildContext(build, load_catalogue()), evaluate(build)
    laid = conductors(around, report)
    text = points_plan(around, report, laid, letters_of(around, report))
    assert all(f"to {letter} " in text for letter in "ABC")
    shared = next(c for c in laid if str(c.start) == "SUPPLY.rail1.-" and not c.joint)
    assert shared.running == pytest.approx(3 * report.channels[0].result.running)
    assert f">{show(shared.running, 'A')}<" in text and "behind 5 A" in text
