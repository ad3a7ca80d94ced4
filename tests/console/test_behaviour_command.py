"""``zinc-latch rehearse`` and ``explore`` in a terminal."""

import json
from pathlib import Path

import pytest

from console.main import main
from latchcore.formats.buildfile import write_build
from tests.behaviour.worklight import work_light

ROOT = Path(__file__).parent.parent.parent
FIRST_TRY, VENTS = (
    ROOT / "demo" / "fernhouse-first-try.json",
    ROOT / "demo" / "fernhouse-vents.json",
)


@pytest.fixture
def light(tmp_path):
    path = tmp_path / "light.json"
    path.write_text(write_build(work_light()), encoding="utf-8")
    return path


def test_a_rehearsal_prints_what_went_on_and_why(light, tmp_path, capsys):
    inputs = tmp_path / "a.csv"
    inputs.write_text("t,North\n0,0\n1,1\n2,0\n")
    dump = tmp_path / "out.vcd"
    main(["rehearse", str(light), "--inputs", str(inputs), "--seconds", "9", "--vcd", str(dump)])
    out = capsys.readouterr().out
    assert "1.020 s  Lamp: on (while)" in out and "5.020 s  Lamp: off (ended)" in out
    assert "$timescale" in dump.read_text()


def test_a_rehearsal_as_json_has_its_names(light, tmp_path, capsys):
    inputs = tmp_path / "a.csv"
    inputs.write_text("t,North\n0,0\n1,1\n2,0\n")
    assert main(["rehearse", str(light), "--inputs", str(inputs), "--json"]) == 1
    data = json.loads(capsys.readouterr().out)
    assert data["step_s"] == 0.01 and data["alarms"] == []
    assert [(c["t"], c["channel"], c["value"], c["reason"]) for c in data["changes"]] == [
        (1.02, "ch2", 1, "while"),
        (5.02, "ch2", 0, "ended"),
    ]
    # The cold lamp is more than its rail gives, and the exit status says so.
    assert data["rails"][0]["breaches"]


def test_the_same_inputs_give_the_same_rehearsal(light, capsys):
    runs = []
    for _ in range(2):
        main(["rehearse", str(light), "--seconds", "5", "--json"])
        runs.append(capsys.readouterr().out)
    assert runs[0] == runs[1]


def test_an_exploration_finds_both_faults_of_the_first_try_and_none_of_the_other(capsys):
    assert main(["explore", str(FIRST_TRY), "--json", "--seconds", "60"]) == 1
    data = json.loads(capsys.readouterr().out)
    assert data["finished"] and {f["id"] for f in data["found"]} == {"T6", "T8"}
    assert all(f["what"] and f["trace"] is not None for f in data["found"])
    assert main(["explore", str(VENTS), "--seconds", "60"]) == 0
    assert "all there are" in capsys.readouterr().out


@pytest.mark.parametrize(
    "more", [["--seconds", "0"], ["--seconds", "1e9"], ["--inputs", "nowhere.csv"]]
)
def test_what_cannot_be_run_leaves_with_two_and_one_line(light, more, capsys):
    assert main(["rehearse", str(light), *more]) == 2
    err = capsys.readouterr().err
    assert err.startswith("zinc-latch:") and err.count("\n") == 1
