"""
The sheet of a module of one's own: photo with pins named, what is seen on it, rework with readings.
"""

import io

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from latchcore.catalogue import load_catalogue
from latchcore.formats.partsrow import Row
from workbench.actions import stocking
from workbench.models import PartPhoto, StockPart

KEY = "own-shed-module"


@pytest.fixture
def sheet(client, db):
    raw = load_catalogue().raw["module-5v-low-indicator"] | {
        "id": KEY,
        "title": "four relays from the shed",
    }
    stocking.take_in([Row(0, KEY, "module", raw["title"], raw, ("coil",), quantity=1)])
    return reverse("module-sheet", args=[KEY])


def send(client, sheet, data, seen=None):
    """Write something on the sheet as its page does, at the version it shows."""
    version = StockPart.objects.get(key=KEY).version if seen is None else seen
    return client.post(sheet, {"version": version, **data})


def picture(size=(900, 600), form="PNG"):
    out = io.BytesIO()
    Image.new("RGB", size, (70, 110, 90)).save(out, form)
    return SimpleUploadedFile(f"module.{form.lower()}", out.getvalue())


@pytest.mark.parametrize(
    "form, size, kept",
    [
        ("PNG", (900, 600), (900, 600)),
        ("JPEG", (2400, 1200), (1200, 600)),
        ("WEBP", (300, 900), (300, 900)),
    ],
)
def test_a_photo_is_kept_small_and_served_as_what_it_is(client, sheet, form, size, kept):
    assert send(client, sheet, {"do": "photo", "photo": picture(size, form)}).status_code == 302
    photo = PartPhoto.objects.get()
    assert (photo.width, photo.height) == kept
    served = client.get(reverse("module-photo", args=[KEY]))
    assert (
        served["Content-Type"] == "image/jpeg"
        and Image.open(io.BytesIO(served.content)).size == kept
    )


def test_what_a_camera_hides_in_a_photo_is_not_kept(client, sheet):
    image, out = Image.new("RGB", (400, 300)), io.BytesIO()
    exif = image.getexif()
    exif[0x010E] = "my kitchen table"
    image.save(out, "JPEG", exif=exif)
    send(client, sheet, {"do": "photo", "photo": SimpleUploadedFile("a.jpg", out.getvalue())})
    assert b"kitchen" in out.getvalue() and b"kitchen" not in bytes(PartPhoto.objects.get().image)


@pytest.mark.parametrize(
    "upload, says",
    [
        (SimpleUploadedFile("a.png", b"no picture"), "no photo that can be read"),
        (SimpleUploadedFile("a.svg", b"<svg onload='x'/>"), "no photo that can be read"),
        (SimpleUploadedFile("a.png", b"x" * 8_100_000), "8.1 MB"),
        (None, "No file was chosen"),
    ],
)
def test_what_is_no_photo_is_refused(client, sheet, upload, says):
    answer = send(client, sheet, {"do": "photo", **({"photo": upload} if upload else {})})
    assert (
        answer.status_code == 422
        and says in answer.content.decode()
        and not PartPhoto.objects.exists()
    )


def test_pins_are_named_on_the_photo_moved_and_taken_off(client, sheet):
    send(client, sheet, {"do": "photo", "photo": picture()})
    send(client, sheet, {"do": "name", "name": "IN1", "across": "25 %", "down": "50"})
    text = client.get(sheet).content.decode()
    assert '<circle cx="225" cy="300"' in text and ">IN1</text>" in text
    send(client, sheet, {"do": "name", "name": "IN1", "across": "95", "down": "10"})
    assert [m["x"] for m in PartPhoto.objects.get().marks] == [
        95.0
    ] and "rotate(125 " in client.get(sheet).content.decode()
    send(client, sheet, {"do": "unname", "name": "IN1"})
    assert PartPhoto.objects.get().marks == []


@pytest.mark.parametrize(
    "mark, says",
    [
        ({"name": "IN1", "across": "half", "down": "1"}, "“half” is no place"),
        ({"name": "IN1", "across": "120 %", "down": "1"}, "outside the photo"),
        ({"name": " ", "across": "1", "down": "1"}, "Nothing was typed"),
    ],
)
def test_a_place_that_is_none_is_named_and_kept(client, sheet, mark, says):
    send(client, sheet, {"do": "photo", "photo": picture()})
    answer = send(client, sheet, {"do": "name", **mark})
    text = answer.content.decode()
    assert answer.status_code == 422 and says in text and f'value="{mark["across"]}"' in text


def test_rework_makes_another_part_of_it_and_is_taken_back(client, sheet):
    entry = {
        "do": "rework",
        "kind": "indicator",
        "before_on_current": "1.9 mA",
        "after_on_current": "3.8 mA",
        "note": "bridged on the rear",
    }
    assert send(client, sheet, entry).status_code == 302
    part = StockPart.objects.get(key=KEY)
    assert (
        "indicator" not in part.figures and "indicator" in part.original and part.reworks[0]["when"]
    )
    text = client.get(sheet).content.decode()
    assert (
        "indicator in series bridged" in text
        and "bridged on the rear" in text
        and "3.8" in text
        and "reworked" in client.get(reverse("drawer")).content.decode()
    )
    send(client, sheet, {"do": "undo_rework"})
    part.refresh_from_db()
    assert part.figures["indicator"] and part.reworks == [] and part.original == {}


def test_a_reading_that_does_not_fit_is_asked_about(client, sheet):
    send(
        client,
        sheet,
        {"do": "rework", "kind": "resistor", "value": "330", "after_on_current": "1 mA"},
    )
    assert "was the right part changed?" in client.get(sheet).content.decode()


