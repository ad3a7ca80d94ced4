"""
What a workbench keeps: figures in revisions, verdicts beside heads, packed documents, bins, pages
of long lists.
"""

import json
from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from latchcore.document.models import Build as Document
from tests.web.conftest import DEMO
from workbench.actions import binning, stocking
from workbench.actions.creating import begin, create_from_file
from workbench.actions.editing import edit_build
from workbench.keeping import packing
from workbench.keeping.program import PROGRAM
from workbench.models import Build, DrawerStep, PartUse, Revision, StockPart, Verdict

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
        and len(build.document.channels) == 12
    )


def test_a_damaged_revision_is_left_by_undo_and_others_stay_readable(client, theatre):
    edit_build(theatre, "rename_build", {"name": "Later"}, theatre.version)
    Revision.objects.filter(pk=theatre.head_id).update(body=b"\x00damaged", base=None)
    assert client.get(reverse("lineup", args=[theatre.pk])).status_code == 409
    assert client.get(reverse("export", args=[theatre.pk])).status_code == 409
    version = fresh(theatre).version
    client.post(reverse("lineup", args=[theatre.pk]), {"edit": "undo", "version": version})
    assert client.get(reverse("lineup", args=[theatre.pk])).status_code == 200


def test_a_page_that_fails_says_its_number_and_offers_the_ways_out(
    client, theatre, monkeypatch, caplog
):
    from workbench.views import stations

    client.raise_request_exception = False

    def fails(self, build, **kwargs):
        raise ZeroDivisionError("as if")

    monkeypatch.setattr(stations.Sizes, "content", fails)
    page = client.get(reverse("sizes", args=[theatre.pk]))
    number = page.content.decode().split("fault ")[1][:8]
    assert (
        page.status_code == 500
        and number in caplog.text
        and "Undo that change" in page.content.decode()
    )
    assert client.get(reverse("lineup", args=[theatre.pk])).status_code == 200


def test_a_list_works_nothing_out(client, theatre, monkeypatch):
    from workbench import models

    def fails(*args):
        raise AssertionError("a page that lists many evaluates none")

    monkeypatch.setattr(models, "evaluate", fails)
    for name in ("workbench", "drawer"):
        page = client.get(reverse(name))
        assert page.status_code == 200
    assert (
        "3 stops" in client.get(reverse("workbench")).content.decode()
        or "stop" in client.get(reverse("workbench")).content.decode()
    )


def test_a_verdict_of_another_program_is_found_anew_by_its_own_row(client, theatre):
    Verdict.objects.update(program="0.5.0 older")
    page = client.get(reverse("workbench")).content.decode()
    assert f'hx-get="/builds/{theatre.pk}/verdict/"' in page
    assert "stop" in client.get(reverse("verdict", args=[theatre.pk])).content.decode()
    assert Verdict.objects.get().program == PROGRAM
    assert "hx-get" not in client.get(reverse("workbench")).content.decode().split("<aside")[0]


def test_what_uses_a_part_follows_undo_and_the_bin(client, theatre, post):
    part = own(client)
    _, build = post("channels/ch4/", edit="set_setting", channel="ch4", transistor=part.key)
    assert PartUse.objects.get(key=part.key).letters == "B"
    post("", edit="undo")
    assert not PartUse.objects.filter(key=part.key).exists()
    post("", edit="redo")
    assert "Hollyhock Marionettes B" in client.get(reverse("drawer")).content.decode()
    client.post(reverse("workbench"), {"do": "bin", "build": theatre.pk})
    assert "Hollyhock Marionettes B" not in client.get(reverse("drawer")).content.decode()


def test_a_revision_is_stored_as_what_differs_and_comes_back_whole(theatre, post):
    for n in range(40):
        _, build = post("", edit="rename_channel", channel="ch4", name=f"Trapdoor {n}")
    rows = list(theatre.revisions.select_related("base").order_by("number"))
    assert rows[0].base_id is None and all(r.base_id == rows[0].pk for r in rows[1:])
    assert max(len(r.body) for r in rows[1:]) < 400 < len(rows[0].body)
    assert [r.read().channel("ch4").name for r in rows[1:]] == [f"Trapdoor {n}" for n in range(40)]


