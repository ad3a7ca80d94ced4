"""
How a contact is used, on its pages: which side it breaks, what is in series, lines that are shared,
mains that is asked about.
"""

import pytest

from tests.web.test_modules import send
from workbench.actions.creating import create_empty
from workbench.models import Build


@pytest.fixture
def contacts(client, db) -> Build:
    """A heater on a relay (ch3), one like it (ch4), a MOSFET channel (ch5) on the same rail."""
    build = create_empty("contacts")
    steps = [
        ("at-hand/", {"edit": "set_board", "board": "board-8bit-5v-20"}),
        ("rails/", {"edit": "add_rail", "voltage": "12 V", "rating": "20 A"}),
        ("rails/", {"edit": "add_rail", "voltage": "5 V", "rating": "2 A"}),
        *[
            (
                "loads/",
                {
                    "edit": "add_channel",
                    "kind": "heater",
                    "voltage": "12 V",
                    "figure": "1 A",
                    "name": n,
                    "stage": s,
                },
            )
            for n, s in (
                ("Plate", "relay_contact"),
                ("Hood", "relay_contact"),
                ("Series", "pmos_high_side"),
            )
        ],
    ]
    for page, fields in steps:
        send(client, build, page, **fields)
    return build


def test_two_contacts_are_told_to_share_a_line_and_the_pause_is_asked_for(client, contacts):
    text, build = send(
        client,
        contacts,
        "loads/",
        edit="add_route",
        name="plate line",
        members=["", "", "ch3", "ch4"],
        interlock="program",
        gap="",
    )
    assert (
        build.document.routes[0].members == ["ch3", "ch4"]
        and "closes before the last one is open" in text
        and "let the contact that is closed go" in text
    )
    route = build.document.routes[0].id
    text, build = send(
        client, contacts, "loads/", edit="set_route", route=route, interlock="program", gap="250 ms"
    )
    assert not [f for f in build.report.findings if f.check == "S9"]
    text, _ = send(
        client, contacts, "loads/", edit="set_route", route=route, interlock="program", gap="soon"
    )
    assert "“soon”" in text and 'value="soon"' in text
    _, build = send(client, contacts, "loads/", edit="remove_route", route=route)
    assert build.document.routes == []


@pytest.mark.parametrize(
    "fields, says",
    [
        ({"name": "", "members": ["ch3", "ch4"]}, "Nothing was typed"),
        ({"name": "x", "members": ["", "ch3"]}, "expected at least two"),
    ],
)
def test_a_line_that_is_none_is_refused_in_words(client, contacts, fields, says):
    text, build = send(
        client, contacts, "loads/", edit="add_route", interlock="program", gap="", **fields
    )
    assert says in text and not build.document.routes


def test_a_switch_in_series_is_chosen_and_its_sequence_shown(client, contacts):
    page = client.get(f"/builds/{contacts.pk}/channels/ch3/").content.decode()
    assert (
        "nothing: the contact makes and breaks" in page
        and ">Series<" in page
        and ">Hood</option>" not in page
    )
    text, build = send(
        client,
        contacts,
        "channels/ch3/",
        edit="set_series_switch",
        channel="ch3",
        series_switch="ch5",
    )
    assert build.document.channel("ch3").series_switch == "ch5"
    assert (
        text.index("switch the series switch off")
        < text.index("close the next one, and let it stop bouncing")
        < text.index("switch the series switch on")
    )
    _, build = send(client, contacts, "loads/", edit="remove_channel", channel="ch5")
    assert build.document.channel("ch3").series_switch is None


def test_reed_and_armature_stand_side_by_side(client, contacts):
    page = client.get(f"/builds/{contacts.pk}/channels/ch3/").content.decode()
    assert "Reed or armature" in page and "not for this load" in page


