"""The waveforms of a channel on a page: everything in the address, refused where it is none."""

from __future__ import annotations

import html
from pathlib import Path

import pytest

from workbench.actions.creating import create_from_file

pytestmark = pytest.mark.django_db
DEMO = Path(__file__).parents[2] / "demo"


@pytest.fixture
def waves(client):
    build = create_from_file((DEMO / "hollyhock-marionettes.json").read_bytes())

    def get(channel: str = "ch4", status: int = 200, **asked) -> str:
        answer = client.get(f"/builds/{build.pk}/channels/{channel}/waves/", asked)
        assert answer.status_code == status
        return html.unescape(answer.content.decode())

    return get


def test_clamps_lie_side_by_side_with_what_the_switch_bears(waves):
    text = waves(clamp=["none", "diode", "diode_zener"], one="2 ms", two="8 ms")
    assert text.count('class="ink curve"') == 9 and "what the switch bears, V_DS: 60 V" in text
    assert "Between" in text and "bears it itself" in text


def test_a_remedy_is_laid_over_what_there_is(waves):
    text = waves(remedy="0")
    assert "before: no clamp" in text and "after “Add a rectifier diode" in text
    assert text.count('class="ink curve"') == 6


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        (dict(clamp="magic"), "“magic” is no clamp"),
        (dict(switching="sideways"), "is no way of switching"),
        (dict(one="soon"), "“soon”"),
        (dict(switching="pulsed"), "it is not pulsed"),
    ],
)
def test_what_is_none_is_told_and_kept(waves, asked, says):
    text = waves(**asked)
    assert says in text
    assert "one" not in asked or 'value="soon"' in text


def test_what_has_no_curves_says_why(waves):
    assert "it has several lines" in waves("ch10")
    waves("ch99", status=404)


def test_the_curves_leave_as_a_table(waves):
    lines = waves(clamp="diode", **{"as": "csv"}).splitlines()
    assert lines[0].startswith('"time of the first, s","Pin, V') and len(lines) == 901
    waves("ch10", status=404, **{"as": "csv"})
