"""Build files of every earlier release mean now what they meant then."""

from pathlib import Path

import pytest

from latchcore.document.upgrades import VersionError, upgraded
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import read_build, write_build

FILES = sorted((Path(__file__).parent / "data" / "earlier").glob("*.json"))


@pytest.mark.parametrize("path", FILES, ids=lambda p: p.stem)
def test_a_build_file_of_an_earlier_release_is_read_and_worked_out(path):
    build = read_build(path.read_bytes())
    report = evaluate(build)
    assert build.schema_version == 6 and len(build.channels) == 2 and build.rails
    assert all(c.result for c in report.channels) and "E1" not in {
        f.check for f in report.all_findings
    }
    text = write_build(build)
    assert write_build(read_build(text)) == text


def test_the_first_release_called_a_pin_of_the_board_otherwise():
    assert upgraded({"schema_version": 1, "rails": [{"id": "rail1", "power_pin": "5V"}]})[
        "rails"
    ] == [{"id": "rail1", "board_pin": "5V"}]


def test_figures_an_older_program_did_not_ask_for_stand_in_and_those_it_had_stay():
    data = {"schema_version": 1, "parts": {"own": {"family": "npn", "v_ceo": "60 V"}}}
    assert upgraded(data, lambda family, key: {"v_ceo": "45 V", "t_on": "1 µs"})["parts"][
        "own"
    ] == {"family": "npn", "v_ceo": "60 V", "t_on": "1 µs"}


@pytest.mark.parametrize("version", [0, -1, 7, 10**30, "2", None, True, 1.5, [1]])
def test_a_version_that_is_none_or_newer_is_refused(version):
    with pytest.raises(VersionError) as caught:
        upgraded({"schema_version": version})
    assert len(str(caught.value)) < 300
