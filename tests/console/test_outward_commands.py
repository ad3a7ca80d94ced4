"""What the command takes out of a build: programs, lists, drawings, sheets, ranked stages."""

from __future__ import annotations

import csv
import io
import json
import subprocess
import sys
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from console.main import COMMANDS, main
from latchcore.figures.table import Table
from latchcore.formats.buildfile import write_build
from tests.program.test_line_and_walk import shed

ROOT = Path(__file__).parents[2]
VALVE, THEATRE = (
    ROOT / "demo" / "potting-bench-valve.json",
    (ROOT / "demo" / "hollyhock-marionettes.json"),
)
LISTS = ("wires", "parts", "readings", "pins", "settings")


@pytest.fixture
def file(tmp_path):
    path = tmp_path / "shed.json"
    path.write_text(write_build(shed()), encoding="utf-8")
    return str(path)


@pytest.mark.parametrize("name", LISTS)
def test_every_list_is_a_table_as_the_standard_has_it(name, file, capsys):
    assert main([name, file]) == 0
    text = capsys.readouterr().out
    rows = list(csv.reader(io.StringIO(text, newline=""), strict=True))
    assert len({len(row) for row in rows}) == 1 and len(rows) > 2
    assert text.count("\r\n") == len(rows)


@pytest.mark.parametrize(
    ("language", "names"),
    [("micropython", {"shed.py"}), ("cpp", {"shed.h", "board_calls.h"})],
)
def test_a_program_goes_into_a_directory_that_need_not_be_there(
    language, names, file, tmp_path, capsys
):
    out = tmp_path / "some" / "where"
    status = main(["program", file, "--language", language, "--out", str(out)])
    # An 8-bit board has not the memory for one of them, and that is said.
    assert status == (1 if language == "micropython" else 0)
    assert {p.name for p in out.iterdir()} == names
    assert str(out / sorted(names)[0]) in capsys.readouterr().out


def test_without_a_directory_the_text_itself_is_printed(capsys):
    assert main(["program", str(VALVE), "--language", "cpp"]) == 0
    text = capsys.readouterr().out
    assert text.startswith("// Potting bench valve: program text") and "inline void loop()" in text


def test_what_needs_a_routine_leaves_with_one_and_is_named(capsys):
    assert main(["program", str(THEATRE), "--language", "cpp"]) == 1
    assert "chain25 needs a routine of its own" in capsys.readouterr().err


def test_a_directory_that_cannot_be_made_is_one_line(file, tmp_path, capsys):
    (tmp_path / "taken").write_text("")
    status = main(["program", file, "--language", "cpp", "--out", str(tmp_path / "taken" / "x")])
    assert status == 2 and capsys.readouterr().err.count("\n") == 1


def test_a_drawing_by_letter_name_or_id_and_of_nothing_else(file, capsys):
    for called in ("A", "Lamp", "ch2"):
        assert main(["drawing", file, called]) == 0
        assert capsys.readouterr().out.startswith("<?xml")
    assert main(["drawing", file, "Attic"]) == 2
    assert "expected one of ch2, ch3, ch4, ch5" in capsys.readouterr().err


def test_stages_are_ranked_with_the_reason(file, capsys):
    assert main(["advise", file, "Pump"]) == 0
    lines = capsys.readouterr().out.splitlines()
    assert lines[0] == "B Pump" and "First:" in lines[1] and len(lines) > 4


def test_a_sheet_is_one_file_for_either_paper(file, capsys):
    for paper, size in (("a4", "A4"), ("letter", "letter")):
        assert main(["sheet", file, "--paper", paper]) == 0
        text = capsys.readouterr().out
        assert f"size:{size}" in text and "Expected readings" in text


def test_a_capture_is_held_against_the_rehearsal(file, tmp_path, capsys):
    lines, seen = tmp_path / "plan.csv", tmp_path / "seen.csv"
    assert main(["rehearse", file, "--seconds", "1.9", "--lines", str(lines)]) == 0
    capsys.readouterr()
    assert main(["rehearse", file, "--seconds", "1.9", "--capture", str(lines)]) == 0
    seen.write_text("t,Fan\n0,0\n1,1\n1.5,0\n1.9,0\n")
    capsys.readouterr()
    assert main(["rehearse", file, "--seconds", "1.9", "--capture", str(seen), "--json"]) == 1
    data = json.loads(capsys.readouterr().out)
    assert [d["what"] for d in data["differences"]] == ["not planned"]
    seen.write_text("nothing")
    assert main(["rehearse", file, "--seconds", "1.9", "--capture", str(seen)]) == 2


@pytest.mark.parametrize("name", sorted(set(COMMANDS) - {"states", "drawing", "program"}))
def test_every_command_refuses_what_is_no_build_alike(name, tmp_path, capsys):
    path = tmp_path / "x.json"
    path.write_text("[]")
    assert main([name, str(path)]) == 2
    told = capsys.readouterr()
    assert told.out == "" and told.err.startswith(f"zinc-latch: {path}: ")
    assert told.err.count("\n") == 1


@pytest.mark.slow
def test_a_build_comes_over_standard_input_and_no_web_is_loaded():
    code = (
        "import sys; from console.main import main; status = main(sys.argv[1:]);"
        "assert not {'django', 'workbench'} & set(sys.modules); sys.exit(status)"
    )
    for command in (["sheet", "-"], ["parts", "-"], ["program", "-", "--language", "cpp"]):
        ran = subprocess.run(
            [sys.executable, "-c", code, *command], input=VALVE.read_bytes(), capture_output=True,
            cwd=ROOT,
        )  # fmt: skip
        assert ran.returncode == 0 and ran.stdout, ran.stderr


@pytest.mark.slow
def test_help_has_examples_of_use():
    ran = subprocess.run(
        [sys.executable, "-m", "console.main", "--help"], capture_output=True, text=True, cwd=ROOT
    )
    assert "examples:" in ran.stdout and "--language micropython" in ran.stdout


@given(st.lists(st.tuples(st.text(), st.text()), max_size=8))
def test_a_table_comes_back_cell_by_cell_and_nothing_in_it_runs(rows):
    text = Table("t", "T", ("a", "b"), tuple(rows)).as_csv()
    head, *back = csv.reader(io.StringIO(text, newline=""))
    assert head == ["a", "b"] and len(back) == len(rows)
    for got, wanted in zip(back, rows, strict=True):
        for cell, said in zip(got, wanted, strict=True):
            assert cell in (said, f"'{said}")
            runs = cell.lstrip(" ")[:1] in ("=", "+", "-", "@", "\t", "\r") and cell != ""
            assert (
                not runs
                or cell.replace(",", ".").lstrip("+-").replace(".", "").isdecimal()
                or ("e" in cell.lower())
            )
