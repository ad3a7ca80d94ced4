"""
Nothing a person can enter shuts anything: a sample of what scripts/hostile.py tries by the ten
thousand.
"""

import contextlib
import random

import pytest

from latchcore.catalogue import load_catalogue, read_part
from latchcore.document.models import Build
from latchcore.edits import EDITS, EditError, apply
from latchcore.evaluate import evaluate, evaluate_afresh
from latchcore.formats.buildfile import BuildFileError, read_build, write_build
from latchcore.formats.partsfile import read_parts
from tests import hostile
from tests.core.benches import bench, edited, with_part

pytestmark = pytest.mark.slow


@pytest.mark.parametrize(
    "work", [hostile.edits, hostile.parts, hostile.files, hostile.tables], ids=lambda w: w.__name__
)
def test_hostile_input_is_refused_in_one_line_or_accepted_with_a_report(work):
    tally = hostile.Tally()
    work(random.Random(20261128), 250, tally)
    assert tally.wrong == [] and tally.refused > 20 and tally.accepted > 20


def test_an_ampere_typed_for_a_milliampere_is_worked_out_and_can_be_taken_back():
    """
    At the edge of what the field takes, the usual tolerance of a load reaches beyond the edge.
    """
    for figure in ("950 A", "1000 A"):
        report = evaluate(bench("solenoid", "12 V", figure))
        assert report.channels[0].result is not None and report.count("stop")
    with pytest.raises(EditError, match="1 kA"):
        bench("solenoid", "12 V", "1001 A")


def test_a_rail_at_the_edge_of_its_field_is_worked_out_with_its_suppliers_tolerance():
    build = edited(Build(name="edge"), ("add_rail", {"voltage": "1500 V", "source": "adapter"}))
    assert evaluate(build).rails[0].volts.max > 1500
    with pytest.raises(EditError, match="out of range"):
        edited(Build(name="edge"), ("add_rail", {"voltage": "1501 V"}))


@pytest.mark.parametrize("edit", sorted(EDITS))
def test_the_build_itself_is_never_an_argument_of_an_edit(edit):
    with pytest.raises(EditError) as caught:
        apply(Build(name="x"), edit, {"build": "x"})
    assert len(str(caught.value)) < hostile.MOST


@pytest.mark.parametrize("places", ["²", "٣", "9" * 30, "--1", "", "1.5"])
def test_a_number_of_places_that_is_none_is_refused(places):
    with pytest.raises(EditError, match="number of places"):
        edited(bench(), ("move_channel", {"channel": "ch2", "places": places}))


@pytest.mark.parametrize(
    "figures, says",
    [
        ({"gain_at": ["1 mA", "10 mA"], "gain_min": [100.0]}, "lists of 2, 1 points"),
        ({"gain_at": [], "gain_min": []}, "at least one"),
        ({"gain_at": ["10 mA", "1 mA"], "gain_min": [100.0, 90.0]}, "does not rise"),
        ({"gain_at": ["1 mA", "1 mA"], "gain_min": [100.0, 90.0]}, "does not rise"),
        ({"gain_at": ["1 mA"], "gain_min": [0]}, "greater than 0"),
        ({"gain_at": ["1 mA"], "gain_min": [float("nan")]}, "finite"),
        ({"i_c": "2 A", "i_c_pulse": "1.99 A"}, "i_c of 2 lies above i_c_pulse of 1.99"),
    ],
)
def test_a_transistor_whose_figures_do_not_hold_together_is_no_part(figures, says):
    raw = load_catalogue().raw["npn-45v-500ma"] | figures
    with pytest.raises(ValueError, match=says):
        read_part(raw)


def test_a_curve_that_just_holds_is_taken():
    raw = load_catalogue().raw["npn-45v-500ma"] | {
        "gain_at": ["1 mA", "1.0001 mA"],
        "gain_min": [0.001, 999_999.0],
        "i_c": "2 A",
        "i_c_pulse": "2 A",
    }
    assert read_part(raw).gain(0.001) == pytest.approx(0.001)


