"""An unlabelled module, its ways and a contact, as a newcomer and the keyboard meet them."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.looks import barriers

PAGES = ["channels/ch3/", "channels/ch4/", "channels/ch5/"]


@pytest.mark.parametrize("lies", ["module-5v-low-plain", "module-5v-high"])
def test_a_newcomer_finds_the_active_level_of_an_unlabelled_module(page, live_server, lies):
    page.goto(live_server.url)
    page.get_by_role("link", name="Parts drawer").click()
    page.get_by_role("link", name=re.compile("[Tt]est a")).click()
    page.get_by_label("On the bench lies").select_option(value=lies)
    page.get_by_role("button", name="Put it on the bench").click()
    for step in range(8):
        page.get_by_role("button", name=re.compile("Do it on the simulated module")).nth(
            step
        ).click()
    level = "low" if page.get_by_label("At 0 V the relay").input_value() == "clicks" else "high"
    assert page.get_by_label("At its supply the relay").input_value() == (
        "nothing" if level == "low" else "clicks"
    )
    expect(page.get_by_text(f"It is active {level}")).to_be_visible()
    expect(page.get_by_text("Still open")).to_have_count(0)
    page.get_by_label("What it is called").fill("module from the biscuit tin")
    page.get_by_role("button", name="Keep it with its readings").click()
    expect(page.get_by_text("module from the biscuit tin").first).to_be_visible()


def test_a_way_is_used_and_the_module_lets_go(page, fernhouse):
    page.goto(fernhouse + "channels/ch3/")
    expect(page.get_by_text("The logic level cannot turn this off")).to_be_visible()
    page.get_by_role("row", name=re.compile("A small NPN")).get_by_role("button").click()
    expect(page.get_by_text("The logic level cannot turn this off")).to_have_count(0)
    expect(page.get_by_role("row", name=re.compile("A small NPN"))).to_contain_text("in the design")
    expect(page.get_by_text("Commanded off: load off")).to_be_visible()
    page.get_by_role("button", name=re.compile("undo")).click()
    expect(page.get_by_text("Commanded off: load on")).to_be_visible()


@pytest.mark.parametrize("width", [390, 1280])
def test_nothing_runs_off_the_side(page, fernhouse, live_server, width):
    page.set_viewport_size({"width": width, "height": 844})
    for address in [live_server.url + "/drawer/intake/", *(fernhouse + view for view in PAGES)]:
        page.goto(address)
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), address


@pytest.mark.parametrize("look", ["light", "dark"])
def test_no_serious_barrier(page, fernhouse, live_server, look):
    page.emulate_media(color_scheme=look)
    for address in [live_server.url + "/drawer/intake/", *(fernhouse + view for view in PAGES)]:
        page.goto(address)
        page.evaluate("document.querySelectorAll('details').forEach(d => { d.open = true })")
        assert barriers(page, look) == []
