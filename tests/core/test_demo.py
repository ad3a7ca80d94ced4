"""The builds that ship as examples: what each is there to show, and nothing else."""

from pathlib import Path

import pytest

from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import read_build

DEMO = Path(__file__).parent.parent.parent / "demo"


def demo(name: str):
    build = read_build((DEMO / f"{name}.json").read_bytes())
    return build, evaluate(build)


def test_the_sound_build_has_no_finding_of_any_kind_and_nothing_open():
    _, report = demo("potting-bench-valve")
    assert report.all_findings == [] and report.open_count == 0 and report.sound


def test_the_theatre_has_eight_channels_and_three_rails_and_the_mistakes_it_is_known_for():
    build, report = demo("hollyhock-marionettes")
    assert len(build.channels) >= 8 and len(build.rails) >= 3 and build.inputs
    assert build.vehicles and all("." in c.pin for c in build.channels[-2:])
    assert {(f.check, f.severity) for f in report.all_findings} == {
        ("C4", "stop"),
        ("D1", "stop"),
        ("P5", "stop"),
        ("S1", "fix"),
        ("P14", "check"),
    }


def test_the_chime_has_twelve_strikers_and_only_the_great_bell_lacks_its_limit():
    build, report = demo("stairwell-chime")
    assert sum(c.load.kind == "solenoid" for c in build.channels) == 12
    assert len(report.chains[0].channels) == 12
    assert [(f.check, report.where(f)) for f in report.all_findings] == [("C8", "L Great bell")]


def test_a_chime_without_a_limit_shows_what_a_chain_does_when_nobody_holds_it():
    build, report = demo("landing-chime")
    found = {(f.check, f.severity) for f in report.all_findings}
    assert found == {("M6", "stop"), ("M7", "fix"), ("C8", "fix")}
    assert all(line.startswith("chain3.") for c in build.channels for line in c.pins)


def test_the_tide_board_turns_sixty_discs_and_is_sound():
    build, report = demo("boat-shed-tides")
    assert report.channels[0].result.panel.rows * report.channels[0].result.panel.columns == 60
    assert report.all_findings == [] and report.sound


@pytest.mark.parametrize(
    "name",
    [
        "hollyhock-marionettes",
        "potting-bench-valve",
        "fernhouse-vents",
        "stairwell-chime",
        "landing-chime",
        "boat-shed-tides",
        "seedling-bench",
    ],
)
def test_every_example_is_evaluated_the_same_twice_and_leaves_nothing_unconnected(name):
    build, report = demo(name)
    assert evaluate(build) is report
    alone = [
        n
        for n in report.netlist.nodes()
        if len(report.netlist.at(n)) < 2
        and n.split(".")[-1] not in ("NO", "NC", "COM", "OPEN", "METAL")
    ]
    assert not [n for n in alone if not n.startswith(("BOARD", "board"))], alone
