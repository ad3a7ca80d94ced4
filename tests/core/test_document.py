"""The document, its edits and its file."""

import json
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.document.models import Build
from latchcore.edits import EDITS, EditError, apply
from latchcore.evaluate import evaluate_afresh
from latchcore.formats.buildfile import BuildFileError, json_schema, read_build, write_build
from latchcore.formats.reportfile import report_data
from latchcore.stages import STAGES
from tests.core.benches import RADIO, bench, edited, with_part

ROOT = Path(__file__).parent.parent.parent
DEMOS = sorted((ROOT / "demo").glob("*.json"))


@pytest.mark.parametrize("path", DEMOS, ids=lambda p: p.stem)
def test_a_build_file_comes_back_byte_for_byte(path):
    text = path.read_text(encoding="utf-8")
    assert write_build(read_build(text)) == text


@pytest.mark.parametrize("path", DEMOS, ids=lambda p: p.stem)
def test_a_build_file_fits_the_published_schema(path):
    published = json.loads((ROOT / "docs" / "build-file.schema.json").read_text())
    assert published == json.loads(json.dumps(json_schema()))
    jsonschema.validate(json.loads(path.read_text()), published)


def test_parts_travel_with_the_file_and_mean_the_same_elsewhere():
    build = read_build(write_build(bench(settings={"transistor": "npn-45v-500ma"})))
    elsewhere = load_catalogue()
    bare = type(elsewhere)(
        {}, elsewhere.loads, elsewhere.sources, elsewhere.regions, elsewhere.limits, "bare", {}
    )  # a catalogue with no parts at all
    there, here = (
        evaluate_afresh(build, bare),
        advised(bench(settings={"transistor": "npn-45v-500ma"})),
    )
    assert [v.text for v in there.channels[0].result.values] == [
        v.text for v in here.channels[0].result.values
    ]


def test_the_part_that_travels_counts_before_the_catalogue():
    build = edited(
        with_part(bench(), "npn-45v-500ma", v_be="1.0 / 1.1 / 1.2 V"),
        ("set_setting", {"channel": "ch2", "transistor": "own"}),
    )
    assert advised(build).channels[0].result.parts["transistor"].v_be.max == 1.2


def deep(levels):
    return (
        '{"format": "zinc-latch-build", "schema_version": 1, "name": '
        + "[" * levels
        + "]" * levels
        + "}"
    )


GOOD = json.loads(write_build(bench()))


def changed(**fields):
    return json.dumps(GOOD | fields)


HOSTILE = {
    "nothing": ("", "no JSON"),
    "truncated": (write_build(bench())[:400], "no JSON"),
    "another kind of file": ('{"format": "recipe"}', "no build"),
    "a list": ("[]", "no build"),
    "newer": (changed(schema_version=7), "version 7"),
    "deep": (deep(5000), "nests deeper"),
    "large": ('{"name": "' + "x" * 2_100_000 + '"}', "2 MB"),
    "not a number": (
        '{"format": "zinc-latch-build", "schema_version": 1, "name": "x", "serial": NaN}',
        "NaN",
    ),
    "a key twice": (
        '{"format": "zinc-latch-build", "schema_version": 1, "name": "x", "name": "y"}',
        "twice",
    ),
    "not text": (b"\xff\xfe\x00", "UTF-8"),
    "unknown field": (changed(colour="red"), "colour"),
    "unknown load": (
        changed(
            channels=[
                GOOD["channels"][0] | {"load": {"kind": "laser", "voltage": "1 V", "figure": "1 A"}}
            ]
        ),
        "laser",
    ),
    "unknown rail": (changed(channels=[GOOD["channels"][0] | {"rail": "rail9"}]), "rail9"),
    "nonsense quantity": (changed(rails=[GOOD["rails"][0] | {"voltage": "4k7k"}]), "4k7k"),
    "zero ohm load": (
        changed(
            channels=[
                GOOD["channels"][0]
                | {"load": {"kind": "heater", "voltage": "12 V", "figure": "0 Ω"}}
            ]
        ),
        "zero",
    ),
    "one id twice": (changed(rails=[GOOD["rails"][0]] * 2), "share one id"),
    "serial behind": (changed(serial=0), "serial"),
    "unknown setting": (
        changed(
            channels=[
                GOOD["channels"][0] | {"stage": {"kind": "npn_low_side", "settings": {"glue": "x"}}}
            ]
        ),
        "glue",
    ),
    "too many channels": (changed(channels=[GOOD["channels"][0]] * 129), "channels"),
    "crooked part": (
        changed(parts={"bad": {"family": "zener", "id": "bad", "title": "x"}}),
        "parts.bad",
    ),
    "part without family": (changed(parts={"bad": {}}), "family"),
}


