"""From a wish to a drawn stage: three inputs, the keyboard alone, and no barrier on the way."""

import pytest
from playwright.sync_api import expect

from tests.browser.hands import tap
from tests.browser.looks import barriers

WISHES = {
    "relay coil 12 V 70 Ω on a 3.3 V radio board": "N-channel, low side",
    "12 V solenoid 0.5 A on a radio board": "N-channel, low side",
    "12 V lamp 5 W, 5 V board": "N-channel, low side",
    "12 V LED strip 1,5 A dimmed, stick": "N-channel, low side",
    "12 V motor 500 mA on a radio board": "N-channel, low side",
    "24 V valve 300 mA on an 8-bit board": "N-channel, low side",
    "230 V lamp 60 W, eight-relay module, 5 V board": "Relay module",
    "contactor for a 230 V heater 2 kW on a 5 V board": "Contactor",
    "remote button 3.3 V 1 mA on a single-board computer": "Coupler alone",
    "dimmed lamp 230 V 60 W on a radio board": "Triac, fired by a coupler",
    "5 V fan 200 mA on a compact board": "N-channel, low side",
}


@pytest.mark.parametrize("wish", WISHES)
def test_a_wish_is_a_drawn_stage_in_three_inputs(page, live_server, wish):
    page.goto(live_server.url)
    page.fill("#wish", wish)  # one
    tap(page, "Enter")  # two
    page.locator(".lane a.cover").first.click()  # three
    expect(page.locator("figure svg, .drawing").first).to_be_visible()
    expect(page.locator("main")).to_contain_text(WISHES[wish])


#: Kind, volts, figure, board, then what is chosen besides, and the stage it opens on.
BY_FORM = [
    ("relay_coil", "12 V", "70 Ω", "radio", {}, "N-channel, low side"),
    ("solenoid", "12 V", "0.5 A", "radio", {}, "N-channel, low side"),
    ("filament_lamp", "12 V", "5 W", "8-bit", {}, "N-channel, low side"),
    ("led_strip", "12 V", "1,5 A", "stick", {"dims": True}, "N-channel, low side"),
    ("dc_motor", "12 V", "500 mA", "radio", {}, "N-channel, low side"),
    ("pump", "24 V", "300 mA", "8-bit", {}, "N-channel, low side"),
    ("led_lamp", "230 V", "9 W", "8-bit", {"current": "ac", "stage": "relay_module"}, "module"),
    ("heater", "230 V", "2 kW", "8-bit", {"current": "ac", "stage": "contactor"}, "Contactor"),
    ("button_pair", "3.3 V", "1 mA", "single-board", {}, "Coupler alone"),
    ("filament_lamp", "230 V", "60 W", "radio", {"current": "ac", "dims": True}, "Triac"),
    ("buzzer_active", "5 V", "25 mA", "compact", {}, "P-channel, high side"),
]


@pytest.mark.parametrize("kind, volts, figure, board, more, stage", BY_FORM)
def test_by_form_it_is_a_drawn_stage_in_nine_inputs(
    page, live_server, kind, volts, figure, board, more, stage
):
    page.goto(live_server.url)
    page.get_by_role("link", name="or in fields").click()
    label = page.locator("#first-board option", has_text=board).first.text_content().strip()
    page.select_option("#first-board", label=label)
    page.select_option("#first-kind", kind)
    page.fill("#first-voltage", volts)
    page.fill("#first-figure", figure)
    inputs = 5
    for name, value in more.items():
        inputs += 1
        if value is True:
            page.check(f"[name={name}]")
        else:
            page.select_option(f"#first-{name}", value)
    page.get_by_role("button", name="Open the build").click()
    page.locator(".lane a.cover").first.click()
    expect(page.locator("figure svg, .drawing").first).to_be_visible()
    expect(page.locator("main")).to_contain_text(stage)
    assert inputs + 2 <= 9


def test_what_is_missing_is_answered_by_the_keyboard_alone(page, live_server):
    page.goto(live_server.url)
    presses = 0

    def press(key):
        nonlocal presses
        presses += 1
        tap(page, key)

    while page.evaluate("document.activeElement.id") != "wish" and presses < 12:
        press("Tab")
    page.keyboard.type("twelve-volt solenoid, radio board")
    press("Enter")
    expect(page.locator("#figure-0")).to_be_focused()
    page.keyboard.type("0,5 A")
    press("Enter")
    expect(page.locator("h1")).to_have_text("Line-up")
    expect(page.locator(".lane .nm")).to_contain_text("Solenoid")
    assert presses <= 15


@pytest.mark.parametrize("look", ["light", "dark"])
@pytest.mark.parametrize("width", [390, 1280])
def test_no_barrier_and_nothing_off_the_side_where_a_wish_is_asked_back(
    page, live_server, look, width
):
    page.emulate_media(color_scheme=look)
    page.set_viewport_size({"width": width, "height": 800})
    page.goto(live_server.url)
    page.fill("#wish", "solenoid, a flux capacitor")
    tap(page, "Enter")
    expect(page.locator("h1")).to_have_text("What shall it switch?")
    assert barriers(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
