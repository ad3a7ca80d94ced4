"""Long lists, history and bins of a workbench."""

import json
from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from latchcore.document.models import Build as Document
from tests.web.conftest import DEMO
from tests.web.test_keeping import fresh, own
from workbench.actions import binning
from workbench.actions.creating import begin, create_from_file
from workbench.keeping import packing
from workbench.keeping.program import PROGRAM
from workbench.models import Build, PartUse, Revision, Verdict


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
    from workbench.models import builds as models

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