@pytest.mark.parametrize("name", HOSTILE)
def test_a_file_that_is_no_build_is_refused_in_one_clear_line(name):
    text, says = HOSTILE[name]
    with pytest.raises(BuildFileError) as caught:
        read_build(text)
    assert (
        says in str(caught.value) and "\n" not in str(caught.value) and len(str(caught.value)) < 500
    )


@settings(max_examples=150, deadline=None)
@given(st.data())
def test_no_mutation_of_a_file_breaks_the_reader(data):
    document = json.loads(write_build(bench()))
    place = document
    while True:
        keys = list(place) if isinstance(place, dict) else list(range(len(place)))
        if not keys:
            return
        key = data.draw(st.sampled_from(keys))
        if isinstance(place[key], (dict, list)) and place[key] and data.draw(st.booleans()):
            place = place[key]
            continue
        break
    place[key] = data.draw(
        st.one_of(
            st.none(),
            st.integers(),
            st.text(max_size=20),
            st.just([]),
            st.just({}),
            st.floats(allow_nan=False),
        )
    )
    try:
        build = read_build(json.dumps(document))
    except BuildFileError:
        return
    report_data(advised(build))


def test_ids_are_never_used_twice():
    build = bench()
    build = edited(
        build,
        ("remove_channel", {"channel": "ch2"}),
        ("add_channel", {"kind": "heater", "voltage": "12 V", "figure": "5 W"}),
    )
    assert build.channels[0].id == "ch3"


def test_an_edit_leaves_the_build_it_was_given_alone():
    build = bench()
    before = build.model_dump_json()
    for name in EDITS:
        with pytest.raises(EditError):
            apply(
                build,
                name,
                (
                    {"nonsense": "x"}
                    if name not in ("set_load", "set_setting", "set_rail", "set_conditions")
                    else {}
                ),
            )
            apply(build, name, {"colour": "x"})
    apply(build, "set_pin", {"channel": "ch2", "pin": "P26"})
    assert build.model_dump_json() == before


@pytest.mark.parametrize(
    "edit, args, field, says",
    [
        ("set_setting", {"channel": "ch2", "base_resistor": "4k7k"}, "base_resistor", "4k7k"),
        (
            "set_setting",
            {"channel": "ch2", "transistor": "diode-400v-1a"},
            "transistor",
            "no part for",
        ),
        ("set_load", {"channel": "ch2", "figure": "-3 Ω"}, "figure", "negative"),
        ("set_load", {"channel": "ch2", "voltage": "1e9 V"}, "voltage", "out of range"),
        ("set_load", {"channel": "ch2", "figure": "0 Ω"}, "figure", "zero"),
        ("add_rail", {"voltage": "twelve"}, "voltage", "twelve"),
        ("add_channel", {"kind": "heater", "voltage": "12 V", "figure": "5"}, "figure", "no unit"),
        ("set_pin", {"channel": "ch2", "pin": "Z9"}, "pin", "no pin of this board"),
        ("set_switching", {"channel": "ch2", "duty": "150 %"}, "duty", "no duty"),
        ("remove_rail", {"rail": "rail1"}, "rail", "still feeds"),
        ("rename_build", {"name": "   "}, "name", "Nothing was typed"),
        ("rename_channel", {"channel": "ch9", "name": "x"}, None, "no longer"),
        ("set_conditions", {"ambient": "300 °C"}, None, "no ambient"),
    ],
)
def test_a_refused_edit_says_what_was_typed_and_where(edit, args, field, says):
    with pytest.raises(EditError, match=says) as caught:
        apply(bench(), edit, args)
    assert caught.value.field == field or field is None


def test_another_board_lets_go_of_pins_it_does_not_have():
    build, says = apply(bench(pin="P25"), "set_board", {"board": "board-8bit-5v-20"})
    assert build.channels[0].pin is None and "let go" in says
    assert advised(build).channels[0].missing == ["pin"]


