"""Relay modules and contacts through their pages: the guided test, the ways, the contact view."""

import pytest
from django.urls import reverse

from tests.web.conftest import DEMO
from workbench.actions.creating import create_from_file
from workbench.drawer import catalogue
from workbench.models import Build, StockPart

MAT, LAMPS, VENT = "ch3", "ch4", "ch5"
READINGS = {
    "coil": "5 V",
    "resistance": "70 Ω",
    "low": "clicks",
    "high": "nothing",
    "current": "3.7 mA",
    "drop": "3.8 V",
    "jumper": "open",
}


@pytest.fixture
def fernhouse(db) -> Build:
    return create_from_file((DEMO / "fernhouse-vents.json").read_bytes())


def send(client, build, page, **fields):
    build.refresh_from_db()
    answer = client.post(
        f"/builds/{build.pk}/{page}",
        {"version": build.version, **fields},
        headers={"HX-Request": "true"},
    )
    return answer.content.decode(), Build.objects.select_related("head").get(pk=build.pk)


def test_readings_become_a_part_with_its_evidence(client, db):
    answer = client.post(
        reverse("intake"), READINGS | {"keep": "yes", "title": "two-channel module from the shed"}
    )
    kept = StockPart.objects.get()
    part = catalogue().parts[kept.key]
    assert answer.status_code == 302 and part.active == "low" and part.separate and part.coil == 5.0
    assert part.input_resistor.typ == pytest.approx(3.8 / 3.7e-3, rel=0.1)
    assert "bench test" in part.source and "3.7 mA" in part.source


def test_what_was_tested_serves_in_a_build(client, fernhouse):
    client.post(reverse("intake"), READINGS | {"keep": "yes", "title": "shed module"})
    key = StockPart.objects.get().key
    text, build = send(
        client, fernhouse, f"channels/{VENT}/", edit="set_setting", channel=VENT, module=key
    )
    assert build.document.channel(VENT).stage.settings["module"] == key
    assert "cannot turn this off" in text


@pytest.mark.parametrize(
    "step, said, expected",
    [
        ("current", "some", "Input current"),
        ("current", "3 V", "A"),
        ("low", "purrs", "clicks or nothing"),
        ("coil", "-5 V", "-5 V"),
    ],
)
def test_nonsense_is_named_kept_and_keeps_nothing_else_out(client, db, step, said, expected):
    answer = client.post(
        reverse("intake"), READINGS | {step: said, "keep": "yes", "title": "module"}
    )
    text = answer.content.decode()
    assert answer.status_code == 422 and said in text and "3.8 V" in text and expected in text
    assert not StockPart.objects.exists()


def test_without_a_name_nothing_is_kept_and_nothing_lost(client, db):
    answer = client.post(reverse("intake"), READINGS | {"keep": "yes", "title": ""})
    assert (
        answer.status_code == 422
        and "Nothing was typed" in answer.content.decode()
        and "3.7 mA" in answer.content.decode()
    )


def test_a_second_module_of_the_same_name_replaces_nothing(client, db):
    client.post(reverse("intake"), READINGS | {"keep": "yes", "title": "module"})
    answer = client.post(
        reverse("intake"), READINGS | {"keep": "yes", "title": "module", "current": "1 mA"}
    )
    first, second = StockPart.objects.order_by("id")
    assert answer.status_code == 302 and first.title == second.title and first.key != second.key
    assert (
        "3.7 mA" in catalogue().parts[first.key].source
        and "1 mA" in catalogue().parts[second.key].source
    )


def test_what_was_not_measured_is_said_to_be_usual(client, db):
    client.post(reverse("intake"), READINGS | {"resistance": "", "keep": "yes", "title": "module"})
    assert catalogue().parts[StockPart.objects.get().key].source.endswith("usual for its class")


@pytest.mark.parametrize(
    "low, high, says",
    [
        ("clicks", "clicks", "clicks both ways"),
        ("nothing", "nothing", "clicks neither way"),
        ("", "", "begin with the coil"),
    ],
)
def test_an_undecided_test_says_what_to_try(client, db, low, high, says):
    assert says in client.post(reverse("intake"), {"low": low, "high": high}).content.decode()


def test_the_simulated_modules_give_nothing_away(client, db):
    text = client.get(reverse("intake")).content.decode()
    assert text.count("unlabelled module") == sum(
        getattr(p, "family", "") == "module" and p.output == "contact"
        for p in catalogue().parts.values()
    )
    assert "active" not in text.split("<form")[1]


def test_a_way_is_used_by_one_press_and_undone(client, fernhouse):
    page = client.get(f"/builds/{fernhouse.pk}/channels/{MAT}/").content.decode()
    assert (
        f'href="{reverse("intake")}"' in page
        and "Ways to make this module work here" in page
        and page.count("Use this way") == 3
    )
    text, build = send(
        client,
        fernhouse,
        f"channels/{MAT}/",
        edit="set_setting",
        channel=MAT,
        feed="logic",
        parallel="330",
        drive="pin",
    )
    assert (
        build.document.channel(MAT).stage.settings["parallel"] == "330"
        and "Nothing to mend" in text
    )
    assert "not as meant" in page and "not as meant" not in text
    _, build = send(client, fernhouse, f"channels/{MAT}/", edit="undo")
    assert "parallel" not in build.document.channel(MAT).stage.settings


