"""The first channel in fields: what is refused stands in its own field, nothing typed is lost."""

import pytest
from django.urls import reverse

from workbench.actions.creating import create_empty
from workbench.models import Build

SOUND = {
    "board": "board-radio-3v3",
    "kind": "solenoid",
    "voltage": "12 V",
    "figure": "0.5 A",
    "current": "dc",
}


def send(client, **fields):
    return client.post(reverse("first"), SOUND | fields)


@pytest.mark.django_db
def test_it_opens_the_build_with_rail_and_first_sound_stage(client):
    answer = send(client, name="Gate latch")
    build = Build.objects.get()
    assert answer.status_code == 302 and str(build.pk) in answer.url
    document = Build.with_head().get().document
    assert (document.channels[0].name, document.channels[0].stage.kind) == (
        "Gate latch",
        "nmos_low_side",
    )
    assert document.rails[0].voltage == "12 V" and document.board == SOUND["board"]


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("field", "typed", "said"),
    [
        ("voltage", "twelve", "twelve"),
        ("figure", "", "Nothing was typed"),
        ("figure", "0.5 lumen", "0.5 lumen"),
        ("board", "", "No board is chosen"),
        ("kind", "rocket", "No load is chosen"),
        ("voltage", "12 kV", "12 kV"),
        ("stage", "magic", "magic"),
    ],
)
def test_what_is_refused_is_said_in_its_field_and_the_rest_kept(client, field, typed, said):
    answer = send(client, **{field: typed})
    page = answer.content.decode()
    assert answer.status_code == 422 and not Build.objects.exists()
    wrong = page.split('role="alert">')[1].split("</p>")[0]
    assert said in wrong
    for kept in ("voltage", "figure"):
        if kept != field:
            assert f'value="{SOUND[kept]}"' in page


@pytest.mark.django_db
def test_an_empty_build_is_filled_and_one_with_channels_left_alone(client):
    empty = create_empty("Shed")
    assert 'action="/first/"' in client.get(reverse("lineup", args=[empty.pk])).content.decode()
    send(client, into=str(empty.pk))
    assert Build.objects.count() == 1
    again = send(client, into=str(empty.pk))
    assert again.status_code == 302 and Build.objects.count() == 2


@pytest.mark.django_db
def test_the_line_takes_a_stage_that_parts_it_from_the_board(client):
    send(client, kind="heater", voltage="230 V", figure="800 W", current="ac")
    document = Build.with_head().get().document
    assert document.rails[0].source == "mains"
    assert document.channels[0].stage.kind not in ("npn_low_side", "nmos_low_side")
