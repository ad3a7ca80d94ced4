"""
Fuses of rails: under wire, plug and contact, above the surge, and printed for what they must end.
"""

import pytest

from latchcore.advice.mending import advised
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import parse
from latchcore.sums import ampacity
from tests.core.benches import bench, edited, findings
from tests.core.test_ac_switches import on_line
from tests.core.test_rails import mended

PRINTED = {"fuse_volts": "250 V", "fuse_for": "alternating", "fuse_breaking": "high"}


def fused(fuse, kind="filament_lamp", figure="60 W", **rail):
    return edited(
        on_line(kind, figure, stage="relay_contact"),
        ("set_rail", {"rail": "rail1", "fuse": fuse, **PRINTED, **rail}),
    )


def s7(build) -> dict:
    return {
        f.severity: f.title
        for f in advised(build).findings
        if f.check == "S7" and f.where == "rail:rail1"
    }


def test_a_fuse_printed_for_its_line_is_quiet():
    assert not s7(fused("0.4 A"))


@pytest.mark.parametrize(
    "fields", [{"fuse_volts": ""}, {"fuse_for": "unknown"}, {"fuse_breaking": "unknown"}]
)
def test_what_is_not_stated_of_a_mains_fuse_is_asked(fields):
    build = fused("0.4 A", **fields)
    assert "check" in s7(build) and "stop" not in s7(build)
    assert not s7(mended(build, "S7"))


@pytest.mark.parametrize(
    "fields",
    [
        {"fuse_volts": "125 V"},
        {"fuse_for": "direct"},
        {"fuse_breaking": "low"},
        {"plug": "reversible", "fuse_poles": "one"},
        {"lives": "two", "fuse_poles": "one"},
    ],
)
def test_a_fuse_that_cannot_end_the_short_stops(fields):
    build = fused("0.4 A", **fields)
    assert "stop" in s7(build)
    assert "stop" not in s7(mended(build, "S7"))


def test_nothing_is_asked_of_the_fuse_of_a_small_adapter_but_a_wrong_print_is_said():
    def adapter(**fields):
        return edited(
            bench("led_strip", "12 V", "1 A", stage="nmos_low_side", rating="5 A"),
            ("set_rail", {"rail": "rail1", "wire_area": "0.5 mm²", "fuse": "2 A", **fields}),
        )

    assert not s7(adapter())
    assert "fix" in s7(adapter(fuse_for="alternating")) and "fix" in s7(adapter(fuse_volts="10 V"))


def test_a_vehicle_fuse_in_mains_and_a_mains_fuse_on_a_battery():
    assert "stop" in s7(fused("0.4 A", fuse_volts="32 V", fuse_for="direct"))
    battery = edited(
        bench(
            "led_strip",
            "12 V",
            "1 A",
            rail="10.5 to 14.4 V",
            source="battery",
            stage="nmos_low_side",
        ),
        ("set_rail", {"rail": "rail1", "fuse": "2 A", **PRINTED}),
    )
    assert "stop" in s7(battery)
    assert "stop" not in s7(mended(battery, "S7"))


def test_neither_fuse_nor_wire_is_above_the_plug():
    assert "above its plug" in s7(fused("4 A", "heater", "500 W", plug_rating="2.5 A"))["stop"]
    # A flex for ten amperes behind a plug for two and a half.
    assert "S6" in findings(fused("4 A", "heater", "800 W", plug_rating="2.5 A", wire_area="1 mm²"))


def test_a_motor_fuse_is_wider_than_usual_where_only_that_outlasts_its_start():
    build = on_line("induction_motor", "60 W", stage="relay_contact")
    remedy = next(r for f in advised(build).findings if f.check == "S7" for r in f.remedies)
    size = parse(remedy.edits[0][1]["fuse"], "A")
    worst = advised(build).rails[0].worst
    assert size >= worst and "an overload of its own" in remedy.result
    assert set(s7(edited(build, *remedy.edits))) == {"note"}
    # Measured, a start of half a second needs no more than the usual three times.
    short = edited(build, ("set_load", {"channel": "ch2", "surge": "3 A", "surge_time": "400 ms"}))
    remedy = next(r for f in advised(short).findings if f.check == "S7" for r in f.remedies)
    assert not s7(edited(short, *remedy.edits))


def test_a_fuse_under_what_runs_melts_of_itself():
    assert "under what runs" in s7(fused("10 A", "heater", "2.2 kW"))["fix"]


def test_the_fuse_of_a_contactor_is_held_against_its_poles_and_its_coil_has_one_of_its_own():
    build = edited(
        on_line("heater", "3 kW", stage="contactor"),
        ("set_rail", {"rail": "rail1", "fuse": "20 A", **PRINTED}),
    )
    assert not s7(build)
    report = advised(build)
    fuse, contact = report.netlist.part("ch2.F1"), report.netlist.part("ch2.K1")
    assert fuse.terminals["1"] == "rail1" and fuse.terminals["2"] == contact.terminals["COM"]
    coil = report.channels[0].result.parts["contactor"]
    size = parse(fuse.value.removeprefix("slow "), "A")
    assert (
        1.25 * coil.coil_current < size < 1
        and ampacity.melting_time(coil.coil_surge * coil.coil_current / size) > 0.05
    )


