"""The real interface, driven as a newcomer would."""

import itertools
import re

import pytest
from playwright.sync_api import expect

from tests.browser.hands import tap
from tests.browser.looks import barriers

#: Pages of a channel; all others are walked from their records in test_whole_build.py.
VIEWS = [
    "channels/ch18/",
    "channels/ch18/dimming/",
    "channels/ch3/",
    "channels/ch4/",
    "channels/ch7/",
    "channels/ch8/",
    "channels/ch99/",
    "channels/ch7/advisor/",
    "channels/ch5/spread/",
]

DRAWER = ["/drawer/", "/drawer/part/?family=nmos", "/drawer/part/?family=resistor"]


def test_from_a_vague_wish_to_a_stage(page, live_server):
    page.goto(live_server.url)
    expect(page.get_by_text("Nothing on the bench yet")).to_be_visible()
    page.get_by_label("What is it called?").fill("Gate bolt")
    page.get_by_role("button", name="Begin").click()
    page.get_by_role("button", name=re.compile("3.3 V radio board")).click()
    expect(page.get_by_role("button", name=re.compile("3.3 V radio board"))).to_have_attribute(
        "aria-pressed", "true"
    )
    page.get_by_role("link", name="Add the first rail").click()
    page.get_by_label("Voltage").fill("12 V")
    expect(page.get_by_text("= 12 V")).to_be_visible()
    page.get_by_label("Rating").fill("3 A")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_role("heading", name=re.compile("12 V regulated adapter"))).to_be_visible()
    page.get_by_role("link", name=re.compile("^1 ?Loads|Loads")).first.click()
    page.get_by_label("Kind of load").select_option("solenoid")
    page.get_by_label("Rated voltage").fill("12 V")
    page.get_by_label("Current, power or resistance").fill("8 Ω")
    page.get_by_label("What it is called").fill("Bolt")
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_role("link", name="A Bolt").click()
    expect(page.get_by_role("img", name=re.compile("Schematic of Bolt"))).to_be_visible()
    # 1.75 A is too much for a bipolar transistor on 3.3 V: it begins on what serves.
    expect(page.locator("main")).to_contain_text("N-channel, low side")
    expect(page.locator(".verdict").get_by_text("Nothing to mend")).to_be_visible()


def test_edit_remedy_undo_and_reload(page, theatre):
    page.goto(theatre + "channels/ch4/")
    expect(page.get_by_text("Nothing clamps this coil").first).to_be_visible()
    page.get_by_role("button", name=re.compile("band to the rail")).click()
    expect(page.locator(".verdict").get_by_text("Nothing to mend")).to_be_visible()
    expect(page.locator(".paper").get_by_text("band to the rail")).to_be_visible()
    page.reload()
    expect(page.locator(".verdict").get_by_text("Nothing to mend")).to_be_visible()
    page.get_by_role("button", name=re.compile("undo")).click()
    expect(page.get_by_text("Nothing clamps this coil").first).to_be_visible()
    page.get_by_role("button", name=re.compile("redo")).click()
    expect(page.locator(".verdict").get_by_text("Nothing to mend")).to_be_visible()


def test_i_have_560_ohms(page, theatre):
    page.goto(theatre + "channels/ch5/")
    field = page.get_by_label("Base resistor", exact=True)
    field.fill("560")
    field.press("Enter")
    expect(page.get_by_text("inside at every corner")).to_be_visible()
    field.fill("1k5")
    field.press("Tab")
    expect(page.get_by_text("1.5 kΩ misses the base current it needs")).to_be_visible()
    expect(page.locator(".verdict").get_by_text("Not enough drive current")).to_be_visible()
    field.fill("")
    field.press("Enter")
    expect(page.locator(".verdict").get_by_text("Nothing to mend")).to_be_visible()


def test_nonsense_is_named_and_kept_and_the_next_try_works(page, theatre):
    page.goto(theatre + "channels/ch5/")
    field = page.get_by_label("Base resistor", exact=True)
    for nonsense, says in [
        ("4k7k", "is not a quantity"),
        ("-330", "negative"),
        ("0", "zero"),
        ("12 V", "in volts"),
    ]:
        field.fill(nonsense)
        field.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text(says)
        expect(field).to_have_value(nonsense)
        expect(field).to_have_attribute("aria-invalid", "true")
    field.fill("390")
    field.press("Enter")
    expect(page.get_by_text("inside at every corner")).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)