def test_one_channel_that_cannot_be_worked_out_leaves_the_others_as_they_were():
    """A record broken behind the back of every door: what hangs on it is said at its place."""
    build = with_part(bench(settings={}), "npn-45v-500ma")
    build = edited(build, ("copy_channel", {"channel": "ch2"}))
    first, second = build.channels
    broken = build.model_copy(update={"parts": {"own": build.parts["own"] | {"gain_at": []}}})
    first.stage.settings["transistor"] = "own"
    report = evaluate_afresh(broken, load_catalogue())
    bad, good = report.channels
    assert (
        bad.result is None
        and bad.findings[0].check == "E1"
        and bad.missing == ["figures"]
        and not report.sound
    )
    assert good.result is not None and "E1" not in {f.check for f in good.findings}


def test_a_fault_has_the_same_number_each_time_and_is_in_the_log(caplog, monkeypatch):
    from latchcore.stages import npn_low_side

    def fails(context):
        raise ZeroDivisionError("as if")

    monkeypatch.setattr(npn_low_side, "size", fails)
    found = [
        evaluate_afresh(bench(), load_catalogue()).channels[0].findings[0].sentence
        for _ in range(2)
    ]
    number = found[0].split("fault ")[1][:8]
    assert found[0] == found[1] and number in caplog.text and "ZeroDivisionError" in caplog.text


@pytest.mark.parametrize(
    "text, says",
    [
        (
            '{"format": "zinc-latch-build", "schema_version": 2, "name": "a\\u0000b"}',
            "cannot be shown",
        ),
        (
            '{"format": "zinc-latch-build", "schema_version": 2, "name": "\\ud83d"}',
            "cannot be shown",
        ),
        (
            '{"format": "zinc-latch-build", "schema_version": 2, "name": "'
            + "x" * 1_000_000
            + '"}',
            "too long",
        ),
    ],
)
def test_a_text_no_page_could_carry_is_refused_in_a_short_line(text, says):
    with pytest.raises(BuildFileError, match=says) as caught:
        read_build(text)
    assert len(str(caught.value)) < hostile.MOST


def test_two_parts_may_be_called_alike_in_any_script():
    base = next(k for k, raw in load_catalogue().raw.items() if raw["family"] == "relay")
    rows = read_parts(f"family,title,base\nrelay,Реле,{base}\nrelay,Реле,{base}\n")
    assert (
        [r.error for r in rows] == ["", ""]
        and rows[0].key != rows[1].key
        and rows[0].title == rows[1].title
    )


@pytest.mark.parametrize(
    "edit, args",
    [
        ("remove_channel", {"channel": "ch3"}),
        ("place_pin", {"what": "ch3", "pin": "P13"}),
        ("move_together", {"channel": "ch4", "lead": "ch3"}),
        ("assign_pins", {"scope": "all"}),
        ("set_board", {"board": "board-8bit-5v-20"}),
        ("remove_rail", {"rail": "rail9"}),
        ("set_machine", {}),
        ("move_to_board", {"board": "board-8bit-5v-20"}),
        ("fit_common_resistors", {}),
    ],
)
def test_an_edit_leaves_the_build_it_began_from_as_it_was(edit, args):
    theatre = next(b for b in hostile.benches() if b.name.startswith("Hollyhock"))
    before = theatre.model_dump_json()
    with contextlib.suppress(EditError):
        apply(theatre, edit, args)
    assert theatre.model_dump_json() == before


def test_trying_an_edit_copies_one_channel_and_no_other():
    theatre = next(b for b in hostile.benches() if b.name.startswith("Hollyhock"))
    changed, _ = apply(theatre, "set_setting", {"channel": "ch4", "clamp": "diode"})
    same = [a is b for a, b in zip(theatre.channels, changed.channels, strict=True)]
    assert same.count(False) == 1 and all(
        a is b for a, b in zip(theatre.inputs, changed.inputs, strict=True)
    )


def test_a_board_without_a_line_lets_go_of_inputs_too():
    build = edited(bench(), ("add_input", {"kind": "button"}))
    held = build.inputs[0].pin
    moved, says = apply(build, "set_board", {"board": "board-8bit-5v-20"})
    assert held and moved.inputs[0].pin is None and held in says
    assert write_build(read_build(write_build(moved))) == write_build(moved)
