"""``zinc-latch`` in a terminal."""

import csv
import json
import subprocess
import sys
from pathlib import Path

import pytest

from console.main import main
from latchcore.formats.buildfile import write_build
from tests.core.benches import bench

ROOT = Path(__file__).parent.parent.parent
THEATRE, SOUND = (
    ROOT / "demo" / "hollyhock-marionettes.json",
    ROOT / "demo" / "potting-bench-valve.json",
)


def test_a_sound_build_leaves_with_nought(capsys):
    assert main(["check", str(SOUND)]) == 0
    assert "0 stop, 0 fix" in capsys.readouterr().out


def test_a_stop_leaves_with_one_and_names_channel_sum_and_remedy(capsys):
    assert main(["check", str(THEATRE)]) == 1
    out = capsys.readouterr().out
    assert "STOP C4  B Trapdoor: Nothing clamps this coil" in out and "> Add a" in out


def test_a_module_that_never_lets_go_is_told_with_its_ways(capsys):
    assert main(["check", str(ROOT / "demo" / "fernhouse-vents.json")]) == 1
    out = capsys.readouterr().out
    assert "STOP P8  A Warming mat" in out and "390 across its 1 kΩ" in out and "small NPN" in out


@pytest.mark.parametrize("content", [b"", b"{", b"\xff", b'{"format": "zinc-latch-build"}'])
def test_unusable_input_leaves_with_two_and_one_line(content, tmp_path, capsys):
    path = tmp_path / "x.json"
    path.write_bytes(content)
    assert main(["check", str(path)]) == 2
    captured = capsys.readouterr()
    assert (
        captured.out == ""
        and captured.err.startswith("zinc-latch: ")
        and captured.err.count("\n") == 1
    )


def test_a_file_that_is_not_there_leaves_with_two(capsys):
    assert main(["check", "nowhere.json"]) == 2 and "No such file" in capsys.readouterr().err


def test_the_report_as_data_holds_values_measures_rails_pins_and_wires(capsys):
    assert main(["check", str(THEATRE), "--json"]) == 1
    report = json.loads(capsys.readouterr().out)
    bell = next(c for c in report["channels"] if c["name"] == "Bell relay")
    resistor = next(v for v in bell["values"] if v["key"] == "base_resistor")
    assert (
        resistor["unit"] == "Ω"
        and resistor["value"] in resistor["window"]["admissible"]
        and resistor["corner"]
    )
    assert {"P1", "D1", "C1"} <= {m["check"] for m in bell["measures"]} and bell["working"]
    assert report["rails"][0]["all_on"] > 4 and report["pins"]
    wire = next(c for c in report["conductors"] if c["to"] == {"part": "ch3.LOAD", "terminal": "+"})
    assert wire["running_a"] == pytest.approx(1.65) and wire["area_mm2"] == 0.75
    assert (wire["joint"], wire["fuse_a"], wire["length_m"]) == (False, None, 2.5)


def test_it_reads_standard_input_and_needs_no_web_framework():
    code = (
        "import sys; sys.modules['django'] = None; from console.main import main;"
        " sys.exit(main(['check', '-']))"
    )
    done = subprocess.run(
        [sys.executable, "-c", code],
        input=write_build(bench()).encode(),
        capture_output=True,
        cwd=ROOT,
    )
    assert done.returncode == 0 and b"1 channels" in done.stdout


def test_the_wires_come_as_a_table_in_the_order_of_wiring(capsys):
    assert main(["wires", str(THEATRE)]) == 0
    table = list(csv.DictReader(capsys.readouterr().out.splitlines()))
    names = [
        "number",
        "from",
        "to",
        "area",
        "colour",
        "domain",
        "current",
        "fuse in front",
        "cable",
    ]
    assert list(table[0]) == names
    lamp = [row for row in table if row["to"].endswith("House lamp L")]
    assert lamp[0]["domain"] == "hazardous" and lamp[0]["fuse in front"] == "1.6"
    # What is dead and low comes first, the line last.
    domains = [row["domain"] for row in table]
    assert "hazardous" in domains and domains.index("hazardous") > len(domains) / 2


def test_wires_of_what_is_no_build_are_one_line_and_status_two(tmp_path, capsys):
    path = tmp_path / "x.json"
    path.write_text("{")
    assert main(["wires", str(path)]) == 2 and capsys.readouterr().out == ""


def test_a_wish_is_sized_in_a_terminal(capsys):
    assert main(["size", "relay coil 12 V 70 Ω on a 3.3 V radio board"]) == 0
    out = capsys.readouterr().out
    assert "A Relay coil: N-channel, low side." in out and "Gate resistor 1k2" in out
    assert main(["size", "12 V lamp"]) == 2
    assert "Missing: figure of the lamp, board" in capsys.readouterr().err
    assert main(["size", "banana"]) == 2 and "banana" in capsys.readouterr().err


def test_every_combination_of_a_bridge_is_printed_with_the_way_to_it(capsys):
    assert main(["states", str(THEATRE), "Curtain motor"]) == 0
    lines = capsys.readouterr().out.splitlines()
    assert lines[0].split() == ["forward", "reverse", "result", "comes", "about"]
    assert any(
        row.startswith("high         low          forward") and "forward high" in row
        for row in lines
    )
    assert any(row.split()[:3] == ["high", "floating", "forward"] for row in lines)
    assert main(["states", str(THEATRE), "ch10", "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["inputs"] == ["forward", "reverse"]
    brake = next(r for r in data["rows"] if r["inputs"] == "11")
    assert (brake["result"], brake["reachable"], brake["by"][-1]) == ("brake", True, "reverse high")
    loose = next(r for r in data["rows"] if r["inputs"] == "1z")
    assert (loose["result"], loose["reachable"], loose["by"]) == ("forward", False, [])


@pytest.mark.parametrize(
    ("called", "says"), [("ch99", "no channel of this build"), ("B", "a single line")]
)
def test_what_has_no_table_says_so_in_a_line(called, says, capsys):
    assert main(["states", str(THEATRE), called]) == 2
    err = capsys.readouterr().err
    assert says in err and err.count("\n") == 1
