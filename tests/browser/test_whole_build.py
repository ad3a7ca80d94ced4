"""
The whole build driven as at the bench: the pin deck by mouse, touch and keyboard, ticks that stay,
a rail's start.
"""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.hands import tap
from tests.browser.looks import barriers
from workbench.views.every import every_page

#: Every page there is, from the records; those of a channel are walked in test_flows.
PAGES = [cls.page.address for cls in every_page() if "<" not in cls.page.address]
PAGES += ["rails/?limit-rail1=5 A", "variants/?board=board-8bit-5v-20"]


def deck(page, theatre):
    """The deck, once the fonts stand: what is dragged then lands where it was aimed at."""
    page.goto(theatre + "pins/")
    page.evaluate("document.fonts.ready.then(() => true)")


def line(page, pin):
    return page.locator(f'.deck .line[data-pin="{pin}"]')


def drag(page, name, pin):
    """By hand: taken, moved a little, led over the line, let go."""
    line(page, pin).scroll_into_view_if_needed()
    one, other = chip(page, name).bounding_box(), line(page, pin).bounding_box()
    page.mouse.move(one["x"] + 12, one["y"] + 8)
    page.mouse.down()
    page.mouse.move(one["x"] + 24, one["y"] + 12, steps=4)
    page.mouse.move(other["x"] + 40, other["y"] + 14, steps=8)
    page.mouse.up()


def chip(page, name):
    return page.locator(".chip", has_text=re.compile(rf"\b{name}"))


def test_a_channel_is_dragged_to_another_line_and_back_by_undo(page, theatre):
    deck(page, theatre)
    drag(page, "Bell relay", "P22")
    expect(line(page, "P22")).to_contain_text("Bell relay")
    expect(line(page, "P27")).not_to_contain_text("Bell relay")
    tap(page, "u")
    expect(line(page, "P27")).to_contain_text("Bell relay")


def test_dragged_onto_a_held_line_the_two_change_places(page, theatre):
    deck(page, theatre)
    drag(page, "Bell relay", "P26")
    expect(line(page, "P26")).to_contain_text("Bell relay")
    expect(line(page, "P27")).to_contain_text("Trapdoor")


def test_a_line_that_cannot_serve_says_why_and_takes_nothing(page, theatre):
    deck(page, theatre)
    chip(page, "Bell relay").click()
    expect(line(page, "P34")).to_have_class(re.compile("cannot"))
    line(page, "P34").click()
    expect(page.locator("#deck-says")).to_contain_text("P34 is input only")
    line(page, "P13").click()
    expect(line(page, "P13")).to_contain_text("Bell relay")


def test_by_keyboard_alone_a_channel_goes_to_another_line(page, theatre):
    deck(page, theatre)
    chip(page, "Bell relay").focus()
    tap(page, "Enter")
    expect(page.locator("#deck-says")).to_contain_text("picked up")
    target = ""
    for _ in range(12):
        tap(page, "ArrowDown")
        target = page.evaluate("document.activeElement.dataset.pin")
        assert target not in (
            "P34",
            "P35",
            "P36",
            "P39",
            "P1",
            "P3",
        ), "the arrows stop only where it can go"
        if target == "P13":
            break
    assert target == "P13"
    tap(page, "Enter")
    expect(line(page, "P13")).to_contain_text("Bell relay")
    # Escape lets go without a change.
    chip(page, "Bell relay").focus()
    tap(page, "Enter")
    tap(page, "ArrowUp")
    tap(page, "Escape")
    expect(page.locator(".deck .can")).to_have_count(0)
    expect(line(page, "P13")).to_contain_text("Bell relay")


def test_a_locked_channel_stays_and_is_assigned_around(page, theatre):
    page.goto(theatre + "pins/")
    page.get_by_role("button", name="lock Thunder shutter on P14").click()
    expect(page.get_by_role("button", name="lock Thunder shutter on P14")).to_have_attribute(
        "aria-pressed", "true"
    )
    page.get_by_role("button", name=re.compile("Assign all anew")).click()
    expect(page.get_by_text(re.compile("lines? placed|nothing moved")).first).to_be_visible()
    expect(line(page, "P14")).to_contain_text("Thunder shutter")
    page.get_by_role("button", name="lock Thunder shutter on P14").click()
    expect(page.get_by_role("button", name="lock Thunder shutter on P14")).to_have_attribute(
        "aria-pressed", "false"
    )
    page.get_by_role("button", name=re.compile("Assign all anew")).click()
    expect(line(page, "P14")).not_to_contain_text("Thunder shutter")


