"""The pin table, the settings sheet, the stamp, and what a program is made of."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import pytest

from latchcore.behaviour.faults import BehaviourError
from latchcore.edits import apply
from latchcore.formats.buildfile import read_build
from latchcore.program import hardware as hw
from latchcore.program.micropython import micropython
from latchcore.program.plan import ProgramPlan
from latchcore.program.pruning import PARTS, source
from latchcore.program.settings import checklist, pins_table, settings_table
from tests.program.test_line_and_walk import shed

DEMO = Path(__file__).parents[2] / "demo"


def of(name: str) -> ProgramPlan:
    return ProgramPlan(read_build((DEMO / f"{name}.json").read_bytes()), "4")


def rows(table) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(table.as_csv(), newline="")))


def test_a_module_that_acts_on_low_is_inverted_and_off_high():
    mat = next(r for r in rows(settings_table(of("fernhouse-vents"))) if "mat" in r["channel"])
    assert (mat["inverted"], mat["at start"], mat["index from 1"]) == ("yes", "off", "1")
    pin = next(r for r in rows(pins_table(of("fernhouse-vents"))) if r["id"] == "ch3")
    assert pin["level"] == "off high" and pin["line"] == "P25" and pin["comes out at"]


def test_a_line_that_stands_twice_is_said():
    build = shed()
    channels = [c.model_copy(update={"pin": "L5"}) if c.id == "ch3" else c for c in build.channels]
    plan = ProgramPlan(build.model_copy(update={"channels": channels}))
    notes = {r["channel"]: r["to be seen to"] for r in rows(settings_table(plan))}
    assert notes["Lamp"] == notes["Pump"] == "line L5 stands 2 times" and not notes["Fan"]


def test_a_program_knows_levels_of_contacts_and_scales_of_levels():
    reads = {r.key: r for r in of("hollyhock-marionettes").hardware.reads}
    # End switches that are closed at rest read high while they are acted on.
    assert isinstance(reads["in14"], hw.ContactPlan) and reads["in14"].acted == 1
    assert reads["in16"].acted == 0
    knob = reads["in15"]
    assert isinstance(knob, hw.LevelPlan)
    assert knob.shares == (0.02, 0.98) and knob.values == (0.0, 100.0)
    warm = {r.key: r for r in of("fernhouse-vents").hardware.reads}["in7"]
    assert warm.values == (0.0, 50.0) and 0 <= warm.shares[0] < warm.shares[1] <= 1


def test_the_stamp_moves_with_the_program_and_with_nothing_else():
    build = shed()
    before = ProgramPlan(build, "1").content
    assert ProgramPlan(build.model_copy(update={"note": "later"}), "2").content == before
    moved, _ = apply(build, "set_pin", {"channel": "ch3", "pin": "L10"})
    assert ProgramPlan(moved).content != before
    longer = build.does.model_copy(update={"link_time_out": "3 s"})
    assert ProgramPlan(build.model_copy(update={"behaviour": longer})).content != before


def test_the_checklist_asks_for_the_secret_where_commands_come_from_away():
    build = shed()
    assert not any("secret" in text for text in checklist(ProgramPlan(build)))
    away = build.does.model_copy(update={"access": "further"})
    told = checklist(ProgramPlan(build.model_copy(update={"behaviour": away})))
    assert any("secret" in text for text in told)


def test_names_that_would_break_a_text_do_not():
    build = shed()
    evil = 'Lamp"\\ \u2028*/ {x} ??/'
    channels = [c.model_copy(update={"name": evil}) if c.id == "ch2" else c for c in build.channels]
    [(name, text)] = micropython(
        ProgramPlan(build.model_copy(update={"channels": channels, "name": 'S"h\\ed'}))
    ).items()
    assert name == "s_h_ed.py"
    compile(text, name, "exec")


def test_a_coil_that_is_only_held_is_full_first():
    build = shed()
    lamp = build.channels[0].model_copy(update={"full_first": "150 ms", "duty": "30 %"})
    plan = ProgramPlan(build.model_copy(update={"channels": [lamp, *build.channels[1:]]}))
    drive = plan.hardware.drives[0]
    assert (drive.hold, drive.full_first) == (30, 15)
    assert "economy" in plan.features and "full for 0.15 s, then 30 %" in pins_table(plan).as_csv()


def test_what_a_channel_lacks_is_said_and_left_to_a_routine():
    build = shed()
    bare = build.channels[1].model_copy(update={"pin": None})
    plan = ProgramPlan(build.model_copy(update={"channels": [build.channels[0], bare]
                                                + build.channels[2:]}))  # fmt: skip
    assert plan.hardware.by_hand == [("ch3", "no pin is chosen for its line")]
    assert "def write_ch3(level):" in next(iter(micropython(plan).values()))


@pytest.mark.parametrize("part", PARTS)
@pytest.mark.parametrize("language", ["py", "h"])
def test_every_part_of_a_text_closes_what_it_opens(part, language):
    mark = "#:" if language == "py" else "//:"
    lines = [line.strip() for line in source(f"{part}.{language}.in").splitlines()]
    opened = sum(line.startswith(f"{mark} if ") for line in lines)
    assert opened == sum(line == f"{mark} end" for line in lines)


def test_a_program_without_a_board_is_still_a_program():
    plan = ProgramPlan(shed().model_copy(update={"board": None}))
    text = next(iter(micropython(plan).values()))
    compile(text, "shed.py", "exec")
    assert [key for key, _ in plan.hardware.by_hand] == ["ch2", "ch3", "ch4", "ch5", "in9"]


@pytest.mark.parametrize(
    ("board", "micropython_fits", "cpp_fits"),
    [("board-8bit-5v-20", False, True), ("board-radio-3v3", True, True),
     ("board-sbc-3v3-40", False, False)],
)  # fmt: skip
def test_a_board_takes_what_it_has_room_for(board, micropython_fits, cpp_fits):
    plan = ProgramPlan(shed().model_copy(update={"board": board}))
    assert (plan.unfit("micropython") == "") is micropython_fits
    assert (plan.unfit("cpp") == "") is cpp_fits


@pytest.mark.parametrize(("step", "refused"), [("1 ms", False), ("1.5 ms", True), ("500 µs", True)])
def test_a_step_is_whole_milliseconds(step, refused):
    does = shed().does.model_copy(update={"step": step})
    plan = ProgramPlan(shed().model_copy(update={"behaviour": does}))
    if refused:
        with pytest.raises(BehaviourError, match="expected (whole milliseconds|1 ms to 1 s)"):
            micropython(plan)
    else:
        assert "STEP_MS = 1 " in next(iter(micropython(plan).values()))
