"""What a fuse is held against besides its wire: every surge, the switch behind it, where it is."""

import pytest

from latchcore.advice.mending import advised
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import parse
from tests.core.benches import bench, edited
from tests.core.test_ac_switches import on_line
from tests.core.test_fuses import PRINTED, fused, s7
from tests.core.test_rails import mended


def two_lamps(fuse, lasts):
    """A large short surge of the one, a small one of the other that lasts."""
    build = edited(fused(fuse, "filament_lamp", "230 W"), ("copy_channel", {"channel": "ch2"}))
    one, other = (c.id for c in build.channels)
    return edited(
        build,
        ("set_load", {"channel": one, "surge": "12 A", "surge_time": "10 ms"}),
        ("set_load", {"channel": other, "surge": "6 A", "surge_time": lasts}),
    )


def test_every_surge_counts_for_its_own_time_not_only_the_largest():
    # 2 × 1.05 A run; 6 A of one with the other is 7.05 A: 2.2 times 3.15 A bears that for 0.6 s.
    assert not s7(two_lamps("3.15 A", "590 ms"))
    said = s7(two_lamps("3.15 A", "610 ms"))
    assert "melts in the surge" in said["fix"]


def test_a_surge_that_no_source_feels_melts_a_fuse_all_the_same():
    build = edited(
        fused("0.315 A", "led_lamp", "20 W"),
        ("set_load", {"channel": "ch2", "surge": "25 A", "surge_time": "500 us"}),
    )
    report = evaluate(build).rails[0]
    assert report.rise == 0 and report.surges[0][2] < 1e-3
    assert "melts in the surge" in s7(build)["fix"]
    assert not {"fix", "stop"} & set(s7(mended(build, "S7")))


@pytest.mark.parametrize(("uses", "stop"), [("NO", None), ("NC", "the break contact")])
def test_a_break_contact_presses_half_as_hard(uses, stop):
    build = edited(
        fused("8 A", "heater", "1200 W"),
        ("set_setting", {"channel": "ch2", "contact": uses, "relay": "relay-5v-2pole-8a"}),
    )
    said = s7(build)
    assert (stop in said.get("stop", "")) if stop else "stop" not in said


def test_a_cheap_boards_tracks_are_what_its_fuse_protects():
    build = edited(
        bench("led_strip", "12 V", "3 A", stage="relay_module", rating="10 A"),
        ("set_setting", {"channel": "ch2", "coil_rail": "rail1"}),
    )
    report = evaluate(build)
    relay = report.channels[0].result.contact.relay
    assert relay.cheap_board and relay.contact_amperes == 10
    at, over = ("5 A", "5.1 A")
    wire = {"rail": "rail1", "wire_area": "1 mm²"}
    assert "above" not in str(s7(edited(build, ("set_rail", wire | {"fuse": at}))))
    assert "the board of" in str(s7(edited(build, ("set_rail", wire | {"fuse": over}))))


def test_a_solid_state_output_is_not_put_behind_a_fuse_for_more_than_it_carries():
    build = edited(
        on_line("heater", "200 W", stage="solid_relay"),
        ("set_rail", {"rail": "rail1", **PRINTED}),
    )
    rms = evaluate(build).channels[0].result.parts["switch"].i_rms
    under, over = (
        edited(build, ("set_rail", {"rail": "rail1", "fuse": f"{a} A"})) for a in (rms, rms + 0.1)
    )
    assert "solid-state" not in str(s7(under)) and "solid-state output" in s7(over)["stop"]


@pytest.mark.parametrize(("stated", "asked"), [("8.9 A", False), ("9.1 A", True), ("", True)])
def test_no_fuse_where_a_stated_short_cannot_exceed_the_wire(stated, asked):
    build = edited(
        bench("heater", "12 V", "1 A", stage="nmos_low_side", source="battery"),
        ("set_rail", {"rail": "rail1", "wire_area": "0.75 mm²", "short_circuit": stated}),
    )
    assert ("stop" in s7(build)) == asked


def test_where_plugs_are_fused_thirteen_amperes_are_sold_and_no_plug_is_turned_round():
    here = edited(
        on_line("heater", "1900 W", stage="contactor"),
        ("set_rail", {"rail": "rail1", "plug": "unknown"}),
    )
    there = edited(here, ("set_conditions", {"region": "fused-plugs-230"}))
    sizes = [
        next(
            parse(args["fuse"], "A")
            for f in advised(build).findings
            for r in f.remedies
            for name, args in r.edits
            if "fuse" in args
        )
        for build in (here, there)
    ]
    assert sizes == [16.0, 13.0]
    asked = [[f.title for f in evaluate(b).all_findings if f.check == "K8"] for b in (here, there)]
    assert "Can the plug be turned round?" in asked[0] and not asked[1]


def test_in_north_america_a_fuse_is_loaded_to_three_quarters():
    build = on_line("heater", "900 W", volts="120 V", stage="contactor")
    build = edited(build, ("set_conditions", {"region": "north-america-120"}))
    fields = next(f for f in advised(build).findings if f.check == "S7").remedies[0].edits[0][1]
    runs = evaluate(build).rails[0].all_on
    assert fields["fuse"] == "15 A" and 7 < runs < 11.25
    assert "15 A" not in str(s7(edited(build, ("set_rail", fields))))


def test_the_fuse_of_a_channel_has_a_print_and_poles_of_its_own():
    build = edited(
        fused("10 A", "heater", "230 W", plug="reversible", fuse_poles="every"),
        ("set_setting", {"channel": "ch2", "breaks": "both", "relay": "relay-5v-2pole-8a"}),
        ("set_wire", {"channel": "ch2", "fuse": "1.6 A"}),
    )

    def said(b):
        return [f for f in advised(b).channels[0].findings if f.check == "S7"]

    (asked,) = said(build)
    assert asked.severity == "check" and "poles" in asked.sentence
    low = edited(build, ("set_wire", {"channel": "ch2", "fuse_volts": "125 V"}))
    assert said(low)[0].severity == "stop" and "125 V" in said(low)[0].sentence
    whole = edited(build, *asked.remedies[0].edits)
    assert not said(whole)
    net = evaluate(whole).netlist
    assert net.part("ch2.F1").terminals["1"] == "rail1"
    assert net.part("ch2.F2").terminals["1"] == "rail1.N"
    beside = [p for p in net.parts if p.channel == "ch2" and "rail1.N" in p.terminals.values()]
    assert [p.ref for p in beside] == ["ch2.F2"]


def test_what_no_listed_wire_carries_is_said_without_any_being_stated():
    def heated(ohms):
        return bench("heater", "12 V", ohms, stage="nmos_low_side", rating="60 A")

    # 12.6 V over 0.6 Ω are 21 A.
    assert "S6" not in {f.check for f in evaluate(heated("0.602 Ω ±0.1 %")).all_findings}
    found = [f for f in advised(heated("0.598 Ω ±0.1 %")).all_findings if f.check == "S6"]
    assert found and "the thickest wire that is listed" in found[0].sentence
