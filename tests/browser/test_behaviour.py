"""Behaviour from the empty bench: a work light, a roof hatch; by hand, by keyboard, on a phone."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.hands import add_input, press, tap, wished
from tests.browser.looks import barriers


def say_more(page, name):
    fold = page.locator("details", has=page.get_by_text(f"Say more of {name}"))
    if fold.get_attribute("open") is None:
        page.get_by_text(f"Say more of {name}").click()
    return fold


def test_a_work_light_follows_either_of_two_switches_for_three_seconds_more(page, live_server):
    build = wished(page, live_server, "lamp 12 V 5 W on a radio board")
    add_input(page, build, "button", "Door")
    add_input(page, build, "button", "Bench")
    page.goto(build)
    tap(page, "8")
    expect(page.locator("h1")).to_have_text("Behaviour")
    expect(page.get_by_text("Nothing is said yet")).to_be_visible()
    fold = say_more(page, "Lamp")
    looks = fold.get_by_label("While", exact=True).first
    looks.select_option(label="Door is acted on")
    press(page, "Begin with it", fold)
    expect(page.locator(".sentence").first).to_contain_text("Door is acted on and for 3 s after")
    page.locator(".said summary", has_text="Change").first.click()
    rule = page.locator(".said").first
    rule.get_by_label("Join").select_option(label="or also")
    rule.get_by_label("What", exact=True).select_option(label="Bench is acted on")
    press(page, "Join it", rule)
    expect(page.locator(".sentence").first).to_contain_text("or Bench is acted on")
    # Both shall last: the timer moves from the part to the whole, nonsense is kept and told.
    figures = page.locator(".said").first.locator(".looks.deep0")
    figures.get_by_label("Lasts").fill("three")
    press(page, "^Apply", figures)
    refused = page.locator(".said").first.locator(".looks.deep0").get_by_label("Lasts")
    expect(refused).to_have_value("three")
    expect(refused).to_have_attribute("aria-invalid", "true")
    refused.fill("3 s")
    press(page, "^Apply", page.locator(".said").first.locator(".looks.deep0"))
    expect(page.locator(".sentence").first).to_contain_text("is acted on) and for 3 s after")
    part = page.locator(".said").first.locator(".looks.deep1").first
    part.get_by_label("Lasts").fill("")
    press(page, "^Apply", part)
    expect(page.locator(".sentence").first).to_have_text(
        "On while (Door is acted on or Bench is acted on) and for 3 s after."
    )
    page.get_by_role("link", name="Rehearse it").click()
    page.fill("#script", "1 Door on\n2 Bench on\n3 Door off\n4 Bench off")
    page.fill("#seconds", "10 s")
    press(page, "Run it")
    rows = page.locator("#happened tbody tr")
    expect(rows).to_have_count(2)
    expect(rows.nth(0)).to_contain_text("1.02 s")
    expect(rows.nth(1)).to_contain_text("7.02 s")
    # A power cut at the cursor, and back with the browser's own button.
    page.locator("#cursor").fill("5")
    press(page, "Power fails")
    expect(page.locator("#script")).to_have_value(re.compile(r"5 power off$"))
    page.go_back()
    expect(page.locator("#script")).not_to_have_value(re.compile("power off"))


def test_a_roof_hatch_with_two_end_switches_and_four_states(page, live_server):
    build = wished(page, live_server, "relay coil 12 V 70 Ω on a radio board")
    for name in ("Open it", "Close it", "Is open", "Is closed"):
        add_input(page, build, "micro_switch", name)
    page.goto(build + "behaviour/")
    fold = say_more(page, "Relay coil")
    fold.get_by_label("Its sense input is").select_option(label="open; another says closed")
    fold.get_by_label("Sense input", exact=True).select_option(label="Is open")
    fold.get_by_label("Other end").select_option(label="Is closed")
    fold.get_by_label("May take").fill("4 s")
    fold.locator("form", has=page.get_by_text("What holds")).get_by_role(
        "button", name="Apply"
    ).click()
    says = page.get_by_text("Is open says that it is open, Is closed that it is closed")
    expect(says).to_be_visible()
    for name, end in (("Open it", "open"), ("Close it", "closed")):
        fold = say_more(page, "Relay coil")
        fold.get_by_label("It is", exact=True).select_option(
            label="on for a time, when something happens"
        )
        fold.get_by_label("When", exact=True).select_option(label=f"{name} is pressed")
        press(page, "Add this rule", fold)
        rule = page.locator(".said", has_text=f"when {name} is pressed")
        rule.locator("summary", has_text="Change").click()
        rule.get_by_label("For", exact=True).fill("200 ms")
        rule.get_by_label("Brings it to").select_option(end)
        rule.locator("form", has=page.get_by_label("Brings it to")).get_by_role(
            "button", name="Apply"
        ).click()
        expect(page.get_by_text(f"to bring it to {end}")).to_be_visible()
    page.get_by_role("link", name="Rehearse it").click()
    page.fill(
        "#script",
        "0 Is closed on\n1 Open it on\n1.2 Open it off\n1.4 Is closed off\n4 Is open on\n"
        "6 Close it on\n6.2 Close it off\n6.4 Is open off\n7 Open it on\n7.2 Open it off\n"
        "9 Is closed on",
    )
    page.fill("#seconds", "12 s")
    press(page, "Run it")
    expect(page.locator("#happened")).to_contain_text("alarm: state unknown")
    expect(page.locator("#happened tbody tr", has_text="pulse")).to_have_count(2)


@pytest.mark.parametrize("look", ["light", "dark"])
@pytest.mark.parametrize("width", [390, 1280])
@pytest.mark.parametrize("where", ["behaviour/", "behaviour/rehearsal/", "behaviour/explorer/"])
def test_its_pages_fit_and_have_no_barrier(page, fernhouse, where, width, look):
    page.emulate_media(color_scheme=look)
    page.set_viewport_size({"width": width, "height": 800})
    page.goto(fernhouse + where)
    page.evaluate("document.querySelectorAll('details').forEach(d => { d.open = true })")
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    assert barriers(page, look) == []


def test_a_scene_fits_a_phone_with_every_fold_open(page, theatre):
    page.set_viewport_size({"width": 390, "height": 800})
    page.goto(theatre + "behaviour/")
    page.evaluate("document.querySelectorAll('details').forEach(d => { d.open = true })")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    assert barriers(page) == []


def test_the_cursor_is_stepped_and_goes_to_the_next_breach(page, theatre):
    page.goto(
        theatre
        + "behaviour/rehearsal/?seconds=40+s&script=0.5+Prompt+button+on%0A0.7+Prompt+button+off"
    )
    press(page, "Step on")
    expect(page.locator("#cursor-time")).to_have_text("0.010 s")
    press(page, "Next breach")
    expect(page.locator("#cursor-time")).not_to_have_text("0.010 s")
    expect(page.locator("#now li").first).to_be_visible()


def test_a_reading_is_drawn_by_hand_in_its_lane(page, theatre):
    page.goto(theatre + "behaviour/rehearsal/?seconds=40+s")
    lane = page.locator('.hit[data-sense="House dimmer"]')
    box = lane.bounding_box()
    page.mouse.click(box["x"] + box["width"] / 4, box["y"] + 3)
    expect(page.locator("#script")).to_have_value(re.compile(r"^(9\.9|10)\S* House dimmer [789]"))
    expect(page.locator("#happened")).to_contain_text("House lamp")
