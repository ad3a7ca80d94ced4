"""The simulated bench in the page: told, probed, limited, practised on; what it keeps."""

from __future__ import annotations

import re

import pytest

from tests.web.build_client import BuildClient
from workbench.actions.creating import create_empty
from workbench.actions.simulating import standing_of

pytestmark = pytest.mark.django_db


class Page(BuildClient):
    def __init__(self, client, name: str):
        super().__init__(client, "bench/", name)

    def do(self, what: str, status: int = 302, **args) -> str:
        return self.post(status, do=what, **args)

    @property
    def standing(self):
        return standing_of(self.fresh)


@pytest.fixture
def bench(client):
    return lambda name="potting-bench-valve": Page(client, name)


def display(text: str) -> str:
    return re.search(r'<output class="display"[^>]*>([^<]*)', text)[1]


def test_a_load_told_on_works_and_the_meter_reads_its_switch(bench):
    page = bench()
    text = page.do("line", line="ch2 on")
    assert "ch2 on line" in text and "lamp-4" in text and 'data-lit="works"' in text
    read = float(display(page.do("probe", mode="volts", red="A2", black="0 V")).split()[0])
    assert 0.05 < read < 0.25
    off = page.do("line", line="all off")
    assert "lamp-4" not in off
    read = float(display(page.do("probe", mode="volts", red="A2", black="0 V")).split()[0])
    assert read > 11
    # It stands so in another tab, and after a reload.
    assert display(page.get()).startswith("1")


def test_ohms_are_read_dead_only_and_points_are_asked_for_by_name(bench):
    page = bench()
    said = page.do("probe", 422, mode="ohms", red="A2", black="0 V")
    assert "Ohms only on a dead circuit" in said
    page.do("line", line="supply off")
    assert display(page.do("probe", mode="ohms", red="12 V adapter", black="0 V")) == "OL Ω"
    assert "is no point" in page.do("probe", 422, mode="volts", red="Z9", black="0 V")
    assert "no setting" in page.do("probe", 422, mode="sniff", red="A2", black="0 V")
    assert "put the red tip on a rail" in page.do("probe", 422, mode="amps", red="A2")


def test_a_limit_is_set_felt_and_refused_where_it_is_no_current(bench):
    page = bench()
    page.do("line", line="ch2 on")
    page.do("limit", rail="rail1", limit="10 mA")
    assert page.standing.limits == {"rail1": 0.01}
    assert display(page.do("probe", mode="amps", red="12 V adapter")) == "10.00 mA"
    refused = page.do("limit", 422, rail="rail1", limit="a lot")
    assert "“a lot”" in refused and 'value="a lot"' in refused
    page.do("limit", rail="rail1", limit="")
    assert page.standing.limits == {}


def test_a_shorted_supply_gives_what_it_is_rated_for_and_no_more(bench):
    page = bench()
    page.do("hide", fault="rail1:shorted")
    assert display(page.do("probe", mode="amps", red="12 V adapter")) == "1.50 A"


def test_a_hidden_fault_is_sought_scored_and_explained(bench):
    page = bench()
    page.do("hide", fault="ch2.R1:open-or-not-joined")
    page.do("line", line="ch2 on")
    page.do("channel", channel="ch2")
    text = page.do("look")
    assert 'effort <b class="m">1</b>' in text and "R1 open" in text
    text = page.do("probe", mode="volts", red="A3", black="0 V")
    assert 'effort <b class="m">3</b>' in text
    text = page.do("guess", guess="ch2.R1:open-or-not-joined")
    assert "<b>Found</b> with 2 readings" in text and "R1 open or not joined" in text
    assert "Reading what tells most for its effort would have taken" in text
    assert "told" in text and "bit" in text
    again = page.do("guess", 422, guess="ch2.R1:open-or-not-joined")
    assert "No fault is hidden" in again


def test_a_wrong_guess_says_what_it_was(bench):
    page = bench()
    page.do("hide", fault="ch2.Q1:shorted")
    assert "Choose what it is" in page.do("guess", 422, guess="")
    text = page.do("guess", guess="ch2.R1:open-or-not-joined")
    assert "Not so. You said" in text and "Q1 shorted" in text
    page.do("hide")
    assert page.standing.practising and page.standing.taken == []
    assert page.do("show").count("It was:") == 1
    page.do("sound")
    assert not page.standing.fault


