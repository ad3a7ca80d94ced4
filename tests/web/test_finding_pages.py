"""Each finding explains itself on a page of its own."""

import pytest
from django.urls import reverse

from latchcore.findings.records import RECORDS


@pytest.mark.parametrize("check", sorted(RECORDS))
def test_a_finding_has_its_page(client, db, check):
    text = client.get(reverse("finding", args=[check])).content.decode()
    assert "Why it matters" in text and check in text


def test_the_finding_on_a_build_leads_to_its_page(client, theatre):
    assert (
        'href="/findings/C4/"'
        in client.get(reverse("channel", args=[theatre.pk, "ch4"])).content.decode()
    )
    assert client.get(reverse("findings")).status_code == 200


@pytest.mark.parametrize("check", ["Z9", "D99", "x"])
def test_a_finding_that_is_none(client, db, check):
    assert client.get(reverse("finding", args=[check])).status_code == 404
