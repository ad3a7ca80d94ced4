"""Mains discipline, guards and phase control on their pages."""

from pathlib import Path

import pytest

from tests.web.test_modules import send
from workbench.actions.creating import create_empty, create_from_file
from workbench.models import StockPart

DEMO = Path(__file__).parent.parent.parent / "demo"
LAMP = "ch18"


@pytest.fixture
def seedlings(db):
    return create_from_file((DEMO / "seedling-bench.json").read_bytes())


def text(client, build, page):
    return client.get(f"/builds/{build.pk}/{page}").content.decode()


def test_without_a_hazardous_voltage_the_station_says_what_it_is_for(client, db):
    page = text(client, create_empty("nothing"), "mains/")
    assert "No hazardous voltage in this build" in page and "never a permission" in page


def test_what_is_denied_becomes_a_stop_and_what_is_stated_again_is_gone(client, seedlings):
    page = text(client, seedlings, "mains/")
    assert "brown" in page and "green-yellow" in page and "30 mA" in page
    said, build = send(client, seedlings, "mains/", edit="state_discipline", enclosure="no")
    assert "Not so:" in said and not build.report.sound
    _, build = send(client, seedlings, "mains/", edit="state_discipline", enclosure="yes")
    assert build.report.sound


def test_guards_are_stated_where_they_are_asked(client, seedlings):
    channel = seedlings.document.channels[0].id
    said, build = send(
        client, seedlings, "mains/", edit="set_guards", channel=channel, limit="control_relay"
    )
    assert (
        "works through the control relay" in said
        and build.document.channel(channel).limit == "control_relay"
    )
    said, build = send(
        client, seedlings, "mains/", edit="set_guards", channel=channel, limit="luck"
    )
    assert "is not one of" in said and build.document.channel(channel).limit == "control_relay"


def test_the_contacts_of_the_line_say_what_they_bear_in_watts(client, seedlings):
    page = text(client, seedlings, "mains/")
    assert "A Heat mat" in page and "resistive heater" in page and "kW" in page


def test_the_dimmers_table_is_for_the_program_and_counts_from_the_detector(client, theatre):
    page = text(client, theatre, f"channels/{LAMP}/dimming/")
    assert "Zero of the house line" in page and "no pulse" in page and "from 47 to 53 Hz" in page
    power = text(client, theatre, f"channels/{LAMP}/dimming/?of=power")
    assert "Power left" in power and "Light left" in page
    assert client.get(f"/builds/{theatre.pk}/channels/ch99/dimming/").status_code == 404


def test_what_must_not_be_dimmed_is_refused_on_the_page_with_the_reason(client, theatre, post):
    post(f"channels/{LAMP}/", edit="set_load", channel=LAMP, kind="led_lamp")
    page = text(client, theatre, f"channels/{LAMP}/dimming/")
    assert "only where it is marked as dimmable" in page and "no pulse" not in page
    post(f"channels/{LAMP}/", edit="set_load", channel=LAMP, dimmable="yes")
    assert "no pulse" in text(client, theatre, f"channels/{LAMP}/dimming/")
    post(f"channels/{LAMP}/", edit="set_setting", channel=LAMP, control="zero")
    assert "does not cut phases" in text(client, theatre, f"channels/{LAMP}/dimming/")


@pytest.mark.parametrize(
    "page",
    [
        "",
        "pins/",
        "mains/",
        f"channels/{LAMP}/",
        f"channels/{LAMP}/dimming/",
        "wiring/",
        "sheet/",
        "inputs/",
        "states/",
        "variants/",
    ],
)
def test_the_caution_stands_on_every_page_of_a_build_with_mains_and_no_page_calls_it_harmless(
    client, theatre, page
):
    said = text(client, theatre, page)
    assert "Hazardous voltage in this build: house line" in said
    assert " safe " not in said.lower() and "is safe" not in said.lower()