def test_what_is_missing_is_said_and_nothing_is_invented():
    build = edited(
        Build(name="x"), ("add_channel", {"kind": "heater", "voltage": "12 V", "figure": "5 W"})
    )
    report = advised(build).channels[0]
    assert (
        report.result is None and report.missing == ["board", "rail"] and report.verdict == "open"
    )


def test_a_new_channel_takes_a_quiet_free_pin_and_the_rail_of_its_voltage():
    build = edited(
        Build(name="x"),
        ("set_board", {"board": RADIO}),
        ("add_rail", {"voltage": "5 V"}),
        ("add_rail", {"voltage": "12 V"}),
        ("add_channel", {"kind": "heater", "voltage": "12 V", "figure": "5 W"}),
    )
    channel = build.channels[0]
    pin = load_catalogue().parts[RADIO].pin(channel.pin)
    assert (
        channel.rail == "rail2"
        and pin.reset == "floating"
        and pin.start is None
        and "out" in pin.can
    )


def test_evaluating_twice_gives_the_same_report():
    build = bench("solenoid", figure="8 Ω", stage="nmos_low_side")
    first, second = (evaluate_afresh(build, load_catalogue()) for _ in range(2))
    assert report_data(first) == report_data(second)


@pytest.mark.parametrize(
    ("where", "value", "says"),
    [
        (("rails", 0, "fed_by"), "rail99", "there is no rail"),
        (("rails", 0, "fed_by"), "rail2", "circle"),
        (("rails", 1, "switched_by"), "ch99", "there is no channel"),
        (("rails", 1, "joined_with"), "rail99", "there is no rail"),
        (("channels", 0, "confirmed_by"), "in99", "there is no input"),
        (("channels", 0, "moves_with"), "ch3", "no other channel"),
        (("channels", 1, "moves_with"), "ch5", "itself moves"),
        (("channels", 0, "series_switch"), "ch99", "there is no channel"),
        (("inputs", 0, "rail"), "rail99", "there is no rail"),
        (("inputs", 0, "pull"), "strong", "not a quantity"),
        (("inputs", 1, "lowest"), "left", "no plain number"),
        (("inputs", 0, "id"), "ch3", "share one id"),
    ],
)
def test_a_file_that_does_not_hold_together_is_refused_by_the_place(where, value, says):
    raw = json.loads((ROOT / "demo" / "hollyhock-marionettes.json").read_text())
    raw["rails"][1]["fed_by"] = "rail1" if says == "circle" else None
    raw["channels"][2]["moves_with"] = "ch3" if says == "itself moves" else None
    target = raw[where[0]][where[1]]
    target[where[2]] = value
    with pytest.raises(BuildFileError, match=says):
        read_build(json.dumps(raw).encode())


@pytest.mark.parametrize("stage", STAGES)
def test_a_build_with_any_stage_and_its_parts_comes_back_from_its_file(stage):
    for kind, volts, source in (
        ("heater", "12 V", "adapter"),
        ("button_pair", "5 V", "adapter"),
        ("heater", "230 V", "mains"),
    ):
        text = write_build(bench(kind, volts, "10 mA", rail=volts, source=source, stage=stage))
        assert write_build(read_build(text)) == text


def test_a_light_without_a_rail_that_becomes_a_motor_is_refused_on_its_bare_pin():
    build = bench("indicator_led", "2 V", "3 mA", rail="5 V", stage="direct_pin")
    build = edited(build, ("set_channel_rail", {"channel": "ch2", "rail": ""}))
    assert not advised(build).channels[0].missing
    motor = advised(
        edited(build, ("set_load", {"channel": "ch2", "kind": "dc_motor", "voltage": "5 V"}))
    ).channels[0]
    # No rail is needed to see that, and every other stage asks for one.
    assert not motor.missing and [f.check for f in motor.findings if f.severity == "stop"] == [
        "D12"
    ]
    other = edited(
        build,
        ("set_load", {"channel": "ch2", "kind": "dc_motor", "voltage": "5 V"}),
        ("set_stage", {"channel": "ch2", "stage": "nmos_low_side"}),
    )
    assert advised(other).channels[0].missing == ["rail"]