def test_arrow_keys_step_along_the_preferred_values(page, theatre):
    page.goto(theatre + "channels/ch5/")
    field = page.get_by_label("Base resistor", exact=True)
    field.focus()
    field.press("ArrowUp")
    expect(field).to_have_value("470")
    expect(page.get_by_text("inside at every corner")).to_be_visible()
    expect(field).to_be_focused()


def test_two_tabs_the_second_is_told_and_loses_nothing(page, context, theatre):
    page.goto(theatre + "channels/ch5/")
    other = context.new_page()
    other.goto(theatre + "channels/ch5/")
    other.locator("#load-sheet summary").click()
    other.get_by_label("Pin", exact=True).select_option("P16")
    expect(other.get_by_text("P16 at right 12")).to_be_visible()
    field = page.get_by_label("Base resistor", exact=True)
    field.fill("470")
    field.press("Enter")
    expect(page.get_by_text("This build was changed elsewhere")).to_be_visible()
    expect(page.get_by_text("Bell relay on P16")).to_be_visible()
    page.get_by_role("button", name="Apply mine on top").click()
    expect(page.get_by_text("inside at every corner")).to_be_visible()
    expect(page.get_by_text("P16 at right 12")).to_be_visible()


def test_the_keyboard_alone_suffices(page, theatre):
    page.goto(theatre)
    tap(page, "j")
    expect(page.get_by_role("heading", name="A Lantern strip", level=1)).to_be_visible()
    page.wait_for_load_state()
    tap(page, "j")
    expect(page.get_by_role("heading", name="B Trapdoor", level=1)).to_be_visible()
    page.get_by_role("button", name=re.compile("band to the rail")).focus()
    tap(page, "Enter")
    expect(page.locator(".verdict").get_by_text("Nothing to mend")).to_be_visible()
    tap(page, "u")
    expect(page.locator(".verdict").get_by_text("Nothing clamps")).to_be_visible()
    tap(page, "r")
    expect(page.locator(".verdict").get_by_text("Nothing to mend")).to_be_visible()
    for key, title in [
        ("1", "Loads"),
        ("2", "At hand"),
        ("3", "Stages"),
        ("4", "Sizes"),
        ("5", "Rails"),
        ("6", "Pins"),
        ("i", "Barriers"),
        ("7", "Wiring"),
        ("8", "Behaviour"),
        ("9", "Guards"),
        ("0", "Keeping"),
        ("l", "Line-up"),
    ]:
        # A heading is there before the page listens to keys; nobody types faster than it loads.
        page.wait_for_load_state()
        tap(page, key)
        expect(page.get_by_role("heading", name=title, level=1)).to_be_visible()
    page.wait_for_load_state()
    tap(page, "?")
    expect(page.get_by_role("dialog")).to_be_visible()
    tap(page, "Escape")
    expect(page.get_by_role("dialog")).to_be_hidden()


def test_one_key_goes_from_finding_to_finding_and_one_begins(page, live_server, theatre):
    page.goto(theatre)
    found = page.locator("#verdict .finding")
    assert (many := found.count()) > 1
    for place in [*range(many), 0]:
        tap(page, "f")
        expect(found.nth(place)).to_be_focused()
    tap(page, "b")
    expect(page.get_by_role("heading", name="Loads", level=1)).to_be_visible()
    page.wait_for_load_state()
    tap(page, "b")
    expect(page.locator("form[data-begin] select")).to_be_focused()
    page.goto(live_server.url)
    tap(page, "b")
    expect(page.get_by_label("In a line")).to_be_focused()


def test_the_back_button_shows_the_build_as_it_is_now(page, theatre):
    page.goto(theatre)
    page.get_by_role("link", name="B Trapdoor").click()
    page.get_by_role("button", name=re.compile("band to the rail")).click()
    expect(page.locator(".verdict").get_by_text("Nothing to mend")).to_be_visible()
    page.go_back()
    expect(page.get_by_role("heading", name="Line-up")).to_be_visible()
    expect(page.get_by_text("Nothing clamps this coil")).to_have_count(0)


def test_working_unfolds_under_its_number(page, theatre):
    page.goto(theatre + "channels/ch5/")
    page.get_by_text("Base current", exact=True).click()
    expect(page.get_by_text(re.compile(r"I_B = \(V_OH,min − V_BE,max\)")).first).to_be_visible()


def test_hovering_a_finding_marks_its_node(page, theatre):
    page.goto(theatre + "channels/ch4/")
    page.locator(".finding").first.hover()
    assert page.locator(".drawing .lit").count() > 1