def test_flexes_go_by_gauge_where_they_are_sold_by_gauge():
    build = edited(
        on_line("heater", "1400 W", volts="120 V", stage="contactor"),
        ("set_conditions", {"region": "north-america-120"}),
        ("set_wire", {"channel": "ch2", "wire_area": "18 AWG"}),
    )
    said = next(f for f in advised(build).all_findings if f.check == "S6")
    assert said.severity == "stop" and "10 A" in said.sentence
    assert said.remedies[0].edits[0][1]["wire_area"] == "AWG 14"
    assert "S6" not in findings(edited(build, *said.remedies[0].edits))
    europe = edited(
        build,
        ("set_conditions", {"region": "europe-230"}),
        ("set_wire", {"channel": "ch2", "wire_area": "1.5 mm²"}),
    )
    assert "S6" not in findings(europe)


def shed(**own):
    """A lamp by a small relay beside a kiln on one line; the line's fuse is for both."""
    build = edited(
        on_line(
            "filament_lamp", "60 W", stage="relay_contact", settings={"relay": "relay-5v-2pole-8a"}
        ),
        (
            "add_channel",
            {
                "kind": "heater",
                "voltage": "230 V",
                "figure": "2 kW",
                "stage": "contactor",
                "rail": "rail1",
                "pin": "L6",
            },
        ),
        ("set_rail", {"rail": "rail1", "fuse": "16 A", **PRINTED}),
    )
    return edited(build, ("set_wire", {"channel": "ch2", **own})) if own else build


def test_one_fuse_for_all_is_above_the_smallest_contact_until_that_has_its_own():
    build = shed()
    assert "above the contact of Filament lamp" in s7(build)["stop"]
    apart = mended(build, "S7")
    assert apart.channels[0].fuse and not s7(apart)
    report = advised(apart)
    fuse = report.netlist.part("ch2.F1")
    assert fuse.terminals == {"1": "rail1", "2": report.netlist.part("ch2.K1").terminals["COM"]}
    assert not any(
        "rail1" in p.terminals.values()
        for p in report.channels[0].result.netlist.parts
        if p.ref != "ch2.F1"
    )


@pytest.mark.parametrize(
    ("fuse", "severity", "says"),
    [
        ("10 A", "stop", "above its contact"),
        ("0.2 A", "fix", "under what runs"),
        ("0.5 A", "check", "What is printed"),
    ],
)
def test_a_fuse_of_its_own_is_held_like_any_other(fuse, severity, says):
    found = next(
        (f for f in advised(shed(fuse=fuse)).channels[0].findings if f.check == "S7"), None
    )
    assert (found.severity if found else None) == severity and says in (
        found.title if found else ""
    )
    if found:
        assert "S7" not in {
            f.check for f in advised(mended(shed(fuse=fuse), "S7")).channels[0].findings
        }


def battery_of(*edits):
    build = edited(
        bench("heater", "12 V", "1 A", stage="nmos_low_side", source="battery"),
        ("copy_channel", {"channel": "ch2"}),
    )
    return edited(build, *edits)


def test_no_fuse_is_asked_for_where_nothing_is_fed():
    empty = battery_of(("add_rail", {"voltage": "24 V", "source": "battery"}))
    stops = [f for f in evaluate(empty).all_findings if f.check == "S7"]
    assert [f.where for f in stops] == ["rail:rail1"]


def test_none_is_asked_for_twice_where_every_branch_has_one_and_is_where_one_has_none():
    own = ("set_wire", {"channel": "ch2", "fuse": "2 A"})
    other = ("set_wire", {"channel": "ch3", "fuse": "2 A"})
    at = {
        name: [f.where for f in evaluate(battery_of(*edits)).all_findings if f.check == "S7"]
        for name, edits in (("one", [own]), ("both", [own, other]))
    }
    assert "rail:rail1" in at["one"] and "rail:rail1" not in at["both"]
    # A coil of a relay on the same battery is a branch without one.
    relay = ("set_stage", {"channel": "ch2", "stage": "relay_contact"})
    mixed = evaluate(battery_of(own, other, relay)).all_findings
    assert "rail:rail1" in [f.where for f in mixed if f.check == "S7"]


def test_the_sources_own_wire_asks_for_a_fuse_however_many_stand_behind_it():
    own = [("set_wire", {"channel": c, "fuse": "2 A"}) for c in ("ch2", "ch3")]
    wired = battery_of(*own, ("set_rail", {"rail": "rail1", "wire_area": "0.5 mm²"}))
    assert "rail:rail1" in [f.where for f in evaluate(wired).all_findings if f.check == "S7"]