def test_the_contact_view_shows_every_state_and_the_truth(client, fernhouse):
    page = client.get(f"/builds/{fernhouse.pk}/channels/{LAMPS}/").content.decode()
    view = page.split('class="contact-view"')[1]
    assert (
        view.count("<figure>") == 6
        and "stage off</td><td>low</td><td>at rest</td><td>open</td><td><b>off" in view
    )
    text, _ = send(
        client, fernhouse, f"channels/{LAMPS}/", edit="set_setting", channel=LAMPS, contact="NC"
    )
    assert "closed</td><td><b>on" in text and "Dead, the load is on" in text


def test_how_a_channel_is_used_is_kept(client, fernhouse):
    text, build = send(
        client,
        fernhouse,
        f"channels/{LAMPS}/",
        edit="set_use",
        channel=LAMPS,
        when_dead="on",
        cycles_per_day="4000",
        release_within="5 ms",
    )
    channel = build.document.channel(LAMPS)
    assert (channel.when_dead, channel.cycles_per_day, channel.release_within) == (
        "on",
        4000,
        "5 ms",
    )
    assert "The coil lets go too late" in text and "Dead, the load is off" in text


@pytest.mark.parametrize(
    "field, said",
    [
        ("cycles_per_day", "often"),
        ("cycles_per_day", "-3"),
        ("release_within", "soon"),
        ("when_dead", "maybe"),
    ],
)
def test_how_it_is_used_is_told_apart_from_nonsense(client, fernhouse, field, said):
    text, build = send(
        client,
        fernhouse,
        f"channels/{LAMPS}/",
        edit="set_use",
        channel=LAMPS,
        **{"when_dead": "off", field: said},
    )
    assert said in text and build.version == fernhouse.version


def test_no_page_calls_anything_the_word_it_never_uses(client, fernhouse):
    for page in (
        f"/builds/{fernhouse.pk}/channels/{MAT}/",
        f"/builds/{fernhouse.pk}/channels/{LAMPS}/",
        reverse("intake"),
    ):
        assert " safe" not in client.get(page).content.decode().lower()


def test_a_refused_use_is_shown_on_an_open_sheet(client, fernhouse):
    text, _ = send(
        client,
        fernhouse,
        f"channels/{LAMPS}/",
        edit="set_use",
        channel=LAMPS,
        when_dead="off",
        release_within="soon",
    )
    assert 'id="load-sheet" open>' in text and 'value="soon"' in text


@pytest.mark.parametrize(
    "field, said, expected",
    [
        ("longest_rated", "a while", "s"),
        ("longest_rated", "-1 s", "-1 s"),
        ("duty_rated", "140 %", "100 %"),
        ("duty_rated", "half", "%"),
        ("cut_off", "5 V", "5 V"),
        ("count", "two", "two"),
        ("count", "0", "0"),
    ],
)
def test_a_coils_sheet_names_nonsense_and_changes_nothing(client, fernhouse, field, said, expected):
    text, build = send(
        client, fernhouse, f"channels/{VENT}/", edit="set_load", channel=VENT, **{field: said}
    )
    assert said in text and expected in text and build.version == fernhouse.version


def test_a_pulse_coil_is_asked_for_its_limit_and_content_when_it_has_one(client, fernhouse):
    text, _ = send(
        client,
        fernhouse,
        f"channels/{VENT}/",
        edit="set_load",
        channel=VENT,
        longest_rated="500 ms",
    )
    assert (
        "On for longer than this coil bears" in text
        and "Let the program end it after 500 ms" in text
    )
    text, _ = send(
        client,
        fernhouse,
        f"channels/{VENT}/",
        edit="set_switching",
        channel=VENT,
        longest_on="500 ms",
    )
    assert "Only the program ends this pulse" in text
    text, _ = send(
        client, fernhouse, f"channels/{VENT}/", edit="set_load", channel=VENT, cut_off="400 ms"
    )
    assert "Nothing to mend" in text


def test_the_level_of_the_program_is_held_against_the_module(client, fernhouse):
    text, _ = send(
        client,
        fernhouse,
        f"channels/{VENT}/",
        edit="set_use",
        channel=VENT,
        when_dead="off",
        cycles_per_day="40",
        on_level="low",
    )
    assert (
        "disagree on which level is on" in text
        and "Let the program switch on with the pin high" in text
    )
    text, build = send(client, fernhouse, f"channels/{VENT}/", edit="undo")
    assert build.document.channel(VENT).on_level is None and "Nothing to mend" in text


def test_two_tabs_the_second_does_not_overwrite_the_way_of_the_first(client, fernhouse):
    old = fernhouse.version
    send(
        client,
        fernhouse,
        f"channels/{MAT}/",
        edit="set_setting",
        channel=MAT,
        feed="logic",
        parallel="330",
        drive="pin",
    )
    answer = client.post(
        f"/builds/{fernhouse.pk}/channels/{MAT}/",
        {"version": old, "edit": "set_setting", "channel": MAT, "drive": "npn"},
        headers={"HX-Request": "true"},
    )
    kept = (
        Build.objects.select_related("head")
        .get(pk=fernhouse.pk)
        .document.channel(MAT)
        .stage.settings
    )
    assert answer.status_code == 409 and kept["parallel"] == "330" and kept.get("drive") != "npn"


def test_the_advisor_offers_a_contact_until_silence_is_asked_for(client, fernhouse):
    page = client.get(reverse("advisor", args=[fernhouse.pk, LAMPS])).content.decode()
    assert "Relay contact" in page and "Relay module" in page
    text, build = send(
        client,
        fernhouse,
        f"channels/{LAMPS}/advisor/",
        edit="set_needs",
        channel=LAMPS,
        needs=["", "silent"],
    )
    assert build.document.channel(LAMPS).needs == ["silent"] and text.index(
        "N-channel, low side"
    ) < text.index("Relay contact</")
