"""Rework of a module: the part it has become follows from what was changed and read."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from latchcore.bench.rework import KINDS, ReworkError, applied, check, effective, on_current
from latchcore.catalogue import load_catalogue, read_part
from tests.core.benches import EIGHT_BIT, RADIO, edited
from tests.core.test_relays import found, on_module

RAW = load_catalogue().raw
PLAIN, SERIES, REGULATED, LEVEL = (
    RAW[f"module-{n}"]
    for n in ("5v-low-plain", "5v-low-indicator", "6v-regulated-inputs", "12v-level-jumper")
)


def test_a_changed_resistor_is_the_resistor():
    assert (
        read_part(
            applied(PLAIN, check({"kind": "resistor", "value": "470"})).figures
        ).input_resistor.typ
        == 470
    )


@given(st.floats(100, 20_000))
def test_a_resistor_across_is_always_less_than_either(value):
    after = read_part(
        applied(PLAIN, {"kind": "parallel", "value": f"{value:.6g}"}).figures
    ).input_resistor.typ
    assert after < min(1000, value) * (1 + 1e-3) and after == pytest.approx(
        1000 * value / (1000 + value), rel=5e-3
    )


def test_readings_alone_tell_the_new_resistor():
    entry = check({"kind": "resistor", "before_on_current": "3.8 mA", "after_on_current": "7.6 mA"})
    assert read_part(applied(PLAIN, entry).figures).input_resistor.typ == pytest.approx(500)


def test_a_bridged_indicator_gives_its_volts_to_the_resistor():
    assert on_current(SERIES) == pytest.approx((5 - 1.2 - 1.9) / 1000)
    assert on_current(applied(SERIES, {"kind": "indicator"}).figures) == pytest.approx(
        (5 - 1.2) / 1000
    )


def test_a_rework_can_make_a_module_fit_a_three_volt_board():
    build = on_module("module-5v-low-indicator", board=RADIO, settings={"feed": "logic"})
    assert found(build)["P7"] == "stop"
    raw, _ = effective(SERIES, [{"kind": "indicator"}, {"kind": "parallel", "value": "1k"}])
    mended = build.model_copy(update={"parts": {"own": raw | {"id": "own"}}})
    assert "P7" not in found(edited(mended, ("set_setting", {"channel": "ch2", "module": "own"})))


@pytest.mark.parametrize(
    "kind, raw, name, value",
    [
        ("jumper_off", RAW["module-5v-high"], "separate", True),
        ("jumper_on", PLAIN, "separate", False),
        ("rail_cut", REGULATED, "separate", True),
        ("level_low", LEVEL, "active", "low"),
        ("level_high", LEVEL, "active", "high"),
        ("regulator", REGULATED, "regulator", None),
    ],
)
def test_each_rework_changes_what_it_says_and_nothing_else(kind, raw, name, value):
    after = read_part(applied(raw, {"kind": kind}).figures)
    assert getattr(after, name) == value
    same = set(read_part(raw).model_fields) - {name, "regulator_feeds"}
    assert all(getattr(after, n) == getattr(read_part(raw), n) for n in same)


def test_a_reading_that_does_not_fit_the_record_is_said():
    fits = applied(PLAIN, check({"kind": "resistor", "value": "470", "after_on_current": "8 mA"}))
    off = applied(
        PLAIN,
        check(
            {
                "kind": "resistor",
                "value": "470",
                "after_on_current": "3 mA",
                "after_coil_volts": "3.1 V",
                "before_on_current": "1 mA",
            }
        ),
    )
    assert (
        not fits.doubts
        and len(off.doubts) == 3
        and "may not pull in" in off.doubts[1]
        and off.doubts[2].startswith("before it")
    )


@pytest.mark.parametrize(
    "entry, field, says",
    [
        ({"kind": "magic"}, "kind", "“magic” is no rework"),
        ({"kind": "parallel"}, "value", "Nothing was typed"),
        ({"kind": "resistor", "value": "5 V"}, "value", "volts"),
        ({"kind": "jumper_off", "after_on_current": "lots"}, "after_on_current", "not a quantity"),
        ({"kind": "resistor", "before_on_current": "1 mA"}, "value", "before and after"),
    ],
)
def test_a_rework_that_cannot_be_recorded_is_named(entry, field, says):
    with pytest.raises(ReworkError, match=says) as error:
        check(entry)
    assert error.value.field == field


@pytest.mark.parametrize("kind, raw", [("indicator", PLAIN), ("regulator", PLAIN)])
def test_what_is_not_there_cannot_be_changed(kind, raw):
    with pytest.raises(ReworkError, match="nothing to"):
        applied(raw, {"kind": kind})


def test_reworks_follow_one_another_and_the_source_says_so():
    raw, steps = effective(SERIES, [{"kind": "indicator"}, {"kind": "resistor", "value": "330"}])
    assert len(steps) == 2 and raw["source"].endswith("reworked: input resistor changed: 330")
    assert effective(SERIES, [])[0] == SERIES and set(KINDS) >= {"resistor", "rail_cut"}


def test_a_level_moved_by_hand_turns_the_program_round():
    raw, _ = effective(LEVEL, [{"kind": "level_high"}])
    build = on_module("module-12v-level-jumper", coil="12 V", board=EIGHT_BIT).model_copy(
        update={"parts": {"own": raw | {"id": "own"}}}
    )
    build = edited(build, ("set_setting", {"channel": "ch2", "module": "own"}))
    assert "P8" not in found(build)
