"""The page that maps a keypad: what it asks first, what it keeps, what becomes of it."""

from __future__ import annotations

import pytest

from tests.web.build_client import BuildClient
from workbench.actions.creating import create_empty
from workbench.actions.editing import edit_build

pytestmark = pytest.mark.django_db


class Map(BuildClient):
    def __init__(self, client, supply="isolated_low", stores="no"):
        self.client, self.page = client, ""
        self.put_up(create_empty("Popcorn cart"))
        edit_build(self.build, "add_machine", {"name": "Popcorn cart"}, self.build.version)
        machine = self.fresh.document.machines[0].id
        known = {"machine": machine, "button.exists": "yes", "button.supply": supply,
                 "stores_high_voltage": stores}  # fmt: skip
        edit_build(self.fresh, "set_machine", known, self.fresh.version)
        self.address = f"/builds/{self.build.pk}/mapping/{machine}/"

    def do(self, what: str, status: int = 302, **args) -> str:
        return self.post(status, do=what, **args)

    def begin(self, earth="0.1 0.1 0.2 0.1") -> str:
        return self.do("size", conductors="4", to_earth=earth, disabled="yes")


def test_nothing_is_tried_before_the_load_is_disabled_and_earth_was_read(client):
    one = Map(client)
    assert "Not every conductor was read" in one.get()
    said = one.do("try", 422, one="1", other="2", nothing="1")
    assert "the load part of the machine is disabled first" in said
    assert "With its own supply on." in one.begin()
    assert "Unplugged only." in one.begin("0.1 0.1 30 0.1")
    assert "Unplugged only." in Map(client, supply="mains").begin()


def test_where_high_voltage_is_stored_there_is_nothing_to_try(client):
    one = Map(client, stores="yes")
    text = one.begin()
    assert "Not at all." in text and "Try a pair" not in text
    assert "Not yet: It stores" in one.do("try", 422, one="1", other="2", nothing="1")


def test_pairs_are_kept_and_the_next_is_proposed(client):
    one = Map(client)
    one.begin()
    one.do("try", one="3", other="1", effect="Start", hold="150 ms")
    one.do("try", one="1", other="4", effect="Stop")
    text = one.do("try", one="1", other="2", nothing="1")
    assert "Conductor 1 is common; each button has one more: 3, 4." in text
    assert "Start, 150 ms" in text and "Next:" in text
    text = one.do("forget", pair="1-2")
    assert "not tried" in text
    assert "was not tried" in one.do("forget", 422, pair="1-2")


@pytest.mark.parametrize(
    ("args", "says"),
    [
        (dict(one="1", other="9", nothing="1"), "conductors 1 to 4; 9 is none"),
        (dict(one="2", other="2", nothing="1"), "2 and 2 are one"),
        (dict(one="x", other="2", nothing="1"), "is none of them"),
        (dict(one="1", other="2"), "What did it do?"),
    ],
)
def test_nonsense_is_told_and_kept(client, args, says):
    one = Map(client)
    one.begin()
    text = one.do("try", 422, **args)
    assert says in text and one.fresh.keypads.get().state["tried"] == {}


def test_a_count_that_would_lose_a_pair_is_refused(client):
    one = Map(client)
    one.begin()
    one.do("try", one="3", other="4", effect="Start")
    said = one.do("size", 422, conductors="3", to_earth="0 0 0", disabled="yes")
    assert "Pair 3-4 was tried already" in said
    assert "is no count" in one.do("size", 422, conductors="lots")
    assert "Conductor 2" in one.do("size", 422, conductors="4", to_earth="0.1 soon")
    assert "5 readings for 4" in one.do("size", 422, conductors="4", to_earth="0 0 0 0 0")


def test_only_the_half_that_matters_is_proposed(client):
    one = Map(client)
    one.begin()
    text = one.do("half", matter="3 4")
    assert '<b class="m">3</b> with' in " ".join(text.split())
    assert "is no half" in one.do("half", 422, matter="3 99")


def test_its_buttons_become_channels_once_somebody_stands_by(client):
    one = Map(client)
    one.begin()
    assert "No pair has done anything" in one.do("make", 422, sure="yes")
    one.do("try", one="1", other="3", effect="Start", hold="150 ms")
    assert "stands by" in one.do("make", 422, voltage="5 V", figure="1 mA")
    refused = one.do("make", 422, sure="yes", voltage="some", figure="1 mA")
    assert "some" in refused and not one.fresh.document.channels
    text = one.do("make", sure="yes", voltage="5 V", figure="1 mA")
    assert "stand among the" in text
    document = one.fresh.document
    assert document.channels[0].name == "Start (1-3)"
    assert document.behaviour.macros[0].presses[0].hold == "150 ms"
    # X4 stays silent, for its supply is known.
    assert not [f for f in one.fresh.report.all_findings if f.check == "X4"]


def test_a_machine_that_is_gone_is_no_page(client):
    one = Map(client)
    assert client.get(one.address.replace("/mapping/m", "/mapping/x")).status_code == 404