def test_nonsense_is_told_and_changes_nothing(bench):
    page = bench()
    assert "nothing that can be done" in page.do("dance", 422)
    assert "no channel" in page.do("channel", 422, channel="ch99")
    assert "no fault called" in page.do("hide", 422, fault="ch9.R9:open")
    assert "Nothing was typed" in page.do("line", 422, line="  ")
    text = page.do("line", line="<b>make tea")
    assert "is not understood" in text and "<b>make tea" in text
    assert page.standing.states == {"ch2": "off", "ch3": "off"}


def test_the_walk_goes_on_from_press_to_press_and_time_goes_on_with_it(bench):
    page = bench()
    assert "walk: next ch2 (Mist relay)" in page.do("line", line="walk")
    text = page.do("line", line="go")
    assert "Mist relay: works" in text and "walk: next ch3 (Ready light)" in text
    text = page.do("line", line="stop")
    assert "walk: stopped, all off" in text
    times = [float(t) for t in re.findall(r"(\d+\.\d{3}) ch2", text)]
    assert times == sorted(times) and times[-1] > 0


def test_the_board_runs_its_rules_between_the_presses_of_two_tabs(bench):
    page = bench("seedling-bench")
    assert "Program reads" in page.get()
    page.do("input", sense="in3", reads="on")
    page.do("line", line="wait 50 s")
    text = page.do("input", sense="in3", reads="off")
    assert "ch5 on while" not in text
    text = page.do("line", line="wait 25 s")
    assert "ch5 on while" in text and page.standing.states["ch5"] == "on"
    # The sensor sees that something flows, and the limit ends it.
    assert "acted on" in re.search(r"Mat draws current</td>.*?</tr>", text, re.S)[0][-40:]
    assert "ch5 off longest_on" in page.do("line", line="wait 30 s")
    assert page.standing.states["ch5"] == "off"


def test_a_level_is_set_and_nonsense_is_kept(bench):
    page = bench("hollyhock-marionettes")
    text = page.do("input", sense="in15", reads="41.5")
    assert "41.5" in re.search(r"House dimmer</td>.*?</tr>", text, re.S)[0]
    refused = page.do("input", 422, sense="in15", reads="bright")
    assert "“bright” is no level" in refused and 'value="bright"' in refused
    assert "is no state" in page.do("input", 422, sense="in16", reads="bright")
    assert "no input “in99”" in page.do("input", 422, sense="in99", reads="on")
    text = page.do("input", sense="in15", reads="none")
    assert "no reading" in re.search(r"House dimmer</td>.*?</tr>", text, re.S)[0]


def test_a_board_that_was_told_too_much_is_reset(bench, monkeypatch):
    monkeypatch.setattr("latchcore.bench.controller.MOST_WORDS", 3)
    page = bench()
    page.do("line", line="ch2 on")
    assert page.standing.states["ch2"] == "on"
    page.do("line", line="?")
    text = page.do("line", line="?")
    assert "The board was reset" in text and page.standing.states["ch2"] == "off"


def test_a_board_that_ran_for_a_day_is_reset(bench):
    page = bench()
    page.do("line", line="wait 23 h")
    assert "The board was reset" not in page.do("line", line="wait 59 min")
    page.do("line", line="wait 1 h")
    assert "The board was reset" in page.do("line", line="?")
    assert page.standing.kept["time"] < 1


def test_an_older_state_of_the_bench_is_let_go_where_the_design_moved_on(bench):
    page = bench()
    page.do("line", line="ch2 on")
    page.build.bench.state = {"states": {"ch77": "on", "ch2": "sideways"}, "red": "Q7", "what": 1}
    page.build.bench.save()
    assert page.client.get(page.address).status_code == 200


def test_what_the_line_feeds_is_never_a_point(bench):
    text = bench("seedling-bench").get()
    tips = re.search(r'id="tip-red">(.*?)</select>', text, re.S)[1]
    assert "A1" in tips and "garden room" not in tips


def test_an_empty_build_says_what_comes_first(client):
    build = create_empty("Empty")
    text = client.get(f"/builds/{build.pk}/bench/").content.decode()
    assert "Nothing on it yet" in text
