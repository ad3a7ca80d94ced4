"""A page is added by one record, as docs/adding-a-page.md says."""

import pytest

from workbench.stations import Page, spine
from workbench.views.every import every_page
from workbench.views.pages import BuildPage


@pytest.fixture
def tried():
    class Tried(BuildPage):
        page = Page(
            "tried/", "tried", "tried", "build/states.html", "8a", "Tried", unanswered=lambda b: 3
        )

    yield Tried
    BuildPage.every.remove(Tried)


def test_a_page_with_a_key_is_a_station_between_its_neighbours(theatre, tried):
    stations = spine(theatre, [cls.page for cls in every_page()])
    keys = ["1", "2", "3", "4", "5", "6", "n", "i", "7", "8", "8a", "t", "g", "9", "0"]
    assert [s.key for s in stations] == keys
    own = next(s for s in stations if s.slug == "tried")
    assert (own.state, own.count, own.title) == ("open", 3, "Tried")


def test_every_page_of_a_build_answers_at_the_address_of_its_record(client, theatre):
    for cls in every_page():
        if "<" not in cls.page.address:
            answer = client.get(f"/builds/{theatre.pk}/{cls.page.address}")
            assert answer.status_code == 200 and 'id="main"' in answer.content.decode()


def test_what_several_pages_share_is_no_page(tried):
    assert BuildPage not in BuildPage.every and not hasattr(BuildPage, "page")
