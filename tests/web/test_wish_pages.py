"""A wish on the workbench, on its page, and on an empty build."""

import html
import re

import pytest

from workbench.actions.creating import create_empty
from workbench.models import Build

WHOLE = "12 V solenoid 0.5 A on a 3.3 V radio board"


def wish(client, **fields):
    return client.post("/wish/", fields)


def test_a_whole_wish_opens_its_build_in_one_press(client, db):
    assert 'name="wish"' in client.get("/").content.decode()
    answer = wish(client, wish=WHOLE)
    build = Build.objects.get()
    assert answer.status_code == 302 and answer.url == f"/builds/{build.pk}/"
    assert (
        build.name == "12 V solenoid 0.5 A"
        and build.document.channels[0].stage.kind == "nmos_low_side"
    )
    assert "wished" in client.get(f"/builds/{build.pk}/revisions/").content.decode()


def test_what_is_missing_is_asked_in_one_row_and_the_words_are_kept(client, db):
    page = wish(client, wish="twelve-volt solenoid").content.decode()
    assert 'value="twelve-volt solenoid"' in page and 'name="figure-0"' in page
    assert 'name="board"' in page and 'name="voltage-0"' not in page and not Build.objects.exists()
    more = {"figure-0": "500 mA", "board": "board-radio-3v3"}
    assert wish(client, wish="twelve-volt solenoid", **more).status_code == 302
    assert Build.objects.get().document.channels[0].load.figure == "500 mA"


def test_what_was_not_understood_is_said_before_anything_is_opened(client, db):
    page = wish(client, wish=f"{WHOLE}, a flux capacitor").content.decode()
    assert "“flux capacitor”" in page and not Build.objects.exists()
    wish(client, wish=f"{WHOLE}, a flux capacitor", anyway="yes")
    assert Build.objects.count() == 1


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "Nothing was typed"),
        ("banana", "No load was understood"),
        ("12 kV lamp 60 W on a 5 V board", "12 kV"),
        ("x" * 1_000_000, "1000000 characters"),
        ("70 lamps 12 V 5 W, 5 V board", "more than 64"),
    ],
)
def test_what_cannot_be_is_refused_in_one_line_and_the_words_stay(client, db, text, says):
    answer = wish(client, wish=text)
    page = answer.content.decode()
    assert answer.status_code == 422 and says in page and not Build.objects.exists()
    assert text[:500] in page


def test_a_refused_answer_stands_where_it_was_typed_and_so_does_the_rest(client, db):
    more = {"figure-0": "plenty", "board": "board-radio-3v3"}
    answer = wish(client, wish="12 V solenoid", **more)
    page = answer.content.decode()
    assert answer.status_code == 422 and "“plenty”" in html.unescape(page)
    field = re.search(r'<input[^>]*name="figure-0"[^>]*>', page)[0]
    assert 'value="plenty"' in field and "autofocus" in field and 'aria-invalid="true"' in field
    assert '<option value="board-radio-3v3" selected>' in page


def test_half_an_answer_is_kept_while_the_other_half_is_asked_again(client, db):
    more = {"voltage-0": "12 V", "figure-0": " ", "board": "board-radio-3v3"}
    page = wish(client, wish="a solenoid", **more).content.decode()
    assert re.search(r'name="voltage-0"[^>]*value="12 V"', page)
    assert re.search(r'name="figure-0"[^>]*value=""[^>]*autofocus', page)
    assert not Build.objects.exists()
    assert wish(client, wish="a solenoid", **more | {"figure-0": "1 A"}).status_code == 302


def test_a_board_that_does_not_exist(client, db):
    more = {"figure-0": "1 A", "board": "board-of-another"}
    answer = wish(client, wish="12 V solenoid", **more)
    assert answer.status_code == 422 and not Build.objects.exists()
    assert "board-of-another" in answer.content.decode()


def test_an_empty_build_takes_a_wish_and_keeps_its_name(client, db):
    build = create_empty("Gate house")
    page = client.get(f"/builds/{build.pk}/").content.decode()
    assert f'name="into" value="{build.pk}"' in page
    wish(client, wish=WHOLE, into=str(build.pk))
    again = Build.with_head().get(pk=build.pk)
    assert again.name == "Gate house" and len(again.document.channels) == 1
    # One that has something in it is left alone: the wish opens a build of its own.
    wish(client, wish=WHOLE, into=str(build.pk))
    assert (
        Build.objects.count() == 2 and len(Build.with_head().get(pk=build.pk).document.rails) == 1
    )