def test_a_triac_of_ones_own_goes_into_the_drawer_with_its_traps_named_and_serves(
    client, theatre, post
):
    form = client.get("/drawer/part/", {"family": "triac"}).content.decode()
    assert "Trap:" in form and "coldest junction" in form
    data = {
        "family": "triac",
        "base": "triac-800v-8a-sensitive",
        "title": "triac 800 V 16 A",
        "i_rms": "16 A",
        "i2t": "128",
        "quantity": "2",
    }
    assert client.post("/drawer/part/", data).status_code == 302
    part = StockPart.objects.get()
    _, build = post(f"channels/{LAMP}/", edit="set_setting", channel=LAMP, triac=part.key)
    used = build.report.channel(LAMP).result.parts["switch"]
    assert (used.i_rms, used.i2t, used.sensitive) == (16.0, 128.0, True)
    wrong = client.post("/drawer/part/", data | {"title": "another", "i2t": "much"})
    assert wrong.status_code == 422 and 'value="much"' in wrong.content.decode()


def test_what_is_printed_on_a_fuse_is_asked_on_the_rails_page_and_a_wrong_print_stops(
    client, theatre, post
):
    page = text(client, theatre, "rails/")
    assert "Printed volts" in page and "Breaking capacity" in page and "Its plug carries" in page
    said, build = post("rails/", edit="set_rail", rail="rail17", fuse_breaking="low")
    assert "does not end a short" in said.content.decode() and not build.report.sound
    said, build = post("rails/", edit="set_rail", rail="rail17", fuse_volts="much")
    assert (
        "“much” is not a quantity" in said.content.decode()
        and 'value="much"' in said.content.decode()
        and build.document.rail("rail17").fuse_volts == "250 V"
    )


def test_a_fuse_of_its_own_is_typed_where_the_wire_is_and_stands_in_list_and_drawing(
    client, theatre, post
):
    said, build = post("wiring/", edit="set_wire", channel=LAMP, fuse="0.5 A", wire_area="AWG 18")
    assert build.document.channel(LAMP).fuse == "0.5 A" and "F1" in said.content.decode()
    assert "F1 slow 500 mA" in text(client, theatre, f"channels/{LAMP}/")


def test_a_detector_is_counted_from_its_edge_or_from_its_middle_and_the_dimmer_says_which(
    client, theatre, post
):
    assert "the middle between both edges" in text(client, theatre, f"channels/{LAMP}/dimming/")
    zero = theatre.document.inputs[-1].id
    answer, _ = post("inputs/", edit="set_input", what=zero, edge="rising")
    said = answer.content.decode()
    assert (
        "then seems up to" in said
        and "how often it is looked at" not in said.split(f'id="{zero}"')[1].split("</section>")[0]
    )
    page = text(client, theatre, f"channels/{LAMP}/dimming/")
    assert "Counted from the rising edge" in page and "the window is narrower for it" in page


def test_a_damp_place_is_said_once_for_the_build_and_mains_there_stops(client, theatre, post):
    said, build = post("at-hand/", edit="set_conditions", place="damp")
    assert any(f.check == "X1" and f.severity == "stop" for f in build.report.findings)
    assert "a damp place" in text(client, theatre, "sheet/")


def test_phase_control_names_the_class_of_protection_it_wants(client, theatre):
    assert "type A: House lamp cuts half-waves" in text(client, theatre, "mains/")


def test_the_sheet_names_the_fuses_and_the_list_counts_what_a_detector_is_made_of(
    client, theatre, post
):
    assert "slow 1.6 A, 250 V alternating current, high breaking capacity" in text(
        client, theatre, "sheet/"
    )
    post("wiring/", edit="set_wire", channel=LAMP, fuse="0.5 A")
    page = text(client, theatre, "sizes/")
    assert "mains-rated coupler, two LEDs back to back" in page and ">slow 500 mA<" in page
    row = next(
        r
        for r in page.split("<tr>")
        if ">47 kΩ<" in r and "In the drawer" not in r and "Zero of the house line" in r
    )
    # Three in series on the line; the pull-up at the pin is no weaker than its coupler is quick.
    assert '<td class="m">3</td>' in row


def test_a_snubbers_parts_are_asked_for_where_one_is_fitted(client, theatre, post):
    fan = text(client, theatre, "channels/ch19/")
    assert "Snubber&#x27;s resistor" in fan and "Snubber&#x27;s resistor" not in text(
        client, theatre, f"channels/{LAMP}/"
    )
    said, build = post(
        "channels/ch19/",
        edit="set_setting",
        channel="ch19",
        snubber_class="plain",
        snubber_capacitor="47 nF",
    )
    assert (
        "not made for the line" in said.content.decode()
        and build.report.channel("ch19").verdict == "stop"
    )
