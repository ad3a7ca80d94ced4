"""
Boards of one's own: copied, changed in the grid, kept, used by a build; files in and out; how far
an import has come.
"""

import pytest
from django.urls import reverse

from latchcore.catalogue import load_catalogue
from latchcore.formats.boardfile import PIN_CELLS, draft_of
from workbench.models import StockPart
from workbench.progress import tell, told


def grid(title="3.3 V radio board with twelve lines", **changes):
    draft = draft_of(load_catalogue().raw["board-radio-3v3"])
    data = {
        "title": title,
        "base": "board-radio-3v3",
        "count": str(len(draft.pins)),
        **draft.figures,
    }
    for i, pin in enumerate(draft.pins):
        data |= {f"pin-{i}-{cell}": pin[cell] for cell in PIN_CELLS}
    for i, (name, value) in enumerate(draft.power):
        data |= {f"power-{i}-name": name, f"power-{i}-value": value}
    return data | changes


def test_a_copied_profile_is_changed_kept_and_carries_a_build(client, theatre, post):
    page = client.get(reverse("board"), {"base": "board-radio-3v3"}).content.decode()
    assert 'value="P25"' in page
    assert client.post(reverse("board"), grid(**{"pin_recommended": "6 mA"})).status_code == 302
    own = StockPart.objects.get(family="board")
    assert own.figures["pin_recommended"] == "6 mA" and len(own.figures["pins"]) == len(
        load_catalogue().parts["board-radio-3v3"].pins
    )
    assert own.title in client.get(reverse("at-hand", args=[theatre.pk])).content.decode()
    _, build = post("at-hand/", edit="set_board", board=own.key)
    assert build.report.channels[0].result.measure("pin_current").fix == 0.006
    again = client.get(reverse("board"), {"key": own.key}).content.decode()
    assert f'value="{own.title}"' in again
    client.post(
        reverse("board"), grid(own.title, key=own.key, version=own.version, pin_recommended="7 mA")
    )
    own.refresh_from_db()
    assert own.figures["pin_recommended"] == "7 mA" and StockPart.objects.count() == 1
    stale = client.post(
        reverse("board"), grid(own.title, key=own.key, version=1, pin_recommended="8 mA")
    )
    own.refresh_from_db()
    assert (
        stale.status_code == 422
        and "another tab" in stale.content.decode()
        and own.figures["pin_recommended"] == "7 mA"
    )


def test_a_wrong_cell_is_marked_and_the_rest_of_the_grid_is_kept(client, db):
    answer = client.post(
        reverse("board"), grid(**{"pin-0-pull": "soft", "pin-3-chip": "renamed line"})
    )
    text = answer.content.decode()
    assert (
        answer.status_code == 422
        and "“soft”" in text
        and "aria-invalid" in text
        and 'value="renamed line"' in text
    )
    assert not StockPart.objects.exists()
    twice = client.post(reverse("board"), grid("")).content.decode()
    assert "Nothing was typed" in twice


def test_a_second_board_of_the_same_name_does_not_overwrite_the_first(client, db):
    client.post(reverse("board"), grid())
    assert client.post(reverse("board"), grid(pin_recommended="5 mA")).status_code == 302
    first, second = StockPart.objects.order_by("id")
    assert (
        first.title == second.title
        and first.figures["pin_recommended"] != second.figures["pin_recommended"] == "5 mA"
    )


def test_more_rows_keep_what_was_typed(client, db):
    text = client.post(reverse("board"), grid("half a name", do="more")).content.decode()
    many = len(load_catalogue().parts["board-radio-3v3"].pins)
    assert 'value="half a name"' in text and f'name="pin-{many + 11}-id"' in text


@pytest.mark.parametrize("form", ["csv", "json"])
def test_a_profile_goes_out_and_comes_back_into_the_grid(client, db, form):
    text = client.get(reverse("export-board", args=["board-8bit-5v-20", form])).content.decode()
    page = client.post(reverse("board"), {"do": "read", "text": text}).content.decode()
    assert "20 lines" in page and 'value="L4"' in page and not StockPart.objects.exists()


def test_nonsense_is_refused_in_words(client, db):
    answer = client.post(reverse("board"), {"do": "read", "text": "row,colour\npin,red"})
    assert answer.status_code == 422 and "“colour” is not known" in answer.content.decode()
    assert client.post(reverse("board"), {"count": "many"}).status_code == 422
    assert client.get(reverse("board"), {"base": "nmos-30v-6a-2v5"}).status_code == 404
    assert client.get("/drawer/board/board-8bit-5v-20.pdf").status_code == 404
    assert client.get("/drawer/board/nothing.csv").status_code == 404


def test_the_kind_board_leads_to_its_grid(client, db):
    assert client.get(reverse("part"), {"family": "board"}).url.startswith(reverse("board"))


def test_a_waiting_page_is_told_how_many_rows_are_judged(client, db):
    rows = "family,value\n" + "".join(f"resistor,{r}\n" for r in range(100, 450))
    client.post(reverse("import-parts"), {"text": rows, "token": "a-token-of-ours"})
    assert client.get(reverse("progress"), {"token": "a-token-of-ours"}).json() == {
        "done": 300,
        "of": 350,
    }
    tell("<b>", 1, 2)
    assert told("<b>") is None and client.get(reverse("progress")).json()["of"] == 0
