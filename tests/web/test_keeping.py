"""
What a workbench keeps: figures in revisions, verdicts beside heads, packed documents, bins, pages
of long lists.
"""

import pytest
from django.urls import reverse

from workbench.actions import stocking
from workbench.actions.editing import edit_build
from workbench.keeping import packing
from workbench.models import Build, DrawerStep, Revision, StockPart, Verdict

NMOS = {
    "family": "nmos",
    "base": "nmos-30v-6a-2v5",
    "title": "N-channel 40 V 9 A",
    "i_d": "9 A",
    "quantity": "3",
}


def own(client, **changes) -> StockPart:
    """A part put into the drawer by its form."""
    assert client.post(reverse("part"), NMOS | changes).status_code == 302
    return StockPart.objects.order_by("-id").first()


def fresh(build) -> Build:
    return Build.with_head().get(pk=build.pk)


def spoil(build, text: bytes) -> None:
    """
    Another document behind the program's back, as a program of another time might have left it.
    """
    Revision.objects.filter(pk=build.head_id).update(body=packing.pack(text), base=None)
    Verdict.objects.all().delete()


def test_a_part_changed_or_taken_out_later_changes_no_build_in_silence(client, theatre, post):
    part = own(client)
    _, build = post("channels/ch4/", edit="set_setting", channel="ch4", transistor=part.key)
    assert build.document.parts[part.key]["i_d"] == "9 A"
    client.post(reverse("part"), NMOS | {"key": part.key, "version": part.version, "i_d": "7 A"})
    assert fresh(theatre).report.channel("ch4").result.parts["transistor"].i_d == 9.0
    page = client.get(reverse("lineup", args=[theatre.pk])).content.decode()
    assert "The drawer knows it otherwise now" in page and "9 A" in page and "7 A" in page
    _, build = post("", edit="take_drawer")
    assert build.report.channel("ch4").result.parts["transistor"].i_d == 7.0
    assert (
        "knows it otherwise"
        not in client.get(reverse("lineup", args=[theatre.pk])).content.decode()
    )
    part.refresh_from_db()
    client.post(reverse("drawer"), {"do": "discard", "key": part.key, "version": part.version})
    assert (
        StockPart.objects.get().binned
        and fresh(theatre).report.channel("ch4").result.parts["transistor"].i_d == 7.0
    )
    _, build = post("", edit="undo")
    assert build.report.channel("ch4").result.parts["transistor"].i_d == 9.0, (
        "each revision has the figures it was saved with"
    )


def test_what_prefers_stock_keeps_the_stock_it_was_sized_from(client, theatre, post):
    table = "family,value,quantity\nresistor,390,20\n"
    client.post(reverse("import-parts"), {"text": table, "confirm": "yes"})
    _, build = post("at-hand/", edit="set_conditions", prefer_stock="yes")
    assert (
        build.document.stock.resistors == [390.0]
        and build.report.channel("ch5").result.value("base_resistor").value == 390.0
    )
    part = StockPart.objects.get()
    client.post(
        reverse("drawer"),
        {"do": "count", "key": part.key, "quantity": "0", "version": part.version},
    )
    assert (
        fresh(theatre).report.channel("ch5").result.value("base_resistor").detail
        == "from the drawer"
    )
    assert "what is in stock" in client.get(reverse("lineup", args=[theatre.pk])).content.decode()
    _, build = post("", edit="take_drawer")
    assert (
        build.document.stock.resistors == []
        and build.report.channel("ch5").result.value("base_resistor").detail == ""
    )


def test_a_new_part_is_considered_where_a_channel_is_changed_and_nowhere_else(
    client, theatre, post
):
    before = fresh(theatre).report
    own(client, title="everything", v_ds="60 V", i_d="30 A", i_d_pulse="90 A")
    after = fresh(theatre).report
    assert [c.result.values for c in after.channels if c.result] == [
        c.result.values for c in before.channels if c.result
    ]
    _, build = post("channels/ch4/", edit="rename_channel", channel="ch4", name="Trapdoor two")
    others = [c for c in build.document.parts if c.startswith("own-everything")]
    assert len(others) <= 1


def test_a_part_has_an_id_of_its_own_and_a_stale_form_is_told(client, db):
    first, second = own(client, title="Транзистор"), own(client, title="Транзистор")
    assert first.key != second.key and StockPart.objects.count() == 2
    assert (
        client.post(
            reverse("part"), NMOS | {"key": first.key, "version": 1, "title": "one"}
        ).status_code
        == 302
    )
    answer = client.post(reverse("part"), NMOS | {"key": first.key, "version": 1, "title": "two"})
    first.refresh_from_db()
    assert (
        answer.status_code == 409
        and first.title == "one"
        and 'value="two"' in answer.content.decode()
    )
    for data in ({"do": "count", "quantity": "7"}, {"do": "discard"}):
        assert (
            client.post(reverse("drawer"), data | {"key": first.key, "version": 1}).status_code
            == 409
        )
    first.refresh_from_db()
    assert (first.quantity, first.binned) == (3, None)


