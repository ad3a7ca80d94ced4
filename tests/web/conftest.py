"""A workbench with the demo on it."""

import re
from pathlib import Path

import pytest
from django.test import Client

from workbench.actions.creating import create_from_file
from workbench.models import Build

DEMO = Path(__file__).parent.parent.parent / "demo"


#: What is typed into these stands as it was typed.
AS_TYPED = re.compile(r"(<textarea.*?</textarea>|<script.*?</script>)", re.S)


def as_read(html: str) -> str:
    """
    A page without the line ends it is laid out with: none beside a tag, one space between words.
    """
    parts = AS_TYPED.split(html)
    for i in range(0, len(parts), 2):
        text = re.sub(r"(?<=>)\s*\n\s*|\s*\n\s*(?=<)", "", parts[i])
        parts[i] = re.sub(r"\s*\n\s*", " ", text)
    return "".join(parts)


class Reader(Client):
    """A browser whose pages come as they are read, however their templates are laid out."""

    def request(self, **request):
        answer = super().request(**request)
        if not answer.streaming and "html" in answer.get("Content-Type", ""):
            answer.content = as_read(answer.content.decode()).encode()
        return answer


@pytest.fixture
def client() -> Client:
    return Reader()


@pytest.fixture(autouse=True)
def plain_static(settings):
    settings.STORAGES = settings.STORAGES | {
        "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
    }


@pytest.fixture
def theatre(db) -> Build:
    return create_from_file((DEMO / "hollyhock-marionettes.json").read_bytes())


@pytest.fixture
def post(client, theatre):
    """Send a named edit as the page does."""

    def send(page="", htmx=True, version=None, **fields):
        theatre.refresh_from_db()
        data = {"version": theatre.version if version is None else version, **fields}
        headers = {"HX-Request": "true"} if htmx else {}
        answer = client.post(f"/builds/{theatre.pk}/{page}", data, headers=headers)
        fresh = Build.objects.select_related("head").get(pk=theatre.pk)
        return answer, fresh

    return send
