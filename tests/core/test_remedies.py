"""
A remedy that is offered mends what it is offered for, and makes nothing worse anywhere in the
build.
"""

import itertools
from pathlib import Path

import pytest

from latchcore.advice.mending import advised, rails_alone
from latchcore.advice.remedies import weight
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import read_build
from latchcore.stages import STAGES
from tests.core.benches import EIGHT_BIT, bench, edited
from tests.core.test_findings import CASES

TRIPPING = {name: build for name, (_, severity, build) in CASES.items() if severity}


@pytest.mark.parametrize("name", TRIPPING)
def test_every_finding_says_what_mends_it_and_it_does(name):
    build = TRIPPING[name]()
    before = advised(build).all_findings
    for finding in before:
        assert finding.remedies and finding.sentence.endswith(".")
        for remedy in (r for r in finding.remedies if r.edits):
            after = advised(edited(build, *remedy.edits)).all_findings
            if finding.check != "P2":
                assert (finding.check, finding.where) not in {(f.check, f.where) for f in after}, (
                    remedy.label
                )
            assert weight(after) < weight(before) or finding.check in ("S2", "P2")


def line_bench(stage, kind, figure, volts="230 V", source="mains", region="europe-230", **rail):
    build = edited(
        bench(kind, volts, figure, rail=volts, source=source, stage=stage, board=EIGHT_BIT),
        ("set_conditions", {"region": region}),
    )
    return edited(
        build,
        ("add_rail", {"voltage": "5 V ±3 %", "rating": "2 A"}),
        ("set_rail", {"rail": "rail1", "plug": "polarised"} | rail),
    )


LINES = {
    "a heater no 5 V module carries": ("heater", "2 kW", {}),
    "a drill": ("brush_motor", "500 W", {}),
    "a pump": ("induction_motor", "60 W", {}),
    "two lives": (
        "heater",
        "3 kW",
        {"volts": "240 V", "region": "north-america-120", "lives": "two"},
    ),
    "a plug that turns": ("filament_lamp", "60 W", {"plug": "reversible"}),
    "a small lamp": ("led_lamp", "9 W", {}),
    "a compressor": ("compressor", "120 W", {}),
    "a valve on a transformer": ("ac_coil", "8 W", {"volts": "24 V", "source": "ac_low"}),
    "hazardous direct current": ("heater", "60 W", {"volts": "110 V", "source": "bench"}),
    "a motor on a battery": ("dc_motor", "4 A", {"volts": "12 V", "source": "battery"}),
    "a coil on 48 V": ("solenoid", "40 W", {"volts": "48 V", "source": "adapter"}),
}


@pytest.mark.parametrize(
    "stage",
    ["relay_contact", "contactor", "triac_coupler", "solid_relay", "relay_module", "solid_module"],
)
@pytest.mark.parametrize("name", LINES)
def test_what_is_offered_on_a_line_brings_no_stop_anywhere_and_no_bare_transistor(name, stage):
    kind, figure, more = LINES[name]
    build = line_bench(stage, kind, figure, **more)
    before = advised(build)
    stood = {(f.check, f.where) for f in before.all_findings if f.severity == "stop"}
    for finding in before.all_findings:
        for remedy in (r for r in finding.remedies if r.edits):
            changed = edited(build, *remedy.edits)
            after = advised(changed).all_findings
            assert not {(f.check, f.where) for f in after if f.severity == "stop"} - stood, (
                remedy.label
            )
            assert (finding.mistake, finding.title) not in {(f.mistake, f.title) for f in after}, (
                remedy.label
            )
            if changed.channels[0].rail == "rail1" and "mains" in (
                more.get("source", "mains"),
                *more,
            ):
                assert STAGES[changed.channels[0].stage.kind].traits.isolates


def test_a_contact_that_is_too_small_for_the_line_is_replaced_by_what_carries_it():
    offered = {
        f.check: [r.label for r in f.remedies]
        for f in advised(line_bench("relay_module", "heater", "2 kW")).all_findings
    }
    assert any("contactor" in label for label in offered["K1"]) and not any(
        "MOSFET" in label for label in offered["K1"]
    )
    turned = advised(
        line_bench("triac_coupler", "filament_lamp", "60 W", plug="reversible")
    ).all_findings
    assert any(
        "both sides broken" in r.label for f in turned if f.check == "K8" for r in f.remedies
    )


TYPICAL = {
    "a heater": ("heater", "1500 W", {}),
    "a lamp": ("filament_lamp", "100 W", {}),
    "LED lamps": ("led_lamp", "60 W", {}),
    "a fan": ("induction_motor", "40 W", {}),
    "a valve": ("ac_coil", "40 W", {}),
    "a transformer": ("transformer", "200 W", {}),
    "a heater on two lives": (
        "heater",
        "1500 W",
        {"volts": "240 V", "region": "north-america-120", "lives": "two"},
    ),
}


