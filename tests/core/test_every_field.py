"""
The net: whatever can be entered changes what is reported, and every limit that can be crossed is
crossed by a hair.
"""

from __future__ import annotations

import json
import types
import typing
from functools import cache

import pytest
from pydantic import ValidationError

from latchcore.advice.stepin import judge
from latchcore.catalogue import load_catalogue
from latchcore.catalogue.records import PART_FAMILIES
from latchcore.document.models import Build, Channel, Load, Machine, Rail, Route, SenseInput, Way
from latchcore.evaluate import evaluate_afresh
from latchcore.formats.buildfile import read_build
from latchcore.formats.reportfile import report_data
from latchcore.stages import STAGES
from tests.core.benches import bench, edited
from tests.hostile import ROOT, benches

#: What a field may be tried with, the likeliest first; what does not validate is passed over.
TRIED = [
    "17 V",
    "3 V",
    "170 mA",
    "17 mA",
    "1.7 A",
    "17 Ω",
    "4.7 kΩ",
    "17 %",
    "63 %",
    "100 %",
    "170 ms",
    "17 s",
    "400 s",
    "2000 Hz",
    "20 kHz",
    "40 mH",
    "17 µF",
    "1700 µF",
    "17 K/W",
    "0.3 mm²",
    "9 mm²",
    "17 m",
    "300 m",
    "5 J",
    "2 Ah",
    "17 h",
    "17 °C",
    "63 °C",
    "yes",
    "no",
    "own",
    "closed",
    "linear",
    "switching",
    "5V",
    "3V3",
    "two",
    "every",
    "one",
    "reversible",
    "polarised",
    "bare",
    "protected",
    "coiled",
    "enclosed",
    "alternating",
    "direct",
    "low",
    "high",
    "independent",
    "control_relay",
    "none",
    "stays_off",
    "as_before",
    "on",
    "off",
    "middle",
    "falling",
    "open_collector",
    "damp",
    "E96",
    "forced_gain",
    "overdrive",
    "north-america-120",
    "rail1",
    "rail2",
    "rail9",
    "ch3",
    "ch4",
    "ch5",
    "ch17",
    "in1",
    "in14",
    "in20",
    "through a grommet",
    "board-8bit-5v-20",
    "mains",
    "battery",
    "wired",
    "program",
    7,
    400,
    True,
    False,
    ["motion"],
    ["dims"],
    ["isolated"],
    "isolated_low",
    "unknown",
    "P13",
    "P14",
    "N22",
    "L4",
]
#: Fields that stand in no sum and on no drawing of the report, each with why.
WORDS_ONLY = {
    ("Rail", "note"): "the builder's own words",
    ("Channel", "note"): "the builder's own words",
    ("SenseInput", "note"): "the builder's own words",
    ("Build", "note"): "the builder's own words",
    ("Machine", "untouched"): "the builder's own words",
    ("Way", "note"): "the builder's own words",
    ("Build", "format"): "names the file",
    ("Build", "schema_version"): "names the file",
    ("Build", "machines"): "judged on their own page, before any stage",
    ("Channel", "pin_locked"): "holds the line when lines are assigned",
    ("SenseInput", "pin_locked"): "holds the line when lines are assigned",
    ("Channel", "needs"): "moves the advisor's order",
    ("Build", "serial"): "the highest number given to an id",
    ("Build", "stock"): "with the drawer, in tests/web/test_keeping.py",
    ("Build", "prefer_stock"): "with the drawer, in tests/web/test_keeping.py",
    ("Channel", "accepted"): "moves a finding to the accepted ones, which the report lists",
    ("Build", "discipline"): "a mapping; each fact in tests/core/test_mains.py",
}


def said(build: Build) -> str:
    """Everything the report says, with the working behind it."""
    report = evaluate_afresh(build, load_catalogue())
    steps = [
        [
            (s.symbol, s.result if isinstance(s.result, int | float | str) else str(s.result))
            for s in c.result.working.steps
        ]
        for c in report.channels
        if c.result
    ]
    rails = [[(s.symbol, s.result) for s in r.working.steps] for r in report.rails]
    net = [(p.ref, p.kind, p.value, sorted(p.terminals.items())) for p in report.netlist.parts]
    accepted = [(f.check, reason) for c in report.channels for f, reason in c.accepted]
    return json.dumps([report_data(report), steps, rails, net, accepted], default=str)