def test_a_hazardous_rail_puts_its_caution_on_every_page_and_asks_its_facts(client, contacts):
    before = client.get(f"/builds/{contacts.pk}/").content.decode()
    assert "Hazardous voltage" not in before
    _, build = send(
        client,
        contacts,
        "rails/",
        edit="set_rail",
        rail="rail1",
        source="mains",
        voltage="230 V",
        name="mains",
        rating="10 A",
    )
    for page in (
        "",
        "loads/",
        "stages/",
        "sizes/",
        "rails/",
        "pins/",
        "wiring/",
        "sheet/",
        "channels/ch3/",
        "keeping/",
    ):
        assert (
            "Hazardous voltage in this build: mains"
            in client.get(f"/builds/{contacts.pk}/{page}").content.decode()
        ), page
    assert (
        "nothing unstated is taken for yes"
        in client.get(f"/builds/{contacts.pk}/mains/").content.decode()
    )
    facts = dict.fromkeys(
        (
            "residual_current",
            "fuse",
            "enclosure",
            "earth",
            "strain_relief",
            "cable",
            "dry",
            "closed_appliance",
            "plugged",
        ),
        "yes",
    )
    _, build = send(client, contacts, "rails/", edit="state_discipline", **facts)
    (unclassed,) = [f for f in build.report.findings if f.check[0] == "X"]
    assert "class I or II of" in unclassed.sentence
    for channel in build.document.channels:
        load = dict(edit="set_load", channel=channel.id, protection="class_ii")
        _, build = send(client, contacts, "loads/", **load)
    assert not [f for f in build.report.findings if f.check[0] == "X"]
    text, build = send(
        client, contacts, "rails/", edit="state_discipline", **facts | {"earth": "no"}
    )
    assert "Not so: earth straight through" in text


def test_a_plug_that_turns_round_wants_two_poles(client, contacts):
    send(
        client,
        contacts,
        "rails/",
        edit="set_rail",
        rail="rail1",
        source="mains",
        voltage="230 V",
        name="mains",
        rating="10 A",
    )
    text, build = send(client, contacts, "rails/", edit="set_rail", rail="rail1", plug="reversible")
    found = {f.check: f for f in build.report.channel("ch3").findings}
    assert found["K8"].severity == "stop"
    _, build = send(
        client,
        contacts,
        "channels/ch3/",
        edit="set_setting",
        channel="ch3",
        breaks="both",
        relay="",
    )
    assert (
        "K8" not in {f.check for f in build.report.channel("ch3").findings}
        and build.report.channel("ch3").result.parts["relay"].poles == 2
    )


def test_settings_of_the_coils_switch_are_those_of_the_switch_it_has(client, contacts):
    page = client.get(f"/builds/{contacts.pk}/channels/ch3/").content.decode()
    assert (
        'name="base_resistor"' in page
        and 'name="gate_resistor"' not in page
        and 'name="clamp"' in page
    )
    text, _ = send(
        client, contacts, "channels/ch3/", edit="set_setting", channel="ch3", drive="nmos"
    )
    assert 'name="gate_resistor"' in text and 'name="base_resistor"' not in text


def test_holding_by_resistor_says_what_it_spares_and_what_pause_it_wants(client, contacts):
    text, build = send(
        client, contacts, "channels/ch3/", edit="set_setting", channel="ch3", hold="rc"
    )
    assert "before the next pull-in" in text and "say above how short its pauses are" in text
    _, build = send(
        client, contacts, "channels/ch3/", edit="set_switching", channel="ch3", shortest_off="10 us"
    )
    assert build.report.channel("ch3").result.measure("hold_pause").verdict == "fix"


def test_the_level_jumper_is_asked_only_of_a_module_that_has_one(client, contacts):
    text, _ = send(
        client, contacts, "channels/ch3/", edit="set_stage", channel="ch3", stage="relay_module"
    )
    text, _ = send(
        client,
        contacts,
        "channels/ch3/",
        edit="set_setting",
        channel="ch3",
        module="module-5v-low-plain",
    )
    assert (
        'name="level"' not in text
        and "solid-state" not in text.split('name="module"')[1].split("</select>")[0]
    )
    text, _ = send(
        client,
        contacts,
        "channels/ch3/",
        edit="set_setting",
        channel="ch3",
        module="module-12v-level-jumper",
    )
    assert 'name="level"' in text
