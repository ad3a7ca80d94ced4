"""Chains, vehicles and panels on their pages: added, changed, refused, shown."""

from __future__ import annotations

import pytest

from latchcore.formats.buildfile import write_build
from tests.core.benches import bench
from tests.core.test_chains import chained
from tests.core.test_panel import wall
from tests.core.test_vehicles import cart
from workbench.actions.creating import create_from_file

pytestmark = pytest.mark.django_db


@pytest.fixture
def bench_page(client):
    """Keeps a build and gives its pages, and what posting an edit to one answers."""

    class Kept:
        def __init__(self, document):
            self.build = create_from_file(write_build(document).encode())

        def page(self, address):
            return client.get(f"/builds/{self.build.pk}/{address}").content.decode()

        def post(self, address, edit, **args):
            self.build = type(self.build).objects.get(pk=self.build.pk)
            data = {"edit": edit, "version": self.build.version, **args}
            where = f"/builds/{self.build.pk}/{address}"
            return client.post(where, data, follow=True).content.decode()

        @property
        def document(self):
            return type(self.build).objects.get(pk=self.build.pk).document

    return Kept


def test_a_chain_is_drawn_with_its_channels_and_says_what_a_slip_does(bench_page):
    page = bench_page(chained(compared="no")).page("chains/")
    assert "Registers 1: 8 outputs" in page and "0: A; 1: B" in page
    assert "One clock edge too many or too few" in page and "acts unasked" in page
    assert "outputs are let\n" in page or "outputs are let" in page


def test_a_chain_is_added_and_channels_move_to_it(bench_page):
    kept = bench_page(bench())
    assert "No chain yet" in kept.page("chains/")
    page = kept.post("chains/", "add_chain", part="chain-register-8", count="2")
    assert "2 × latched shift register" in page and "16 free" in page
    chain = kept.document.chains[0].id
    page = kept.post("chains/", "move_to_chain", chain=chain, channels="ch2")
    assert kept.document.channels[0].pin == f"{chain}.0" and "15 free" in page


def test_what_no_chain_can_be_is_said_at_its_field_and_kept(bench_page):
    kept = bench_page(chained())
    page = kept.post("chains/", "set_chain", chain="chain2", clock="50 MHz")
    assert "expected up to 5 MHz" in page and 'value="50 MHz"' in page
    page = kept.post("chains/", "add_chain", part="chain-register-8", count="99")
    assert "at most 16" in page and 'value="99"' in page
    assert len(kept.document.chains) == 1


def test_the_deck_shows_the_lines_of_both(bench_page):
    kept = bench_page(chained())
    page = kept.page("pins/")
    assert "chain2.7" in page and "Registers 1, data" in page
    page = kept.post("pins/", "place_pin", what="chain2.data", pin="chain2.3")
    assert "told by the board itself" in page
    kept.post("pins/", "place_pin", what="ch3", pin="chain2.5")
    assert kept.document.channels[0].pin == "chain2.5"


def test_the_sheet_tells_who_is_where_and_the_list_what_to_buy(bench_page):
    kept = bench_page(chained(count="2"))
    page = kept.page("sheet/")
    assert "Registers 1: who is where" in page and "chain2.1" in page
    shopping = kept.page("sizes/")
    assert "latched shift register, eight logic outputs" in shopping and "100 nF" in shopping


def test_a_vehicle_shows_what_both_motors_get(bench_page):
    kept = bench_page(cart())
    page = kept.page("vehicles/")
    assert "Cart" in page and "after nobody knows how long" in page
    rows = page.split("<tbody>")[1]
    assert "100 %" in rows and "-100 %" in rows
    quick = kept.post("vehicles/", "set_vehicle", vehicle="veh4", most="50 %", time_out="1 s")
    assert "50 %" in quick and "1 s" in quick
    for field, value in (("motor_dead", "40 %"), ("stick_dead", "30 %")):
        other = kept.post("vehicles/", "set_vehicle", vehicle="veh4", **{field: value})
        assert other.split("<svg")[1] != quick.split("<svg")[1], field
        quick = other


def test_a_vehicle_of_one_motor_is_refused_where_it_was_typed(bench_page):
    kept = bench_page(cart())
    kept.post("vehicles/", "remove_vehicle", vehicle="veh4")
    page = kept.post("vehicles/", "add_vehicle", left="ch2", right="ch2", name="Barrow")
    assert "Both sides are the same motor" in page and 'value="Barrow"' in page


def test_a_panel_is_a_grid_with_the_lines_of_each_row_and_column(bench_page):
    page = bench_page(wall()).page("channels/ch3/")
    assert "r6 low  chain2.11" in page and "c10 chain2.30" in page
    assert "line driver" in page


@pytest.mark.parametrize("page", ["chains/", "vehicles/"])
def test_an_empty_page_says_what_to_do(bench_page, page):
    from latchcore.document.models import Build

    shown = bench_page(Build(name="empty")).page(page)
    assert "yet" in shown and "Internal" not in shown
