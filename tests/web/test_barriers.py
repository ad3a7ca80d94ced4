"""The barrier map on its page: empty, low, hazardous, joined and parted on the spot."""

from tests.web.test_contact_pages import contacts  # noqa: F401
from tests.web.test_modules import send
from workbench.actions.creating import create_empty


def test_the_empty_map_says_what_it_will_show(client, db):
    page = client.get(f"/builds/{create_empty('nothing').pk}/barriers/").content.decode()
    assert "Nothing to part yet" in page


def test_low_grounds_are_parted_and_joined_where_the_map_is(client, contacts):  # noqa: F811
    page = client.get(f"/builds/{contacts.pk}/barriers/").content.decode()
    assert "One island" in page and "bypassed by" in page
    send(client, contacts, "loads/", edit="remove_channel", channel="ch5")
    text, build = send(client, contacts, "barriers/", edit="set_rail", rail="rail1", ground="own")
    assert (
        "One island" not in text
        and "basic" in text
        and build.document.rail("rail1").ground == "own"
    )


def test_a_hazardous_island_is_named_and_what_is_touchable_can_be_said(client, contacts):  # noqa: F811
    send(
        client,
        contacts,
        "rails/",
        edit="set_rail",
        rail="rail1",
        source="mains",
        voltage="230 V",
        name="mains",
    )
    text, build = send(
        client,
        contacts,
        "barriers/",
        edit="set_rail",
        rail="rail2",
        touchable=["no", "", "yes"],
        earthed=["no", ""],
    )
    assert (
        "hazardous" in text
        and build.document.rail("rail2").touchable
        and not build.document.rail("rail2").earthed
    )
    _, build = send(
        client,
        contacts,
        "barriers/",
        edit="set_rail",
        rail="rail2",
        touchable=["no", ""],
        earthed=["no", "", "yes"],
    )
    assert not build.document.rail("rail2").touchable and build.document.rail("rail2").earthed
    # The MOSFET channel hangs on the line without a barrier: metal to a hand.
    assert {f.check for f in build.report.findings} & {"I1"}