def test_a_file_goes_out_and_comes_in(page, theatre, live_server, tmp_path):
    page.goto(theatre + "keeping/")
    with page.expect_download() as waiting:
        page.get_by_role("link", name="Export the build file").click()
    path = tmp_path / "build.json"
    waiting.value.save_as(path)
    page.goto(live_server.url)
    page.get_by_label("File", exact=True).set_input_files(path)
    page.get_by_role("button", name="Bring in").click()
    expect(page.get_by_role("link", name="E Thunder shutter")).to_be_visible()


@pytest.mark.parametrize("width", [390, 1280])
def test_nothing_runs_off_the_side(page, theatre, live_server, width):
    page.set_viewport_size({"width": width, "height": 844})
    for address in [
        live_server.url,
        *(live_server.url + path for path in DRAWER),
        *(theatre + view for view in VIEWS),
    ]:
        page.goto(address)
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), address


def test_headings_are_in_order_and_every_table_head_says_what_stands_below(page, theatre):
    for view in VIEWS:
        page.goto(theatre + view)
        levels = page.evaluate(
            "[...document.querySelectorAll('main :is(h1, h2, h3, h4), aside :is(h2, h3)')]"
            ".map(h => Number(h.tagName[1]))"
        )
        assert levels[0] == 1 and levels.count(1) == 1, view
        assert all(b <= a + 1 for a, b in itertools.pairwise(levels)), (view, levels)
        empty = "[...document.querySelectorAll('th')].filter(t => !t.textContent.trim()).length"
        assert page.evaluate(empty) == 0, view


def test_a_fold_somebody_opened_stays_open_when_the_page_answers(page, theatre):
    page.goto(theatre + "channels/ch4/")
    sheet = page.locator("#load-sheet")
    sheet.locator("summary").first.click()
    surge = sheet.locator("input[name=surge_time]")
    surge.fill("20 ms")
    surge.press("Enter")
    expect(page.locator(".says")).not_to_be_empty()
    assert sheet.evaluate("fold => fold.open")
    expect(surge).to_have_value("20 ms")


@pytest.mark.parametrize("look", ["light", "dark"])
def test_no_serious_barrier_on_any_view(page, theatre, live_server, look):
    page.emulate_media(color_scheme=look)
    for address in [
        live_server.url,
        *(live_server.url + path for path in DRAWER),
        *(theatre + view for view in VIEWS),
    ]:
        page.goto(address)
        page.evaluate("document.querySelectorAll('details').forEach(d => { d.open = true })")
        assert barriers(page, look) == []


def test_nothing_is_fetched_from_elsewhere(page, theatre, live_server):
    asked = []
    page.on("request", lambda request: asked.append(request.url))
    page.goto(theatre + "channels/ch4/")
    page.wait_for_load_state("networkidle")
    assert asked and all(url.startswith((live_server.url, "data:")) for url in asked)


def test_the_advisor_from_the_channel_and_back(page, theatre):
    page.goto(theatre + "channels/ch7/")
    tap(page, "a")
    expect(page.get_by_role("heading", name="Which switch for Thunder shutter?")).to_be_visible()
    page.get_by_label("one side of the load is tied to ground").check()
    expect(page.locator("tbody tr").first).to_contain_text("P-channel, high side")
    page.get_by_role("button", name=re.compile("Use this ?: P-channel, high side")).click()
    expect(page.locator("tr.now")).to_contain_text("P-channel, high side")
    page.get_by_role("button", name=re.compile("undo")).click()
    expect(page.locator("tr.now")).to_contain_text("NPN, low side")


def test_a_spread_of_another_quantity(page, theatre):
    page.goto(theatre + "channels/ch5/")
    tap(page, "d")
    expect(page.get_by_role("img", name=re.compile("100000 draws"))).to_be_visible()
    page.get_by_label("Quantity").select_option("base_current")
    expect(page.get_by_role("img", name=re.compile("^Base current: 100000 draws"))).to_be_visible()


def test_a_table_of_parts_is_brought_in_by_a_newcomer(page, live_server):
    page.goto(live_server.url)
    page.get_by_role("link", name="Parts drawer").click()
    expect(page.get_by_text("The drawer is empty")).to_be_visible()
    page.get_by_label("or its text").fill("family,value,quantity\nresistor,4k7,20\nresistor,4k7k,1")
    page.get_by_role("button", name="Show what it would do").click()
    expect(page.get_by_role("alert")).to_contain_text("Nothing is brought in")
    page.get_by_role("textbox", name="The table").fill(
        "family,value,quantity\nresistor,4k7,20\nresistor,10k,1"
    )
    page.get_by_role("button", name="Show what it would do now").click()
    page.get_by_role("button", name="Bring in 2 parts").click()
    expect(page.get_by_role("link", name="4.7 kΩ")).to_be_visible()