@cache
def grounds() -> tuple[Build, ...]:
    """
    Builds on which a field may matter: the demo's, and benches that bring out what those lack.
    """
    hot = bench("heater", "230 V", "400 W", rail="230 V", source="mains", stage="relay_contact")
    sensed = edited(
        bench(),
        ("add_input", {"kind": "divider", "voltage": "12 V"}),
        ("add_input", {"kind": "knob"}),
        ("add_input", {"kind": "opto", "voltage": "24 V"}),
        ("add_input", {"kind": "sensor", "voltage": "5 V"}),
        ("add_input", {"kind": "reed"}),
        ("add_input", {"kind": "end_pair"}),
        ("add_input", {"kind": "serial"}),
        ("add_input", {"kind": "tachometer"}),
    )
    zeros = edited(
        bench(
            "filament_lamp", "230 V", "60 W", rail="230 V", source="mains", stage="triac_coupler"
        ),
        ("add_input", {"kind": "zero_transformer", "rail": "rail1", "voltage": "9 V"}),
        ("add_input", {"kind": "zero_coupler", "rail": "rail1"}),
    )
    fed = edited(
        bench(),
        ("add_rail", {"voltage": "5 V"}),
        ("set_rail", {"rail": "rail3", "fed_by": "rail1", "converter": "linear"}),
        ("set_board_feed", {"rail": "rail3"}),
    )
    switched = edited(fed, ("set_rail", {"rail": "rail3", "converter": "switching"}))
    cell = edited(
        bench(source="battery"),
        (
            "set_rail",
            {
                "rail": "rail1",
                "capacity": "2 Ah",
                "wire_area": "0.5 mm²",
                "wire_length": "2 m",
                "resistance": "0.2 Ω",
                "fuse": "2 A",
            },
        ),
        ("set_board_feed", {"rail": "rail1"}),
    )
    motor = bench("dc_motor", "12 V", "1 A", stage="nmos_low_side")
    route = edited(
        bench(
            "speaker" if "speaker" in load_catalogue().loads else "relay_coil",
            stage="relay_contact",
        ),
        ("copy_channel", {"channel": "ch2"}),
        ("add_route", {"name": "line", "members": "ch2,ch3"}),
    )
    return (*benches(), bench(), hot, sensed, zeros, fed, switched, cell, motor, route)


def optional_fields(model) -> list[str]:
    """Fields a document may leave out."""
    return [name for name, info in model.model_fields.items() if not info.is_required()]


def places(build: Build, model) -> list[tuple[str, int]]:
    """Where pieces of a model stand in a build."""
    where = {Rail: "rails", Channel: "channels", SenseInput: "inputs", Route: "routes"}
    return [(where[model], n) for n in range(len(getattr(build, where[model])))]


def tries(build: Build, model, name: str):
    """The build with the field entered in each of its pieces, with each value that validates."""
    data = build.model_dump(mode="json", exclude_none=True)
    spots = (
        [()]
        if model is Build
        else (
            [(*p, "load") for p in places(build, Channel)]
            if model is Load
            else places(build, model)
        )
    )
    for spot in spots:
        for value in TRIED:
            copy = json.loads(json.dumps(data))
            piece = copy
            for step in spot:
                piece = piece[step]
            if piece.get(name) == value:
                continue
            piece[name] = value
            try:
                changed = Build.model_validate(copy)
            except ValidationError:
                continue
            yield changed


CASES = [
    (model, name)
    for model in (Build, Rail, Channel, Load, SenseInput, Route)
    for name in optional_fields(model)
]


@pytest.mark.parametrize(
    "model, name", CASES, ids=lambda x: x if isinstance(x, str) else x.__name__
)
def test_every_optional_field_of_a_document_changes_the_report_when_it_is_entered(model, name):
    if (model.__name__, name) in WORDS_ONLY:
        pytest.skip(WORDS_ONLY[model.__name__, name])
    for build in grounds():
        before = said(build)
        for n, changed in enumerate(tries(build, model, name)):
            if said(changed) != before:
                return
            if n > 60:
                break
    raise AssertionError(
        f"{model.__name__}.{name} changes nothing on any of {len(grounds())} builds"
    )


@pytest.mark.parametrize(
    "model, name",
    [(m, n) for m in (Machine, Way) for n in optional_fields(m)],
    ids=lambda x: x if isinstance(x, str) else x.__name__,
)
def test_every_fact_of_a_machine_changes_its_judgement(model, name):
    if (model.__name__, name) in WORDS_ONLY:
        pytest.skip(WORDS_ONLY[model.__name__, name])
    plain = {"id": "m1", "name": "Attic fan", "remote_line": {"exists": "yes"}}
    base = judge(Machine.model_validate(plain))
    if model is Machine:
        values = [{"exists": "yes", "supply": "isolated_low"}, "yes", "no"]
        found = [plain | {name: v} for v in values]
    else:
        found = [
            plain | {"remote_line": plain["remote_line"] | {name: v}}
            for v in ("yes", "no", "mains", "isolated_low", "unknown")
        ]
    judged = []
    for data in found:
        try:
            judged.append(judge(Machine.model_validate(data)))
        except ValidationError:
            continue
    assert any(j != base for j in judged)