def test_a_line_is_typed_and_nonsense_stays_with_its_message(page, theatre):
    page.goto(theatre + "pins/")
    field = page.get_by_label("C Bell relay")
    field.fill("P99")
    field.press("Enter")
    expect(page.get_by_text("“P99” is no pin of this board").first).to_be_visible()
    expect(page.get_by_label("C Bell relay")).to_have_value("P99")
    page.get_by_label("C Bell relay").fill("P21")
    page.get_by_label("C Bell relay").press("Enter")
    expect(line(page, "P21")).to_contain_text("Bell relay")


def test_ticks_stay_through_a_reload_and_the_back_button(page, theatre):
    page.goto(theatre + "wiring/")
    box = page.locator("#wires-rail1 input[type=checkbox]").first
    box.check()
    expect(page.locator("#wires-rail1 summary")).to_contain_text("1 of")
    page.reload()
    expect(page.locator("#wires-rail1 input[type=checkbox]").first).to_be_checked()
    tap(page, "6")
    expect(page.get_by_role("heading", name="Pins", level=1)).to_be_visible()
    page.go_back()
    expect(page.locator("#wires-rail1 input[type=checkbox]").first).to_be_checked()


def test_an_input_from_nothing_to_a_confirmed_channel(page, theatre):
    page.goto(theatre + "inputs/")
    page.locator(".panel.add").get_by_label("Kind").select_option("reed")
    page.locator(".panel.add").get_by_label("Name").fill("Trap shut")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_role("heading", name=re.compile("Trap shut"))).to_be_visible()
    page.get_by_label("Trapdoor").select_option(label="Trap shut")
    expect(page.locator("dd", has_text="B Trapdoor").first).to_be_visible()


def test_an_order_of_switching_on_is_asked_for_and_given(page, theatre):
    page.goto(theatre + "rails/")
    page.get_by_text("Switch on one after another").first.click()
    page.get_by_label("Keep the sum under").first.fill("5 A")
    page.get_by_role("button", name="Work out the order").first.click()
    expect(page.get_by_text("In this order it stays under")).to_be_visible()


@pytest.mark.parametrize("width", [390, 1280])
def test_nothing_runs_off_the_side(page, theatre, width):
    page.set_viewport_size({"width": width, "height": 844})
    for view in PAGES:
        page.goto(theatre + view)
        page.evaluate("document.querySelectorAll('details').forEach(d => { d.open = true })")
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), view


@pytest.mark.parametrize("look", ["light", "dark"])
def test_no_serious_barrier(page, seedling, look):
    page.emulate_media(color_scheme=look)
    for view in PAGES:
        page.goto(seedling + view)
        page.evaluate("document.querySelectorAll('details').forEach(d => { d.open = true })")
        assert barriers(page, look) == []


def test_a_newcomer_dims_a_lamp_on_mains_from_an_empty_bench(page, live_server):
    page.goto(live_server.url)
    page.get_by_label("What is it called?").fill("Porch")
    page.get_by_role("button", name="Begin").click()
    page.get_by_role("button", name=re.compile("3.3 V radio board")).click()
    page.get_by_role("link", name="Add the first rail").click()
    add = page.locator(".panel.add")
    for volts, kind, shown in (
        ("230 V", "mains", "230 V mains"),
        ("5 V", "usb", "5 V usb at the board"),
    ):
        add.get_by_label("Voltage").fill(volts)
        add.get_by_label("Kind of supply").select_option(kind)
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.locator(".railpanel h2", has_text=shown)).to_be_visible()
    expect(page.get_by_text("Hazardous voltage in this build: 230 V mains")).to_be_visible()
    page.locator("#main").focus()
    tap(page, "1")
    page.get_by_label("Kind of load").select_option("filament_lamp")
    page.get_by_label("Rated voltage").fill("230 V")
    page.get_by_label("Current, power or resistance").fill("40 W")
    page.get_by_label("What it is called").fill("Lantern")
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_role("link", name="A Lantern").click()
    expect(page.get_by_role("img", name="Schematic of Lantern: Relay contact")).to_be_visible()
    tap(page, "a")
    page.get_by_label("is dimmed or pulsed").check()
    expect(page.locator("tbody tr").first).to_contain_text("Triac, fired by a coupler")
    page.get_by_role("button", name=re.compile("Use this.*Triac")).click()
    expect(page.get_by_role("cell", name=re.compile("in the design"))).to_contain_text("Triac")
    page.get_by_role("link", name="back to the channel").click()
    expect(
        page.get_by_role("img", name="Schematic of Lantern: Triac, fired by a coupler")
    ).to_be_visible()
    page.get_by_role("link", name="dimming").click()
    expect(page.get_by_role("heading", name="For the program")).to_be_visible()
    tap(page, "9")
    expect(page.get_by_text("nothing unstated is taken for yes")).to_be_visible()
    page.get_by_label(re.compile("Behind residual-current protection")).select_option("yes")
    expect(page.get_by_text("1 of 9 hold")).to_be_visible()
