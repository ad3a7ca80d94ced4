"""Motion from the empty bench: a wagon on two motors, a wall of pulse coils, relays on a chain."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.hands import press, wished
from tests.browser.looks import barriers


def test_a_stage_wagon_stops_when_nobody_tells_it_anything(page, live_server):
    build = wished(page, live_server, "stage wagon on two motors 12 V 300 mA, radio board")
    expect(page.get_by_text("What stops Vehicle when no command comes?")).to_be_visible()
    press(page, "Both motors stop 500 ms after")
    expect(page.get_by_text("What stops Vehicle when no command comes?")).to_have_count(0)
    page.goto(build + "stages/")
    page.get_by_role("link", name="Two motors that move one thing").click()
    page.get_by_text("Change this vehicle").click()
    page.get_by_label("Largest drive").first.fill("130 %")
    press(page, "^Apply")
    refused = page.get_by_label("Largest drive").first
    expect(refused).to_have_value("130 %")
    expect(refused).to_have_attribute("aria-invalid", "true")
    refused.fill("60 %")
    press(page, "^Apply")
    expect(page.get_by_role("row", name=re.compile("100 % 0 %"))).to_contain_text("60 %")


def test_two_motors_added_by_hand_become_a_vehicle_by_one_press(page, live_server):
    build = wished(page, live_server, "two 12 V motors both ways 300 mA on a radio board")
    page.goto(build + "vehicles/")
    press(page, "^Add$")
    expect(page.get_by_text("Stops after nobody knows how long")).to_be_visible()
    page.go_back()
    page.go_forward()
    expect(page.get_by_role("heading", name=re.compile("Vehicle left A Motor"))).to_be_visible()


def test_a_wall_of_shutters_is_one_panel_on_registers(page, live_server):
    build = wished(page, live_server, "wall of 6 x 10 pulse coils 12 V 24 Ω on a 5 V board")
    expect(page.locator("main")).to_contain_text("Row and column drivers")
    press(page, "Hang 32 lines on 4 latched shift registers")
    expect(page.get_by_text("lines more wanted than the board has")).to_have_count(0)
    page.goto(build + "chains/")
    expect(page.locator(".chain-row svg")).to_be_visible()
    expect(page.locator("h2", has_text="Registers 1")).to_contain_text("0 free")


def test_forty_relays_hang_on_a_chain_by_one_press_and_the_page_fits_a_phone(page, live_server):
    build = wished(page, live_server, "40 relay coils 12 V 400 Ω on an 8-bit board")
    press(page, "Hang 31 lines on 4 latched shift registers")
    expect(page.get_by_text("lines more wanted than the board has")).to_have_count(0)
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(build + "chains/")
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_text("Change this chain").click()
    page.get_by_label("Packages").first.fill("three")
    press(page, "^Apply")
    expect(page.get_by_label("Packages").first).to_have_value("three")
    expect(page.locator(".wrong").first).to_contain_text("three")


def test_a_servo_on_the_boards_pin_is_refused_with_the_sum_until_an_adapter_feeds_it(
    page, live_server
):
    build = wished(page, live_server, "servo 5 V 150 mA on a radio board")
    page.goto(build + "rails/")
    page.get_by_text("Change", exact=False).first.click()
    page.get_by_label("Kind of supply").first.select_option("board_pin")
    press(page, "^Apply")
    refused = page.locator("article", has=page.get_by_role("heading", name=re.compile("^stop:")))
    expect(refused.first).to_contain_text(re.compile(r"\d+ mA; it gives \d+ mA"))
    refused.first.get_by_role("button").first.click()
    expect(refused).to_have_count(0)


def test_the_ends_that_were_found_stand_in_place_of_the_usual_ones(page, live_server):
    wished(page, live_server, "servo 5 V 150 mA on a radio board")
    page.locator(".lane a.cover").first.click()

    def fix(label, text):
        page.get_by_label(label).first.fill(text)
        page.get_by_label(label).first.press("Enter")

    fix("Pulse it moves to", "2.2 ms")
    expect(page.get_by_text(re.compile("M4")).first).to_be_visible()
    fix("Widest pulse it takes", "2.4 ms")
    expect(page.locator("main")).to_contain_text("at 77.1°")
    expect(page.locator("#verdict")).not_to_contain_text("M4")


@pytest.mark.parametrize("look", ["light", "dark"])
def test_no_barrier_on_chains_and_vehicles(page, theatre, look):
    page.emulate_media(color_scheme=look)
    for view in ("chains/", "vehicles/"):
        page.goto(theatre + view)
        page.evaluate("document.querySelectorAll('details').forEach(d => { d.open = true })")
        assert barriers(page, look) == []
