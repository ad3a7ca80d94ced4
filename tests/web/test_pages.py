"""Pages, edits and what happens when they go wrong."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from latchcore.document.models import Build as Document
from latchcore.edits import apply
from latchcore.formats.buildfile import read_build, write_build
from workbench.actions.creating import begin
from workbench.models import Build, Revision

STATIONS = [
    "",
    "loads/",
    "at-hand/",
    "stages/",
    "sizes/",
    "rails/",
    "pins/",
    "wiring/",
    "keeping/",
    "sheet/",
]
BELL, TRAPDOOR = "ch5", "ch4"


@pytest.mark.parametrize("station", STATIONS)
def test_each_station_shows_with_a_full_build_and_with_an_empty_one(client, theatre, station):
    empty = begin(Document(name="Bare"), "begun")
    assert client.get(f"/builds/{theatre.pk}/{station}").status_code == 200
    bare = client.get(f"/builds/{empty.pk}/{station}")
    assert bare.status_code == 200 and b"Bare" in bare.content


def test_an_edit_answers_with_the_working_part_alone_and_writes_a_revision(post):
    answer, build = post(f"channels/{BELL}/", edit="set_setting", channel=BELL, base_resistor="560")
    assert answer.status_code == 200 and answer.content.lstrip().startswith(b'<div id="work"')
    assert build.head.number == 2 and build.head.summary == "Bell relay: base resistor 560"
    assert "inside at every corner" in answer.content.decode()


def test_a_resistor_at_hand_outside_the_window_is_told_which_limit_it_misses(post):
    answer, _ = post(f"channels/{BELL}/", edit="set_setting", channel=BELL, base_resistor="1k5")
    assert "1.5 kΩ misses the base current it needs" in answer.content.decode()


def test_without_script_an_edit_leads_back_to_its_page(post):
    answer, build = post(f"channels/{BELL}/", htmx=False, edit="set_pin", channel=BELL, pin="P16")
    assert answer.status_code == 302 and answer.url == f"/builds/{build.pk}/channels/{BELL}/"
    assert build.document.channel(BELL).pin == "P16"


@pytest.mark.parametrize(
    "fields, says",
    [
        (dict(edit="set_setting", channel=BELL, base_resistor="4k7k"), "“4k7k” is not a quantity"),
        (dict(edit="set_setting", channel=BELL, base_resistor="-330"), "is negative"),
        (dict(edit="set_load", channel=BELL, figure="0 Ω"), "is zero"),
        (dict(edit="set_load", channel=BELL, voltage="1e9 V"), "out of range"),
        (dict(edit="set_load", channel=BELL, figure="12 furlongs"), "not a quantity"),
        (dict(edit="explode"), "no edit called"),
        (dict(edit="set_pin", channel="ch77", pin="P25"), "no longer in the build"),
        (dict(edit="set_pin"), "takes"),
    ],
)
def test_nonsense_is_refused_the_input_kept_and_nothing_changed(post, fields, says):
    answer, build = post(f"channels/{BELL}/", **fields)
    text = answer.content.decode().replace("&quot;", '"')
    assert answer.status_code == 422 and says in text and build.head.number == 1
    typed = [v for k, v in fields.items() if k in ("base_resistor", "figure", "voltage")]
    assert all(f'value="{v}"' in text for v in typed)


def test_a_stale_tab_is_told_and_can_apply_its_change_on_top(post):
    _, build = post(f"channels/{BELL}/", edit="set_pin", channel=BELL, pin="P16")
    answer, build = post(
        f"channels/{BELL}/", version=1, edit="set_setting", channel=BELL, base_resistor="470"
    )
    text = answer.content.decode()
    assert (
        answer.status_code == 409
        and "Bell relay on P16" in text
        and "470" in text
        and "Apply mine on top" in text
    )
    assert (
        build.head.number == 2
        and "base_resistor" not in build.document.channel(BELL).stage.settings
    )
    _, build = post(f"channels/{BELL}/", edit="set_setting", channel=BELL, base_resistor="470")
    assert (
        build.document.channel(BELL).pin == "P16"
        and build.document.channel(BELL).stage.settings["base_resistor"] == "470"
    )


@pytest.mark.parametrize("version", ["", "x", "-5", "99999999999999999999"])
def test_a_version_that_is_none_is_stale_and_no_crash(post, version):
    answer, build = post(version=version, edit="set_pin", channel=BELL, pin="P16")
    assert answer.status_code == 409 and build.head.number == 1


def test_undo_redo_and_bringing_back(post):
    post(edit="set_pin", channel=BELL, pin="P16")
    post(edit="set_pin", channel=BELL, pin="P17")
    _, build = post(edit="undo")
    assert build.document.channel(BELL).pin == "P16"
    _, build = post(edit="redo")
    assert build.document.channel(BELL).pin == "P17"
    _, build = post(edit="undo")
    _, build = post(edit="set_pin", channel=BELL, pin="P18")
    answer, build = post(edit="redo")
    assert answer.status_code == 422 and "nothing to redo" in answer.content.decode()
    _, build = post("keeping/", edit="restore", number="1")
    assert (
        build.document.channel(BELL).pin == "P27"
        and Revision.objects.filter(build=build).count() == 5
    )


def test_a_remedy_is_one_post_and_undoable(client, theatre, post):
    page = client.get(reverse("channel", args=[theatre.pk, TRAPDOOR])).content.decode()
    assert "Nothing clamps this coil" in page and "band to the rail" in page
    answer, build = post(
        f"channels/{TRAPDOOR}/",
        edit="set_setting",
        channel=TRAPDOOR,
        clamp="diode",
        clamp_band="rail",
    )
    assert "Nothing clamps" not in answer.content.decode()
    answer, _ = post(f"channels/{TRAPDOOR}/", edit="undo")
    assert "Nothing clamps this coil" in answer.content.decode()


def test_a_removed_channels_address_says_so_and_offers_the_way_back(post, client, theatre):
    answer, _ = post(f"channels/{BELL}/", edit="remove_channel", channel=BELL)
    assert answer.status_code == 204 and answer["HX-Redirect"] == f"/builds/{theatre.pk}/"
    page = client.get(f"/builds/{theatre.pk}/channels/{BELL}/")
    assert page.status_code == 404 and "removed Bell relay" in page.content.decode()
    again = client.post(
        f"/builds/{theatre.pk}/channels/{BELL}/",
        {"edit": "set_pin", "channel": BELL, "pin": "P1", "version": 2},
    )
    assert again.status_code == 404 and "no longer in the build" in again.content.decode()


def test_unticking_every_hazard_means_none_and_not_as_usual(post):
    _, build = post(f"channels/{TRAPDOOR}/", edit="set_load", channel=TRAPDOOR, hazards="")
    assert build.document.channel(TRAPDOOR).load.hazards == []
    _, build = post(
        f"channels/{TRAPDOOR}/", edit="set_load", channel=TRAPDOOR, hazards=["", "motion", "heat"]
    )
    assert build.document.channel(TRAPDOOR).load.hazards == ["motion", "heat"]


def test_what_people_type_never_becomes_markup(post):
    answer, _ = post(f"channels/{BELL}/", edit="rename_channel", channel=BELL, name="<img src=x>")
    assert b"<img" not in answer.content
    answer, _ = post(
        f"channels/{BELL}/", edit="set_setting", channel=BELL, base_resistor='"><i id=evil>'
    )
    assert b"<i id=evil" not in answer.content


def test_export_and_import_give_the_same_file(client, theatre):
    text = client.get(reverse("export", args=[theatre.pk])).content
    answer = client.post(reverse("import"), {"file": SimpleUploadedFile("x.json", text)})
    copy = Build.objects.select_related("head").order_by("-pk").first()
    assert answer.status_code == 302 and copy.pk != theatre.pk
    assert client.get(reverse("export", args=[copy.pk])).content == text


@pytest.mark.parametrize(
    "content", [b"", b"{", b"\x00\xff", b"[]", b'{"format":"zinc-latch-build","schema_version":1}']
)
def test_a_bad_file_brings_nothing_in(client, theatre, content):
    answer = client.post(reverse("import"), {"file": SimpleUploadedFile("x.json", content)})
    assert (
        answer.status_code == 422
        and b"Nothing was brought in" in answer.content
        and Build.objects.count() == 1
    )


def test_pasted_text_is_kept_when_it_is_refused(client, db):
    answer = client.post(reverse("import"), {"text": '{"name": "half'})
    assert answer.status_code == 422 and "{&quot;name&quot;: &quot;half" in answer.content.decode()


def test_five_megabytes_in_a_field_are_refused_politely(client, theatre):
    data = {"edit": "rename_build", "version": 1, "name": "x" * 5_000_000}
    answer = client.post(f"/builds/{theatre.pk}/", data)
    assert answer.status_code == 413 and "too much at once" in answer.content.decode()


def test_workbench_copy_rename_bin_and_restore(client, theatre):
    client.post("/", {"do": "copy", "build": theatre.pk})
    copy = Build.objects.get(name="Hollyhock Marionettes copy")
    client.post("/", {"do": "rename", "build": copy.pk, "name": "Foundry"})
    client.post("/", {"do": "bin", "build": copy.pk})
    page = client.get("/").content.decode()
    assert "Bin, 1 build" in page and "Foundry" in page
    client.post("/", {"do": "restore", "build": copy.pk})
    assert "Bin, 1" not in client.get("/").content.decode()
    assert (
        read_build(write_build(Build.objects.select_related("head").get(pk=copy.pk).document)).name
        == "Foundry"
    )


@pytest.mark.parametrize(
    "data, says",
    [
        ({"do": "begin", "name": " "}, "Nothing was typed"),
        ({"do": "begin", "name": "x" * 99}, "at most 60"),
        ({"do": "melt", "build": "1"}, None),
        ({"do": "copy", "build": "x"}, None),
    ],
)
def test_nonsense_on_the_workbench(client, db, data, says):
    answer = client.post("/", data)
    assert answer.status_code in (404, 422) and (says is None or says in answer.content.decode())


def test_addresses_that_are_not_there(client, theatre):
    for path in (
        "/builds/999/",
        "/nowhere/",
        f"/builds/{theatre.pk}/channels/ch99/",
        "/builds/999/file/",
    ):
        assert client.get(path).status_code == 404


@pytest.mark.parametrize(
    "text, unit, says",
    [
        ("4k7", "Ω", "= 4.7 kΩ"),
        ("12 V ±5 %", "V", "11.4 to 12.6 V"),
        ("4k7k", "Ω", "expected ohms"),
        ("1.2 W", "A|W|Ω", "= 1.2 W"),
    ],
)
def test_a_field_echoes_what_it_understood(client, db, text, unit, says):
    assert says in client.get("/echo/", {"unit": unit, "figure": text}).content.decode()


def test_stepping_along_the_shelf(client, db):
    assert (
        client.get("/step/", {"series": "E12", "text": "560", "way": "up"}).json()["text"] == "680"
    )
    assert client.get("/step/", {"series": "E12", "text": "soup", "way": "up"}).status_code == 422


def test_policy_and_caching(client, theatre):
    answer = client.get(f"/builds/{theatre.pk}/")
    policy = answer["Content-Security-Policy"]
    assert (
        "default-src 'self'" in policy
        and "unsafe" not in policy
        and "no-store" in answer["Cache-Control"]
    )
    page = answer.content.decode()
    assert (
        " style=" not in page
        and "<script>" not in page
        and " onclick=" not in page
        and "http://" not in page.replace("http://www.w3.org", "")
    )


def test_foreign_keys_and_write_ahead_log_are_on(db):
    from django.db import connection

    with connection.cursor() as cursor:
        assert cursor.execute("PRAGMA foreign_keys").fetchone()[0] == 1


@pytest.mark.parametrize("station", ["", "loads/", "sizes/", "pins/", "stages/", "channels/ch2/"])
def test_queries_do_not_grow_with_channels(client, db, django_assert_max_num_queries, station):
    document = Document(name="Many")
    steps = [
        ("set_board", {"board": "board-radio-3v3"}),
        ("add_channel", {"kind": "heater", "voltage": "12 V", "figure": "5 W"}),
    ]
    for name, args in steps + steps[1:] * 15:
        document, _ = apply(document, name, args)
    build = begin(document, "begun")
    with django_assert_max_num_queries(6):
        assert client.get(f"/builds/{build.pk}/{station}").status_code == 200


def test_a_saved_document_is_a_valid_document(theatre):
    assert Document.model_validate(json.loads(theatre.head.text)) == theatre.document
