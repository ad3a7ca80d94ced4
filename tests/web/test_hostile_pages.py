"""
Hostile forms through the pages: every answer is a refusal in one line or a change, and every page
of the build opens after it.
"""

import logging
import random
import re

import pytest
from django.urls import reverse

from tests import hostile
from tests.web.conftest import DEMO
from workbench.actions.creating import create_from_file
from workbench.models import Build, StockPart

pytestmark = pytest.mark.slow

PAGES = [
    "",
    "loads/",
    "at-hand/",
    "stages/",
    "sizes/",
    "rails/",
    "pins/",
    "inputs/",
    "states/",
    "barriers/",
    "mains/",
    "wiring/",
    "keeping/",
    "sheet/",
    "step-in/",
    "variants/",
    "file/",
]
CHANNEL = ["channels/{}/", "channels/{}/advisor/", "channels/{}/spread/", "channels/{}/dimming/"]


@pytest.mark.parametrize("seed", [1, 2])
def test_hostile_edits_through_their_pages(client, db, seed):
    logging.disable(logging.CRITICAL)
    dice, wrong, accepted = random.Random(seed), [], 0
    builds = [create_from_file(path.read_bytes()) for path in sorted(DEMO.glob("*.json"))]
    for _ in range(70):
        build = Build.with_head().get(pk=dice.choice(builds).pk)
        name, args = hostile.some_edit(dice, build.document)
        args = {
            k.encode("utf-8", "replace").decode(): v.encode("utf-8", "replace").decode()
            for k, v in args.items()
        }
        answer = client.post(
            f"/builds/{build.pk}/",
            args | {"edit": name, "version": build.version},
            headers={"HX-Request": "true"},
        )
        if answer.status_code not in (200, 204, 422, 409):
            wrong.append((name, args, answer.status_code))
        if answer.status_code != 200:
            continue
        accepted += 1
        fresh = Build.with_head().get(pk=build.pk)
        ids = [c.id for c in fresh.document.channels]
        pages = dice.sample(PAGES, 3) + [
            p.format(dice.choice(ids)) for p in dice.sample(CHANNEL, 2) if ids
        ]
        wrong += [
            (name, args, page, code)
            for page in pages
            if (code := client.get(f"/builds/{build.pk}/{page}").status_code) != 200
        ]
    logging.disable(logging.NOTSET)
    assert wrong == [] and accepted > 8


@pytest.mark.parametrize("seed", [1, 2])
def test_hostile_parts_through_the_drawers_form(client, theatre, seed):
    dice = random.Random(seed)
    families = [
        "npn",
        "nmos",
        "zener",
        "coupler",
        "relay",
        "module",
        "array",
        "resistor",
        "igbt",
        "reed",
        "triac",
        "contactor",
        "load",
        "supply",
    ]
    for _ in range(60):
        family = dice.choice(families)
        page = client.get(reverse("part"), {"family": family})
        names = re.findall(r'name="([a-z0-9_]+)"', page.content.decode())
        base = re.search(r'name="base" value="([^"]*)"', page.content.decode())
        data = {
            "family": family,
            "title": "mine",
            "base": base[1] if base else "",
            "quantity": "1",
            "value": "4k7",
        }
        data |= {
            n: hostile.value(dice, theatre.document).encode("utf-8", "replace").decode()
            for n in dice.sample(names, 2)
            if n not in ("family", "base", "csrfmiddlewaretoken", "version")
        }
        answer = client.post(reverse("part"), data)
        assert answer.status_code in (302, 409, 422), (data, answer.status_code)
        for said in re.findall(r'class="wrong[^"]*"[^>]*>([^<]*)<', answer.content.decode()):
            assert len(said) < 330
    assert client.get(reverse("drawer")).status_code == 200
    for name in ("lineup", "stages", "sizes", "rails"):
        assert client.get(reverse(name, args=[theatre.pk])).status_code == 200
    assert StockPart.objects.count() > 3


@pytest.mark.parametrize(
    "text",
    [
        "\ud800".encode("utf-8", "surrogatepass"),
        b"\xff\xfe",
        b"a" * 2_400_000,
        b"family\n" + b"\x00",
        b"family,title\nnpn," + b"x" * 100_000,
    ],
)
def test_hostile_tables_and_files_by_upload(client, db, text):
    from django.core.files.uploadedfile import SimpleUploadedFile

    for url in (reverse("import-parts"), reverse("import")):
        answer = client.post(url, {"file": SimpleUploadedFile("x", text)})
        assert answer.status_code in (200, 422)
        for said in re.findall(r'role="alert"[^>]*>([^<]*)<', answer.content.decode()):
            assert len(said) < 360
