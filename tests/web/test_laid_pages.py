"""Points, cables and metal on the wiring page: entered, listed, refused and taken away again."""

import pytest

from latchcore.metal.conductors import Terminal
from latchcore.whole.laying.conductors import conductors
from tests.web.test_modules import send
from workbench.models import Build


def at(build: Build, point: str) -> list:
    """Conductors that begin or end at the plus of a point."""
    laid = conductors(build.around, build.report)
    return [x for x in laid if Terminal(f"BLOCK.{point}", "+") in (x.start, x.end)]


def test_a_point_takes_its_loads_and_its_wire_carries_their_sum(client, theatre):
    rail = theatre.document.rails[0]
    near = [c for c in theatre.document.channels if c.rail == rail.id][:2]
    page, build = send(client, theatre, "wiring/", edit="add_block", rail=rail.id, name="Left wing")
    point = build.document.blocks[-1]
    assert f'name="block" value="{point.id}"' in page and 'value="Left wing"' in page
    assert [x.running for x in at(build, point.id)] == [0.0]  # its own wire, nothing on it yet
    for channel in near:
        wire = dict(edit="set_wire", channel=channel.id, block=point.id)
        page, build = send(client, theatre, "wiring/", **wire)
    feed, *others = sorted(at(build, point.id), key=lambda x: -x.running)
    assert len(others) == 2 and feed.running == pytest.approx(sum(x.running for x in others))
    assert "Left wing +" in page.split('id="laid"')[0]
    page, build = send(client, theatre, "wiring/", edit="remove_block", block=point.id)
    assert "Left wing" not in page.split('id="laid"')[1]
    assert {c.block for c in build.document.channels if c.rail == rail.id} <= {None}


def test_a_cable_with_too_few_cores_is_said_and_mended_on_the_page(client, theatre):
    channel = theatre.document.channels[0]
    _, build = send(client, theatre, "wiring/", edit="add_cable", name="Run to the lantern")
    cable = build.document.cables[-1]
    send(client, theatre, "wiring/", edit="set_wire", channel=channel.id, cable=cable.id)
    _, build = send(client, theatre, "wiring/", edit="set_cable", cable=cable.id, cores="1")
    assert [f for f in build.report.all_findings if "Run to the lantern" in f.title]
    _, build = send(client, theatre, "wiring/", edit="set_cable", cable=cable.id, cores="2")
    assert not [f for f in build.report.all_findings if "Run to the lantern" in f.title]
    page, build = send(client, theatre, "wiring/", edit="remove_cable", cable=cable.id)
    assert build.document.channels[0].cable is None
    assert 'value="Run to the lantern"' not in page


def test_metal_joins_what_is_ticked_and_an_empty_tick_parts_it(client, theatre):
    first, second = theatre.document.rails[:2]
    _, build = send(client, theatre, "wiring/", edit="add_metal", name="Base plate")
    metal = build.document.metals[-1]
    said = dict(edit="set_metal", metal=metal.id)
    ends = [f"{first.id}-", f"{second.id}-"]
    page, build = send(
        client, theatre, "wiring/", ends=["", *ends], touchable=["no", "yes"], **said
    )
    kept = build.document.metals[-1]
    assert set(kept.ends) == set(ends) and kept.touchable
    assert f'value="{ends[0]}" checked' in " ".join(page.split())
    page, build = send(client, theatre, "wiring/", ends="", touchable="no", **said)
    assert not build.document.metals[-1].ends and not build.document.metals[-1].touchable


def test_what_is_refused_stays_typed_beside_its_reason(client, theatre):
    _, build = send(client, theatre, "wiring/", edit="add_cable", name="Fly cable")
    cable = build.document.cables[-1]
    page, later = send(
        client, theatre, "wiring/", edit="set_cable", cable=cable.id, wire_length="seven furlongs"
    )
    assert later.version == build.version and 'value="seven furlongs"' in page
    assert "seven furlongs” is" in page or "seven furlongs" in page.split("error")[1]
    point = build.document.blocks[0]
    page, later = send(
        client, theatre, "wiring/", edit="set_block", block=point.id, behind=point.id
    )
    assert "hangs on" in page and later.version == build.version


def test_a_fuse_of_a_channels_own_is_stated_as_it_is_printed(client, theatre):
    channel = next(c for c in theatre.document.channels if c.load.kind == "filament_lamp")
    stated = dict(fuse="5 A", fuse_volts="32 V", fuse_for="direct", fuse_breaking="high")
    page, build = send(
        client,
        theatre,
        "wiring/",
        edit="set_wire",
        channel=channel.id,
        fuse_poles="every",
        **stated,
    )
    kept = build.document.channel(channel.id)
    assert (kept.fuse, kept.fuse_volts, kept.fuse_poles) == ("5 A", "32 V", "every"), page[:300]