def test_a_revision_far_from_its_base_is_stored_whole():
    one = packing.text_of({"a": [f"{n} {n * n}" for n in range(400)]})
    other = packing.text_of({"b": [f"{n * 7} {n * n * n}" for n in range(400)]})
    whole = packing.pack(other)
    assert packing.begins_anew(packing.pack(other, one), whole) and not packing.begins_anew(
        packing.pack(one, one), whole
    )
    with pytest.raises(ValueError, match="damaged"):
        packing.unpack(whole[:-20])


def test_the_bin_is_emptied_by_hand_and_after_ninety_days(client, theatre):
    young, old = (begin(Document(name=n), "begun") for n in ("Young", "Old"))
    now = timezone.now()
    Build.objects.filter(pk=old.pk).update(binned=now - timedelta(days=90, seconds=5))
    Build.objects.filter(pk=young.pk).update(binned=now - timedelta(days=89, hours=23))
    assert binning.let_go() == (1, 0)
    assert set(Build.objects.values_list("name", flat=True)) == {"Young", "Hollyhock Marionettes"}
    page = client.get(reverse("workbench")).content.decode()
    assert "erased after 90 days" in page
    client.post(reverse("workbench"), {"do": "empty_bin"})
    assert (
        Build.objects.get().pk == theatre.pk
        and Revision.objects.exclude(build=theatre).count() == 0
    )


def test_everything_is_reachable_by_pages_and_by_search(client, db):
    for n in range(65):
        begin(Document(name=f"Bench {n:03}"), "begun")
    seen = set()
    for page in (1, 2, 3):
        text = client.get(reverse("workbench"), {"page": page}).content.decode()
        seen |= {f"{n:03}" for n in range(65) if f"<b>Bench {n:03}</b>" in text}
    assert len(seen) == 65
    found = client.get(reverse("workbench"), {"q": "h 007"}).content.decode()
    assert "<b>Bench 007</b>" in found and "<b>Bench 008</b>" not in found
    assert (
        "called anything with"
        in client.get(reverse("workbench"), {"q": "nothing such"}).content.decode()
    )
    for nonsense in ("0", "-1", "9" * 30, "²", "x"):
        assert client.get(reverse("workbench"), {"page": nonsense}).status_code == 200


def test_history_goes_by_pages_and_an_old_revision_is_found_and_brought_back(client, theatre, post):
    for n in range(60):
        post("", edit="rename_build", name=f"Name {n}")
    first = client.get(reverse("keeping", args=[theatre.pk])).content.decode()
    assert "renamed to Name 59" in first and "renamed to Name 3<" not in first
    assert (
        "renamed to Name 3<"
        in client.get(reverse("keeping", args=[theatre.pk]), {"page": 2}).content.decode()
    )
    found = client.get(reverse("revisions", args=[theatre.pk]), {"q": "Name 3<"}).content.decode()
    assert found.count("<tr") <= 2
    answer = client.post(
        reverse("revisions", args=[theatre.pk]), {"number": "5", "version": fresh(theatre).version}
    )
    assert answer.status_code == 302 and fresh(theatre).name == "Name 3"
    assert (
        client.post(
            reverse("revisions", args=[theatre.pk]), {"number": "5", "version": "1"}
        ).status_code
        == 409
    )


@pytest.mark.parametrize("version", ["-1", "-9999999", "", "x", "9" * 30, "²"])
def test_a_version_that_is_none_is_a_conflict_that_reads_little(
    theatre, post, version, django_assert_max_num_queries
):
    for n in range(30):
        post("", edit="rename_build", name=f"Name {n}")
    with django_assert_max_num_queries(12):
        answer, build = post("", edit="rename_build", name="mine", version=version)
    assert (
        answer.status_code == 409
        and build.name == "Name 29"
        and answer.content.decode().count("renamed to") <= 3
    )


def test_a_build_file_comes_back_from_the_page_byte_for_byte(client, theatre):
    text = (DEMO / "hollyhock-marionettes.json").read_text(encoding="utf-8")
    assert client.get(reverse("export", args=[theatre.pk])).content.decode() == text
    again = create_from_file(text)
    assert json.loads(again.head.text) == json.loads(theatre.head.text)