def other_values(info, was):
    """Other figures a record's field may have: twice, half, another word."""
    annotation = info.annotation
    if isinstance(was, list):
        return []
    if isinstance(was, bool):
        return [not was]
    if isinstance(was, int | float):
        return [was * 1.3, was * 0.7, was + 1, was * 3, was * 0.2, was * 10]
    choices = [
        c
        for a in typing.get_args(annotation) or ()
        for c in typing.get_args(a) or (a,)
        if isinstance(c, str)
    ]
    if typing.get_origin(annotation) in (typing.Literal, types.UnionType) and choices:
        return [c for c in choices if c != was]
    number, _, unit = str(was or "").partition(" ")
    try:
        size = float(number)
    except ValueError:
        return [
            "17 Ω",
            "4.7 kΩ",
            "3 V",
            "3 V ±5 %",
            "17 V",
            "1 A",
            "0.3 A",
            "30 ms",
            "2 K/W",
            "9 V ±5 %",
            "10 Ω ±5 %",
            "inputs",
            "coils",
            2.0,
            0.5,
            True,
            "yes",
            "1.2 V",
        ]
    return [f"{size * k:.6g} {unit}" for k in (1.5, 0.6, 0.2, 4, 0.02, 20)]


#: Figures of records that stand in no sum of an ordinary bench, each with why.
NOT_FELT = {
    "title": "what it is called",
    "source": "where its figures are from",
    "id": "its key",
    "family": "its kind",
    "header": "told on its sheet",
    "terminals": "told on its sheet",
    "driver": "told on its sheet",
    "rails": "told on its sheet",
}


@cache
def stages_with(family: str) -> tuple[Build, ...]:
    """Benches whose stage uses a part of a family, one a stage and load."""
    loads = [
        ("relay_coil", "12 V", "400 Ω", "12 V", "adapter"),
        ("solenoid", "12 V", "0.4 A", "12 V", "adapter"),
        ("filament_lamp", "230 V", "60 W", "230 V", "mains"),
        ("heater", "230 V", "800 W", "230 V", "mains"),
        ("dc_motor", "12 V", "0.5 A", "12 V", "adapter"),
    ]
    found = []
    for kind, stage in STAGES.items():
        if not any(s.kind == "part" and s.family == family for s in stage.settings):
            continue
        for load, volts, figure, rail, source in loads:
            for board in ("board-radio-3v3", "board-8bit-5v-20"):
                build = bench(
                    load, volts, figure, rail=rail, source=source, stage=kind, board=board
                )
                report = evaluate_afresh(build, load_catalogue())
                if report.channels[0].result and family in {
                    p.family for p in report.channels[0].result.parts.values()
                }:
                    found.append(build)
    return tuple(found)


FIGURES = [
    (family, name)
    for family, record in PART_FAMILIES.items()
    if family not in ("board", "supply", "load")
    for name in record.model_fields
    if name not in NOT_FELT
]


@pytest.mark.parametrize("family, name", FIGURES, ids=lambda x: x)
def test_every_figure_of_a_part_is_felt_by_some_stage_that_uses_it(family, name):
    builds = stages_with(family)
    if not builds:
        pytest.skip(f"no stage takes a {family} by name")
    for build in builds:
        report = evaluate_afresh(build, load_catalogue())
        part = next(p for p in report.channels[0].result.parts.values() if p.family == family)
        raw = load_catalogue().raw[part.id]
        setting = next(
            s.key
            for s in STAGES[build.channels[0].stage.kind].settings
            if s.kind == "part" and s.family == family
        )
        fixed = build.model_copy(update={"parts": {"own": raw | {"id": "own"}}})
        fixed, _ = __import__("latchcore.document.edits", fromlist=["apply"]).apply(
            fixed, "set_setting", {"channel": "ch2", setting: "own"}
        )
        before = said(fixed)
        info = type(part).model_fields[name]
        lists = raw.get(name) if isinstance(raw.get(name), list) else None
        trials = (
            [
                [
                    f"{float(str(v).split()[0]) * k:.6g} {str(v).partition(' ')[2]}".strip()
                    for v in lists
                ]
                for k in (1.2, 0.8, 0.3, 3)
            ]
            if lists
            else other_values(info, raw.get(name))
        )
        for value in trials:
            changed = fixed.model_copy(update={"parts": {"own": {**raw, "id": "own", name: value}}})
            try:
                read_part_ok(changed)
            except ValueError:
                continue
            if said(changed) != before:
                return
    raise AssertionError(f"{family}.{name} is felt by none of {len(builds)} benches")


def read_part_ok(build: Build) -> None:
    """Raise where the record is none."""
    from latchcore.catalogue import read_part

    read_part(build.parts["own"])


def test_the_demo_files_of_the_net_are_those_that_ship():
    assert len([read_build(p.read_bytes()) for p in (ROOT / "demo").glob("*.json")]) == 5