@pytest.mark.parametrize(
    "entry, says",
    [
        ({"kind": "resistor"}, "Nothing was typed"),
        ({"kind": "regulator"}, "nothing to bypass"),
        ({"kind": "x"}, "no rework"),
        ({"kind": "jumper_off", "after_coil_volts": "5 A"}, "amperes"),
    ],
)
def test_a_rework_that_cannot_be_is_refused_and_kept_on_the_form(client, sheet, entry, says):
    answer = send(client, sheet, {"do": "rework", "note": "as typed", **entry})
    text = answer.content.decode()
    assert (
        answer.status_code == 422
        and says in text
        and 'value="as typed"' in text
        and StockPart.objects.get(key=KEY).reworks == []
    )


def test_figures_put_right_later_pass_under_the_rework(client, sheet):
    send(client, sheet, {"do": "rework", "kind": "parallel", "value": "1k"})
    client.post(
        reverse("part"),
        {
            "family": "module",
            "key": KEY,
            "base": "module-5v-low-indicator",
            "title": "four relays from the shed",
            "input_resistor": "2 kΩ ±5 %",
            "quantity": "1",
            "version": StockPart.objects.get().version,
        },
    )
    part = StockPart.objects.get(key=KEY)
    assert (
        part.original["input_resistor"] == "2 kΩ ±5 %"
        and part.figures["input_resistor"].startswith("666")
        or part.figures["input_resistor"].startswith("667")
    )


def test_a_table_does_not_overwrite_a_reworked_module(client, sheet):
    send(client, sheet, {"do": "rework", "kind": "indicator"})
    text = f"key,family,title,base\n{KEY},module,four relays from the shed,module-5v-low-plain\n"
    answer = client.post(reverse("import-parts"), {"text": text, "confirm": "yes"})
    assert (
        answer.status_code == 422
        and "reworked since" in answer.content.decode()
        and StockPart.objects.get(key=KEY).reworks
    )


def test_what_is_seen_on_it_becomes_part_of_its_record(client, sheet):
    seen = {
        "do": "seen",
        "header": "GND | IN1 | VCC",
        "terminals": "NO | COM | NC",
        "driver": "one NPN",
        "rails": "VCC: both",
        "contact_volts": "250 V",
        "contact_amperes": "7 A",
        "creepage": "3.5 mm",
        "neighbour": "2,5",
    }
    assert send(client, sheet, seen).status_code == 302
    figures = StockPart.objects.get(key=KEY).figures
    assert (
        figures["creepage"] == 3.5
        and figures["neighbour"] == 2.5
        and figures["contact_amperes"] == "7 A"
        and figures["header"] == "GND | IN1 | VCC"
    )
    for bad, says in (
        ({"creepage": "wide"}, "no distance"),
        ({"neighbour": "900"}, "up to 100 mm"),
        ({"contact_volts": "7 A"}, "amperes"),
    ):
        answer = send(client, sheet, seen | bad)
        assert answer.status_code == 422 and says in answer.content.decode()


def test_a_sheet_that_is_not_there(client, db):
    assert client.get(reverse("module-sheet", args=["nothing"])).status_code == 404
    assert client.get(reverse("module-photo", args=["nothing"])).status_code == 404


def test_nonsense_and_a_name_that_is_markup(client, sheet):
    assert send(client, sheet, {"do": "melt"}).status_code == 422
    send(client, sheet, {"do": "photo", "photo": picture()})
    send(client, sheet, {"do": "name", "name": "<b>x</b>", "across": "1", "down": "1"})
    assert "<b>x</b>" not in client.get(sheet).content.decode()


@pytest.mark.parametrize(
    "data",
    [
        {"do": "undo_rework"},
        {"do": "seen", "driver": "two NPN"},
        {"do": "name", "name": "IN1", "across": "1", "down": "1"},
        {"do": "rework", "kind": "indicator"},
    ],
)
def test_a_sheet_that_was_changed_in_another_tab_is_told_and_keeps_what_is_there(
    client, sheet, data
):
    send(client, sheet, {"do": "photo", "photo": picture()})
    send(client, sheet, {"do": "rework", "kind": "parallel", "value": "1k"})
    seen = StockPart.objects.get().version
    send(client, sheet, {"do": "seen", "driver": "one NPN"})
    answer = send(client, sheet, data, seen)
    part = StockPart.objects.get()
    assert (
        answer.status_code == 409
        and "changed since this page was opened" in answer.content.decode()
    )
    assert part.figures["driver"] == "one NPN" and len(part.reworks) == 1 and part.photo.marks == []


def test_a_photo_with_a_side_beyond_reason_is_refused_before_it_is_decoded(client, sheet):
    """A narrow strip has few pixels and yet a side no camera makes."""
    answer = send(client, sheet, {"do": "photo", "photo": picture((12_001, 2))})
    assert answer.status_code == 422 and "12001×2" in answer.content.decode()
    assert send(client, sheet, {"do": "photo", "photo": picture((12_000, 2))}).status_code == 302


def test_a_comment_in_a_photo_stays_behind(client, sheet):
    out = io.BytesIO()
    Image.new("RGB", (40, 30)).save(out, "JPEG", comment=b"shelf by the door")
    send(client, sheet, {"do": "photo", "photo": SimpleUploadedFile("a.jpg", out.getvalue())})
    assert b"shelf" in out.getvalue() and b"shelf" not in bytes(PartPhoto.objects.get().image)
