"""The program page and lines over time for a newcomer: from nothing, by keyboard, small."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.browser.test_behaviour import add_input, press, say_more, wished


@pytest.fixture
def build(page, live_server):
    found = wished(page, live_server, "lamp 12 V 5 W on a radio board")
    add_input(page, found, "button", "Door")
    page.goto(found + "behaviour/")
    fold = say_more(page, "Lamp")
    fold.get_by_label("While", exact=True).first.select_option(label="Door is acted on")
    press(page, "Begin with it", fold)
    expect(page.locator(".sentence").first).to_contain_text("Door is acted on")
    return found


def test_a_program_is_taken_out_and_goes_stale_when_a_rule_changes(page, build):
    page.get_by_role("link", name="Its program").click()
    expect(page.locator("h1")).to_have_text("Program")
    expect(page.get_by_text("Not yet.")).to_be_visible()
    with page.expect_download() as taken:
        page.get_by_role("button", name=re.compile("Take it out")).press("Enter")
    text = Path(taken.value.path()).read_text(encoding="utf-8")
    assert "# This build -" in text and " = While(c1, 100)" in text
    page.reload()
    expect(page.locator("#taken-out ~ ul")).to_contain_text("current: MicroPython of revision")
    page.goto(build + "behaviour/")
    page.locator(".said summary", has_text="Change").first.click()
    page.locator(".said").first.get_by_role("button", name=re.compile("Remove")).first.click()
    # Its undo stands there once it is done.
    expect(page.locator(".sentence")).to_have_count(0)
    page.goto(build + "program/")
    expect(page.locator(".stale")).to_contain_text("the design has moved on")
    page.go_back()
    expect(page.locator("h1")).to_have_text("Behaviour")


def test_on_a_phone_nothing_is_wider_than_the_phone(page, build):
    page.set_viewport_size({"width": 390, "height": 844})
    for address in ("program/", "behaviour/traces/", "sheet/"):
        page.goto(build + address)
        assert page.evaluate("document.documentElement.scrollWidth") <= 390, address


def test_a_capture_without_a_file_keeps_what_was_typed(page, build):
    page.goto(build + "behaviour/traces/")
    page.fill("#begins", "1.5")
    page.fill("#trace-script", "1 Door on")
    page.get_by_role("button", name="Hold it against the plan").click()
    expect(page.get_by_role("alert")).to_contain_text("No file was sent")
    expect(page.locator("#begins")).to_have_value("1.5")
    expect(page.locator("#trace-script")).to_have_value("1 Door on")


def test_every_drawing_is_saved_with_its_look(page, build):
    page.goto(build)
    page.get_by_role("link", name=re.compile("Lamp")).first.click()
    with page.expect_download() as saved:
        page.get_by_role("button", name=re.compile("Save as SVG: Schematic")).first.press("Enter")
    text = Path(saved.value.path()).read_text(encoding="utf-8")
    assert saved.value.suggested_filename.endswith(".svg") and text.startswith("<?xml")
    assert "var(--" not in text and "stroke" in text and 'width="' in text.split(">")[1]