@pytest.mark.parametrize(
    "stage",
    ["relay_contact", "contactor", "triac_coupler", "solid_relay", "relay_module", "solid_module"],
)
@pytest.mark.parametrize("name", TYPICAL)
def test_whoever_takes_the_first_way_out_each_time_arrives(name, stage):
    kind, figure, more = TYPICAL[name]
    build = line_bench(stage, kind, figure, **more)
    build = edited(
        build,
        ("state_discipline", dict.fromkeys(load_catalogue().discipline, "yes")),
        ("set_load", {"channel": "ch2", "protection": "class_ii"}),
        ("set_guards", {"channel": "ch2", "unattended": "no", "on_return": "stays_off"}),
    )
    for _ in range(8):
        open_ = [f for f in advised(build).all_findings if f.severity in ("stop", "fix", "check")]
        remedy = next((r for f in open_ for r in f.remedies if r.edits), None)
        if remedy is None:
            break
        build = edited(build, *remedy.edits)
    assert not open_, [(f.check, f.title) for f in open_]


def test_a_line_is_not_rated_up_and_stands_any_start():
    build = edited(
        line_bench("contactor", "filament_lamp", "500 W"),
        ("set_rail", {"rail": "rail1", "rating": "10 A"}),
    )
    assert "S1" not in {f.check for f in advised(build).findings}
    over = edited(build, ("set_rail", {"rail": "rail1", "rating": "2 A"}))
    said = next(f for f in advised(over).findings if f.check == "S1")
    assert said.severity == "stop" and not any(r.edits for r in said.remedies)


def test_a_coil_that_has_no_rail_of_its_volts_is_offered_one():
    build = line_bench("relay_contact", "heater", "2 kW")
    build = edited(build, ("set_setting", {"channel": "ch2", "relay": "relay-12v-16a-apart"}))
    remedy = next(
        r
        for f in advised(build).all_findings
        if f.check == "C1"
        for r in f.remedies
        if "adapter for its coil" in r.label
    )
    mended = edited(build, *remedy.edits)
    assert mended.rails[-1].voltage == "12 V" and not {
        f.check for f in advised(mended).all_findings
    } & {"C1", "C2"}


def test_the_clamp_remedy_says_what_the_switch_then_sees():
    build = bench("solenoid", figure="8 Ω", stage="nmos_low_side", settings={"clamp": "none"})
    remedy = advised(build).all_findings[0].remedies[0]
    assert "band to the rail" in remedy.label and "13.7 V" in remedy.result


def test_a_finding_is_accepted_with_a_reason_and_comes_back_without_it():
    build = bench(settings={"base_resistor": "180"})
    kept = edited(
        build, ("accept_finding", {"channel": "ch2", "check": "P1", "reason": "measured 11 mA"})
    )
    report = advised(kept).channels[0]
    assert report.verdict == "sound" and report.accepted[0][1] == "measured 11 mA"
    again = edited(kept, ("withdraw_acceptance", {"channel": "ch2", "check": "P1"}))
    assert advised(again).channels[0].verdict == "fix"


def test_a_stop_on_something_that_moves_stands_whatever_is_written():
    build = bench("solenoid", figure="8 Ω", stage="nmos_low_side", settings={"clamp": "none"})
    kept = edited(
        build, ("accept_finding", {"channel": "ch2", "check": "C4", "reason": "it worked"})
    )
    assert advised(kept).channels[0].verdict == "stop"


def test_a_stronger_source_comes_with_the_fuse_it_asks_for_in_one_press():
    build = bench("solenoid", "12 V", "1.4 A", stage="nmos_low_side", rating="5 A")
    for _ in range(3):
        build = edited(build, ("copy_channel", {"channel": "ch2"}))
    wire = {"rail": "rail1", "wire_area": "0.75 mm²", "wire_length": "1 m"}
    build = edited(build, ("set_rail", wire))
    short = next(f for f in advised(build).findings if f.check == "S1")
    assert not [f for f in evaluate(build).findings if f.check == "S7"]
    remedy = next(r for r in short.remedies if r.edits)
    assert remedy.edit_args["rating"] == "10 A"
    assert len(remedy.edits) == 1 and {"rating", "fuse"} <= set(remedy.edit_args)
    after = edited(build, remedy.edits[0])
    left = {f.check: f.severity for f in evaluate(after).findings}
    assert "S1" not in left and left.get("S7") in (None, "note")


@pytest.mark.parametrize("demo", sorted((Path(__file__).parents[2] / "demo").glob("*.json")))
def test_another_rating_or_fuse_of_a_rail_changes_findings_of_rails_alone(demo):
    build = read_build(demo.read_bytes())
    report, catalogue = evaluate(build), load_catalogue()
    around = BuildContext(build, catalogue)
    uses = [
        (around.channel(c), r.result) for c, r in zip(build.channels, report.channels, strict=True)
    ]
    for rail, change in itertools.product(
        build.rails, ({"rating": "300 mA"}, {"rating": "20 A"}, {"fuse": "200 mA"})
    ):
        after = edited(build, ("set_rail", {"rail": rail.id, **change}))
        whole, alone = evaluate(after), rails_alone(after, catalogue, report, uses)
        assert [c.findings for c in whole.channels] == [c.findings for c in report.channels]
        of_rails = [f for f in whole.findings if f in alone]
        assert len(of_rails) == len(alone)
        assert [f for f in whole.findings if f not in alone] == [
            f for f in report.findings if f not in rails_alone(build, catalogue, report, uses)
        ]
