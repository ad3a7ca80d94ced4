"""The build sheet hides nothing: what is counted above stands below, accepted or not."""

import re

import pytest

from tests.web.conftest import DEMO
from tests.web.test_contact_pages import send
from workbench.actions.creating import create_from_file
from workbench.models import Build, StockPart


def sheet(client, build: Build) -> str:
    return client.get(f"/builds/{build.pk}/sheet/").content.decode()


def test_every_finding_that_is_counted_stands_with_what_mends_it(client, theatre):
    page = sheet(client, theatre)
    assert len(re.findall('class="sheet-finding"', page)) == len(theatre.report.all_findings)
    for finding in theatre.report.all_findings:
        assert finding.title in page.replace("&#x27;", "'")
    # Findings of rails and of the board have no channel to stand under.
    assert "12 V adapter is short in the worst instant" in page
    assert "Fit a source of 8 A" in page


def test_what_was_accepted_stands_with_its_reason(client, db):
    chime = create_from_file((DEMO / "stairwell-chime.json").read_bytes())
    of, found = next((c.id, f) for c in chime.report.channels for f in c.findings if f.acceptable)
    edit = dict(edit="accept_finding", channel=of, check=found.check)
    send(client, chime, f"channels/{of}/", **edit, reason="the bell is struck by hand")
    page = sheet(client, chime)
    assert "the bell is struck by hand" in page and "Accepted" in page
    assert "all 0 that stand" in page and found.title in page


def test_wires_joints_parts_and_the_facts_of_the_line_are_all_there(client, theatre):
    page = sheet(client, theatre)
    for heading in ("Wires", "Joints", "Parts", "Wire", "While it is put together"):
        assert f"<h2>{heading}" in page
    assert "A fuse in the live conductor" in page and "K House lamp L" in page
    # The class of what is switched is stated: earth is led to what needs it, asked of nothing.
    assert "where it has touchable metal" not in page and "House lamp earth" not in page
    assert "plug of house line, earth" in page and "L Fog fan earth" in page
    assert "behind 1.6 A" in page


def test_a_build_without_a_line_has_no_table_of_its_facts(client, fernhouse):
    assert "Where the voltage is hazardous" not in sheet(client, fernhouse)


@pytest.fixture
def fernhouse(db):
    return create_from_file((DEMO / "fernhouse-vents.json").read_bytes())


@pytest.mark.django_db
def test_readings_are_widened_by_the_meter_that_lies_in_the_drawer(client):
    build = create_from_file((DEMO / "potting-bench-valve.json").read_bytes())
    address = f"/builds/{build.pk}/tables/readings.csv"
    usual = client.get(address).content
    StockPart.objects.create(key="meter-6000", family="meter", title="my meter", quantity=1)
    assert client.get(address).content != usual
