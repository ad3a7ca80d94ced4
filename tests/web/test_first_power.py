"""First power: the plan on a page, one step a screen, what was typed and what it means."""

from __future__ import annotations

import html
from pathlib import Path

import pytest

from workbench.actions.creating import create_from_file

pytestmark = pytest.mark.django_db
DEMO = Path(__file__).parents[2] / "demo"


@pytest.fixture
def shown(client):
    def get(name: str, **asked) -> str:
        build = create_from_file((DEMO / f"{name}.json").read_bytes())
        answer = client.get(f"/builds/{build.pk}/first-power/", asked)
        assert answer.status_code == 200
        return html.unescape(answer.content.decode())

    return get


def test_every_step_stands_on_the_page_by_its_stage(shown):
    text = shown("potting-bench-valve")
    for words in ("0. Dead and unplugged", "5. Low voltage with a current limit", "under 101 mV"):
        assert words in text
    assert "8. Mains" not in text and "Nothing after stage 0" not in text


def test_a_step_is_judged_and_says_what_a_miss_means(shown):
    good = shown("potting-bench-valve", step="s5-A2-on", reading="0.12")
    assert "As expected." in good and 'value="0.12"' in good
    bad = shown("potting-bench-valve", step="s5-A2-on", reading="11.9")
    assert "Too high." in bad and "R1 open or not joined" in bad
    assert "Between" in bad and "meter at direct volts" in bad
    # Only what puts it on that side is named, beside the drawing with its numbered points.
    assert "Q1 shorted" not in bad and 'aria-label="Schematic of Mist relay' in bad


def test_nonsense_is_kept_and_told(shown):
    text = shown("potting-bench-valve", step="s5-A2-on", reading="about right")
    assert "“about right” is no reading" in text and 'value="about right"' in text


def test_a_look_is_answered_by_a_press(shown):
    text = shown("potting-bench-valve", step="s0-A-legs")
    assert "As said" in text and "Not so" in text
    assert "Not as said." in shown("potting-bench-valve", step="s0-A-legs", reading="no")


def test_while_a_stop_stands_only_the_dead_board_is_looked_at(shown):
    assert "Not yet: C4 Trapdoor" in shown("hollyhock-marionettes", step="s1-rail1", reading="12")
    assert "Expected" in shown("hollyhock-marionettes", step="s0-rail1-short")


def test_a_step_that_is_gone_is_said(shown):
    assert "no longer in the plan" in shown("potting-bench-valve", step="s5-Z9-on")


@pytest.fixture
def fault(client):
    build = create_from_file((DEMO / "potting-bench-valve.json").read_bytes())

    def get(channel: str = "ch2", **asked) -> str:
        answer = client.get(f"/builds/{build.pk}/channels/{channel}/fault/", asked)
        assert answer.status_code == 200
        return html.unescape(answer.content.decode())

    return get


def test_a_step_that_missed_leads_to_the_search_with_what_was_read(shown):
    text = shown("potting-bench-valve", step="s5-A2-on", reading="11.9")
    assert "channels/ch2/fault/?on-2=11.9" in text


def test_causes_are_ranked_and_the_next_reading_is_marked(fault):
    text = fault(**{"load-on": "dead", "on-2": "12.0", "on-3": "0", "on-1": "4.9"})
    first = text.partition("How likely")[2].partition("<td>")[2].partition("</td>")[0]
    assert first == "R1 open or not joined"
    assert "read this next" in fault(**{"load-on": "dead"}) and "There would" in fault()


def test_nonsense_in_a_reading_is_kept_and_counts_for_nothing(fault):
    text = fault(**{"on-2": "warm", "load-on": "purple"})
    assert "“warm” is no reading" in text and 'value="warm"' in text


def test_what_has_no_law_is_said(client):
    build = create_from_file((DEMO / "hollyhock-marionettes.json").read_bytes())
    answer = client.get(f"/builds/{build.pk}/channels/ch18/fault/").content.decode()
    assert "triac driver has no law" in answer
    assert client.get(f"/builds/{build.pk}/channels/ch99/fault/").status_code == 404