def test_changes_of_the_drawer_are_taken_back_one_after_the_other(client, db):
    part = own(client)
    client.post(reverse("drawer"), {"do": "count", "key": part.key, "quantity": "9", "version": 1})
    client.post(reverse("drawer"), {"do": "discard", "key": part.key, "version": 2})
    for expected in ((9, False), (3, False)):
        step = stocking.last_step()
        assert client.post(reverse("drawer"), {"do": "undo", "step": step.pk}).status_code == 200
        part.refresh_from_db()
        assert (part.quantity, part.binned is not None) == expected
    client.post(reverse("drawer"), {"do": "undo", "step": stocking.last_step().pk})
    assert not StockPart.objects.exists() and stocking.last_step() is None
    assert client.post(reverse("drawer"), {"do": "undo", "step": "1"}).status_code == 422


def test_a_step_that_is_not_the_last_any_more_is_not_taken_back(client, db):
    part = own(client)
    seen = stocking.last_step().pk
    client.post(reverse("drawer"), {"do": "count", "key": part.key, "quantity": "9", "version": 1})
    answer = client.post(reverse("drawer"), {"do": "undo", "step": seen})
    assert (
        answer.status_code == 422
        and "another one by now" in answer.content.decode()
        and StockPart.objects.get().quantity == 9
    )


def test_an_import_is_one_step(client, db):
    rows = "".join(f"resistor,{n}k,{n}\n" for n in (1, 2, 3))
    client.post(
        reverse("import-parts"), {"text": "family,value,quantity\n" + rows, "confirm": "yes"}
    )
    assert DrawerStep.objects.count() == 1 and StockPart.objects.count() == 3
    client.post(reverse("drawer"), {"do": "undo", "step": stocking.last_step().pk})
    assert not StockPart.objects.exists()


def test_a_part_with_a_dot_in_its_key_from_an_older_release_has_all_its_pages(client, db):
    raw = {
        **__import__("latchcore.catalogue", fromlist=["x"])
        .load_catalogue()
        .raw["module-5v-low-plain"],
        "id": "own.module.v1",
    }
    StockPart.objects.create(key="own.module.v1", family="module", title="old", figures=raw)
    assert client.get(reverse("drawer")).status_code == 200
    assert client.get(reverse("module-sheet", args=["own.module.v1"])).status_code == 200
    assert client.get(reverse("part"), {"key": "own.module.v1"}).status_code == 200


def test_a_part_whose_figures_cannot_be_used_shuts_nothing(client, theatre):
    StockPart.objects.create(
        key="own-bad",
        family="npn",
        title="ragged",
        figures={
            "family": "npn",
            "id": "own-bad",
            "title": "x",
            "gain_at": ["1 A"],
            "gain_min": [],
        },
    )
    page = client.get(reverse("drawer"))
    assert page.status_code == 200 and "cannot be used" in page.content.decode()
    for name in ("lineup", "stages", "sizes", "rails"):
        assert client.get(reverse(name, args=[theatre.pk])).status_code == 200


@pytest.mark.parametrize(
    "text, says",
    [
        (b"{", "cannot be read"),
        (b'{"schema_version": 99}', "newer program"),
        (b'{"schema_version": 2, "format": "zinc-latch-build"}', "name"),
        (b"[]", "cannot be read"),
        (
            (
                b'{"schema_version":2,"format":"zinc-latch-build","name":"x","rails":[{"id":"rail1","name":"a","voltage":"12'
                b' Q"}]}'
            ),
            "12 Q",
        ),
    ],
)
def test_a_build_that_cannot_be_read_is_named_with_every_way_out(client, theatre, post, text, says):
    edit_build(theatre, "rename_build", {"name": "Once whole"}, theatre.version)
    spoil(theatre, text)
    page = client.get(reverse("lineup", args=[theatre.pk]))
    shown = page.content.decode()
    assert (
        page.status_code == 409
        and says in shown
        and "Undo that change" in shown
        and "Once whole" in shown
    )
    assert client.get(reverse("export", args=[theatre.pk])).content == text
    assert "trouble" in client.get(reverse("verdict", args=[theatre.pk])).content.decode()
    bench = client.get(reverse("workbench")).content.decode()
    assert "cannot be read" in bench and "Once whole" in bench
    assert (
        client.get(reverse("drawer")).status_code
        == client.get(reverse("revisions", args=[theatre.pk])).status_code
        == 200
    )
    answer, build = post("", edit="undo")
    assert (
        answer.status_code == 200
        and build.name == "Hollyhock Marionettes"
        and len(build.document.channels) == 15
    )


def test_a_damaged_revision_is_left_by_undo_and_others_stay_readable(client, theatre):
    edit_build(theatre, "rename_build", {"name": "Later"}, theatre.version)
    Revision.objects.filter(pk=theatre.head_id).update(body=b"\x00damaged", base=None)
    assert client.get(reverse("lineup", args=[theatre.pk])).status_code == 409
    assert client.get(reverse("export", args=[theatre.pk])).status_code == 409
    version = fresh(theatre).version
    client.post(reverse("lineup", args=[theatre.pk]), {"edit": "undo", "version": version})
    assert client.get(reverse("lineup", args=[theatre.pk])).status_code == 200
