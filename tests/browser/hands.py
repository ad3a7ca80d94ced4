"""What a hand does on any page: wish for a build, add an input, press a button and wait for it."""

import re

from playwright.sync_api import expect

#: True as long as a form's answer is asked for or being put in its place.
_UNDER_WAY = ".htmx-request, .htmx-swapping, .htmx-settling, .htmx-added"


def settled(page):
    """Wait until the page has loaded and nothing it asked for is under way."""
    page.wait_for_load_state()
    page.wait_for_function("marks => !document.querySelector(marks)", arg=_UNDER_WAY)


def tap(page, name):
    """A key, once the page it is for has its scripts: one pressed before that is nobody's."""
    settled(page)
    page.keyboard.press(name)


def press(page, name, within=None):
    """Press the first button whose name matches, and wait for what comes of it."""
    (within or page).get_by_role("button", name=re.compile(name)).first.click()
    settled(page)


def wished(page, live_server, wish):
    """A build by a wish, and its address."""
    page.goto(live_server.url)
    page.fill("#wish", wish)
    page.keyboard.press("Enter")
    expect(page.locator("h1")).to_have_text("Line-up")
    return page.url


def add_input(page, build, kind, name):
    """An input of that kind, by the form of the inputs' page."""
    page.goto(build + "inputs/")
    page.select_option("#f-add_input-kind-", kind)
    page.fill("#f-add_input-name-", name)
    page.locator("form.add button.act").click()
    expect(page.locator("h2", has_text=name)).to_be_visible()
